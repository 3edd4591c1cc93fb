// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/read_changes.h"
#include "desktop/facts/chosen_file.h"

#include <QDialog>

class QLabel;
class QPlainTextEdit;
class QPushButton;
class QTreeWidget;
class QTreeWidgetItem;

namespace rope {
class ChangeView;

/// Asks which uncommitted files, and which of their changes, become a commit of one's own before the
/// join, and with what message.
class CommitFirstDialog final : public QDialog
{
    Q_OBJECT
public:
    /// `uncommitted`: what the files hold against the last commit, stretch by stretch.
    CommitFirstDialog(const ResultReading& uncommitted, QWidget* parent);

signals:
    void commitRequested(const std::vector<rope::ChosenFile>& files, const QString& message);

private:
    void addFile(const FileReading& file);
    [[nodiscard]] std::vector<ChosenFile> chosen() const;
    [[nodiscard]] const FileReading& fileOf(const QTreeWidgetItem& item) const;
    void showChange(QTreeWidgetItem* item);
    void showState();
    void commit();
    ResultReading m_uncommitted;
    QTreeWidget* m_files;
    ChangeView* m_change;
    QPlainTextEdit* m_message;
    QLabel* m_rest;
    QPushButton* m_commit;
};
}  // namespace rope
