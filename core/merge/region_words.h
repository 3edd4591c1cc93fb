// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/diff/hunk.h"
#include "core/merge/text_join.h"

#include <string_view>
#include <vector>

namespace rope {
/// The words of a region's texts, and where either side differs from the base: what all that composes both
/// sides word by word begins with. Made once for a region, since that is what costs.
struct RegionWords
{
    explicit RegionWords(const RegionTexts& of);

    RegionTexts texts;
    std::vector<std::string_view> base;
    std::vector<std::string_view> ours;
    std::vector<std::string_view> theirs;
    std::vector<TokenId> baseIds;
    std::vector<TokenId> oursIds;
    std::vector<TokenId> theirsIds;
    std::vector<Hunk> oursHunks;    ///< Base to ours.
    std::vector<Hunk> theirsHunks;  ///< Base to theirs.
};

/// Of larger regions nobody reads a text composed word by word.
inline constexpr std::size_t kMostWordBytes = 400'000;
[[nodiscard]] inline bool isTooLargeForWords(const RegionTexts& texts)
{
    return texts.base.size() + texts.ours.size() + texts.theirs.size() > kMostWordBytes;
}
}  // namespace rope
