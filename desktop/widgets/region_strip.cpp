// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/region_strip.h"

#include "desktop/widgets/theme.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace rope {
namespace {
constexpr int kLeastHeight = 5;
}

QRect stripMarkRect(const StripMark& mark, int lineCount, QSize strip)
{
    const double scale = static_cast<double>(strip.height()) / std::max(lineCount, 1);
    const int top = static_cast<int>(mark.firstLine * scale);
    const int height = std::max(kLeastHeight, static_cast<int>(mark.lineCount * scale));
    return {2, std::min(top, strip.height() - height), strip.width() - 4, height};
}

RegionStrip::RegionStrip(QWidget* parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("regionStrip"));
    setFixedWidth(sizeHint().width());
    setAccessibleName(tr("Overview of the file"));
    setToolTip(tr("Where regions and joined changes are; click to go there"));
}

void RegionStrip::setMarks(std::vector<StripMark> marks, int lineCount)
{
    m_marks = std::move(marks);
    m_lineCount = lineCount;
    update();
}

void RegionStrip::paintEvent(QPaintEvent* event)
{
    QPainter painter(this);
    painter.fillRect(rect(), theme().panel);
    painter.setPen(theme().rules);
    painter.drawLine(0, 0, 0, height());
    for (const StripMark& mark : m_marks) {
        const QRect place = stripMarkRect(mark, m_lineCount, size());
        if (place.intersects(event->rect())) {
            paintStrand(painter, place, mark.strand);
            if (mark.strand == Strand::open) {
                painter.setPen(theme().openInk);
                painter.drawRect(place.adjusted(0, 0, -1, -1));
            }
        }
    }
}

void RegionStrip::mousePressEvent(QMouseEvent* event)
{
    const auto y = event->position().y();
    emit lineRequested(static_cast<int>(y * m_lineCount / std::max(height(), 1)));
}
}  // namespace rope
