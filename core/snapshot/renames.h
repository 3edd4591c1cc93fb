// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/progress.h"
#include "core/snapshot/tree_changes.h"

#include <functional>

namespace rope {
/// A file that one tree has at `from` and the other, instead, at `to`.
struct Rename
{
    RepoPath from;
    RepoPath to;
    friend bool operator==(const Rename&, const Rename&) = default;
};

/// What the other side of a join has to do with the files of this one. Functions may be left out.
struct RenameInterest
{
    /// Whether it matters where a deleted file went. One that nobody else touched need not be looked
    /// for by its content: deleted and added gives the same joined tree. Left out: always.
    std::function<bool(const FileChange& deleted)> matters;
    /// Whether the other side edited the file where it stood: its edit would go along.
    std::function<bool(const RepoPath& deleted)> isEditedByOther;
    /// Whether the other side has a new file there.
    std::function<bool(const RepoPath& added)> isAddedByOther;
};

/// Returns which deletions and additions of `changes` are renames, by `from`; every path is in one
/// rename at most, and copies do not count. Equal content first; then, for files of lines or bytes,
/// equal names that are at least kSameNameSimilarity alike, then what is at least kRenameSimilarity
/// alike, most alike first; among those that are equally alike by Evidence (rename_evidence.h). A file
/// that the other side edited and that has several equally good new places is in no rename: which of
/// them the edit belongs to is a person's to say. Empty files are never renamed.
/// Time: near-linear in the sizes of the files looked at; pairs that share only lines which very many
/// files have are not found. Errors: those of reading; `cancelled`.
[[nodiscard]] Result<std::vector<Rename>> findRenames(Snapshots& repository,
                                                      const std::vector<FileChange>& changes,
                                                      const RenameInterest& interest,
                                                      const RenameRules& rules = {},
                                                      const ProgressSink& progress = {},
                                                      const std::stop_token& stop = {});
}  // namespace rope
