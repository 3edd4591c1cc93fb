// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"
#include "core/system/begun_join.h"

#include <memory>

namespace rope {
class Place;

/// Part of the port: the checked-out place, and what others have begun there.
class Checkout
{
public:
    virtual ~Checkout() = default;

    /// What another program began here and has not finished; nothing is touched.
    virtual Result<std::optional<BegunJoin>> begunJoin() = 0;
    /// What stands in the files of it. Runs the place's own filters: a person asked for it.
    /// Errors: `notFound` where nothing is begun.
    virtual Result<BegunFiles> begunFiles() = 0;
    /// Files that differ from the last commit, by path; untracked ones too, ignored ones and those of a
    /// begun merge not.
    /// A file that only a program of the folder's own configuration could compare counts as changed
    /// unless that program is allowed.
    virtual Result<std::vector<UncommittedFile>> uncommittedFiles() = 0;
    /// Uncommitted work on tracked files as a commit that nothing names: its tree holds the files as
    /// they are, its first parent is the last commit, its second one holds what is staged (as
    /// git-stash(1) describes it). Null: there is none. Nothing here is touched. `message` says what
    /// it is. Files that belong to a begun join count as the last commit has them.
    /// Errors: `stale` while something is half-joined and nothing tells what began it.
    virtual Result<ObjectId> saveWork(const std::string& message) = 0;
    /// Moves files that are not tracked out of the way, each beside its place under a free name.
    /// Gives the new names, in the order asked. Errors: `io`; what was moved before stays so.
    virtual Result<std::vector<RepoPath>> keepBeside(const std::vector<RepoPath>& paths) = 0;
    /// Commands that the repository's own configuration names, that looking would need, and that
    /// nobody has allowed: what was left out since this was asked last.
    virtual Result<std::vector<std::string>> programsLeftOut() = 0;
    /// The repository that is checked out at a submodule's path. Errors: `notFound`.
    virtual Result<std::unique_ptr<Place>> openSubmodule(const RepoPath& path) = 0;
    /// Folders in which entries come, go or change when anybody works here: lines of work, the index,
    /// the working tree's root. For a watcher; what changed is found by asking again.
    virtual Result<std::vector<std::string>> watchedFolders() = 0;
    /// A folder of our own inside the repository, which is made if need be.
    virtual Result<std::string> privateFolder() = 0;
    /// What the working tree is beside others; reads nothing but names.
    [[nodiscard]] virtual WorkingTreeKind workingTreeKind() const = 0;
};
}  // namespace rope
