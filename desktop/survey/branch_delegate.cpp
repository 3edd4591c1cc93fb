// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_branch_list.cpp.
#include "desktop/survey/branch_delegate.h"

#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"

#include <QPainter>

namespace rope {
namespace {
constexpr int kIndent = 12;
constexpr int kRight = 10;
constexpr int kBetween = 8;

QFont smaller(QFont font)
{
    font.setPointSizeF(font.pointSizeF() * 0.93);
    return font;
}

void drawElided(QPainter& painter, const QRect& rect, const QString& text, Qt::TextElideMode mode)
{
    painter.drawText(
        rect, Qt::AlignVCenter, painter.fontMetrics().elidedText(text, mode, rect.width()));
}

/// Draws at the right end and takes its room from `rect`.
void drawAtEnd(QPainter& painter, QRect& rect, const QString& text)
{
    if (!text.isEmpty()) {
        painter.drawText(rect, Qt::AlignVCenter | Qt::AlignRight, text);
        rect.setRight(rect.right() - painter.fontMetrics().horizontalAdvance(text) - kBetween);
    }
}

void paintHeading(QPainter& painter, const QStyleOptionViewItem& option, const QModelIndex& index)
{
    const int height = option.fontMetrics.height();
    QRect rect(option.rect.left() + kIndent,
               option.rect.top() + 8,
               option.rect.width() - kIndent - kRight,
               height);
    const QVariant fold = index.data(branchFoldRole);
    painter.setPen((option.state & QStyle::State_Selected) != 0 ? theme().ink : theme().muted);
    drawAtEnd(painter, rect, index.data(branchCountRole).toString());
    QString title = index.data(Qt::DisplayRole).toString();
    if (fold.isValid()) {
        title.prepend(fold.toBool() ? QStringLiteral("▸ ") : QStringLiteral("▾ "));
    }
    drawElided(painter, rect, title, Qt::ElideRight);
    if (fold.toBool()) {
        painter.setFont(smaller(option.font));
        drawElided(painter,
                   rect.translated(option.fontMetrics.horizontalAdvance(QStringLiteral("▸ ")),
                                   height + 1),
                   index.data(branchNamesRole).toString(),
                   Qt::ElideRight);
    }
}

/// The knot of what is open, with its number.
void paintOpen(QPainter& painter, QRect& rect, int open)
{
    painter.setPen(theme().openInk);
    drawAtEnd(painter, rect, QString::number(open));
    constexpr int kKnot = 16;
    const int right = rect.right() + kBetween - 3;
    paintKnot(painter, QRect(right - kKnot, rect.top(), kKnot, rect.height()), Knot::open);
    rect.setRight(right - kKnot - kBetween);
}

void paintBranch(QPainter& painter, const QStyleOptionViewItem& option, const QModelIndex& index)
{
    if ((option.state & QStyle::State_Selected) != 0) {
        painter.fillRect(option.rect, theme().selection);
        painter.fillRect(QRect(option.rect.left(), option.rect.top(), 3, option.rect.height()),
                         theme().ink);
    }
    const bool isTall = index.data(branchTallRole).toBool();
    const bool warns = index.data(branchWarnsRole).toBool();
    const int open = index.data(branchOpenRole).toInt();
    const QRect whole = option.rect.adjusted(kIndent, 0, -kRight, 0);
    QRect line = isTall ? QRect(whole.left(), whole.top() + 4, whole.width(), option.fontMetrics.height())
                        : whole;
    painter.setPen(theme().muted);
    drawAtEnd(painter, line, index.data(branchQueueRole).toString());
    if (!isTall && open > 0) {
        paintOpen(painter, line, open);
    } else if (!isTall) {
        painter.setFont(smaller(option.font));
        painter.setPen(warns ? theme().openInk : theme().muted);
        drawAtEnd(painter, line, index.data(branchShortRole).toString());
    }
    painter.setFont(option.font);
    painter.setPen(theme().ink);
    drawElided(painter, line, index.data(Qt::DisplayRole).toString(), Qt::ElideMiddle);
    if (isTall) {
        painter.setFont(smaller(option.font));
        painter.setPen(warns ? theme().openInk : theme().muted);
        const QRect below(
            whole.left(), line.bottom() + 2, whole.width(), option.fontMetrics.height());
        drawElided(painter, below, index.data(branchWordsRole).toString(), Qt::ElideRight);
    }
}
}  // namespace

QSize BranchDelegate::sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const
{
    constexpr int kLeast = 100;
    const int line = option.fontMetrics.height();
    if (!index.data(branchRefRole).isValid()) {
        return {kLeast, (index.data(branchFoldRole).toBool() ? 2 * line : line) + 12};
    }
    return {kLeast, index.data(branchTallRole).toBool() ? 2 * line + 10 : line + 8};
}

void BranchDelegate::paint(QPainter* painter,
                           const QStyleOptionViewItem& option,
                           const QModelIndex& index) const
{
    painter->save();
    painter->setFont(option.font);
    if (index.data(branchRefRole).isValid()) {
        paintBranch(*painter, option, index);
    } else {
        paintHeading(*painter, option, index);
    }
    painter->restore();
}
}  // namespace rope
