// SPDX-License-Identifier: GPL-3.0-or-later
// What is painted beside and between the lines of a side: strips, rows of what is gone, frames of gone
// words, remarks. Tested by tst_side_text.cpp.
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/side_text.h"
#include "desktop/widgets/side_text_measures.h"
#include "desktop/widgets/strand_pattern.h"
#include "desktop/widgets/theme.h"

#include <QApplication>
#include <QHelpEvent>
#include <QPainter>
#include <QScrollBar>
#include <QTextBlock>
#include <QTextLayout>
#include <QToolTip>

#include <algorithm>

namespace rope {
namespace {
QString lineEndInWords(std::string_view line)
{
    return line.ends_with("\r\n") ? QStringLiteral("CRLF")
           : line.ends_with('\n') ? QStringLiteral("LF")
                                  : SideText::tr("no line end");
}

QFont remarkFont(const QFont& code)
{
    QFont font = QApplication::font();
    font.setPointSizeF(code.pointSizeF() * 0.88);
    return font;
}
}  // namespace

QRect SideText::lineRect(const QTextBlock& block) const
{
    const QRectF rect = block.layout()->boundingRect();
    const QPoint at = cursorRect(QTextCursor(block)).topLeft();
    return {0, at.y(), viewport()->width(), static_cast<int>(rect.height())};
}

QRect SideText::frameRect(const QTextBlock& block, const Frame& frame) const
{
    QTextCursor cursor(block);
    cursor.setPosition(block.position() + frame.column);
    const QRect at = cursorRect(cursor);
    const int gap = gapOf(frame);
    return {at.left() - gap + kFrameGap,
            at.top() + 1,
            QFontMetrics(font()).horizontalAdvance(frame.text) + 2 * kFramePadding,
            at.height() - 2};
}

bool SideText::isFoldAt(QPoint point) const
{
    const QTextBlock block = cursorForPosition(point).block();
    const auto number = static_cast<std::size_t>(block.blockNumber());
    if (number >= m_lines.size()) {
        return false;
    }
    const auto hasFold = [](const std::vector<Row>& rows) {
        return std::any_of(
            rows.begin(), rows.end(), [](const Row& row) { return row.kind == Row::Kind::fold; });
    };
    const QRect rect = lineRect(block);
    return (point.y() < rect.top() && hasFold(m_lines[number].above))
           || (point.y() > rect.bottom() && hasFold(m_lines[number].below));
}

bool SideText::viewportEvent(QEvent* event)
{
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const QTextBlock block = cursorForPosition(help->pos()).block();
        const auto number = static_cast<std::size_t>(block.blockNumber());
        QString words;
        for (const Frame& frame :
             number < m_lines.size() ? m_lines[number].frames : std::vector<Frame>()) {
            if (frameRect(block, frame).contains(help->pos())) {
                words = frame.whole;
            }
        }
        QToolTip::showText(help->globalPos(), plainToolTip(words), this);
        return true;
    }
    return QTextEdit::viewportEvent(event);
}

void SideText::paintEvent(QPaintEvent* event)
{
    QTextEdit::paintEvent(event);
    QPainter painter(viewport());
    painter.setFont(font());
    if (m_lines.empty()) {
        paintRows(painter, m_emptyRows, -verticalScrollBar()->value());
        QFont italic = font();
        italic.setItalic(true);
        painter.setFont(italic);
        painter.setPen(theme().muted);
        const int top =
            static_cast<int>(m_emptyRows.size()) * rowHeight() - verticalScrollBar()->value();
        painter.drawText(
            QRect(kTextLeft, top, viewport()->width(), rowHeight()), Qt::AlignVCenter, m_remark);
        return;
    }
    QTextBlock block = cursorForPosition({0, 0}).block();
    if (block.previous().isValid()) {
        block = block.previous();
    }
    for (; block.isValid(); block = block.next()) {
        const auto number = static_cast<std::size_t>(block.blockNumber());
        if (number >= m_lines.size()) {
            return;
        }
        if (!block.isVisible()) {
            continue;
        }
        const Line& line = m_lines[number];
        if (lineRect(block).top() - static_cast<int>(line.above.size()) * rowHeight()
            > viewport()->height()) {
            return;
        }
        paintLine(painter, block, line);
    }
}

void SideText::paintLine(QPainter& painter, const QTextBlock& block, const Line& line) const
{
    const QRect rect = lineRect(block);
    paintRows(painter, line.above, rect.top() - static_cast<int>(line.above.size()) * rowHeight());
    paintRows(painter, line.below, rect.bottom() + 1);
    if (line.isMarked) {
        paintStrand(painter, QRect(0, rect.top(), kStripWidth, rect.height()), line.strand);
    }
    for (const Frame& frame : line.frames) {
        paintFrame(painter, frameRect(block, frame), frame);
    }
    paintRemark(painter, block, line);
}

void SideText::paintFrame(QPainter& painter, const QRect& rect, const Frame& frame) const
{
    const SideColours& colours = coloursOf(m_against);
    painter.setPen(QPen(theme().muted, 1, Qt::DashLine));
    painter.setBrush(colours.fill);
    painter.drawRoundedRect(QRectF(rect).adjusted(0.5, 0.5, -0.5, -0.5), 2, 2);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(m_against == Strand::base ? theme().muted : colours.ink);
    painter.drawText(rect, Qt::AlignCenter, frame.text);
    if (frame.hasNew) {
        paintStrand(painter,
                    QRect(rect.right() + 1 + kFrameGap, rect.center().y() - 2, kBitWidth, 5),
                    m_side);
    }
}

void SideText::paintRows(QPainter& painter, const std::vector<Row>& rows, int top) const
{
    const int width = viewport()->width();
    for (const Row& row : rows) {
        const QRect rect(0, top, width, rowHeight());
        top += rowHeight();
        painter.setPen(theme().muted);
        if (row.kind == Row::Kind::fold) {
            painter.setFont(remarkFont(font()));
            painter.drawText(rect, Qt::AlignCenter, row.text);
            const int half = painter.fontMetrics().horizontalAdvance(row.text) / 2 + 8;
            painter.setPen(QPen(theme().rules, 1, Qt::DotLine));
            painter.drawLine(
                kTextLeft, rect.center().y(), rect.center().x() - half, rect.center().y());
            painter.drawLine(
                rect.center().x() + half, rect.center().y(), width - 8, rect.center().y());
        } else if (row.kind == Row::Kind::around) {
            paintAround(painter, rect, row.text);
        } else {
            painter.setFont(remarkFont(font()));
            const QString remark = m_against == Strand::base   ? tr("removed, was in base")
                                   : m_against == Strand::ours ? tr("only in ours")
                                                               : tr("only in theirs");
            painter.drawText(rect.adjusted(0, 0, -8, 0), Qt::AlignRight | Qt::AlignVCenter, remark);
            const int room =
                width - kTextLeft - painter.fontMetrics().horizontalAdvance(remark) - 20;
            painter.setFont(font());
            const int hidden = hiddenWidth(row.text);
            painter.save();
            painter.setClipRect(rect.adjusted(kTextLeft, 0, 0, 0));
            const int left = hidden + horizontalScrollBar()->value();
            paintGone(painter, rect.adjusted(kTextLeft - left, 0, 0, 0), row.text, room + left);
            painter.restore();
            painter.setPen(QPen(theme().muted, 1, Qt::DashLine));
            painter.drawLine(0, rect.top(), 0, rect.bottom());
        }
        painter.setFont(font());
    }
}

/// A line that stands beside the text on every side.
void SideText::paintAround(QPainter& painter, const QRect& rect, const QString& text) const
{
    QString plain = text;
    plain.replace(QLatin1Char('\t'), QStringLiteral("    "));
    const int left = hiddenWidth(text) + horizontalScrollBar()->value();
    painter.save();
    painter.setClipRect(rect.adjusted(kTextLeft, 0, 0, 0));
    painter.drawText(
        rect.adjusted(kTextLeft - left, 0, 0, 0),
        Qt::AlignVCenter,
        painter.fontMetrics().elidedText(plain, Qt::ElideRight, rect.width() - kTextLeft + left));
    painter.restore();
}

/// A line that is gone: struck from its first to its last letter.
void SideText::paintGone(QPainter& painter, const QRect& rect, const QString& text, int room) const
{
    QString plain = text;
    plain.replace(QLatin1Char('\t'), QStringLiteral("    "));
    const QString shownText = painter.fontMetrics().elidedText(plain, Qt::ElideRight, room);
    painter.drawText(rect, Qt::AlignVCenter, shownText);
    const QString trimmed = shownText.trimmed();
    const int from = painter.fontMetrics().horizontalAdvance(
        shownText.first(shownText.indexOf(trimmed.isEmpty() ? QString() : trimmed.first(1))));
    const int to = from + painter.fontMetrics().horizontalAdvance(trimmed);
    painter.drawLine(
        rect.left() + from, rect.center().y() + 1, rect.left() + to, rect.center().y() + 1);
}

void SideText::paintRemark(QPainter& painter, const QTextBlock& block, const Line& line) const
{
    QStringList words;
    if (m_areBlanksShown) {
        words << lineEndInWords(line.bytes);
    } else if (!line.bytes.ends_with('\n') && block == document()->lastBlock()) {
        words << tr("no line end");
    }
    if (!line.remark.isEmpty()) {
        words << line.remark;
    }
    if (words.isEmpty()) {
        return;
    }
    const QString text = words.join(QStringLiteral(" · "));
    const QRect rect = lineRect(block);
    painter.setFont(remarkFont(font()));
    constexpr int kSwatchStep = 13;
    const int swatches = static_cast<int>(line.remarkStrands.size()) * kSwatchStep;
    const int used = kTextLeft + static_cast<int>(block.layout()->lineAt(0).naturalTextWidth())
                     - hiddenWidth(block.text()) - horizontalScrollBar()->value() + 12;
    const int room = rect.width() - used - swatches - 8;
    // Where there is no room for words, the patterns alone still say who.
    const QString shownText =
        painter.fontMetrics().horizontalAdvance(text) <= room ? text : QString();
    const int width = painter.fontMetrics().horizontalAdvance(shownText) + swatches;
    const QRect row(rect.right() - width - 7, rect.top(), width, rowHeight());
    painter.setPen(theme().muted);
    painter.drawText(row, Qt::AlignRight | Qt::AlignVCenter, shownText);
    int left = row.left();
    for (const Strand strand : line.remarkStrands) {
        if (room >= 0) {
            paintStrand(painter, QRect(left, row.center().y() - 4, 9, 9), strand);
        }
        left += kSwatchStep;
    }
    painter.setFont(font());
}
}  // namespace rope
