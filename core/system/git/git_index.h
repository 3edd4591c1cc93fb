// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/git/paths_on_disk.h"
#include "core/system/git/recording_state.h"

#include <map>

namespace rope {
/// The index of a checked-out repository, changed entry by entry: marks and entries that nobody named stay as
/// they are. The caller holds the WriterLock. Errors of all calls: `busy`, `io`, `systemFailed`.
class GitIndex
{
public:
    explicit GitIndex(GitPlace& place)
        : m_place(place)
    {
    }

    /// The tree that the index holds. Errors: `systemFailed` when it holds none.
    Result<ObjectId> tree();
    /// Brings the index to `tree` wherever it holds something else, and gives the paths. Files stay as
    /// they are, and so do the marks of all other entries.
    Result<std::vector<RepoPath>> stage(const ObjectId& tree);
    /// Makes the entries of these paths what `committed` had there, where it had something.
    Status unstage(const std::vector<FileChange>& changes);
    /// Makes the entries of touched paths what their target is; `target` is that of all paths.
    Status write(const TouchedPaths& paths, const ObjectId& target);
    /// Makes these half-joined entries what `tree` has there.
    Status settle(const std::vector<RepoPath>& paths, const ObjectId& tree);
    /// Makes these, which stand in the files, entries that are added with intent only.
    Status intend(const std::vector<RepoPath>& paths);
    /// Sets the marks that entries had before.
    Status restoreMarks(const PathsBefore& before);
    /// Lets git look at the files again. It only says which ones differ, which is no failure.
    Status refresh();

    /// Keeps the index as it is, half-joined entries and all, so that it can be put back.
    Status keep();
    /// Puts back what keep() kept. Safe to repeat, so what was kept stays until nothing can call for
    /// it any more: see forgetKept(), or the next keep().
    Status putBack();
    void forgetKept();

    /// Removes the lock file of a git that was killed while it wrote our index, if it is certain that
    /// nobody works here: it is no older than `since` and no git process stands in this repository.
    void removeLeftLock(std::int64_t since);

private:
    [[nodiscard]] std::string keptFile() const;
    [[nodiscard]] Result<std::map<RepoPath, std::string>> entries() const;
    Status update(const std::string& request);

    GitPlace& m_place;
};

/// A list of paths as git takes it with -z.
[[nodiscard]] std::string nulSeparated(const std::vector<RepoPath>& paths);
}  // namespace rope
