// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/snapshots.h"

namespace rope {
/// Returns every file, link and submodule that two trees hold differently, by path. Equal folders
/// are not read; one level of folders is asked for in one request. A null id is an empty tree.
/// Errors: those of Snapshots::readTrees.
[[nodiscard]] Result<std::vector<FileChange>>
treeDifference(Snapshots& snapshots, const ObjectId& before, const ObjectId& after);

/// The change at a path; null where there is none.
[[nodiscard]] const FileChange* changeAt(const std::vector<FileChange>& changes,
                                         const RepoPath& path);
}  // namespace rope
