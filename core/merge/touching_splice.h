// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/region_words.h"

#include <optional>
#include <string>

namespace rope {
struct TouchingSplice
{
    std::string text;
    /// Where both sides put words in at one place: the same with ours first there. Nothing where they do not.
    std::optional<std::string> oursFirst;
};

/// Returns both sides' edits side by side, even where they touch: by lines first, and where lines clash by
/// words. Edits that can be told at several places (a line put in beside an equal one) are moved to where
/// they leave the other side's alone. Of two runs put in at one place theirs stands first. Nothing where
/// edits claim the same words. Where the stricter splices (line_splice.h, word_splice.h) give a text, it is
/// mostly the same one. It may be offered, never first: measured, see docs/candidates.md.
[[nodiscard]] std::optional<TouchingSplice> spliceTouching(const RegionWords& words);
/// The same; nothing where the texts are too large for words.
[[nodiscard]] std::optional<TouchingSplice> spliceTouching(const RegionTexts& texts);
}  // namespace rope
