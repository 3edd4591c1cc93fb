// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/splice/merge_reading.h"
#include "core/splice/splice.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// One decision as it travels beside the commit that holds it.
struct NotedDecision
{
    RepoPath path;
    int line = 0;        ///< From 1, in what was recorded; 0: a question about the whole file.
    std::string region;  ///< TextJoin::regionKey(); of a question: empty.
    std::string choice;  ///< As SlotState::choice.
    std::string digest;  ///< Of the region's text, see digestOfDecided(); of a question: empty.
    std::string reason;  ///< In the words of whoever decided; empty: none was given.
    friend bool operator==(const NotedDecision&, const NotedDecision&) = default;
};

/// What a leg of a splice decided, in the order of its files. REQUIRES: nothing is open in it
[[nodiscard]] std::vector<NotedDecision> notedDecisions(const Splice& splice, std::size_t leg);

/// Stands for a region's text, in the form of a join's texts.
[[nodiscard]] std::string digestOfDecided(std::string_view text);

/// Decisions as the text of a note: JSON, described in docs/decision-notes.md.
[[nodiscard]] std::string noteText(const std::vector<NotedDecision>& decisions);
/// The decisions in a note; what others may have written behind them is passed over.
/// Errors: `corrupt` for what is no such note; `unsupported` for one of a later version.
[[nodiscard]] Result<std::vector<NotedDecision>> parseNote(std::string_view text);

/// What a note says of a decision that was read off a recorded merge.
struct NoteRemark
{
    std::string reason;
    /// Set where something else stands there now than the note says was chosen: that choice.
    std::optional<std::string> otherwise;
};
struct NoteComparison
{
    std::vector<std::optional<NoteRemark>> remarks;  ///< One for each decision that was read.
    std::vector<NotedDecision> gone;  ///< Told in the note, and no such place is in the merge.
};
[[nodiscard]] NoteComparison compareNote(const std::vector<NotedDecision>& note,
                                         const std::vector<ReadDecision>& read);
}  // namespace rope
