// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"

#include <string_view>
#include <vector>

namespace rope {
/// A sign of what taking a text for a region would mean.
enum class ConsequenceKind {
    keepsBothEdits,    ///< Nothing either side did is lost.
    dropsOurs,         ///< `count` edits of ours would be lost.
    dropsTheirs,       ///< `count` edits of theirs would be lost.
    repeatsLines,      ///< `count` lines would stand there more often than on either side.
    opensBlockTwice,   ///< A repeated line is one that opens a block.
    bracketsLeftOpen,  ///< `count` brackets opened and not closed, though both sides balance alike.
    bracketsExtra,     ///< `count` closing brackets too many.
    quotesUnbalanced,  ///< A quotation mark without its partner, though both sides have pairs.
    bracketsBalance,   ///< Brackets balance as they do on both sides.
};

struct Consequence
{
    ConsequenceKind kind = ConsequenceKind::keepsBothEdits;
    int count = 0;
    /// Whether it deserves a warning rather than a remark.
    [[nodiscard]] bool isWarning() const;
    friend bool operator==(const Consequence&, const Consequence&) = default;
};

/// Returns how many of a side's edits a text has lost: edits whose new words do not all stand in it, or
/// whose removed words still do, the other side's doing aside. Names and numbers count, signs do not.
[[nodiscard]] int lostEdits(std::string_view base,
                            std::string_view side,
                            std::string_view other,
                            std::string_view result);

/// Returns the signs that can be read off a text composed of both sides: lines that would stand there
/// twice, perhaps in two versions; brackets; quotes.
[[nodiscard]] std::vector<Consequence> textConsequences(std::string_view result,
                                                        const RegionTexts& texts);
}  // namespace rope
