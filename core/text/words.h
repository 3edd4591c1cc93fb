// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <string_view>
#include <vector>

namespace rope {
/// Returns the words of a text in order; put together they are the text. A word is an identifier or
/// number (letters, digits, underscore, and every byte above 127), a run of blanks, one line end, or
/// one other character.
[[nodiscard]] std::vector<std::string_view> splitWords(std::string_view text);

/// The length of a text's first word. REQUIRES: the text is not empty
[[nodiscard]] std::size_t firstWordLength(std::string_view text);

/// Calls `take` with each word of a text in order: for texts whose words would be too many to be kept.
template <typename Take>
void eachWord(std::string_view text, Take take)
{
    while (!text.empty()) {
        const std::size_t length = firstWordLength(text);
        take(text.substr(0, length));
        text.remove_prefix(length);
    }
}

/// Returns whether a word is an identifier or number in the sense above.
[[nodiscard]] bool isName(std::string_view word);
}  // namespace rope
