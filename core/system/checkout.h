// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"
#include "core/system/types.h"

#include <memory>

namespace rope {
class Place;

/// Part of the port: the checked-out place, and what others have begun there.
class Checkout
{
public:
    virtual ~Checkout() = default;

    virtual Result<UnfinishedWork> unfinishedWork() = 0;
    /// Files that differ from the last commit, by path; untracked ones too, ignored ones not.
    /// A file that only a program of the folder's own configuration could compare counts as changed
    /// unless that program is allowed.
    virtual Result<std::vector<UncommittedFile>> uncommittedFiles() = 0;
    /// Commands that the repository's own configuration names, that looking would need, and that
    /// nobody has allowed: what was left out.
    virtual Result<std::vector<std::string>> programsLeftOut() = 0;
    /// The repository that is checked out at a submodule's path. Errors: `notFound`.
    virtual Result<std::unique_ptr<Place>> openSubmodule(const RepoPath& path) = 0;
    /// Folders in which entries come, go or change when anybody works here: lines of work, the index,
    /// the working tree's root. For a watcher; what changed is found by asking again.
    virtual Result<std::vector<std::string>> watchedFolders() = 0;
    /// A folder of our own inside the repository, which is made if need be.
    virtual Result<std::string> privateFolder() = 0;
};
}  // namespace rope
