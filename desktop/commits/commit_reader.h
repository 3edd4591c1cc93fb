// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/commits/change_view.h"

#include <QWidget>

class QLabel;
class QListWidget;

namespace rope {
/// One commit to be read: its whole message, who and when, and what it changed, file by file.
class CommitReader final : public QWidget
{
    Q_OBJECT
public:
    CommitReader(Strand strand, const char* objectName, QWidget* parent);
    void showCommit(const CommitReading& reading, std::int64_t now);
    /// Says that it is being read.
    void showWaiting(const ObjectId& commit);
    [[nodiscard]] const ObjectId& commit() const { return m_commit; }

private:
    void showFile(int row);
    QLabel* m_message;
    QLabel* m_who;
    QListWidget* m_files;
    ChangeView* m_change;
    ObjectId m_commit;
    std::vector<FileReading> m_readings;
};
}  // namespace rope
