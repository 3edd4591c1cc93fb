// SPDX-License-Identifier: GPL-3.0-or-later
// Which question a file that does not join by itself poses, and what each answer would put into the
// joined tree. Every function sets outcome.question and outcome.kind, and clears what was settled.
// Errors, where there may be some: those of NamesBeside.
#pragma once

#include "core/snapshot/file_outcome.h"
#include "core/snapshot/join_entries.h"
#include "core/snapshot/names_beside.h"

namespace rope {
/// One side deleted it, the other changed it. REQUIRES: base and one side
void askDeleted(FileOutcome& file);
/// Both added it with different modes; with different bytes, the text is still to be joined.
void askModes(FileOutcome& file);
/// A file on one side, a link or submodule on the other.
[[nodiscard]] Status askKinds(FileOutcome& file, NamesBeside& names);
/// Links or submodules that both sides changed.
void askSpecial(FileOutcome& file);
/// Contents that cannot be joined by lines, for the reason given.
[[nodiscard]] Status askAsWhole(FileOutcome& file, QuestionKind reason, NamesBeside& names);
/// A folder stands at the file's path; `side` is where the file comes from.
[[nodiscard]] Status askAside(FileOutcome& file, Side side, NamesBeside& names);
/// Theirs adds it under a name that cannot be checked out: it can only be left out.
void askRefusedName(FileOutcome& file);
/// What the entry's renames leave to ask once its content was joined, if anything.
[[nodiscard]] Status askForConcern(FileOutcome& file, const JoinEntry& entry, NamesBeside& names);
}  // namespace rope
