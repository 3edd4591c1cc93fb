// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_forecast.cpp.
#include "core/join/own_files.h"

#include "core/system/tree_difference.h"

namespace rope {
Result<std::set<RepoPath>> ownFiles(Place& place,
                                    std::span<const Commit> commits,
                                    const std::string& email,
                                    const std::stop_token& stop)
{
    std::set<RepoPath> files;
    std::size_t looked = 0;
    for (const Commit& commit : commits) {
        if (commit.author.email != email || commit.parents.size() > 1
            || looked == kMostOwnCommits) {
            continue;
        }
        ++looked;
        if (stop.stop_requested()) {
            return Error{ErrorCode::cancelled, {}, {}};
        }
        ObjectId before;
        if (!commit.parents.empty()) {
            TRY_ASSIGN(const auto parent, place.readCommits(commit.parents));
            before = parent.front().tree;
        }
        TRY_ASSIGN(const auto changes, treeDifference(place, before, commit.tree));
        for (const FileChange& change : changes) {
            files.insert(change.path);
        }
    }
    return files;
}
}  // namespace rope
