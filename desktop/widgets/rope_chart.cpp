// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/rope_chart.h"

#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>

namespace rope {
namespace {
constexpr qreal kRopeWidth = 9;
constexpr qreal kKnotRadius = 6;

/// From a point level with one strand to a point level with another, in a soft bend.
QPainterPath bend(QPointF from, QPointF to)
{
    QPainterPath path(from);
    const qreal middle = (from.x() + to.x()) / 2;
    path.cubicTo({middle, from.y()}, {middle, to.y()}, to);
    return path;
}
}  // namespace

RopeChart::RopeChart(QWidget* parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("ropeChart"));
    setFocusPolicy(Qt::TabFocus);
    setMouseTracking(true);
}

void RopeChart::setModel(RopeChartModel model)
{
    m_model = std::move(model);
    m_layout = layOutRopeChart(m_model, size());
    m_focusedKnot = -1;
    setAccessibleName(m_model.oursTitle + QStringLiteral("; ") + m_model.theirsTitle);
    update();
}

void RopeChart::resizeEvent(QResizeEvent*)
{
    m_layout = layOutRopeChart(m_model, size());
}

QString RopeChart::textOf(const ChartKnot& knot) const
{
    const ChartCommit* commit = nullptr;
    switch (knot.kind) {
    case ChartKnot::Kind::base:
        commit = &*m_model.base;
        break;
    case ChartKnot::Kind::ours:
        commit = &m_model.ours[knot.commit];
        break;
    case ChartKnot::Kind::theirs:
        commit = &m_model.theirs[knot.commit];
        break;
    case ChartKnot::Kind::outcome:
        return m_model.outcomeTitle;
    }
    return QStringLiteral("%1 %2\n%3, %4")
        .arg(commit->id, commit->subject, commit->author, commit->when);
}

void RopeChart::paintStrands(QPainter& painter) const
{
    const QPointF oursBegin(m_layout.strandBegin, m_layout.oursY);
    const QPointF theirsBegin(m_layout.strandBegin, m_layout.theirsY);
    const QPointF oursEnd(m_layout.strandEnd, m_layout.oursY);
    const QPointF theirsEnd(m_layout.strandEnd, m_layout.theirsY);
    if (m_model.base) {
        QPainterPath before(QPointF(30, m_layout.base.y()));
        before.lineTo(m_layout.base);
        paintRope(painter, before, kRopeWidth, Strand::base);
    }
    const auto paintSide = [&](bool has, QPointF begin, QPointF end, Strand strand) {
        if (!has) {
            return;
        }
        QPainterPath path = m_model.base ? bend(m_layout.base, begin) : QPainterPath(begin);
        path.lineTo(end);
        paintRope(painter, path, kRopeWidth, strand);
    };
    paintSide(!m_model.theirs.empty(), theirsBegin, theirsEnd, Strand::theirs);
    paintSide(!m_model.ours.empty(), oursBegin, oursEnd, Strand::ours);
    if (!m_model.outcomeTitle.isEmpty()) {
        const auto paintFuture = [&](bool has, QPointF end, const QColor& colour) {
            painter.setPen(QPen(colour, 1.6, Qt::DashLine));
            painter.setBrush(Qt::NoBrush);
            if (has) {
                painter.drawPath(bend(end, m_layout.outcome));
            }
        };
        paintFuture(!m_model.ours.empty(), oursEnd, theme().ours.ink);
        paintFuture(!m_model.theirs.empty(), theirsEnd, theme().theirs.ink);
    }
}

void RopeChart::paintGaps(QPainter& painter) const
{
    for (const RopeChartLayout::Gap& gap : m_layout.gaps) {
        const QRectF hole(gap.centre.x() - 7, gap.centre.y() - kRopeWidth, 14, 2 * kRopeWidth);
        painter.fillRect(hole, theme().paper);
        painter.setPen(QPen(theme().muted, 2, Qt::DotLine));
        painter.drawLine(QPointF(hole.left(), gap.centre.y()),
                         QPointF(hole.right(), gap.centre.y()));
        painter.setPen(theme().muted);
        // Between the strands: outside stand their titles.
        const bool isBelow = gap.centre.y() > m_layout.base.y();
        const QRectF words(hole.left() - 10, isBelow ? hole.top() - 18 : hole.bottom(), 100, 18);
        painter.drawText(words, Qt::AlignLeft | Qt::AlignVCenter, tr("%1 more").arg(gap.hidden));
    }
}

void RopeChart::paintTitles(QPainter& painter) const
{
    const QFontMetrics metrics(font());
    const int height = metrics.height();
    QFont strong = font();
    strong.setWeight(QFont::DemiBold);
    const int left = static_cast<int>(m_layout.strandBegin);
    const int width = static_cast<int>(this->width() - m_layout.strandBegin - 8);
    const auto title = [&](const QString& text, int top, const QColor& colour) {
        painter.setFont(strong);
        painter.setPen(colour);
        painter.drawText(QRect(left, top, width, height),
                         Qt::AlignLeft,
                         QFontMetrics(strong).elidedText(text, Qt::ElideRight, width));
    };
    title(m_model.oursTitle, static_cast<int>(m_layout.oursY) - height - 14, theme().ours.ink);
    title(m_model.theirsTitle, static_cast<int>(m_layout.theirsY) + 14, theme().theirs.ink);
    painter.setFont(font());
    painter.setPen(theme().muted);
    if (m_model.base) {
        const QRect place(static_cast<int>(m_layout.base.x()) - 160,
                          static_cast<int>(m_layout.base.y()) + 12,
                          170,
                          2 * height);
        painter.drawText(
            place, Qt::AlignRight, tr("base %1\n%2").arg(m_model.base->id, m_model.base->when));
    }
    if (!m_model.outcomeTitle.isEmpty()) {
        // Below its knot, but never beyond the edge.
        const int words = painter.fontMetrics().horizontalAdvance(m_model.outcomeTitle) + 6;
        const int outcomeLeft =
            std::min(static_cast<int>(m_layout.outcome.x()) - 8, this->width() - words);
        const QRect place(outcomeLeft,
                          static_cast<int>(m_layout.outcome.y()) + 12,
                          this->width() - outcomeLeft,
                          height);
        painter.drawText(place, Qt::AlignLeft, m_model.outcomeTitle);
    }
}

void RopeChart::paintKnots(QPainter& painter) const
{
    for (std::size_t i = 0; i < m_layout.knots.size(); ++i) {
        const ChartKnot& knot = m_layout.knots[i];
        const bool isFocused = static_cast<int>(i) == m_focusedKnot;
        const Qt::PenStyle line =
            knot.kind == ChartKnot::Kind::outcome ? Qt::DotLine : Qt::SolidLine;
        painter.setPen(QPen(theme().ink, isFocused ? 3 : 1.8, line));
        painter.setBrush(theme().paper);
        painter.drawEllipse(knot.centre, kKnotRadius, kKnotRadius);
    }
}

void RopeChart::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), theme().paper);
    painter.setRenderHint(QPainter::Antialiasing);
    paintStrands(painter);
    paintGaps(painter);
    paintTitles(painter);
    paintKnots(painter);
}

bool RopeChart::event(QEvent* event)
{
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const auto knot = knotAt(m_layout, help->pos());
        if (knot) {
            QToolTip::showText(
                help->globalPos(),
                plainToolTip(textOf(*knot)).replace(QLatin1Char('\n'), QLatin1String("<br>")),
                this);
        } else {
            QToolTip::hideText();
        }
        return true;
    }
    return QWidget::event(event);
}

void RopeChart::keyPressEvent(QKeyEvent* event)
{
    const int count = static_cast<int>(m_layout.knots.size());
    const int step = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (step == 0 || count == 0) {
        QWidget::keyPressEvent(event);
        return;
    }
    m_focusedKnot = std::clamp(m_focusedKnot + step, 0, count - 1);
    const ChartKnot& knot = m_layout.knots[static_cast<std::size_t>(m_focusedKnot)];
    setAccessibleDescription(textOf(knot));
    QToolTip::showText(mapToGlobal(knot.centre.toPoint()), plainToolTip(textOf(knot)), this);
    update();
}

void RopeChart::focusOutEvent(QFocusEvent* event)
{
    m_focusedKnot = -1;
    update();
    QWidget::focusOutEvent(event);
}
}  // namespace rope
