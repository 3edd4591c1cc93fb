// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"

namespace rope {
/// Whether two hunks claim the same base lines, or one puts lines into what the other replaces.
[[nodiscard]] inline bool overlap(LineRange a, LineRange b)
{
    if (a.begin == a.end || b.begin == b.end) {
        return (a.begin > b.begin && a.begin < b.end) || (b.begin > a.begin && b.begin < a.end);
    }
    return a.begin < b.end && b.begin < a.end;
}

/// The line end of a region's texts: that of their first line that has one.
[[nodiscard]] inline std::string_view lineEndOf(const RegionTexts& texts)
{
    for (const std::string_view text : {texts.base, texts.ours, texts.theirs}) {
        const std::size_t end = text.find('\n');
        if (end != std::string_view::npos) {
            return end > 0 && text[end - 1] == '\r' ? "\r\n" : "\n";
        }
    }
    return "\n";
}
}  // namespace rope
