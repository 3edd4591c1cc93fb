// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/snapshots.h"

#include <map>
#include <optional>

namespace rope {
/// Finds files in one tree by their paths; reads each folder on the way once.
class PathFinder
{
public:
    PathFinder(Snapshots& snapshots, const ObjectId& tree)
        : m_snapshots(snapshots)
        , m_tree(tree)
    {
    }

    /// Nothing where no file stands. Errors: those of reading.
    Result<std::optional<FileVersion>> find(const RepoPath& path);

private:
    Result<TreeEntries> folder(const ObjectId& id);

    Snapshots& m_snapshots;
    ObjectId m_tree;
    std::map<ObjectId, TreeEntries> m_folders;
};
}  // namespace rope
