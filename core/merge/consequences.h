// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"

#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// A sign of what taking a text for a region would mean.
enum class ConsequenceKind {
    keepsBothEdits,  ///< Nothing either side did is lost.
    dropsOurs,    ///< What ours wrote in `count` lines would be lost; `name`: a single short word.
    dropsTheirs,  ///< The same of theirs.
    undoesOursRemoval,  ///< `count` lines from which ours only removed something would be as before.
    undoesTheirsRemoval,  ///< The same of theirs.
    theirsHasIt,          ///< What is lost of ours was done by theirs too, in the main.
    oursHasIt,            ///< The same of theirs.
    repeatsLines,         ///< `count` lines would stand there twice that stood once on each side.
    twoVersions,  ///< `count` lines of the base would stand there in ours' and in theirs' version.
    opensBlockTwice,        ///< Such a line is one that opens a block.
    usesNameOursRemoved,    ///< `name` is used, which ours removed here and elsewhere in the file.
    usesNameTheirsRemoved,  ///< The same of theirs.
    bracketsLeftOpen,  ///< `count` brackets opened and not closed, though both sides balance alike.
    bracketsExtra,     ///< `count` closing brackets too many.
    quotesUnbalanced,  ///< A quotation mark without its partner, though both sides have pairs.
    bracketsBalance,   ///< Brackets balance as they do on both sides.
    definesTwice,      ///< `name` would be defined twice in one scope of the file.
    importsTwice,      ///< The import `name` would stand twice.
    keyTwice,          ///< The key `name` would stand twice in its section.
    unreadable,        ///< The file could not be read as what it is; `name`: the parser's words.
    indentBroken,      ///< A line would belong to no indented block.
};

struct Consequence
{
    ConsequenceKind kind = ConsequenceKind::keepsBothEdits;
    int count = 0;
    std::string name;
    /// Whether it deserves a warning rather than a remark.
    [[nodiscard]] bool isWarning() const;
    [[nodiscard]] bool isLoss() const
    {
        return kind == ConsequenceKind::dropsOurs || kind == ConsequenceKind::dropsTheirs
               || kind == ConsequenceKind::undoesOursRemoval
               || kind == ConsequenceKind::undoesTheirsRemoval;
    }
    friend bool operator==(const Consequence&, const Consequence&) = default;
};

/// Edits of a side, as a person counts them.
struct EditCount
{
    int edits = 0;
    int written = 0;   ///< Lines of the side in which it wrote something.
    int removed = 0;   ///< Lines of the base from which it only removed something.
    std::string word;  ///< What it wrote, where that is one edit of one short word.
};
/// All that a side did.
[[nodiscard]] EditCount editsOf(std::string_view base, std::string_view side);
/// Those of a side's edits that a text has lost: edits whose new words do not all stand in it, or
/// whose removed words still do, the other side's doing aside. Names and numbers count, signs do not.
[[nodiscard]] EditCount lostEdits(std::string_view base,
                                  std::string_view side,
                                  std::string_view other,
                                  std::string_view result);

/// Opening brackets less closing ones.
[[nodiscard]] int netBrackets(std::string_view text);

/// Returns the signs that can be read off a text composed of both sides: lines that would stand there
/// twice, lines of the base that would stand there in two versions; brackets; quotes.
[[nodiscard]] std::vector<Consequence> textConsequences(std::string_view result,
                                                        const RegionTexts& texts);
}  // namespace rope
