// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "core/plan/merge_reading.h"
#include "core/plan/note_format.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// What a leg of a splice decided, in the order of its files. REQUIRES: nothing is open in it
[[nodiscard]] std::vector<NotedDecision> notedDecisions(const Splice& splice, std::size_t leg);

/// Stands for a region's text, in the form of a join's texts.
[[nodiscard]] std::string digestOfDecided(std::string_view text);

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
