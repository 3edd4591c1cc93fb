// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/types.h"

#include <QAbstractTableModel>
#include <QTableView>

#include <cstdint>
#include <map>
#include <vector>

namespace rope {
/// Commits, newest first: id, subject, author, time.
class CommitTable final : public QTableView
{
    Q_OBJECT
public:
    explicit CommitTable(const char* objectName, QWidget* parent);
    /// `equal`: commits whose change another commit makes as well, with that one.
    void showCommits(const std::vector<Commit>& commits,
                     std::int64_t now,
                     const std::map<ObjectId, ObjectId>& equal = {});

private:
    class Model;
    Model* m_model;
};
}  // namespace rope
