// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "core/system/begun_join.h"

#include <map>
#include <optional>
#include <set>
#include <stop_token>
#include <string_view>

namespace rope {
/// What was taken over from the files of a begun join, besides what is decided.
struct BegunDecisions
{
    /// Parts of regions that are still open, as they were edited so far; to be offered.
    std::vector<OfferedText> offered;
};

/// What a text that somebody has begun to resolve says of its slots: decided where no markers are left.
struct MarkedStates
{
    std::vector<SlotState> states;  ///< One for each slot.
    /// Open regions of which more was edited than markers are left around, as they stand: to be offered.
    std::map<std::size_t, std::string> edited;
};
/// Nothing where no markers of that file's own join are left in the text.
[[nodiscard]] std::optional<MarkedStates> markedStates(const SplicedText& text,
                                                       std::string_view marked,
                                                       const std::set<std::string>& ownMarkers,
                                                       const std::stop_token& stop = {});

/// Puts into a begun join what its files say was decided: all of a file without markers,
/// and of one with markers what stands between them. Regions that markers are left around stay open.
/// Files that only one side changed, or none, are taken up where they were edited; what was added, removed
/// or replaced is taken as it was found (found_file.h).
/// Errors: those of reading; `cancelled`.
[[nodiscard]] Result<BegunDecisions> putBegun(DecidedJoin& decided,
                                              Snapshots& snapshots,
                                              const BegunFiles& files,
                                              const std::stop_token& stop = {});

/// What stands in each file of a splice, for the program that began the join: decided files as they
/// are, others with markers around what is open; and which of them are settled.
/// A question that is open leaves its file as it stands now, and so does a text that its encoding lacks
/// characters for.
struct BegunTexts
{
    std::vector<ResultEdit> edits;
    std::vector<RepoPath> settled;
};
[[nodiscard]] BegunTexts begunTexts(const Splice& splice);

/// The text as it stands, with markers around its open regions.
[[nodiscard]] std::string textWithMarkers(const SplicedText& text, const SplicePlan& plan);
}  // namespace rope
