// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/language.h"
#include "core/text/line_range.h"

#include <cstddef>
#include <optional>
#include <string_view>
#include <vector>

namespace rope {
/// A name or number that stands in a text outside of comments.
struct CodeWord
{
    std::string_view text;
    std::size_t position = 0;  ///< In bytes from the text's beginning.
    LineNumber line = 0;
    bool isInString = false;
};

/// A bracket without its partner.
struct LooseBracket
{
    char sign = '(';
    LineNumber line = 0;
    std::size_t position = 0;
};

/// A line that holds more than blanks and comments and does not go on from the one before, where a
/// language tells blocks by indent.
struct IndentedLine
{
    LineNumber line = 0;
    std::size_t indent = 0;  ///< Blanks before it; a tab reaches to the next multiple of eight.
    bool opensBlock = false;
};

/// What a text looks like to a program that knows comments, strings and brackets, and no grammar.
/// Views into the text that was scanned.
struct CodeScan
{
    std::vector<CodeWord> words;
    std::vector<LooseBracket> looseBrackets;  ///< At most kMostLoose.
    std::optional<LineNumber> openQuote;      ///< Where a string begins that does not end.
    std::vector<IndentedLine> lines;          ///< For Language::python only.
    bool isTooDeep = false;                   ///< Brackets are nested deeper than kMostNested.
};
inline constexpr std::size_t kMostLoose = 50;

/// Linear, without recursion. Threads: any. REQUIRES: the text outlives what is returned
[[nodiscard]] CodeScan scanCode(std::string_view text, Language language);
}  // namespace rope
