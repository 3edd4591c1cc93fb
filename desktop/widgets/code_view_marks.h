// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/widgets/strand_pattern.h"

#include <QScrollBar>
#include <Qsci/qsciscintillabase.h>

#include <array>

namespace rope {
// What the parts of CodeView share: margins, markers and indicators of its editor.
inline constexpr int kNumberMargin = 0;
inline constexpr int kRailMargin = 1;
inline constexpr int kTextGapMargin = 2;
inline constexpr int kRailWidth = 10;
inline constexpr int kFirstStrandMarker = 0;  // one marker per Strand, in its order
inline constexpr std::array kStrands{
    Strand::base, Strand::ours, Strand::theirs, Strand::both, Strand::hand, Strand::open};
inline constexpr int kGapAboveMarker = 6;
inline constexpr int kGapBelowMarker = 7;
inline constexpr int kFirstRegionMarker = 10;  // one per RegionLook, in its order
inline constexpr int kRegionLooks = 4;
inline constexpr int kNewLineMarker = 15;
inline constexpr int kNewSignMarker = 16;
inline constexpr int kBadLineMarker = 17;
inline constexpr int kNewWordIndicator = 9;
inline constexpr int kBadIndicator = 10;
inline constexpr int kRemarkIndicator = 11;
inline constexpr int kSignWidth = 20;  // of the margin with the signs of new lines
inline constexpr int kHeadingLooks = 5;
inline constexpr int kContextLines = 5;
inline constexpr int kMostFollowedEdits = 32;      // before headings are laid anew as a whole
inline constexpr int kMostFollowedLines = 10'000;  // of one edit
inline constexpr std::size_t kHeadingPadding =
    240;  // blanks after a heading, so that its band spans the view

/// Of text only: telling of thousands of marks and headings takes longer than setting them.
inline constexpr unsigned long kToldOf =
    QsciScintillaBase::SC_MOD_INSERTTEXT | QsciScintillaBase::SC_MOD_DELETETEXT;

[[nodiscard]] inline unsigned int strandMask()
{
    return ((1U << kStrands.size()) - 1U) << kFirstStrandMarker;
}

/// While it lives, a scroll bar tells nobody of a new range; then once. Each heading that comes or goes
/// changes it, and each telling lays the view out anew.
class RangeHold
{
public:
    explicit RangeHold(QScrollBar& bar)
        : m_bar(bar)
        , m_wasBlocked(bar.blockSignals(true))
    {
    }
    ~RangeHold()
    {
        m_bar.blockSignals(m_wasBlocked);
        emit m_bar.rangeChanged(m_bar.minimum(), m_bar.maximum());
    }
    RangeHold(const RangeHold&) = delete;
    RangeHold& operator=(const RangeHold&) = delete;

private:
    QScrollBar& m_bar;
    bool m_wasBlocked;
};
}  // namespace rope
