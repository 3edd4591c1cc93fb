// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"

#include <functional>
#include <optional>
#include <set>
#include <string>

namespace rope {
/// Whether a side already holds, in the main, what the other did: most words that the other added
/// were added here too, or, where it added none, nearly all it removed were removed here too. Measured on real cases
/// (docs/candidates.md), this is what tells best whose text people take.
struct Adoption
{
    bool byOurs = false;    ///< Ours has taken up what theirs did.
    bool byTheirs = false;  ///< Theirs has taken up what ours did.
};
[[nodiscard]] Adoption adoptionIn(const RegionTexts& texts);
/// The same by names and numbers alone: two additions of one shape share their signs, and nothing else. It ranks
/// worse, but whose edit may be dropped without a word must not hang on brackets and quotes.
[[nodiscard]] Adoption adoptionOfNames(const RegionTexts& texts);

/// How much of what ours did all over a file theirs has done too. Lines count with the blanks at their ends
/// aside, and only those with three letters, digits or underscores. A share of nothing is not known.
struct FileAdoption
{
    using Names = std::set<std::string, std::less<>>;
    std::optional<double>
        added;  ///< Of the lines that ours added, the share that theirs added as well.
    std::optional<double> removed;  ///< The same of removed ones.
    /// Names that ours brought where both put pieces in at one place, and that the base has nowhere; and
    /// those of them that theirs has anywhere.
    Names newNames;
    Names knownNames;
};
[[nodiscard]] FileAdoption fileAdoption(const TextJoin& join);

/// Of the lines that ours added in a file that both sides changed, how many theirs added as well. Of a file
/// without a base nothing is counted.
struct AddedLines
{
    int ours = 0;
    int inTheirsToo = 0;
};
[[nodiscard]] AddedLines addedLinesIn(const TextJoin& join);

/// As FileAdoption::removed, of one region alone.
[[nodiscard]] std::optional<double> removedToo(const RegionTexts& texts);
/// Of the names that ours brings into a region and that the base's file has nowhere, the share that theirs'
/// file has. REQUIRES: the adoption is of the region's file
[[nodiscard]] std::optional<double> knownShare(const RegionTexts& texts,
                                               const FileAdoption& adoption);
}  // namespace rope
