// SPDX-License-Identifier: GPL-3.0-or-later
// ResultView: headings, rail, reading and remarks.
// Tested by tst_resolve_station.cpp.
#include "core/text/encoding.h"
#include "core/text/line_end.h"
#include "desktop/result/result_view.h"
#include "desktop/widgets/find_bar.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/region_strip.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/shown_text.h"

#include <QHBoxLayout>
#include <QVBoxLayout>

#include <algorithm>
#include <numeric>
#include <utility>

namespace rope {
namespace {
constexpr int kMostGoneLines = 40;  // of one stretch that are shown
}  // namespace

void ResultView::paintStrands(std::size_t slot)
{
    std::vector<Strand> strands;
    if (m_shown && m_shown->slot == slot) {
        std::transform(m_shown->origins.begin(),
                       m_shown->origins.end(),
                       std::back_inserter(strands),
                       strandOf);
    } else if (text().isOpen(slot)) {
        strands.assign(static_cast<std::size_t>(lineCountOf(slot)), Strand::open);
    } else {
        for (const LineOrigin origin : text().origins(slot)) {
            strands.push_back(strandOf(origin));
        }
    }
    m_firstStrands[slot] = text().isOpen(slot) ? Strand::open
                           : strands.empty()   ? Strand::hand
                                               : strands.front();
    m_code->setStrands(firstLineOf(slot), strands);
    if (m_gapSlots.contains(slot) || text().isEditedByHand(slot)) {
        const auto gaps = text().gaps(slot);
        m_code->markGaps(firstLineOf(slot), static_cast<int>(strands.size()), gaps);
        m_gapSlots.erase(slot);
        if (!gaps.empty()) {
            m_gapSlots.insert(slot);
        }
    }
}

void ResultView::paintRegion(std::size_t slot)
{
    std::optional<RegionLook> look;
    const bool isSelected = slot == m_selectedSlot;
    if (text().isRegion(slot) && text().isOpen(slot)) {
        look = isSelected ? RegionLook::selectedOpen : RegionLook::open;
    } else if (text().isRegion(slot) && isSelected) {
        look = RegionLook::selected;
    }
    // Text between regions is long and never marked; a change can only have marked its ends.
    const int lines = lineCountOf(slot);
    m_code->markRegion(firstLineOf(slot), text().isRegion(slot) ? lines : std::min(lines, 1), look);
}

/// As headingOf(), put into words once for each state that a region is in: all of them are asked for at each
/// step from region to region.
const QString& ResultView::keptHeadingOf(std::size_t slot)
{
    KeptHeading& kept = m_keptHeadings[slot];
    const SlotState& state = text().state(slot);
    const bool isShown = !state.isDecided && m_shown && m_shown->slot == slot;
    const bool isEmpty = text().text(slot).empty();
    const bool isEdited = state.isDecided && text().isEditedByHand(slot);
    if (isShown || kept.words.isEmpty() || kept.isShown != isShown || kept.isEmpty != isEmpty
        || kept.isEdited != isEdited || kept.isDecided != state.isDecided
        || kept.choice != state.choice) {
        kept = {isShown, isEmpty, isEdited, state.isDecided, state.choice, headingOf(slot)};
    }
    return kept.words;
}

QString ResultView::headingOf(std::size_t slot) const
{
    const QString number =
        tr("Region %1 of %2").arg(text().regionOf(slot) + 1).arg(text().join().regionCount());
    const SlotState& state = text().state(slot);
    if (!state.isDecided && m_shown && m_shown->slot == slot) {
        return tr("◇ %1 · open · shows %2, not taken yet").arg(number, m_shown->name);
    }
    if (!state.isDecided) {
        const bool isEmpty = text().text(slot).empty();
        return isEmpty ? tr("◇ %1 · open · nothing stands here in the base").arg(number)
                       : tr("◇ %1 · open · base text stands here until you decide").arg(number);
    }
    QString choice = labelOfChoice(state.choice);
    if (state.choice != kOwnText && text().isEditedByHand(slot)) {
        choice += tr(", edited by hand");
    }
    return tr("● %1 · decided: %2").arg(number, choice);
}

void ResultView::paintHeadings()
{
    std::vector<CodeView::Heading> headings;
    std::size_t position = 0;
    for (std::size_t slot = 0; slot < text().slotCount(); ++slot) {
        if (text().isRegion(slot) && !m_isForReading) {
            headings.push_back({m_code->lineAt(position),
                                keptHeadingOf(slot),
                                text().isOpen(slot) ? CodeView::HeadingLook::open
                                                    : CodeView::HeadingLook::decided});
        }
        position += m_lengths[slot];
    }
    addReadingTo(headings);
    m_code->setHeadings(headings);
}

/// Lines that are gone, and what is said of lines that are there.
void ResultView::addReadingTo(std::vector<CodeView::Heading>& headings) const
{
    const auto lines = m_reading ? splitLines(m_reading->other) : std::vector<std::string_view>();
    int next = 0;
    int gone = 0;
    const auto tellRest = [&] {
        if (gone > kMostGoneLines) {
            headings.push_back({next,
                                tr("−  and %1 more lines are gone").arg(gone - kMostGoneLines),
                                CodeView::HeadingLook::gone});
        }
        gone = 0;
    };
    for (const MarkedLine& mark : m_reading ? m_reading->marks : std::vector<MarkedLine>()) {
        if (mark.kind != MarkedLine::Kind::removed) {
            tellRest();
            next = static_cast<int>(mark.line) + 1;
        } else if (++gone <= kMostGoneLines) {
            QString line = shown(lines[mark.line]);
            while (line.endsWith(QLatin1Char('\n')) || line.endsWith(QLatin1Char('\r'))) {
                line.chop(1);
            }
            headings.push_back(
                {next,
                 QStringLiteral("− ") + line.replace(QLatin1Char('\t'), QLatin1String("    ")),
                 CodeView::HeadingLook::gone});
        }
    }
    tellRest();
    for (const LineRemark& remark : m_remarks) {
        headings.push_back(
            {m_code->lineAt(remark.position) + 1,
             remark.text,
             remark.isBad ? CodeView::HeadingLook::remark : CodeView::HeadingLook::quiet});
    }
}

void ResultView::setReading(std::shared_ptr<const Reading> reading)
{
    m_reading = std::move(reading);
    std::vector<CodeView::NewLine> lines;
    for (const MarkedLine& mark : m_reading ? m_reading->marks : std::vector<MarkedLine>()) {
        if (mark.kind == MarkedLine::Kind::added) {
            lines.push_back({static_cast<int>(mark.line)});
        } else if (mark.kind == MarkedLine::Kind::edited) {
            CodeView::NewLine line{static_cast<int>(mark.line)};
            for (const WordMark& word : mark.words) {
                if (word.end > word.begin) {
                    line.words.emplace_back(word.begin, word.end);
                }
            }
            lines.push_back(std::move(line));
        }
    }
    m_code->setNewLines(lines, m_reading ? m_reading->strand : Strand::base);
    if (m_splice != nullptr) {
        paintHeadings();
    }
}

void ResultView::setRemarks(std::vector<LineRemark> remarks)
{
    m_remarks = std::move(remarks);
    std::vector<CodeView::Underlined> places;
    for (const LineRemark& remark : m_remarks) {
        places.push_back({remark.position, remark.length, remark.isBad});
    }
    m_code->setUnderlined(places);
    if (m_splice != nullptr) {
        paintHeadings();
    }
}

void ResultView::paintStrip()
{
    std::vector<StripMark> marks;
    std::size_t position = 0;
    for (std::size_t slot = 0; slot < text().slotCount(); ++slot) {
        const std::size_t end = position + m_lengths[slot];
        if (text().isRegion(slot)) {
            const int line = m_code->lineAt(position);
            marks.push_back({line, std::max(m_code->lineAt(end) - line, 1), m_firstStrands[slot]});
        }
        position = end;
    }
    m_strip->setMarks(std::move(marks), m_code->lineCount());
}
}  // namespace rope
