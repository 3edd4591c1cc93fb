// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/git/git_process.h"
#include "core/system/types.h"

#include <string>
#include <utility>
#include <vector>

namespace rope {
// Notes beside commits, as git keeps them (git-notes(1)), under names of ours: docs/decision-notes.md.

/// The reference that own notes lie under.
inline constexpr const char* kOwnNotes = "refs/notes/rope-splice/decisions";
/// What is known here of the notes that a remote has.
[[nodiscard]] std::string notesRefOf(const std::string& remote);
/// What fetches them, besides what is set up to be fetched.
[[nodiscard]] std::string notesRefspec(const std::string& remote);

/// A note and the commit that it belongs to.
struct CommitNote
{
    ObjectId commit;
    std::string text;
};
/// Writes notes upon those that `tip` has (null: there are none yet), and gives the commit of notes that
/// holds them all. Nothing refers to it but `refs/rope-splice/<name>`, which the caller takes away.
/// Errors: those of writingError().
[[nodiscard]] Result<ObjectId> writeNotes(const GitProcess& git,
                                          const ObjectId& tip,
                                          const std::vector<CommitNote>& notes,
                                          const Signature& writer,
                                          const std::string& name);
/// The name under which writeNotes() keeps what it wrote.
[[nodiscard]] std::string refOfWritten(const std::string& name);

/// Where a reference stands; null: there is none.
[[nodiscard]] Result<ObjectId> tipOfRef(const GitProcess& git, const std::string& ref);
}  // namespace rope
