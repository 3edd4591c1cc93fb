// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/history/divergence.h"

#include <QTableView>

namespace rope {
/// Commits, newest first: id, subject, author, time.
class CommitTable final : public QTableView
{
    Q_OBJECT
signals:
    /// Another row is the current one.
    void commitPicked(const rope::ObjectId& commit);

public:
    explicit CommitTable(const char* objectName, QWidget* parent);
    /// `remarks`: words that follow a commit's subject. The commit that was picked last stays so, or is
    /// again, where it is among them.
    void showCommits(const std::vector<Commit>& commits,
                     std::int64_t now,
                     const std::map<ObjectId, QString>& remarks = {});
    void setRemarks(const std::map<ObjectId, QString>& remarks);

    /// The commit of the current row; null: there is none.
    [[nodiscard]] ObjectId picked() const;

private:
    class Model;
    Model* m_model;
    ObjectId m_lastPicked;  ///< Null: none was.
};
}  // namespace rope
