// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_resolve_station.cpp.
#include "desktop/widgets/flow_layout.h"

#include <QWidget>

#include <algorithm>

namespace rope {
FlowLayout::FlowLayout(QWidget* parent, int spacing)
    : QLayout(parent)
    , m_spacing(spacing)
{
}

FlowLayout::~FlowLayout() = default;

void FlowLayout::addItem(QLayoutItem* item)
{
    m_items.emplace_back(item);
}

QLayoutItem* FlowLayout::itemAt(int index) const
{
    const auto at = static_cast<std::size_t>(index);
    return index >= 0 && at < m_items.size() ? m_items[at].get() : nullptr;
}

QLayoutItem* FlowLayout::takeAt(int index)
{
    if (itemAt(index) == nullptr) {
        return nullptr;
    }
    QLayoutItem* const item = m_items[static_cast<std::size_t>(index)].release();
    m_items.erase(m_items.begin() + index);
    return item;
}

int FlowLayout::heightForWidth(int width) const
{
    return place(QRect(0, 0, width, 0), false);
}

QSize FlowLayout::sizeHint() const
{
    QSize size;
    for (const auto& item : m_items) {
        if (!item->isEmpty()) {
            const QSize own = item->sizeHint();
            size = {size.width() + own.width() + m_spacing, std::max(size.height(), own.height())};
        }
    }
    const QMargins margins = contentsMargins();
    return size + QSize(margins.left() + margins.right(), margins.top() + margins.bottom());
}

QSize FlowLayout::minimumSize() const
{
    QSize size;
    for (const auto& item : m_items) {
        size = size.expandedTo(item->isEmpty() ? QSize() : item->minimumSize());
    }
    const QMargins margins = contentsMargins();
    size += QSize(margins.left() + margins.right(), margins.top() + margins.bottom());
    // Splitters ask for no height that hangs on the width: the rows that there are now must have room.
    return m_width > 0 ? size.expandedTo({0, heightForWidth(m_width)}) : size;
}

void FlowLayout::setGeometry(const QRect& rect)
{
    QLayout::setGeometry(rect);
    place(rect, true);
    const int before = m_width > 0 ? heightForWidth(m_width) : 0;
    m_width = rect.width();
    if (heightForWidth(m_width) != before) {
        update();
    }
}

int FlowLayout::place(const QRect& rect, bool isReal) const
{
    const QMargins margins = contentsMargins();
    const QRect inner = rect.marginsRemoved(margins);
    int x = inner.left();
    int y = inner.top();
    int rowHeight = 0;
    for (int i = 0; i < count(); ++i) {
        QLayoutItem& item = *itemAt(i);
        if (item.isEmpty()) {
            continue;
        }
        const QSize size = item.sizeHint();
        if (x > inner.left() && x + size.width() > inner.right() + 1) {
            x = inner.left();
            y += rowHeight + m_spacing;
            rowHeight = 0;
        }
        if (i == m_firstRight) {
            int wanted = 0;
            for (int j = i; j < count(); ++j) {
                wanted += itemAt(j)->isEmpty() ? 0 : itemAt(j)->sizeHint().width() + m_spacing;
            }
            x = std::max(x, inner.right() + 1 - wanted + m_spacing);
        }
        if (isReal) {
            item.setGeometry(
                QRect(QPoint(x, y), QSize(std::min(size.width(), inner.width()), size.height())));
        }
        x += size.width() + m_spacing;
        rowHeight = std::max(rowHeight, size.height());
    }
    return y + rowHeight - rect.top() + margins.bottom();
}
}  // namespace rope
