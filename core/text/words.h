// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string_view>
#include <vector>

namespace rope {
/// Returns the words of a text in order; put together they are the text. A word is an identifier or
/// number (letters, digits, underscore, and every byte above 127), a run of blanks, one line end, or
/// one other character.
[[nodiscard]] std::vector<std::string_view> splitWords(std::string_view text);

/// Returns whether a word is an identifier or number in the sense above.
[[nodiscard]] bool isName(std::string_view word);
}  // namespace rope
