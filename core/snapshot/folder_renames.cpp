// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_renames.cpp and tst_forecast.cpp.
#include "core/snapshot/folder_renames.h"

#include "core/snapshot/repo_paths.h"

#include <algorithm>

namespace rope {
namespace {
using Votes = std::map<RepoPath, std::map<RepoPath, int>>;

/// a/b/c/file -> x/y/c/file speaks for a/b/c -> x/y/c and for a/b -> x/y, not for a -> x.
void vote(const Rename& rename, const std::set<RepoPath>& contested, Votes& votes)
{
    RepoPath from = folderOfPath(rename.from);
    RepoPath to = folderOfPath(rename.to);
    while (!from.empty() && from != to) {
        if (contested.contains(from)) {
            ++votes[from][to];
        }
        if (to.empty() || nameOfPath(from) != nameOfPath(to)) {
            break;
        }
        from = folderOfPath(from);
        to = folderOfPath(to);
    }
}
}  // namespace

RepoPath FolderRenames::folderAbove(const RepoPath& path) const
{
    for (RepoPath folder = folderOfPath(path); !folder.empty(); folder = folderOfPath(folder)) {
        if (to.contains(folder) || split.contains(folder)) {
            return folder;
        }
    }
    return {};
}

RepoPath FolderRenames::followed(const RepoPath& path, const RepoPath& folder) const
{
    return joinPath(to.at(folder), path.substr(folder.size() + 1));
}

std::set<RepoPath> contestedFolders(const std::set<RepoPath>& gone,
                                    const std::vector<FileChange>& otherSide)
{
    std::set<RepoPath> contested;
    for (const FileChange& change : otherSide) {
        if (!change.before && change.after) {
            const RepoPath folder = folderOfPath(change.path);
            if (gone.contains(folder)) {
                contested.insert(folder);
            }
        }
    }
    return contested;
}

bool liesInAny(const RepoPath& path, const std::set<RepoPath>& folders)
{
    for (RepoPath folder = folderOfPath(path); !folder.empty(); folder = folderOfPath(folder)) {
        if (folders.contains(folder)) {
            return true;
        }
    }
    return false;
}

FolderRenames folderRenames(const std::vector<Rename>& renames, const std::set<RepoPath>& contested)
{
    Votes votes;
    for (const Rename& rename : renames) {
        vote(rename, contested, votes);
    }
    FolderRenames folders;
    for (const auto& [from, targets] : votes) {
        int most = 0;
        for (const auto& [to, count] : targets) {
            most = std::max(most, count);
        }
        std::vector<RepoPath> leading;
        for (const auto& [to, count] : targets) {
            if (count == most) {
                leading.push_back(to);
            }
        }
        if (leading.size() == 1) {
            folders.to[from] = leading.front();
        } else {
            folders.split[from] = std::move(leading);
        }
    }
    return folders;
}
}  // namespace rope
