// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/diff/marked_lines.h"
#include "core/merge/text_join.h"

namespace rope {
/// One line of a side as evidence shows it.
struct SideLine
{
    /// Never removed: what is gone stands in `goneBefore` of the line that follows it.
    MarkedLine::Kind kind = MarkedLine::Kind::kept;
    bool isShared = false;  ///< Not in the base, and both sides have it alike.
    std::vector<WordMark> words;
    std::vector<std::string> goneBefore;  ///< Lines of the other text, with their ends.
};

/// What a side did, line by line.
struct SideReading
{
    std::vector<SideLine> lines;
    std::vector<std::string> goneAtEnd;
    /// It differs, but in nothing that can be seen: blanks or line ends.
    bool onlyBlanksDiffer = false;
    [[nodiscard]] bool isUnchanged() const;
};

enum class Fate { kept, edited, removed };

/// What became of a line of the base on each side.
struct BaseLine
{
    Fate byOurs = Fate::kept;
    Fate byTheirs = Fate::kept;
    [[nodiscard]] bool isKept() const { return byOurs == Fate::kept && byTheirs == Fate::kept; }
};

/// The sides of a region, read against the base or against each other. Origins of lines are told here
/// once, for all that shows them.
struct RegionReading
{
    SideReading theirs;
    SideReading ours;
    std::vector<BaseLine> base;
};

/// Each side against the base.
[[nodiscard]] RegionReading readAgainstBase(const RegionTexts& texts);

/// Theirs against ours and ours against theirs; the base's lines as in readAgainstBase().
[[nodiscard]] RegionReading readAgainstEachOther(const RegionTexts& texts);

/// Lines that stand around a region and are the same in all three texts, in their order. Views of them.
struct LinesAround
{
    std::vector<std::string_view> before;
    std::vector<std::string_view> after;
};
/// At most so many on either side. REQUIRES: there is such a region
[[nodiscard]] LinesAround
linesAround(const TextJoin& join, std::size_t region, LineNumber before, LineNumber after);

/// Whether the sides say more about each other than about the base: it is empty, or both added nearly
/// the same.
[[nodiscard]] bool areBetterReadAgainstEachOther(const RegionTexts& texts);
}  // namespace rope
