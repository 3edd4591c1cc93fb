// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/snapshots.h"

namespace rope {
/// How one path of a result differs from the snapshot that it is told against.
struct ResultEdit
{
    RepoPath path;
    std::optional<FileVersion> version;  ///< Nothing: the path is gone.
    BlobBytes bytes;  ///< Set where the bytes are new; then the version's id says nothing.
};

/// A whole result of a join, as it differs from what stood there: outcomes and decisions become this
/// and nothing else, and this alone is recorded. No path stands in it twice.
struct ResultSnapshot
{
    ObjectId from;                  ///< The tree that the edits change: ours, the first parent's.
    std::vector<ResultEdit> edits;  ///< By path.
};
}  // namespace rope
