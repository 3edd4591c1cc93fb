// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_begun_decisions.cpp.
#include "core/merge/marker_blocks.h"

#include <algorithm>
#include <optional>

namespace rope {
namespace {
constexpr std::size_t kShortest = 7;

/// How many of the character a line begins with, if it is a marker of them; else 0.
std::size_t markerLength(std::string_view line, char character)
{
    const std::size_t length = std::min(line.find_first_not_of(character), line.size());
    const std::string_view rest = line.substr(length);
    const bool ends =
        rest.empty() || rest.front() == ' ' || rest.front() == '\n' || rest.front() == '\r';
    return length >= kShortest && ends ? length : 0;
}
}  // namespace

std::vector<MarkerBlock> markerBlocks(const std::vector<std::string_view>& lines)
{
    std::vector<MarkerBlock> blocks;
    std::optional<MarkerBlock> open;
    std::size_t length = 0;
    bool isBehindFirst = false;
    bool isBehindMiddle = false;
    for (std::size_t i = 0; i < lines.size(); ++i) {
        if (const std::size_t begins = markerLength(lines[i], '<'); begins > 0) {
            open = {i, 0, i + 1, 0};
            length = begins;
            isBehindFirst = isBehindMiddle = false;
        } else if (!open) {
            continue;
        } else if (!isBehindFirst && markerLength(lines[i], '|') == length) {
            open->firstEnd = i;
            isBehindFirst = true;
        } else if (!isBehindMiddle && markerLength(lines[i], '=') == length) {
            open->firstEnd = isBehindFirst ? open->firstEnd : i;
            isBehindFirst = isBehindMiddle = true;
        } else if (isBehindMiddle && markerLength(lines[i], '>') == length) {
            open->end = i + 1;
            blocks.push_back(*open);
            open.reset();
        }
    }
    return blocks;
}
}  // namespace rope
