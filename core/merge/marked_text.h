// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"

#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// A joined text with markers around its regions.
struct MarkedText
{
    std::string text;
    std::vector<LineNumber> regionLines;  ///< The line, from 0, of each region's first marker.
};

/// What stands after the markers of the three sides.
struct MarkerLabels
{
    std::string_view ours = "ours";
    std::string_view base = "base";
    std::string_view theirs = "theirs";
};

/// Returns the text with seven-character markers, base section included, around every region.
/// A side whose last line has no end gets one before the next marker.
[[nodiscard]] MarkedText markedText(const TextJoin& join, const MarkerLabels& labels = {});
}  // namespace rope
