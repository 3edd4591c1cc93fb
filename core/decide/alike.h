// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"

#include <cstddef>
#include <vector>

namespace rope {
/// Regions of one text in which both sides did the same sort of thing, so that one answer is likely right for
/// all of them. A value.
struct AlikeRegions
{
    enum class What {
        sameTexts,  ///< Base, ours and theirs are the same in all.
        numbers,    ///< Nothing but numbers differs, within each and between them.
    };
    What what = What::sameTexts;
    std::vector<std::size_t> regions;  ///< Their numbers, in order.
};

/// Fewer are decided one by one as fast.
inline constexpr std::size_t kLeastAlike = 3;

/// Groups of at least kLeastAlike regions, by the first of each; a region is in one of them at most. Regions of
/// more than some thousand bytes are in none: nobody sees at a glance that they are alike.
[[nodiscard]] std::vector<AlikeRegions> alikeRegions(const TextJoin& join);
}  // namespace rope
