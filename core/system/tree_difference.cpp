// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_git_place.cpp.
#include "core/system/tree_difference.h"

#include <algorithm>
#include <array>
#include <map>

namespace rope {
namespace {
struct FolderPair
{
    RepoPath prefix;  ///< Empty or ending in a slash.
    ObjectId before;
    ObjectId after;
};

using Versions = std::array<std::optional<FileVersion>, 2>;
using Folders = std::array<ObjectId, 2>;

/// Sorts what differs between two folders into files, and folders yet to be looked into.
void compare(const FolderPair& folder,
             const std::array<TreeEntries, 2>& entries,
             std::vector<FileChange>& changes,
             std::vector<FolderPair>& deeper)
{
    std::map<std::string_view, Versions> files;
    std::map<std::string_view, Folders> folders;
    for (std::size_t side = 0; side < 2; ++side) {
        for (const TreeEntry& entry : *entries[side]) {
            if (entry.kind == EntryKind::folder) {
                folders[entry.name][side] = entry.id;
            } else {
                files[entry.name][side] = FileVersion{entry.kind, entry.id};
            }
        }
    }
    for (const auto& [name, versions] : files) {
        if (versions[0] != versions[1]) {
            changes.push_back({folder.prefix + std::string(name), versions[0], versions[1]});
        }
    }
    for (const auto& [name, ids] : folders) {
        if (ids[0] != ids[1]) {
            deeper.push_back({folder.prefix + std::string(name) + "/", ids[0], ids[1]});
        }
    }
}
}  // namespace

Result<std::vector<FileChange>>
treeDifference(Snapshots& snapshots, const ObjectId& before, const ObjectId& after)
{
    std::vector<FileChange> changes;
    std::vector<FolderPair> level;
    if (before != after) {
        level.push_back({{}, before, after});
    }
    while (!level.empty()) {
        std::vector<ObjectId> ids;
        for (const FolderPair& folder : level) {
            ids.insert(ids.end(), {folder.before, folder.after});
        }
        TRY_ASSIGN(const auto trees, snapshots.readTrees(ids));
        std::vector<FolderPair> deeper;
        for (std::size_t i = 0; i < level.size(); ++i) {
            compare(level[i], {trees[2 * i], trees[2 * i + 1]}, changes, deeper);
        }
        level = std::move(deeper);
    }
    std::sort(changes.begin(), changes.end(), [](const FileChange& a, const FileChange& b) {
        return a.path < b.path;
    });
    return changes;
}

const FileChange* changeAt(const std::vector<FileChange>& changes, const RepoPath& path)
{
    const auto found = std::find_if(
        changes.begin(), changes.end(), [&](const auto& change) { return change.path == path; });
    return found == changes.end() ? nullptr : &*found;
}
}  // namespace rope
