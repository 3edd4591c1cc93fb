// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/sides.h"
#include "core/system/snapshots.h"

#include <optional>
#include <set>
#include <span>
#include <stop_token>
#include <vector>

namespace rope {
/// A folder that only one of three trees has.
struct NewFolder
{
    RepoPath path;
    ObjectId tree;
};

/// How the base became one side.
struct TreeChanges
{
    std::vector<FileChange> files;      ///< Files, links and submodules, by path (bytewise).
    std::set<RepoPath> goneFolders;     ///< Folders of the base that the side has no more.
    std::vector<NewFolder> newFolders;  ///< That were left unread: none of their files is told.
};

/// What to do with folders that only one side has.
enum class NewFolders {
    read,
    /// Left unread where no file in them can have to do with another: neither side has deleted
    /// anything, so that nothing was renamed, and the other side has no file of that name.
    leave,
};

/// Returns what differs between the base and either side, all three walked side by side, each folder
/// compared while others are read. Folders that are the same in all three are not read.
/// Errors: those of Snapshots::readTrees; `corrupt` for folders nested deeper than kMostFolders;
/// `cancelled`.
[[nodiscard]] Result<PerSide<TreeChanges>> treeChanges(Snapshots& repository,
                                                       const ThreeTrees& trees,
                                                       const std::stop_token& stop = {},
                                                       NewFolders newFolders = NewFolders::read);

/// Whether all names in some folders, and in those below, can be checked out. Their files are not told, so
/// this costs far less than treeChanges(). Errors: as there.
[[nodiscard]] Result<bool> allCanBeCheckedOut(Snapshots& repository,
                                              std::span<const NewFolder> folders,
                                              const std::stop_token& stop = {});

/// Reads the folders in which some trees differ, all in one go, so that joins of them find them read.
/// Errors: as treeChanges().
[[nodiscard]] Status
readAhead(Snapshots& repository, std::span<const ObjectId> trees, const std::stop_token& stop = {});

/// Deeper nesting than this is no source tree but an attack, or an object that contains itself.
inline constexpr std::size_t kMostFolders = 2'048;

/// Whether a tree holds a file or folder at a path. A null id is an empty tree.
[[nodiscard]] Result<bool> holdsPath(Snapshots& repository, ObjectId tree, const RepoPath& path);
}  // namespace rope
