// SPDX-License-Identifier: GPL-3.0-or-later
// Which question a file that does not join by itself poses, and what each answer would put into the
// joined tree. Every function sets outcome.question and outcome.kind, and clears what was settled.
#pragma once

#include "core/snapshot/file_outcome.h"
#include "core/snapshot/join_entries.h"

namespace rope {
/// One side deleted it, the other changed it. REQUIRES: base and one side
void askDeleted(FileOutcome& file);
/// Both added it with different modes; with different bytes, the text is still to be joined.
void askModes(FileOutcome& file);
/// A file on one side, a link or submodule on the other.
void askKinds(FileOutcome& file);
/// Links or submodules that both sides changed.
void askSpecial(FileOutcome& file);
/// Contents that cannot be joined by lines, for the reason given.
void askAsWhole(FileOutcome& file, QuestionKind reason);
/// A folder stands at the file's path; `side` is where the file comes from.
void askAside(FileOutcome& file, Side side, const RepoPath& aside);
/// What the entry's renames leave to ask once its content was joined, if anything.
void askForConcern(FileOutcome& file, const JoinEntry& entry);
}  // namespace rope
