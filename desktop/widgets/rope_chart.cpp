// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/rope_chart.h"

#include "desktop/widgets/accessible_role.h"
#include "desktop/widgets/measures.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>

namespace rope {
namespace {
constexpr qreal kRopeWidth = 9;
constexpr qreal kKnotRadius = 6;
constexpr qreal kLeftBehindOpacity = 0.4;

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
    setAccessibleRole(*this, QAccessible::Chart);
    setFocusPolicy(Qt::TabFocus);
    setMouseTracking(true);
}

void RopeChart::setModel(RopeChartModel model)
{
    const bool isSame =
        m_model.ours.size() == model.ours.size() && m_model.theirs.size() == model.theirs.size()
        && m_model.oursTitle == model.oursTitle && m_model.theirsTitle == model.theirsTitle;
    m_model = std::move(model);
    if (!isSame) {
        m_shown = {};
        m_focusedKnot = -1;
    }
    layOut();
    setAccessibleName(m_model.oursTitle + QStringLiteral("; ") + m_model.theirsTitle);
    setAccessibleDescription(inWords());
    update();
}

void RopeChart::layOut()
{
    m_layout = layOutRopeChart(m_model, size(), m_shown);
    m_focusedKnot = std::min(m_focusedKnot, static_cast<int>(m_layout.knots.size()) - 1);
}

void RopeChart::resizeEvent(QResizeEvent*)
{
    layOut();
}

void RopeChart::open(const ChartKnot& bundle)
{
    if (bundle.isListed) {
        m_shown = windowAfterOpening(m_model, m_shown, bundle);
        layOut();
        update();
    }
}

QString RopeChart::textOf(const ChartKnot& knot) const
{
    if (knot.bundled > 0) {
        return knot.isListed ? tr("%1 commits that find no room. A click or Enter shows them.")
                                   .arg(knot.bundled)
                             : tr("%1 older commits, which are not listed here.").arg(knot.bundled);
    }
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
    QString text = QStringLiteral("%1 %2\n%3, %4")
                       .arg(commit->id, commit->subject, commit->author, commit->when);
    if (commit->isMerge) {
        text += QLatin1Char('\n') + tr("a merge itself");
    }
    if (!commit->branches.isEmpty()) {
        text += QLatin1Char('\n')
                + tr("%1 points here").arg(commit->branches.join(QStringLiteral(", ")));
    }
    return text;
}

/// What is painted, knot by knot.
QString RopeChart::inWords() const
{
    QStringList knots;
    for (const ChartKnot& knot : m_layout.knots) {
        const QString whose = knot.kind == ChartKnot::Kind::base     ? tr("base")
                              : knot.kind == ChartKnot::Kind::ours   ? tr("ours")
                              : knot.kind == ChartKnot::Kind::theirs ? tr("theirs")
                                                                     : tr("what it becomes");
        knots << tr("%1: %2").arg(whose,
                                  textOf(knot).replace(QLatin1Char('\n'), QLatin1String(", ")));
    }
    return knots.join(QLatin1Char('\n'));
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
    // What will be left behind is faint: the commits that take its place are told of at the end.
    painter.setOpacity(m_model.rewritten > 0 ? kLeftBehindOpacity : 1);
    paintSide(!m_model.ours.empty(), oursBegin, oursEnd, Strand::ours);
    painter.setOpacity(1);
    if (m_model.rewritten > 0) {
        paintRewritten(painter, theirsEnd);
    } else if (!m_model.outcomeTitle.isEmpty()) {
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

/// The strand that ours would be: upon theirs, one ring for each commit as far as there is room.
void RopeChart::paintRewritten(QPainter& painter, QPointF theirsEnd) const
{
    constexpr std::size_t kMostRings = 3;
    painter.setPen(QPen(theme().ours.ink, 1.6, Qt::DashLine));
    painter.setBrush(theme().paper);
    painter.drawLine(theirsEnd, m_layout.outcome);
    painter.setPen(QPen(theme().ours.ink, 1.6, Qt::DotLine));
    const std::size_t rings = std::min(m_model.rewritten, kMostRings);
    for (std::size_t i = 1; i < rings; ++i) {
        const qreal share = static_cast<qreal>(i) / static_cast<qreal>(rings);
        painter.drawEllipse(
            theirsEnd + (m_layout.outcome - theirsEnd) * share, kKnotRadius - 1, kKnotRadius - 1);
    }
}

/// Several commits as one: a sheaf across the rope, with their number.
void RopeChart::paintBundle(QPainter& painter, const ChartKnot& knot, bool isFocused) const
{
    const QString number = QString::number(knot.bundled);
    const qreal half = std::max(11.0, painter.fontMetrics().horizontalAdvance(number) / 2.0 + 5);
    const QRectF sheaf(knot.centre.x() - half, knot.centre.y() - 9, 2 * half, 18);
    painter.setPen(
        QPen(theme().ink, isFocused ? 3 : 1.4, knot.isListed ? Qt::SolidLine : Qt::DotLine));
    painter.setBrush(theme().paper);
    painter.drawRoundedRect(sheaf, 4, 4);
    painter.setPen(theme().ink);
    painter.drawText(sheaf, Qt::AlignCenter, number);
}

/// Names of other branches that end on the strands, between them: outside stand the titles.
void RopeChart::paintBranches(QPainter& painter) const
{
    painter.setPen(theme().muted);
    qreal oursFree = 0;
    qreal theirsFree = 0;
    for (const ChartKnot& knot : m_layout.knots) {
        const bool isOurs = knot.kind == ChartKnot::Kind::ours;
        if (knot.bundled > 0 || (!isOurs && knot.kind != ChartKnot::Kind::theirs)) {
            continue;
        }
        const QStringList& names = (isOurs ? m_model.ours : m_model.theirs)[knot.commit].branches;
        qreal& free = isOurs ? oursFree : theirsFree;
        if (names.isEmpty() || knot.centre.x() < free) {
            continue;
        }
        const QString text = names.size() == 1
                                 ? names.front()
                                 : tr("%1 and %2 more").arg(names.front()).arg(names.size() - 1);
        const int width = atFont(*this, 150);
        const int height = painter.fontMetrics().height();
        const qreal top = isOurs ? knot.centre.y() + 11 : knot.centre.y() - 11 - height;
        painter.drawLine(knot.centre + QPointF(0, isOurs ? kKnotRadius : -kKnotRadius),
                         knot.centre + QPointF(0, isOurs ? 12 : -12));
        const QString shown = painter.fontMetrics().elidedText(text, Qt::ElideMiddle, width);
        painter.drawText(QRectF(knot.centre.x() + 3, top, width, height), Qt::AlignLeft, shown);
        free = knot.centre.x() + painter.fontMetrics().horizontalAdvance(shown) + 12;
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
        const QString words = tr("base %1\n%2").arg(m_model.base->id, m_model.base->when);
        const int needed = painter.fontMetrics().size(0, words).width() + 2;
        const int right = std::max(static_cast<int>(m_layout.base.x()) + 10, needed + 4);
        painter.drawText(
            QRect(right - needed, static_cast<int>(m_layout.base.y()) + 12, needed, 2 * height),
            Qt::AlignRight,
            words);
    }
    if (!m_model.movesTo.isEmpty()) {
        painter.drawText(QRect(static_cast<int>(m_layout.strandEnd) + 14,
                               static_cast<int>(m_layout.theirsY) - height / 2,
                               this->width() - static_cast<int>(m_layout.strandEnd) - 14,
                               2 * height),
                         Qt::AlignLeft | Qt::TextWordWrap,
                         m_model.movesTo);
    }
    if (!m_model.outcomeTitle.isEmpty()) {
        // Below its knot, but never beyond the edge; where theirs' title stands there, above it and the names
        // of branches.
        const int words = painter.fontMetrics().horizontalAdvance(m_model.outcomeTitle) + 6;
        const int outcomeLeft =
            std::min(static_cast<int>(m_layout.outcome.x()) - 8, this->width() - words);
        const int outcomeY = static_cast<int>(m_layout.outcome.y());
        const QRect place(outcomeLeft,
                          m_model.rewritten > 0 ? outcomeY - 2 * height - 14 : outcomeY + 12,
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
        if (knot.bundled > 0) {
            paintBundle(painter, knot, isFocused);
            continue;
        }
        const Qt::PenStyle line =
            knot.kind == ChartKnot::Kind::outcome ? Qt::DotLine : Qt::SolidLine;
        painter.setPen(QPen(theme().ink, isFocused ? 3 : 1.8, line));
        painter.setBrush(theme().paper);
        painter.drawEllipse(knot.centre, kKnotRadius, kKnotRadius);
        const bool isMerge =
            (knot.kind == ChartKnot::Kind::ours && m_model.ours[knot.commit].isMerge)
            || (knot.kind == ChartKnot::Kind::theirs && m_model.theirs[knot.commit].isMerge);
        if (isMerge) {
            painter.drawEllipse(knot.centre, kKnotRadius / 2, kKnotRadius / 2);
        }
    }
}

void RopeChart::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), theme().paper);
    painter.setRenderHint(QPainter::Antialiasing);
    paintStrands(painter);
    paintTitles(painter);
    paintBranches(painter);
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
    const bool opens = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
    if (opens && m_focusedKnot >= 0
        && m_layout.knots[static_cast<std::size_t>(m_focusedKnot)].bundled > 0) {
        open(m_layout.knots[static_cast<std::size_t>(m_focusedKnot)]);
        return;
    }
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

void RopeChart::mousePressEvent(QMouseEvent* event)
{
    const auto knot = knotAt(m_layout, event->position());
    if (knot && knot->bundled > 0) {
        open(*knot);
    }
    QWidget::mousePressEvent(event);
}

void RopeChart::focusOutEvent(QFocusEvent* event)
{
    m_focusedKnot = -1;
    setAccessibleDescription(inWords());
    update();
    QWidget::focusOutEvent(event);
}
}  // namespace rope
