// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/carry_over.h"
#include "core/decide/splice.h"
#include "core/join/collisions.h"
#include "core/merge/candidates.h"

#include <QString>

namespace rope {
/// Bytes for show: UTF-8 where they are, else read as ISO 8859-1. Never travels back.
[[nodiscard]] QString shown(std::string_view bytes);
/// As shown(), for words that come from outside (hooks, remotes): line breaks and tabs stay, all other
/// control characters become visible signs.
[[nodiscard]] QString shownWords(std::string_view bytes);
/// As shown(), in one line: control characters and line breaks become visible signs.
[[nodiscard]] QString shownPath(std::string_view path);

/// As shownPath(), of a command that is to be run: a run of hidden signs is told by their number, and a
/// long word may be broken, so that all of it can be seen.
[[nodiscard]] QString shownCommand(std::string_view command);
/// A text as it is, to be edited and given back: nothing in it is made visible.
[[nodiscard]] QString editableText(std::string_view bytes);

/// At most so many bytes of a text for show, whole characters, with an ellipsis where it is cut off.
[[nodiscard]] QString shownBeginning(std::string_view bytes, std::size_t mostBytes);
/// A commit's first line, cut off where it is longer than anyone reads.
[[nodiscard]] QString shownSubject(const Commit& commit);

/// "1 region", "7 regions".
[[nodiscard]] QString countOf(std::size_t count, const char* one, const char* many);

[[nodiscard]] QString labelOf(CandidateKind kind);
/// With what it came out at, where that is known: "The later of the two: 43".
[[nodiscard]] QString labelOf(const Candidate& candidate, const RegionTexts& texts);
/// What a stored choice is called: a candidate's name, an answer's, or text of one's own.
[[nodiscard]] QString labelOfChoice(const std::string& choice);
/// Where an earlier decision was made: "as in 5d0f7aa by Priya, 3 weeks ago".
[[nodiscard]] QString earlierInWords(const EarlierSource& source, std::int64_t now);
/// One step of the history: "typing in region 2 of notice.py". `before` and `after` are of its first place.
[[nodiscard]] QString stepInWords(const Splice& splice,
                                  const std::vector<SlotChange>& step,
                                  const SlotState& before,
                                  const SlotState& after);
/// "keeps both edits · brackets balance"
[[nodiscard]] QString consequencesInWords(const std::vector<Consequence>& consequences);
[[nodiscard]] bool hasWarning(const std::vector<Consequence>& consequences);

/// Who the two sides are, for sentences that name them.
struct SideNames
{
    QString ours;
    QString theirs;
};

/// What happened to a file, in a short phrase for lists: "deleted by theirs, edited by ours".
[[nodiscard]] QString questionInShort(const FileQuestion& question);
/// The same as a sentence with the branches' names, and what is asked.
[[nodiscard]] QString questionInWords(const FileOutcome& outcome, const SideNames& names);
/// Which files may have to make room for an answer, and under which name each is kept then; empty: none.
[[nodiscard]] QString asidesInWords(const TreeJoin& join, const FileOutcome& outcome);
/// What an answer would do: "Keep the file as ours has it".
[[nodiscard]] QString
answerInWords(const FileOutcome& outcome, FileChoice choice, const SideNames& names);

/// Why a stretch joined by itself. REQUIRES: it is not a region
[[nodiscard]] QString chunkInWords(ChunkKind kind, const SideNames& names);
/// What a side did to a file besides its text: a new name, mode or kind, as a sentence; empty if nothing.
[[nodiscard]] QString fileRemarkInWords(const FileOutcome& outcome, bool isOurs);

/// What the forecast says of a file: "3 regions", "joins cleanly", "deleted against edited".
[[nodiscard]] QString forecastInWords(const FileOutcome& outcome);
/// What the forecast says of a branch: "5 in · 7 regions in 4 files", "all of it is already here".
[[nodiscard]] QString forecastInWords(const Forecast& forecast);
/// The same for a pair that was only counted.
[[nodiscard]] QString forecastInWords(const PairOutcome& outcome);
/// What joining the first into the second would be, where `outcome` is of the second into the first:
/// "Into origin/main, yours would join cleanly: 3 commits." Empty where there is nothing to say.
[[nodiscard]] QString
otherWayInWords(const PairOutcome& outcome, const QString& first, const QString& second);
/// "src/Log.txt and src/log.txt differ only in case or normalisation: …"
[[nodiscard]] QString nameClashInWords(const NameClash& clash);
/// An earlier decision that found no place, and why.
[[nodiscard]] QString lostInWords(const LostDecision& lost);
[[nodiscard]] QString nameOfOrigin(LineOrigin origin);
}  // namespace rope
