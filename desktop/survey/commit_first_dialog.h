// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/history.h"

#include <QDialog>

#include <vector>

class QLabel;
class QListWidget;
class QPlainTextEdit;
class QPushButton;

namespace rope {
/// Asks which uncommitted files become a commit of one's own before the join, and with what message.
class CommitFirstDialog final : public QDialog
{
    Q_OBJECT
public:
    CommitFirstDialog(const std::vector<UncommittedFile>& files, QWidget* parent);

signals:
    void commitRequested(const std::vector<rope::RepoPath>& paths, const QString& message);

private:
    [[nodiscard]] std::vector<RepoPath> chosen() const;
    void showState();
    void commit();
    QListWidget* m_files;
    QPlainTextEdit* m_message;
    QLabel* m_rest;
    QPushButton* m_commit;
};
}  // namespace rope
