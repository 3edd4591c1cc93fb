// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/renames.h"

#include <map>

namespace rope {
/// Where the folders of one side went.
struct FolderRenames
{
    std::map<RepoPath, RepoPath> to;  ///< Old folder to the one that got most of its files.
    /// Folders whose files went evenly to several: the targets, by name.
    std::map<RepoPath, std::vector<RepoPath>> split;

    /// The nearest folder above `path` in `to` or `split`; empty if there is none.
    [[nodiscard]] RepoPath folderAbove(const RepoPath& path) const;
    /// Where `path` would stand if it had gone with `folder`. REQUIRES: `to` has it
    [[nodiscard]] RepoPath followed(const RepoPath& path, const RepoPath& folder) const;
};

/// Folders that one side emptied while the other added files directly in them: only these need to be
/// known. `gone`: folders of the base that the one side has no more.
[[nodiscard]] std::set<RepoPath> contestedFolders(const std::set<RepoPath>& gone,
                                                  const std::vector<FileChange>& otherSide);

/// Whether a path lies in one of some folders, at any depth.
[[nodiscard]] bool liesInAny(const RepoPath& path, const std::set<RepoPath>& folders);

/// Returns where contested folders went, judged by the renames of the files in them: a rename that
/// keeps the last parts of the path speaks for every folder above these parts.
[[nodiscard]] FolderRenames folderRenames(const std::vector<Rename>& renames,
                                          const std::set<RepoPath>& contested);
}  // namespace rope
