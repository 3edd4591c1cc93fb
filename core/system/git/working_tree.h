// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/git/git_index.h"
#include "core/system/git/recording_state.h"

namespace rope {
/// What to do with a path that holds neither what stood there before nor the result.
enum class Strangers {
    refuse,  ///< It is somebody's work: touch nothing at all.
    setAside,  ///< A hook made it just now: keep a copy in the private folder, then bring the path back.
};

/// The files and the index of a checked-out repository, brought to a result and back again.
/// Looks at every path before it writes any, so that nothing but what a recording itself has put
/// there is ever overwritten. The caller holds the WriterLock.
class WorkingTree
{
public:
    explicit WorkingTree(GitPlace& place);

    /// What must be remembered of the paths that `changes` touch. Errors: `stale` (Reason::inTheWay)
    /// with the paths as subject where files that are not tracked, or edits of files that git was told
    /// not to look at, would be lost.
    Result<PathsBefore> lookBefore(const std::vector<FileChange>& changes);

    /// Brings index and files from one tree to another, as a switch of branches would.
    /// Errors: `busy`, `stale`, `io`; then part of the files may have been changed: see goBack().
    Status bring(const ObjectId& from, const ObjectId& to);

    /// Brings index and files from wherever a bring(ours, result) was cut off, or what happened after
    /// it, to `target`: ours, or where the branch stands now. Paths that neither differs in are not
    /// looked at. Gives the paths whose content was set aside.
    /// Errors: `stale` (Reason::changedSince) with the first stranger as subject, nothing touched;
    /// `busy`, `io`: safe to repeat.
    Result<std::vector<RepoPath>>
    goBack(const RecordingState& state, const ObjectId& target, Strangers strangers);

    /// Makes these, as far as they are there and the last commit has no such file, files that are added
    /// with intent only.
    Status intend(const std::vector<RepoPath>& paths);

    /// Takes uncommitted work off the files and the index, which hold `ours` afterwards.
    /// Errors: as goBack(); safe to repeat.
    Status takeOff(const ObjectId& work, const ObjectId& ours);

    /// Brings the files from `committed`, which stays staged, to `after`; files that only `after` has
    /// are staged as added. Errors: as goBack(); safe to repeat.
    Status carry(const ObjectId& committed, const ObjectId& after);

private:
    Result<TouchedPaths> touchedPaths(const RecordingState& state, const ObjectId& target);
    Result<std::vector<RepoPath>> setStrangersAside(const TouchedPaths& paths);
    Status removeLeftovers(const TouchedPaths& paths, const PathsBefore& before);
    Status writeFiles(const TouchedPaths& paths, const PathsBefore& before);
    void removeEmptyFolders(const RepoPath& above) const;

    GitPlace& m_place;
    PathsOnDisk m_disk;
    GitIndex m_index;
};
}  // namespace rope
