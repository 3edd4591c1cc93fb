// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QStyledItemDelegate>

namespace rope {
/// What the rows of the list of branches hold besides their names.
enum BranchRole {
    branchRefRole = Qt::UserRole + 1,  ///< Bytes; a heading has none.
    branchWordsRole,                   ///< The forecast in full.
    branchShortRole,                   ///< The forecast at the end of the row.
    branchOpenRole,                    ///< How many conflicts; 0: none.
    branchWarnsRole,                   ///< Whether the forecast is in the colour of what is open.
    branchQueueRole,                   ///< Its place among those to be merged later.
    branchTallRole,                    ///< Whether the forecast stands in full below the name.
    branchGroupRole,                   ///< Of a heading: its BranchGroup.
    branchCountRole,                   ///< Of a heading: how many branches stand under it.
    branchFoldRole,                    ///< Of a heading: whether it is folded; invalid: it cannot be.
    branchNamesRole,                   ///< Of a heading: the names below it, shown while it is folded.
};

/// Paints branches in one line, the proposed one in two, and the headings of their groups.
class BranchDelegate final : public QStyledItemDelegate
{
    Q_OBJECT
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem& option,
                                 const QModelIndex& index) const override;
    void paint(QPainter* painter,
               const QStyleOptionViewItem& option,
               const QModelIndex& index) const override;
};
}  // namespace rope
