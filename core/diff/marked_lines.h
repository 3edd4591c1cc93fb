// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/text/line_range.h"

#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// A place in a line where words differ from the line it was made of. Never both empty.
struct WordMark
{
    std::size_t begin = 0;  ///< Bytes [begin, end) of the line: what is new. Empty: only gone.
    std::size_t end = 0;
    std::string gone;  ///< What stood there instead.
    friend bool operator==(const WordMark&, const WordMark&) = default;
};

/// A line of a text that is read against another one.
struct MarkedLine
{
    enum class Kind {
        kept,     ///< Stands in both.
        added,    ///< Only in this text.
        edited,   ///< Made of a line of the other text; `words` tell where.
        removed,  ///< Only in the other text: it stood before the line that follows.
    };
    Kind kind = Kind::kept;
    LineNumber line = 0;   ///< Its number in its own text: the other one for `removed`.
    LineNumber other = 0;  ///< For kept and edited: the number in the other text.
    /// For edited: rising, apart from each other, none over indent or line end. Empty: only blanks or
    /// the line end differ.
    std::vector<WordMark> words;
    friend bool operator==(const MarkedLine&, const MarkedLine&) = default;
};

/// Returns the lines of `text` in order, read against `other`, and between them those of `other` that
/// are gone. Lines that fit are paired first, best match first; a pair counts as one edited line only
/// where it is mostly kept: where at least half of its letters stand in runs of two words or of one
/// rare word. Words are those of words.h, letters are all bytes but blanks, a word is rare that stands
/// once in each of the two stretches of lines that are compared.
/// Stretches of more than a few hundred changed lines are told in whole lines. Threads: any.
[[nodiscard]] std::vector<MarkedLine> markLines(std::string_view other, std::string_view text);
}  // namespace rope
