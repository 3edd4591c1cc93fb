// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/facts/merge_view.h"

#include <QListView>

namespace rope {
/// Merges of the history as a list: when, what and by whom, and the worst that is odd about each.
class MergeList final : public QListView
{
    Q_OBJECT
public:
    explicit MergeList(QWidget* parent);
    void show(std::vector<ReadMergeRow> rows, std::int64_t now);
    /// Null: there is no row, or none is chosen.
    [[nodiscard]] const ReadMergeRow* current() const;
    [[nodiscard]] int rowCount() const;
    void select(const ObjectId& merge);

signals:
    /// A person chose another row.
    void picked();

private:
    class Model;
    Model* m_model;
};
}  // namespace rope
