// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"

#include <functional>
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

/// How markers are written.
struct MarkerStyle
{
    std::string_view ours = "ours";  ///< What stands after the marker of a side.
    std::string_view base = "base";
    std::string_view theirs = "theirs";
    std::size_t length = 7;  ///< Of a marker, in characters.
};

/// Returns the text with markers, base section included, around every region.
/// A side whose last line has no end gets one before the next marker.
[[nodiscard]] MarkedText markedText(const TextJoin& join, const MarkerStyle& style = {});

/// As markedText(), handed on in pieces that are never put together: for texts of many megabytes.
/// Returns the line, from 0, of each region's first marker.
using PieceSink = std::function<void(std::string_view piece)>;
std::vector<LineNumber>
writeMarkedText(const TextJoin& join, const MarkerStyle& style, const PieceSink& write);

/// Returns the text with markers around every region, without a base section; what both sides of a
/// region share stands outside of the markers, unless it is no more than three lines. This is what a
/// virtual base holds where its own sides clash.
[[nodiscard]] std::string clashText(const TextJoin& join, const MarkerStyle& style);

/// Whether a line looks like a conflict marker that somebody left behind: seven or more of `<`, `|`
/// or `>`, and a blank.
[[nodiscard]] bool looksLikeMarker(std::string_view line);

/// Returns the text with the lines of both sides, ours first, in place of every region.
[[nodiscard]] std::string unionText(const TextJoin& join);
}  // namespace rope
