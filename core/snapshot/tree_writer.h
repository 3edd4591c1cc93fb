// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/file_outcome.h"

#include <span>

namespace rope {
/// Writes the tree that `tree` becomes by some edits, and returns its id. Only folders on the way to
/// an edit are read and written; a folder that becomes empty is gone. A later edit of a path wins.
/// A null id is an empty tree. With `Storage::held` nothing is written, the repository keeps the new
/// folders in memory. Errors: `invalidInput` when a file would stand where a folder is; those of
/// reading and writing.
[[nodiscard]] Result<ObjectId> writeEditedTree(Repository& repository,
                                               const ObjectId& tree,
                                               std::span<const TreeEdit> edits,
                                               Storage storage = Storage::stored);
}  // namespace rope
