// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/ruled_table.h"

#include "desktop/widgets/theme.h"

#include <QHeaderView>
#include <QPainter>

namespace rope {
void dressTable(QTableView& table)
{
    table.setFrameShape(QFrame::NoFrame);
    table.setShowGrid(false);
    table.verticalHeader()->hide();
    table.verticalHeader()->setDefaultSectionSize(table.fontMetrics().height() + 10);
    table.horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table.horizontalHeader()->setHighlightSections(false);
    table.horizontalHeader()->setStretchLastSection(true);
    table.horizontalHeader()->setAccessibleName(QObject::tr("Columns"));
    table.setSelectionBehavior(QAbstractItemView::SelectRows);
    table.setSelectionMode(QAbstractItemView::SingleSelection);
    table.setWordWrap(false);
    table.horizontalHeader()->viewport()->setBackgroundRole(QPalette::Base);
    table.setTabKeyNavigation(false);
}

void RuledDelegate::paint(QPainter* painter,
                          const QStyleOptionViewItem& option,
                          const QModelIndex& index) const
{
    QStyledItemDelegate::paint(painter, option, index);
    painter->setPen(theme().rules);
    painter->drawLine(option.rect.bottomLeft(), option.rect.bottomRight());
}

QSize RuledDelegate::sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const
{
    constexpr int kRoom = 8;
    return QStyledItemDelegate::sizeHint(option, index) + QSize(0, kRoom);
}
}  // namespace rope
