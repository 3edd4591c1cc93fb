// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_collision_view.cpp.
#include "desktop/survey/collision_table.h"

#include "desktop/widgets/accessible_role.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/shown_text.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>

namespace rope {
namespace {
constexpr int kMargin = 14;
constexpr int kGap = 3;
constexpr std::size_t kManyBranches = 14;  // from here on cells are small

/// How near the diamonds stand to each other: the more is to be decided, the closer.
int diamondStep(std::size_t open)
{
    return open <= 2 ? 26 : open <= 5 ? 17 : 11;
}

void paintDiamonds(QPainter& painter, const QRect& rect, std::size_t open)
{
    const int step = diamondStep(open);
    painter.save();
    painter.setClipRect(rect);
    painter.setPen(QPen(theme().openInk, 1));
    painter.setBrush(Qt::NoBrush);
    for (int y = rect.top() + step / 2; y < rect.bottom(); y += step) {
        for (int x = rect.left() + step / 2; x < rect.right(); x += step) {
            const QPoint corners[] = {{x, y - 3}, {x + 3, y}, {x, y + 3}, {x - 3, y}};
            painter.drawPolygon(corners, 4);
        }
    }
    painter.restore();
}
}  // namespace

CollisionTable::CollisionTable(QWidget* parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("collisionTable"));
    setAccessibleRole(*this, QAccessible::Chart);
    setAccessibleName(tr("Who collides with whom"));
    setFocusPolicy(Qt::StrongFocus);
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::Base);
}

void CollisionTable::setModel(const CollisionModel& model)
{
    const bool isOther = model.branches.size() != m_model.branches.size();
    m_model = model;
    if (isOther) {
        m_current.reset();
        updateGeometry();
        resize(sizeHint());
    }
    if (m_current) {
        setAccessibleDescription(pairInWords(m_model, *m_current));
    }
    update();
}

void CollisionTable::setCurrent(BranchPair pair)
{
    if (pair.first >= pair.second || pair.second >= m_model.branches.size()) {
        return;
    }
    m_current = pair;
    setAccessibleDescription(pairInWords(m_model, pair));
    update();
    emit picked(pair);
}

QSize CollisionTable::cellSize() const
{
    const bool isSmall = m_model.branches.size() > kManyBranches;
    const int height = fontMetrics().height();
    return isSmall ? QSize(fontMetrics().horizontalAdvance(QStringLiteral("0000")), height + 8)
                   : QSize(fontMetrics().horizontalAdvance(QStringLiteral("contained")) + 12,
                           2 * height + 14);
}

QSize CollisionTable::sizeHint() const
{
    if (m_model.branches.empty()) {
        return {200, 100};
    }
    const QRect last = nameRect(m_model.branches.size() - 1);
    return {last.right() + kMargin, last.bottom() + kMargin};
}

QRect CollisionTable::cellRect(BranchPair pair) const
{
    const QSize cell = cellSize();
    return {kMargin + static_cast<int>(pair.first) * (cell.width() + kGap),
            kMargin + static_cast<int>(pair.second) * (cell.height() + kGap),
            cell.width(),
            cell.height()};
}

QRect CollisionTable::nameRect(std::size_t branch) const
{
    const QSize cell = cellSize();
    return {kMargin + static_cast<int>(branch) * (cell.width() + kGap),
            kMargin + static_cast<int>(branch) * (cell.height() + kGap),
            fontMetrics().averageCharWidth() * 34,
            cell.height()};
}

std::optional<BranchPair> CollisionTable::pairAt(QPoint point) const
{
    for (std::size_t second = 1; second < m_model.branches.size(); ++second) {
        for (std::size_t first = 0; first < second; ++first) {
            if (cellRect({first, second}).contains(point)) {
                return BranchPair{first, second};
            }
        }
    }
    return std::nullopt;
}

void CollisionTable::paintName(QPainter& painter, std::size_t branch) const
{
    const CollisionBranch& shownBranch = m_model.branches[branch];
    const QRect rect = nameRect(branch).adjusted(6, 0, 0, 0);
    const bool isNamed = m_current && (m_current->first == branch || m_current->second == branch);
    if (isNamed) {
        painter.fillRect(nameRect(branch), theme().selection);
    }
    const int height = fontMetrics().height();
    const bool isSmall = m_model.branches.size() > kManyBranches;
    int left = rect.left();
    // One's own work has its pattern; who meets it has the other one. A pair of others has none.
    const bool meetsOwn =
        isNamed
        && (m_model.branches[m_current->first].isOwn || m_model.branches[m_current->second].isOwn);
    if (shownBranch.isOwn || meetsOwn) {
        const Strand strand = shownBranch.isOwn ? Strand::ours : Strand::theirs;
        paintStrand(painter, QRect(left, rect.top() + (isSmall ? 5 : 8), 8, 8), strand);
        left += 14;
    }
    QFont strong = font();
    strong.setWeight(QFont::DemiBold);
    painter.setFont(strong);
    painter.setPen(theme().ink);
    const QRect first(left, rect.top() + (isSmall ? 4 : 5), rect.right() - left, height);
    painter.drawText(
        first,
        Qt::AlignVCenter,
        QFontMetrics(strong).elidedText(shortName(shownBranch), Qt::ElideMiddle, first.width()));
    painter.setFont(font());
    if (isSmall) {
        return;
    }
    painter.setPen(theme().muted);
    const std::size_t meets = m_model.meets(branch);
    QString who = shown(shownBranch.tip.author.name);
    if (shownBranch.isOwn) {
        who = tr("%1, checked out here").arg(who);
    }
    if (meets > 0) {
        who += QStringLiteral(" · ") + countOf(meets, "conflict", "conflicts");
    }
    painter.drawText(QRect(rect.left(), first.bottom() + 2, rect.width(), height),
                     Qt::AlignVCenter,
                     fontMetrics().elidedText(who, Qt::ElideRight, rect.width()));
}

void CollisionTable::paintCell(QPainter& painter, BranchPair pair) const
{
    const PairOutcome& outcome = m_model.outcome(pair);
    const QRect rect = cellRect(pair);
    const bool isInLine =
        m_current && (m_current->first == pair.first || m_current->second == pair.second);
    const bool collides = outcome.kind == PairOutcome::Kind::collides;
    const bool isKnown = outcome.kind != PairOutcome::Kind::notYet;
    painter.fillRect(rect,
                     collides                                       ? theme().openFill
                     : isInLine                                     ? theme().selection
                     : outcome.kind == PairOutcome::Kind::contained ? theme().base.fill
                     : isKnown                                      ? theme().panel
                                                                    : theme().paper);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme().rules, 1, isKnown ? Qt::SolidLine : Qt::DotLine));
    painter.drawRect(rect.adjusted(0, 0, -1, -1));
    const bool isSmall = m_model.branches.size() > kManyBranches;
    QString words = cellWords(outcome);
    if (isSmall && !collides) {
        words = outcome.kind == PairOutcome::Kind::joins       ? QStringLiteral("·")
                : outcome.kind == PairOutcome::Kind::contained ? QStringLiteral("=")
                : outcome.kind == PairOutcome::Kind::unknown   ? QStringLiteral("?")
                                                               : QString();
    }
    if (collides) {
        paintDiamonds(painter, rect, outcome.open);
        QFont strong = font();
        strong.setWeight(QFont::Bold);
        painter.setFont(strong);
        const int width = QFontMetrics(strong).horizontalAdvance(words) + 8;
        const int height = QFontMetrics(strong).height();
        painter.fillRect(
            QRect(rect.center().x() - width / 2, rect.center().y() - height / 2, width, height),
            theme().paper);
    } else {
        painter.setFont(font());
    }
    painter.setPen(collides ? theme().openInk : theme().muted);
    painter.drawText(rect, Qt::AlignCenter, words);
    if (m_current == pair) {
        painter.setPen(QPen(theme().ink, hasFocus() ? 2.5 : 1.5));
        painter.drawRect(rect.adjusted(-2, -2, 1, 1));
    }
}

void CollisionTable::paintEvent(QPaintEvent* event)
{
    QPainter painter(this);
    for (std::size_t second = 0; second < m_model.branches.size(); ++second) {
        for (std::size_t first = 0; first < second; ++first) {
            if (cellRect({first, second}).adjusted(-3, -3, 3, 3).intersects(event->rect())) {
                paintCell(painter, {first, second});
            }
        }
        paintName(painter, second);
    }
}

void CollisionTable::move(int down, int right)
{
    if (m_model.branches.size() < 2) {
        return;
    }
    const BranchPair from = m_current.value_or(BranchPair{0, 1});
    const auto count = static_cast<int>(m_model.branches.size());
    const int second = std::clamp(static_cast<int>(from.second) + down, 1, count - 1);
    const int first = std::clamp(static_cast<int>(from.first) + right, 0, second - 1);
    setCurrent({static_cast<std::size_t>(first), static_cast<std::size_t>(second)});
}

void CollisionTable::keyPressEvent(QKeyEvent* event)
{
    switch (event->key()) {
    case Qt::Key_Up:
        move(-1, 0);
        break;
    case Qt::Key_Down:
        move(1, 0);
        break;
    case Qt::Key_Left:
        move(0, -1);
        break;
    case Qt::Key_Right:
        move(0, 1);
        break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (m_current) {
            emit opened(*m_current);
        }
        break;
    default:
        QWidget::keyPressEvent(event);
    }
}

void CollisionTable::mousePressEvent(QMouseEvent* event)
{
    if (const auto pair = pairAt(event->position().toPoint())) {
        setCurrent(*pair);
    }
    QWidget::mousePressEvent(event);
}

void CollisionTable::mouseDoubleClickEvent(QMouseEvent* event)
{
    if (const auto pair = pairAt(event->position().toPoint())) {
        emit opened(*pair);
    }
}

bool CollisionTable::event(QEvent* event)
{
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const auto pair = pairAt(help->pos());
        QToolTip::showText(
            help->globalPos(), pair ? plainToolTip(pairInWords(m_model, *pair)) : QString(), this);
        return true;
    }
    return QWidget::event(event);
}
}  // namespace rope
