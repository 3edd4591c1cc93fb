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

/// Whether it matters where a deleted file went. One that nobody else touched need not be looked for
/// by its content: deleted and added gives the same joined tree.
using RenameMatters = std::function<bool(const FileChange& deleted)>;

/// Returns which deletions and additions of `changes` are renames, by `from`; every path is in one
/// rename at most, and copies do not count. Equal content first (the same file name before others),
/// then, for files of lines or bytes, equal names that are at least kSameNameSimilarity alike, then
/// what is at least kRenameSimilarity alike, most alike first. Empty files are never renamed.
/// Time: near-linear in the sizes of the files looked at; pairs that share only lines which very many
/// files have are not found. Errors: those of reading; `cancelled`.
[[nodiscard]] Result<std::vector<Rename>> findRenames(Snapshots& repository,
                                                      const std::vector<FileChange>& changes,
                                                      const RenameMatters& matters,
                                                      const ProgressSink& progress = {},
                                                      const std::stop_token& stop = {});
}  // namespace rope
