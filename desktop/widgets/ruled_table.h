// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QStyledItemDelegate>
#include <QTableView>

namespace rope {
/// Gives a table the look of all tables here: rows with a rule below, no grid, one row selected.
void dressTable(QTableView& table);

/// Paints a cell as the style does, and the rule below it.
class RuledDelegate final : public QStyledItemDelegate
{
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* painter,
               const QStyleOptionViewItem& option,
               const QModelIndex& index) const override;
    /// With room above the rule. (Tables set the height of their rows themselves.)
    [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem& option,
                                 const QModelIndex& index) const override;
};
}  // namespace rope
