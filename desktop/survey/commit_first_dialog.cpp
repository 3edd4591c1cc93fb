// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_push_round.cpp.
#include "desktop/survey/commit_first_dialog.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/merge_words.h"

#include <QHBoxLayout>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QVBoxLayout>

namespace rope {
namespace {
constexpr int kPathRole = Qt::UserRole + 1;
}

CommitFirstDialog::CommitFirstDialog(const std::vector<UncommittedFile>& files, QWidget* parent)
    : QDialog(parent)
    , m_files(new QListWidget(this))
    , m_message(new QPlainTextEdit(this))
    , m_rest(makeLabel({}, TextRole::muted, this))
    , m_commit(makeButton(tr("Commit"), "commitFirstButton", ButtonRole::primary, this))
{
    setObjectName(QStringLiteral("commitFirstDialog"));
    setWindowTitle(tr("Commit first"));
    m_files->setObjectName(QStringLiteral("commitFirstFiles"));
    m_files->setAccessibleName(tr("Files to commit"));
    m_files->setFont(codeFont());
    for (const UncommittedFile& file : files) {
        if (file.isUntracked) {
            continue;
        }
        auto* item = new QListWidgetItem(shownPath(file.path), m_files);
        item->setData(kPathRole, QByteArray::fromStdString(file.path));
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        item->setCheckState(Qt::Checked);
    }
    m_files->setCurrentRow(0);
    m_message->setObjectName(QStringLiteral("commitFirstMessage"));
    m_message->setAccessibleName(tr("Commit message"));
    m_message->setPlaceholderText(tr("What this commit does"));
    m_message->setFont(codeFont());
    m_message->setTabChangesFocus(true);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(18, 14, 18, 14);
    column->setSpacing(8);
    column->addWidget(makeLabel(tr("Files to commit"), TextRole::heading, this));
    column->addWidget(m_files, 2);
    column->addWidget(makeLabel(tr("Commit message"), TextRole::heading, this));
    column->addWidget(m_message, 1);
    column->addWidget(m_rest);
    auto* buttons = new QHBoxLayout;
    auto* leave = makeButton(tr("Leave it"), "commitFirstLeaveButton", ButtonRole::plain, this);
    buttons->addWidget(m_commit);
    buttons->addWidget(leave);
    buttons->addStretch();
    column->addLayout(buttons);
    resize(560, 460);
    connect(m_files, &QListWidget::itemChanged, this, &CommitFirstDialog::showState);
    connect(m_message, &QPlainTextEdit::textChanged, this, &CommitFirstDialog::showState);
    connect(m_commit, &QPushButton::clicked, this, &CommitFirstDialog::commit);
    connect(leave, &QPushButton::clicked, this, &QDialog::reject);
    showState();
    m_message->setFocus();
}

std::vector<RepoPath> CommitFirstDialog::chosen() const
{
    std::vector<RepoPath> paths;
    for (int row = 0; row < m_files->count(); ++row) {
        const QListWidgetItem* item = m_files->item(row);
        if (item->checkState() == Qt::Checked) {
            paths.push_back(item->data(kPathRole).toByteArray().toStdString());
        }
    }
    return paths;
}

void CommitFirstDialog::showState()
{
    const std::size_t count = chosen().size();
    const auto rest = static_cast<std::size_t>(m_files->count()) - count;
    m_rest->setText(
        rest == 0 ? tr("Nothing stays uncommitted.")
                  : tr("%1 stay uncommitted, as they are.").arg(countOf(rest, "file", "files")));
    m_commit->setText(tr("Commit %1").arg(countOf(count, "file", "files")));
    m_commit->setEnabled(count > 0 && !m_message->toPlainText().trimmed().isEmpty());
}

void CommitFirstDialog::commit()
{
    emit commitRequested(chosen(), m_message->toPlainText());
    accept();
}
}  // namespace rope
