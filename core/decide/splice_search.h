// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/decided_join.h"

namespace rope {
/// Words that are looked for, UTF-8. Without `matchesCase` large and small letters are alike, those
/// aside whose two forms take different numbers of bytes.
struct SearchWords
{
    std::string words;
    bool matchesCase = false;
};

/// The first place of the words in a text from `from` on; nothing if there is none.
[[nodiscard]] std::optional<std::size_t>
findWords(std::string_view text, const SearchWords& search, std::size_t from = 0);

/// How often they stand in the texts of a splice as they are now, and in how many files.
struct SearchCount
{
    std::size_t places = 0;
    std::size_t files = 0;
};
/// Linear in the texts. Open regions count with the base that they show.
[[nodiscard]] SearchCount countWords(const DecidedJoin& decided, const SearchWords& search);
/// Whether they stand in the file's text; never in one that is no text.
[[nodiscard]] bool holdsWords(const SpliceFile& file, const SearchWords& search);

/// What putting other words in their place would change, everywhere but in regions that are open: those
/// show the base, and nobody has decided for it. Made as one step by Splice::change().
struct Replacement
{
    std::vector<SlotChange> changes;
    std::size_t places = 0;
    std::size_t leftInOpen = 0;  ///< Places in regions that are open.
};
[[nodiscard]] Replacement
replaceWords(const DecidedJoin& decided, const SearchWords& search, const std::string& by);
}  // namespace rope
