// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/candidates.h"
#include "core/merge/text_join.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace rope {
/// What has to be known of a whole file to say what a candidate means in its place.
struct FileSigns
{
    /// How often a name stands in the base that a side has nowhere any more.
    using Names = std::map<std::string, int, std::less<>>;
    Names removedByOurs;
    Names removedByTheirs;
    /// Opening brackets less closing ones: of what joined by itself, and of each region where both
    /// sides have the same number.
    int joinedBrackets = 0;
    std::vector<std::optional<int>> regionBrackets;
    /// Of the whole file, where both sides have the same number.
    std::optional<int> fileBrackets;
};

/// Computed once for a file. Linear in its versions. Threads: any.
[[nodiscard]] FileSigns signsOf(const TextJoin& join);

/// Returns what a text for a region would mean in its file: names it uses that a side removed here and
/// elsewhere; brackets that would not balance as they do in both sides.
/// REQUIRES: signs were made of `join`
[[nodiscard]] std::vector<Consequence> fileConsequences(std::string_view result,
                                                        const TextJoin& join,
                                                        std::size_t region,
                                                        const FileSigns& signs);

/// Adds these to each candidate, warnings last; in place of what was said of brackets by the region alone.
void addFileConsequences(std::vector<Candidate>& candidates,
                         const TextJoin& join,
                         std::size_t region,
                         const FileSigns& signs);
}  // namespace rope
