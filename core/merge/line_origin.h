// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"

#include <string_view>
#include <vector>

namespace rope {
/// Where a line of the result came from; what the strand rail shows.
enum class LineOrigin {
    base,    ///< Unchanged: in the base, and at least one side kept it.
    ours,    ///< Ours brought it.
    theirs,  ///< Theirs brought it.
    both,    ///< Both brought it alike, or it holds words of both.
    hand,    ///< Written by hand.
};

/// For each line of `to`, the number of the line of `from` that it is lined up with, or kNoLine.
inline constexpr LineNumber kNoLine = ~LineNumber{0};
[[nodiscard]] std::vector<LineNumber> lineUp(std::string_view from, std::string_view to);

/// Returns one origin for each line of `result`, found by lining it up with the three texts of its
/// region. A line that none of them has gets `unknown` (hand for free text, both for a word splice).
[[nodiscard]] std::vector<LineOrigin>
originsOfLines(std::string_view result, const RegionTexts& texts, LineOrigin unknown);

/// Returns one origin for each line a chunk gives by itself. REQUIRES: it is not a region.
[[nodiscard]] std::vector<LineOrigin> originsOfChunk(const Chunk& chunk);

/// Returns one origin per line of `edited`, which came from a text whose lines had `origins`:
/// lines that are still there keep theirs, new ones are by hand.
/// REQUIRES: origins has one entry for each line of `before`.
[[nodiscard]] std::vector<LineOrigin> originsAfterEdit(std::string_view before,
                                                       const std::vector<LineOrigin>& origins,
                                                       std::string_view edited);

/// Returns where lines were taken out of `before` with nothing put in their place: the numbers, from
/// 0, of the lines of `edited` that follow such a gap; its line count for one at the end.
[[nodiscard]] std::vector<LineNumber> gapsAfterEdit(std::string_view before,
                                                    std::string_view edited);
}  // namespace rope
