// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_start_page.cpp.
#include "desktop/start/clone_panel.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/shown_text.h"

#include <QComboBox>
#include <QDir>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QRegularExpression>
#include <QVBoxLayout>

namespace rope {
ClonePanel::ClonePanel(QWidget* parent)
    : QWidget(parent)
    , m_address(new QLineEdit(this))
    , m_answer(makeLabel({}, TextRole::muted, this))
    , m_branch(new ChoiceBox(this))
    , m_folder(new QLineEdit(this))
    , m_folderWords(makeLabel({}, TextRole::muted, this))
    , m_clone(makeButton(tr("Clone and open"), "cloneButton", ButtonRole::plain, this))
    , m_stop(makeButton(tr("Stop"), "stopCloneButton", ButtonRole::plain, this))
    , m_progress(makeLabel(tr("asks for a key or password if needed"), TextRole::muted, this))
{
    m_address->setObjectName(QStringLiteral("cloneAddress"));
    m_address->setAccessibleName(tr("Address to clone from"));
    m_address->setPlaceholderText(tr("https://host/path, host:path or a folder"));
    useCodeFont(m_address);
    m_answer->setObjectName(QStringLiteral("cloneAnswer"));
    m_branch->setObjectName(QStringLiteral("cloneBranch"));
    m_branch->setAccessibleName(tr("Branch to begin with"));
    m_folder->setObjectName(QStringLiteral("cloneFolder"));
    m_folder->setAccessibleName(tr("Folder to clone into"));
    useCodeFont(m_folder);
    m_folderWords->setObjectName(QStringLiteral("cloneFolderWords"));
    m_progress->setObjectName(QStringLiteral("cloneProgress"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    column->addWidget(makeLabel(tr("Clone from an address"), TextRole::heading, this));
    column->addWidget(makeLabel(tr("Address"), TextRole::normal, this));
    column->addWidget(m_address);
    column->addWidget(m_answer);
    column->addWidget(makeLabel(tr("Branch"), TextRole::normal, this));
    column->addWidget(m_branch);
    column->addWidget(makeLabel(tr("Into the folder"), TextRole::normal, this));
    column->addWidget(m_folder);
    column->addWidget(m_folderWords);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(m_clone);
    buttons->addWidget(m_stop);
    buttons->addWidget(m_progress, 1);
    column->addLayout(buttons);
    connect(m_address, &QLineEdit::editingFinished, this, [this] {
        const QString address = m_address->text().trimmed();
        if (!address.isEmpty() && address != m_asked) {
            m_asked = address;
            m_branch->clear();
            setTextRole(m_answer, TextRole::muted);
            m_answer->setText(tr("Asking it…"));
            emit addressEntered(address);
        }
    });
    connect(m_address, &QLineEdit::textChanged, this, &ClonePanel::proposeFolder);
    connect(m_folder, &QLineEdit::textChanged, this, &ClonePanel::update);
    connect(m_folder, &QLineEdit::returnPressed, this, &ClonePanel::requestClone);
    connect(m_clone, &QPushButton::clicked, this, &ClonePanel::requestClone);
    connect(m_stop, &QPushButton::clicked, this, &ClonePanel::stopRequested);
    update();
}

/// The address' last part, in the person's home; until they write a folder of their own.
void ClonePanel::proposeFolder()
{
    if (m_folder->text() == m_proposed) {
        static const QRegularExpression kEnd(QStringLiteral("(\\.git)?/*$"));
        QString name = m_address->text().trimmed().remove(kEnd);
        name = name.mid(name.lastIndexOf(QRegularExpression(QStringLiteral("[/:]"))) + 1);
        m_proposed = name.isEmpty() ? QString() : QDir::home().filePath(name);
        for (int number = 2; !m_proposed.isEmpty() && QFileInfo::exists(m_proposed); ++number) {
            m_proposed = QDir::home().filePath(QStringLiteral("%1-%2").arg(name).arg(number));
        }
        m_folder->setText(m_proposed);
    }
    update();
}

void ClonePanel::update()
{
    const QString folder = m_folder->text().trimmed();
    const QDir target(folder);
    const bool isTaken = !folder.isEmpty() && QFileInfo::exists(folder)
                         && (!QFileInfo(folder).isDir() || !target.isEmpty());
    const bool isRelative = !folder.isEmpty() && !QDir::isAbsolutePath(folder);
    setTextRole(m_folderWords, isTaken || isRelative ? TextRole::open : TextRole::muted);
    m_folderWords->setText(isTaken            ? tr("It is there already, and not empty.")
                           : isRelative       ? tr("Write the whole path, from / on.")
                           : folder.isEmpty() ? QString()
                                              : tr("A new folder, with the whole history."));
    m_clone->setEnabled(!m_isBusy && !isTaken && !isRelative && !folder.isEmpty()
                        && !m_address->text().trimmed().isEmpty());
    m_stop->setVisible(m_isBusy);
    m_address->setReadOnly(m_isBusy);
    m_folder->setReadOnly(m_isBusy);
}

void ClonePanel::requestClone()
{
    if (!m_clone->isEnabled()) {
        return;
    }
    emit cloneRequested({m_address->text().trimmed().toStdString(),
                         m_branch->currentData().toByteArray().toStdString(),
                         m_folder->text().trimmed().toStdString()});
}

void ClonePanel::showLines(const QString& address, const RemoteLines& lines)
{
    if (address != m_asked) {
        return;
    }
    m_branch->clear();
    for (const RemoteLine& line : lines.lines) {
        m_branch->addItem(shown(line.name), QByteArray::fromStdString(line.name));
        if (line.name == lines.first) {
            m_branch->setCurrentIndex(m_branch->count() - 1);
        }
    }
    m_answer->setText(
        lines.lines.empty()
            ? tr("The address answers, but there is no branch yet: the repository is empty.")
        : lines.first.empty()
            ? tr("The address answers: %1.").arg(countOf(lines.lines.size(), "branch", "branches"))
            : tr("The address answers: %1, %2 is the one it starts with.")
                  .arg(countOf(lines.lines.size(), "branch", "branches"), shown(lines.first)));
}

void ClonePanel::showAddressFailure(const QString& address, const QString& sentence)
{
    if (address == m_asked) {
        setTextRole(m_answer, TextRole::open);
        m_answer->setText(sentence);
        m_asked.clear();  // leaving the field again asks again
    }
}

void ClonePanel::setBusy(const QString& progress)
{
    m_isBusy = !progress.isEmpty();
    setTextRole(m_progress, TextRole::muted);
    m_progress->setText(m_isBusy ? progress : tr("asks for a key or password if needed"));
    update();
}

void ClonePanel::showFailure(const QString& sentence)
{
    setBusy({});
    setTextRole(m_progress, TextRole::open);
    m_progress->setText(sentence);
}

void ClonePanel::clear()
{
    m_asked.clear();
    m_branch->clear();
    m_answer->clear();
    m_address->clear();
    setBusy({});
}

void ClonePanel::focusAddress()
{
    m_address->setFocus();
    m_address->selectAll();
}
}  // namespace rope
