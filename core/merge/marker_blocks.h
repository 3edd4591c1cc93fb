// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <string_view>
#include <vector>

namespace rope {
/// A stretch of a text between conflict markers (git-merge(1), "HOW CONFLICTS ARE PRESENTED"), by
/// lines from 0, each end one behind the last.
struct MarkerBlock
{
    std::size_t begin = 0;  ///< The line of the first marker.
    std::size_t end = 0;
    std::size_t firstBegin = 0;  ///< The lines of the side that comes first.
    std::size_t firstEnd = 0;
};

/// Finds the stretches that have all their markers, in order and of one length, seven characters or
/// more. One in which a further first marker stands begins there.
[[nodiscard]] std::vector<MarkerBlock> markerBlocks(const std::vector<std::string_view>& lines);
}  // namespace rope
