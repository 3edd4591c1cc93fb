// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/region_strip.h"

#include "desktop/widgets/accessible_role.h"
#include "desktop/widgets/theme.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPixmap>

#include <algorithm>
#include <map>

namespace rope {
namespace {
constexpr int kGoodHeight = 5;
constexpr int kLeastHeight = 2;
}  // namespace

QRect stripMarkRect(const StripMark& mark, int lineCount, QSize strip, int leastHeight)
{
    const double scale = static_cast<double>(strip.height()) / std::max(lineCount, 1);
    const int top = static_cast<int>(mark.firstLine * scale);
    const int height = std::max(leastHeight, static_cast<int>(mark.lineCount * scale));
    return {2, std::min(top, strip.height() - height), strip.width() - 4, height};
}

RegionStrip::RegionStrip(QWidget* parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("regionStrip"));
    setFixedWidth(sizeHint().width());
    setAccessibleRole(*this, QAccessible::Graphic);
    setAccessibleName(tr("Overview of the file"));
    setToolTip(tr("Where conflicts and merged changes are; click to go there"));
}

void RegionStrip::setMarks(std::vector<StripMark> marks, int lineCount)
{
    if (marks != m_marks || lineCount != m_lineCount) {
        m_marks = std::move(marks);
        m_lineCount = lineCount;
        update();
    }
}

void RegionStrip::paintEvent(QPaintEvent* event)
{
    QPainter painter(this);
    painter.fillRect(rect(), theme().panel);
    painter.setPen(theme().rules);
    painter.drawLine(0, 0, 0, height());
    // What is open is never hidden by what is decided beside it.
    paintMarks(painter, event->rect(), false);
    paintMarks(painter, event->rect(), true);
}

void RegionStrip::paintMarks(QPainter& painter, const QRect& part, bool areOpen) const
{
    // Where marks are many they are low, so that between them it can be seen that nothing is there.
    const int each = height() / (2 * static_cast<int>(m_marks.size()) + 1);
    const int least = std::clamp(each, kLeastHeight, kGoodHeight);
    std::map<Strand, QRect> last;  // of thousands of marks most fall on the place of the one before
    std::map<std::pair<Strand, int>, QPixmap> looks;  // and most of the others look alike
    const auto lookOf = [&](const QRect& place, Strand strand) -> const QPixmap& {
        QPixmap& look = looks[{strand, place.height()}];
        if (look.isNull()) {
            look = QPixmap(place.size() * devicePixelRatioF());
            look.setDevicePixelRatio(devicePixelRatioF());
            look.fill(Qt::transparent);
            QPainter onto(&look);
            const QRect whole({0, 0}, place.size());
            paintStrand(onto, whole, strand);
            if (strand == Strand::open) {
                onto.setPen(theme().openInk);
                onto.drawRect(whole.adjusted(0, 0, -1, -1));
            }
        }
        return look;
    };
    for (const StripMark& mark : m_marks) {
        if ((mark.strand == Strand::open) != areOpen) {
            continue;
        }
        const QRect place = stripMarkRect(mark, m_lineCount, size(), least);
        QRect& before = last[mark.strand];
        if (place == before || !place.intersects(part)) {
            continue;
        }
        before = place;
        painter.drawPixmap(place.topLeft(), lookOf(place, mark.strand));
    }
}

void RegionStrip::mousePressEvent(QMouseEvent* event)
{
    const auto y = event->position().y();
    emit lineRequested(static_cast<int>(y * m_lineCount / std::max(height(), 1)));
}
}  // namespace rope
