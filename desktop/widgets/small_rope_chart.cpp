// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_start_page.cpp.
#include "desktop/widgets/small_rope_chart.h"

#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>

namespace rope {
namespace {
constexpr std::size_t kMostKnots = 5;
constexpr qreal kSmallRopeWidth = 6;
constexpr qreal kSmallKnotRadius = 3.5;
constexpr qreal kStub = 26;  // of the base, before the sides part
constexpr qreal kBend = 24;

void paintKnotAt(QPainter& painter, QPointF centre)
{
    painter.setPen(QPen(theme().ink, 1.4));
    painter.setBrush(theme().paper);
    painter.drawEllipse(centre, kSmallKnotRadius, kSmallKnotRadius);
}

/// A side from where they parted to its newest commit.
void paintSide(QPainter& painter, QPointF base, QPointF end, std::size_t commits, Strand strand)
{
    const QPointF level(base.x() + kBend, end.y());
    QPainterPath path(base);
    const qreal middle = base.x() + kBend / 2;
    path.cubicTo({middle, base.y()}, {middle, end.y()}, level);
    path.lineTo(end);
    paintRope(painter, path, kSmallRopeWidth, strand);
    const std::size_t knots = std::min(commits, kMostKnots);
    const qreal apart = (end.x() - level.x()) / kMostKnots;
    for (std::size_t i = 0; i < knots; ++i) {
        paintKnotAt(painter, {end.x() - static_cast<qreal>(i) * apart, end.y()});
    }
    if (commits > kMostKnots) {
        // A gap stands for the commits without a knot.
        const qreal at = end.x() - static_cast<qreal>(kMostKnots) * apart + apart / 2;
        painter.fillRect(QRectF(at - 4, end.y() - kSmallRopeWidth, 8, 2 * kSmallRopeWidth),
                         theme().paper);
        painter.setPen(QPen(theme().muted, 1.4, Qt::DotLine));
        painter.drawLine(QPointF(at - 4, end.y()), QPointF(at + 4, end.y()));
    }
}
}  // namespace

SmallRopeChart::SmallRopeChart(QWidget* parent)
    : QWidget(parent)
{
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
    setCounts(0, 0);
}

void SmallRopeChart::setCounts(std::size_t ours, std::size_t theirs)
{
    m_ours = ours;
    m_theirs = theirs;
    setAccessibleName(tr("%1 commits of ours, %2 of theirs").arg(ours).arg(theirs));
    update();
}

void SmallRopeChart::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const qreal middle = height() / 2.0;
    const qreal right = width() - kSmallKnotRadius - 2;
    const bool isLevel = m_ours == 0 && m_theirs == 0;
    const QPointF base(isLevel ? right : kStub, middle);
    QPainterPath before(QPointF(0, middle));
    before.lineTo(base);
    paintRope(painter, before, kSmallRopeWidth, Strand::base);
    const qreal reach = height() / 2.0 - kSmallKnotRadius - 2;
    if (m_theirs > 0) {
        paintSide(painter, base, {right, middle + reach}, m_theirs, Strand::theirs);
    }
    if (m_ours > 0) {
        paintSide(painter, base, {right, middle - reach}, m_ours, Strand::ours);
    }
    paintKnotAt(painter, base);
}
}  // namespace rope
