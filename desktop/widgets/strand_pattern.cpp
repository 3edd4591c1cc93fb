// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/strand_pattern.h"

#include "desktop/widgets/theme.h"

#include <QPainter>
#include <QPainterPath>

namespace rope {
namespace {
constexpr int kPitch = 6;       // pixels from one diagonal to the next
constexpr qreal kStroke = 2.0;  // thickness of a diagonal
constexpr int kDotPitch = 4;

void paintDiagonals(QPainter& painter, const QRectF& rect, const QColor& colour, bool falls)
{
    painter.setPen(QPen(colour, kStroke));
    const qreal height = rect.height() + 2 * kPitch;
    const qreal top = rect.top() - kPitch;
    // x + y (or x - y) of each line is a multiple of the pitch, wherever the rectangle lies.
    const qreal shift = falls ? -top : top;
    const qreal first = std::floor((rect.left() - height + shift) / kPitch) * kPitch - shift;
    for (qreal x = first; x < rect.right() + height; x += kPitch) {
        if (falls) {
            painter.drawLine(QPointF(x, top), QPointF(x + height, top + height));
        } else {
            painter.drawLine(QPointF(x, top), QPointF(x - height, top + height));
        }
    }
}

void paintDots(QPainter& painter, const QRectF& rect, const QColor& colour)
{
    for (qreal y = rect.top() + 2; y < rect.bottom(); y += kDotPitch) {
        for (qreal x = rect.left() + 1; x < rect.right() - 1; x += kDotPitch) {
            painter.fillRect(QRectF(x, y, 2, 2), colour);
        }
    }
}

void paintDashedEdges(QPainter& painter, const QRectF& rect, const QColor& colour)
{
    QPen pen(colour, 2);
    pen.setDashPattern({3, 2});
    painter.setPen(pen);
    painter.drawLine(QPointF(rect.left() + 1, rect.top()), QPointF(rect.left() + 1, rect.bottom()));
    painter.drawLine(QPointF(rect.right() - 1, rect.top()),
                     QPointF(rect.right() - 1, rect.bottom()));
}
}  // namespace

Strand strandOf(LineOrigin origin)
{
    switch (origin) {
    case LineOrigin::base:
        return Strand::base;
    case LineOrigin::ours:
        return Strand::ours;
    case LineOrigin::theirs:
        return Strand::theirs;
    case LineOrigin::both:
        return Strand::both;
    case LineOrigin::hand:
        return Strand::hand;
    }
    return Strand::base;
}

const SideColours& coloursOf(Strand side)
{
    return side == Strand::ours     ? theme().ours
           : side == Strand::theirs ? theme().theirs
                                    : theme().base;
}

void paintStrand(QPainter& painter, const QRectF& rect, Strand strand)
{
    const Theme& t = theme();
    painter.save();
    painter.setClipRect(rect, Qt::IntersectClip);
    painter.setRenderHint(QPainter::Antialiasing);
    switch (strand) {
    case Strand::base:
        painter.fillRect(rect, t.base.word);
        break;
    case Strand::ours:
        painter.fillRect(rect, t.ours.word);
        paintDiagonals(painter, rect, t.ours.ink, true);
        break;
    case Strand::theirs:
        painter.fillRect(rect, t.theirs.word);
        paintDiagonals(painter, rect, t.theirs.ink, false);
        break;
    case Strand::both:
        painter.fillRect(rect, t.base.fill);
        paintDiagonals(painter, rect, t.both, true);
        paintDiagonals(painter, rect, t.both, false);
        break;
    case Strand::hand:
        painter.fillRect(rect, t.paper);
        paintDots(painter, rect, t.hand);
        break;
    case Strand::open:
        painter.fillRect(rect, t.openFill);
        paintDashedEdges(painter, rect, t.openInk);
        break;
    }
    painter.restore();
}

void paintRope(QPainter& painter, const QPainterPath& path, qreal width, Strand strand)
{
    QPainterPathStroker stroker;
    stroker.setWidth(width);
    const QPainterPath shape = stroker.createStroke(path);
    painter.save();
    painter.setClipPath(shape);
    paintStrand(painter, shape.boundingRect(), strand);
    painter.restore();
}

QPixmap strandPixmap(Strand strand, QSize size, qreal devicePixelRatio)
{
    QPixmap pixmap(size * devicePixelRatio);
    pixmap.setDevicePixelRatio(devicePixelRatio);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    paintStrand(painter, QRectF(QPointF(0, 0), QSizeF(size)), strand);
    return pixmap;
}

QPixmap gapPixmap(GapSide side, QSize size)
{
    QPixmap pixmap(size);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    painter.setRenderHint(QPainter::Antialiasing);
    const double edge = side == GapSide::above ? 1 : size.height() - 1;
    const double point = side == GapSide::above ? 6 : size.height() - 6;
    painter.setPen(QPen(theme().ink, 2));
    painter.drawLine(QPointF(0, edge), QPointF(size.width(), edge));
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme().ink);
    painter.drawPolygon(
        QPolygonF{{1.0, edge}, {size.width() - 1.0, edge}, {size.width() / 2.0, point}});
    return pixmap;
}

void paintKnot(QPainter& painter, const QRectF& rect, Knot knot)
{
    const Theme& t = theme();
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF c = rect.center();
    if (knot == Knot::open) {
        const qreal r = 5;
        painter.setPen(QPen(t.openInk, 1.6));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolygon(QPolygonF{
            c + QPointF(0, -r), c + QPointF(r, 0), c + QPointF(0, r), c + QPointF(-r, 0)});
    } else {
        painter.setPen(Qt::NoPen);
        painter.setBrush(t.decided);
        painter.drawEllipse(c, 4.5, 4.5);
        if (knot == Knot::decidedByHand) {
            painter.setBrush(t.paper);
            for (const QPointF offset :
                 {QPointF(-1.6, -1.6), QPointF(1.6, -1.6), QPointF(-1.6, 1.6), QPointF(1.6, 1.6)}) {
                painter.drawEllipse(c + offset, 0.9, 0.9);
            }
        }
    }
    painter.restore();
}
}  // namespace rope
