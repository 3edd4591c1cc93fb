// SPDX-License-Identifier: GPL-3.0-or-later
// CodeView: marks on the rail, on lines and below words.
// Tested by tst_code_view.cpp.
#include "desktop/widgets/code_view_marks.h"

#include "core/text/line_end.h"
#include "desktop/widgets/code_lexer.h"
#include "desktop/widgets/code_view.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/merge_words.h"

#include <QContextMenuEvent>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QScrollBar>
#include <QToolTip>
#include <QVBoxLayout>
#include <Qsci/qscicommand.h>
#include <Qsci/qscicommandset.h>
#include <Qsci/qscilexer.h>
#include <Qsci/qsciscintilla.h>

#include <algorithm>
#include <array>
#include <iterator>
#include <limits>
#include <utility>

namespace rope {
void CodeView::setStrands(int firstLine, const std::vector<Strand>& strands)
{
    int line = firstLine;
    for (const Strand strand : strands) {
        const auto number = static_cast<unsigned long>(line++);
        const unsigned long present =
            static_cast<unsigned long>(send(QsciScintillaBase::SCI_MARKERGET, number))
            & strandMask();
        const auto at = std::find(kStrands.begin(), kStrands.end(), strand) - kStrands.begin();
        const int wanted = kFirstStrandMarker + static_cast<int>(at);
        const unsigned long wish = strand == Strand::base ? 0UL : 1UL << wanted;
        for (std::size_t i = 0; i < kStrands.size() && present != 0; ++i) {
            removeMarker(number, kFirstStrandMarker + static_cast<int>(i));
        }
        if (wish != 0) {
            (void)send(QsciScintillaBase::SCI_MARKERADD, number, wanted);
        }
    }
}

void CodeView::markGaps(int firstLine, int lineCount, const std::vector<std::uint32_t>& gaps)
{
    for (int line = firstLine; line < firstLine + lineCount; ++line) {
        removeMarker(static_cast<unsigned long>(line), kGapAboveMarker);
        removeMarker(static_cast<unsigned long>(line), kGapBelowMarker);
    }
    for (const std::uint32_t gap : gaps) {
        const bool isAtEnd = static_cast<int>(gap) >= lineCount;
        const int line = firstLine + (isAtEnd ? std::max(lineCount - 1, 0) : static_cast<int>(gap));
        (void)send(QsciScintillaBase::SCI_MARKERADD,
                   static_cast<unsigned long>(line),
                   isAtEnd ? kGapBelowMarker : kGapAboveMarker);
    }
}

/// Behind the last line end Scintilla shows one more line, which is none of the text: its number and
/// rail are covered, as is what lies below.
void CodeView::coverBelowText()
{
    const int last = lineCount() - 1;
    const bool isPhantom = last > 0 && positionOfLine(last) == size();
    const auto end = static_cast<long>(size());
    const int top =
        static_cast<int>(send(QsciScintillaBase::SCI_POINTYFROMPOSITION, 0, end))
        + (isPhantom ? 0 : static_cast<int>(send(QsciScintillaBase::SCI_TEXTHEIGHT, 0)));
    const int width = m_editor->marginWidth(kNumberMargin) + kRailWidth;
    const QRect cover(0, top, width, std::max(m_editor->viewport()->height() - top, 0));
    if (cover != m_belowText->geometry()) {
        m_belowText->setGeometry(cover);
    }
    m_belowText->setVisible(!cover.isEmpty());
}

void CodeView::markRegion(int firstLine, int lineCount, std::optional<RegionLook> look)
{
    for (int line = firstLine; line < firstLine + lineCount; ++line) {
        const auto number = static_cast<unsigned long>(line);
        for (int i = 0; i < kRegionLooks; ++i) {
            removeMarker(number, kFirstRegionMarker + i);
        }
        if (look) {
            (void)send(QsciScintillaBase::SCI_MARKERADD,
                       number,
                       kFirstRegionMarker + static_cast<int>(*look));
        }
    }
}

void CodeView::removeMarker(unsigned long line, int marker)
{
    // Joining lines can leave a marker on a line twice; each call deletes one.
    while (
        (static_cast<unsigned long>(send(QsciScintillaBase::SCI_MARKERGET, line)) & (1UL << marker))
        != 0) {
        (void)send(QsciScintillaBase::SCI_MARKERDELETE, line, marker);
    }
}

/// A plus as high as a line.
QPixmap CodeView::newSign(const QColor& ink) const
{
    const int height = static_cast<int>(send(QsciScintillaBase::SCI_TEXTHEIGHT, 0));
    const qreal scale = devicePixelRatioF();
    QPixmap pixmap(QSize(kSignWidth - 6, height) * scale);
    pixmap.setDevicePixelRatio(scale);
    pixmap.fill(Qt::transparent);
    QPainter painter(&pixmap);
    painter.setPen(QPen(ink, 1.6));
    const QPointF centre((kSignWidth - 6) / 2.0, height / 2.0);
    painter.drawLine(centre - QPointF(4, 0), centre + QPointF(4, 0));
    painter.drawLine(centre - QPointF(0, 4), centre + QPointF(0, 4));
    return pixmap;
}

void CodeView::dressNewLines()
{
    const SideColours& colours = coloursOf(m_newStrand);
    m_editor->setMarkerBackgroundColor(colours.fill, kNewLineMarker);
    m_editor->markerDefine(newSign(colours.ink), kNewSignMarker);
    m_editor->setIndicatorForegroundColor(colours.word, kNewWordIndicator);
}

void CodeView::setNewLines(const std::vector<NewLine>& lines, Strand strand)
{
    m_newStrand = strand;
    m_editor->markerDeleteAll(kNewLineMarker);
    m_editor->markerDeleteAll(kNewSignMarker);
    dressNewLines();
    m_editor->setMarginWidth(kTextGapMargin, kSignWidth);
    m_editor->setMarginMarkerMask(kTextGapMargin, 1 << kNewSignMarker);
    (void)send(QsciScintillaBase::SCI_SETINDICATORCURRENT, kNewWordIndicator);
    (void)send(QsciScintillaBase::SCI_INDICATORCLEARRANGE, 0, static_cast<long>(size()));
    for (const NewLine& line : lines) {
        const auto number = static_cast<unsigned long>(line.line);
        (void)send(QsciScintillaBase::SCI_MARKERADD, number, kNewLineMarker);
        (void)send(QsciScintillaBase::SCI_MARKERADD, number, kNewSignMarker);
        const std::size_t begin = positionOfLine(line.line);
        for (const auto& [from, to] : line.words) {
            (void)send(QsciScintillaBase::SCI_INDICATORFILLRANGE,
                       begin + from,
                       static_cast<long>(to - from));
        }
    }
}

void CodeView::setUnderlined(const std::vector<Underlined>& places)
{
    m_editor->markerDeleteAll(kBadLineMarker);
    for (const int indicator : {kBadIndicator, kRemarkIndicator}) {
        (void)send(QsciScintillaBase::SCI_SETINDICATORCURRENT,
                   static_cast<unsigned long>(indicator));
        (void)send(QsciScintillaBase::SCI_INDICATORCLEARRANGE, 0, static_cast<long>(size()));
    }
    for (const Underlined& place : places) {
        (void)send(QsciScintillaBase::SCI_SETINDICATORCURRENT,
                   static_cast<unsigned long>(place.isBad ? kBadIndicator : kRemarkIndicator));
        (void)send(QsciScintillaBase::SCI_INDICATORFILLRANGE,
                   place.position,
                   static_cast<long>(place.length));
        if (place.isBad) {
            (void)send(QsciScintillaBase::SCI_MARKERADD,
                       static_cast<unsigned long>(lineAt(place.position)),
                       kBadLineMarker);
        }
    }
}
}  // namespace rope
