// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/result_snapshot.h"

#include <functional>

namespace rope {
/// An entry of a tree that is to change. Nothing: the path is gone.
struct TreeEdit
{
    RepoPath path;
    std::optional<FileVersion> version;
};

/// Keeps a folder's entries, in entryOrder(), and gives the id under which they are kept.
using FolderKeeper = std::function<Result<ObjectId>(std::vector<TreeEntry> entries)>;

/// Makes the tree that `tree` becomes by some edits, and returns its id. Only folders on the way to
/// an edit are read and made, through `keep`; a folder that becomes empty is gone. A later edit of a
/// path wins. A null id is an empty tree. No file goes that no edit names: what is to be gone below a
/// file is gone already.
/// Errors: `invalidInput` (Reason::pathTwice) with the path, when a file would stand where a folder
/// has files; those of reading and keeping.
[[nodiscard]] Result<ObjectId> editedTree(Snapshots& snapshots,
                                          const ObjectId& tree,
                                          std::span<const TreeEdit> edits,
                                          const FolderKeeper& keep);

/// The id of the tree that a result would be stored as; nothing is stored. Errors: those of reading.
[[nodiscard]] Result<ObjectId> idOfResult(Snapshots& snapshots, const ResultSnapshot& result);
}  // namespace rope
