// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_push_round.cpp.
#include "desktop/survey/commit_first_dialog.h"

#include "desktop/commits/change_view.h"
#include "desktop/commits/change_words.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/shown_text.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QPlainTextEdit>
#include <QSplitter>
#include <QTreeWidget>
#include <QVBoxLayout>

namespace rope {
namespace {
constexpr std::size_t kMostBeginning = 60;  // letters of a line that are shown

/// "line 12: what stands there now", or what is gone from there.
QString excerptInWords(const Excerpt& excerpt)
{
    const bool isGone = excerpt.afterText.empty();
    const std::string& text = isGone ? excerpt.beforeText : excerpt.afterText;
    const QString line = shownBeginning(text.substr(0, text.find('\n')), kMostBeginning).trimmed();
    const QString where = CommitFirstDialog::tr("line %1").arg(excerpt.after.begin + 1);
    return isGone ? CommitFirstDialog::tr("%1, gone: %2").arg(where, line)
                  : QStringLiteral("%1: %2").arg(where, line);
}
}  // namespace

CommitFirstDialog::CommitFirstDialog(const ResultReading& uncommitted, QWidget* parent)
    : QDialog(parent)
    , m_uncommitted(uncommitted)
    , m_files(new QTreeWidget(this))
    , m_change(new ChangeView(Strand::ours, "commitFirstChange", this))
    , m_message(new QPlainTextEdit(this))
    , m_rest(makeLabel({}, TextRole::muted, this))
    , m_commit(makeButton(tr("Commit"), "commitFirstButton", ButtonRole::primary, this))
{
    setObjectName(QStringLiteral("commitFirstDialog"));
    setWindowTitle(tr("Commit first"));
    m_files->setObjectName(QStringLiteral("commitFirstFiles"));
    m_files->setAccessibleName(tr("Files and changes to commit"));
    useCodeFont(m_files);
    m_files->setHeaderHidden(true);
    for (const FileReading& file : m_uncommitted.files) {
        addFile(file);
    }
    m_message->setObjectName(QStringLiteral("commitFirstMessage"));
    m_message->setAccessibleName(tr("Commit message"));
    m_message->setPlaceholderText(tr("What this commit does"));
    useCodeFont(m_message);
    m_message->setTabChangesFocus(true);
    auto* panes = new QSplitter(Qt::Horizontal, this);
    panes->addWidget(m_files);
    panes->addWidget(m_change);
    panes->setChildrenCollapsible(false);
    panes->setSizes({340, 420});
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(18, 14, 18, 14);
    column->setSpacing(8);
    column->addWidget(makeLabel(tr("Files and changes to commit"), TextRole::heading, this));
    column->addWidget(panes, 3);
    column->addWidget(makeLabel(tr("Commit message"), TextRole::heading, this));
    column->addWidget(m_message, 1);
    column->addWidget(m_rest);
    auto* buttons = new QHBoxLayout;
    auto* leave = makeButton(tr("Cancel"), "commitFirstLeaveButton", ButtonRole::plain, this);
    buttons->addWidget(m_commit);
    buttons->addWidget(leave);
    buttons->addStretch();
    column->addLayout(buttons);
    resize(QSize(820, 560).boundedTo(parent->size() - QSize(40, 40)));
    connect(m_files, &QTreeWidget::itemChanged, this, &CommitFirstDialog::showState);
    connect(m_files, &QTreeWidget::currentItemChanged, this, &CommitFirstDialog::showChange);
    connect(m_message, &QPlainTextEdit::textChanged, this, &CommitFirstDialog::showState);
    connect(m_commit, &QPushButton::clicked, this, &CommitFirstDialog::commit);
    connect(leave, &QPushButton::clicked, this, &QDialog::reject);
    m_files->setCurrentItem(m_files->topLevelItem(0));
    showState();
    m_message->setFocus();
}

/// Its changes below it, where there are several: a single one is the file.
void CommitFirstDialog::addFile(const FileReading& file)
{
    auto* item = new QTreeWidgetItem(
        m_files, {QStringLiteral("%1  %2").arg(shownPath(file.change.path), changeInShort(file))});
    item->setToolTip(0, plainToolTip(shownPath(file.change.path)));
    item->setFlags(item->flags() | Qt::ItemIsUserCheckable | Qt::ItemIsAutoTristate);
    item->setCheckState(0, Qt::Checked);
    const bool isEdited = file.change.before && file.change.after;
    if (!isEdited || file.text.excerpts.size() < 2) {
        return;
    }
    for (const Excerpt& excerpt : file.text.excerpts) {
        auto* child = new QTreeWidgetItem(item, {excerptInWords(excerpt)});
        child->setFlags(child->flags() | Qt::ItemIsUserCheckable);
        child->setCheckState(0, Qt::Checked);
    }
}

const FileReading& CommitFirstDialog::fileOf(const QTreeWidgetItem& item) const
{
    const QTreeWidgetItem& top = item.parent() == nullptr ? item : *item.parent();
    const int row = m_files->indexOfTopLevelItem(const_cast<QTreeWidgetItem*>(&top));
    return m_uncommitted.files[static_cast<std::size_t>(row)];
}

/// The whole file's, or the one that is picked.
void CommitFirstDialog::showChange(QTreeWidgetItem* item)
{
    if (item == nullptr) {
        m_change->clear();
        return;
    }
    FileReading file = fileOf(*item);
    if (item->parent() != nullptr) {
        const auto at = static_cast<std::size_t>(item->parent()->indexOfChild(item));
        file.text.excerpts = {file.text.excerpts[at]};
    }
    m_change->showFile(file);
}

std::vector<ChosenFile> CommitFirstDialog::chosen() const
{
    std::vector<ChosenFile> files;
    for (int row = 0; row < m_files->topLevelItemCount(); ++row) {
        const QTreeWidgetItem* item = m_files->topLevelItem(row);
        const FileReading& file = fileOf(*item);
        if (item->checkState(0) == Qt::Checked) {
            files.push_back({file.change.path, {}});
        } else if (item->checkState(0) == Qt::PartiallyChecked) {
            ChosenFile part{file.change.path, std::vector<Excerpt>{}};
            for (int child = 0; child < item->childCount(); ++child) {
                if (item->child(child)->checkState(0) == Qt::Checked) {
                    part.changes->push_back(file.text.excerpts[static_cast<std::size_t>(child)]);
                }
            }
            files.push_back(std::move(part));
        }
    }
    return files;
}

void CommitFirstDialog::showState()
{
    const auto files = chosen();
    std::size_t parts = 0;
    for (const ChosenFile& file : files) {
        parts += file.changes ? 1U : 0U;
    }
    const std::size_t rest = m_uncommitted.fileCount - files.size() + parts;
    m_rest->setText(rest == 0 ? tr("Nothing stays uncommitted.")
                              : tr("%1 stay uncommitted, or some changes of them, as they are.")
                                    .arg(countOf(rest, "file", "files")));
    m_commit->setText(
        parts == 0 ? tr("Commit %1").arg(countOf(files.size(), "file", "files"))
                   : tr("Commit %1, some in part").arg(countOf(files.size(), "file", "files")));
    m_commit->setEnabled(!files.empty() && !m_message->toPlainText().trimmed().isEmpty());
}

void CommitFirstDialog::commit()
{
    emit commitRequested(chosen(), m_message->toPlainText());
    accept();
}
}  // namespace rope
