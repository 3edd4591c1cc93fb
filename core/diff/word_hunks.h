// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/diff/hunk.h"

#include <string_view>
#include <vector>

namespace rope {
/// A run of words (core/text/words.h) that stands in another's place. Views into the texts compared.
struct WordHunk
{
    std::string_view before;
    std::string_view after;
    bool isOneForOne = false;  ///< One word replaced by one.
};

/// Returns what differs between two texts, word by word, in their order. Near-linear in real texts.
[[nodiscard]] std::vector<WordHunk> wordHunks(std::string_view before, std::string_view after);
/// The same of what was compared already. `hunks`: of these words
[[nodiscard]] std::vector<WordHunk> wordHunksOf(const std::vector<std::string_view>& before,
                                                const std::vector<std::string_view>& after,
                                                const std::vector<Hunk>& hunks);
}  // namespace rope
