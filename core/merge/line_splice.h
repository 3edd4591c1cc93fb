// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/region_words.h"

#include <optional>
#include <string>

namespace rope {
enum class Blanks {
    count,
    ignore,  ///< Lines that differ in blanks alone are the same line, changed by who changed it.
};

/// Returns both sides' changed lines side by side: what made a region of changes that only touch is
/// left out of account, and where both put lines in at one place theirs come first. Lines that both
/// changed are spliced word by word. Nothing where that fails too.
[[nodiscard]] std::optional<std::string> spliceLines(const RegionWords& words, Blanks blanks);
/// The same; nothing where the texts are too large for words.
[[nodiscard]] std::optional<std::string> spliceLines(const RegionTexts& texts, Blanks blanks);
}  // namespace rope
