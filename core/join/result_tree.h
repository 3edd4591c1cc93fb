// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/join.h"
#include "core/system/result_snapshot.h"

#include <span>

namespace rope {
/// What a person made of one file that needed one, or whose joined text they changed.
struct DecidedFile
{
    const FileOutcome* outcome = nullptr;
    std::optional<FileChoice> choice;  ///< The answer to its question, if it has one.
    std::string text;                  ///< Its whole text, where it was joined by lines.
    const FileOutcome* stoodFor =
        nullptr;  ///< The join's outcome whose place it takes, if it takes one's.
};

/// Returns what a join and its decisions put into the joined tree. This is the one way from outcomes
/// and decisions to a result: a forecast that is clean, a recording and a check all go it.
/// Files that were joined by lines and are not in `decided` stand as they joined; those in it that the
/// join has no outcome for were changed by one side alone, and their text takes that version's place; or
/// were put there by hand, and the answer is what stands at their paths.
/// Errors: `invalidInput` with the path as subject: Reason::unencodable for a text with characters
/// that its encoding lacks, ::pathTwice where two files would stand at one path, ::pathLost where a
/// file that nobody was asked about would be gone.
/// REQUIRES: nothing in the join is open beyond what `decided` answers.
[[nodiscard]] Result<ResultSnapshot> resultTree(const Join& join,
                                                std::span<const DecidedFile> decided);

/// Lines, from 0, of a file's text that look like conflict markers and stand in no stored version.
[[nodiscard]] std::vector<LineNumber> leftoverMarkers(const FileOutcome& file,
                                                      std::string_view text);
}  // namespace rope
