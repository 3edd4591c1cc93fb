// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/survey/survey_view.h"

#include <QAbstractTableModel>
#include <QTableView>

namespace rope {
/// The files both sides changed: how much on either side, and what a join would give.
class OverlapTable final : public QTableView
{
    Q_OBJECT
public:
    explicit OverlapTable(QWidget* parent);
    void showRows(std::vector<OverlapRow> rows);
    [[nodiscard]] int rowCount() const;

private:
    class Model;
    Model* m_model;
};

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
