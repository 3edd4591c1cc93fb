// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/git/git_place.h"
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

    /// The tree that the index holds. Errors: `systemFailed` when it holds none.
    Result<ObjectId> stagedTree();

    /// Brings index and files from wherever a bring(ours, result) was cut off, or what happened after
    /// it, to `target`: ours, or where the branch stands now. Paths that neither differs in are not
    /// looked at. Gives the paths whose content was set aside.
    /// Errors: `stale` (Reason::changedSince) with the first stranger as subject, nothing touched;
    /// `busy`, `io`: safe to repeat.
    Result<std::vector<RepoPath>>
    goBack(const RecordingState& state, const ObjectId& target, Strangers strangers);

    /// Brings the index to `tree` wherever it holds something else, and gives the paths. Files stay as
    /// they are, and so do the marks of all other entries.
    Result<std::vector<RepoPath>> stage(const ObjectId& tree);

    /// Makes these, as far as they are there and the last commit has no such file, files that are added
    /// with intent only.
    Status intend(const std::vector<RepoPath>& paths);

    /// Takes uncommitted work off the files and the index, which hold `ours` afterwards.
    /// Errors: as goBack(); safe to repeat.
    Status takeOff(const ObjectId& work, const ObjectId& ours);

    /// Brings the files from `committed`, which stays staged, to `after`; files that only `after` has
    /// are staged as added. Errors: as goBack(); safe to repeat.
    Status carry(const ObjectId& committed, const ObjectId& after);

    /// Keeps the index as it is, half-joined entries and all, so that it can be put back. `busy`, `io`.
    Status keepIndex();
    /// Puts back what keepIndex() kept. Safe to repeat, so what was kept stays until nothing can call for
    /// it any more: see forgetKeptIndex(), or the next keepIndex(). Errors: `busy`, `io`.
    Status putIndexBack();
    void forgetKeptIndex();
    /// Makes these half-joined entries what `tree` has there.
    Status settle(const std::vector<RepoPath>& paths, const ObjectId& tree);

    /// Removes the lock file of a git that was killed while it wrote our index, if it is certain that
    /// nobody works here: it is no older than `since` and no git process stands in this repository.
    void removeLeftLock(std::int64_t since);

private:
    enum class Shape { missing, file, symlink, folder, other };
    struct Present
    {
        Shape shape = Shape::missing;
        bool isExecutable = false;
        std::uint64_t size = 0;
    };
    struct Touched
    {
        RepoPath path;
        std::optional<FileVersion> ours;
        std::optional<FileVersion> result;
        std::optional<FileVersion> target;
        Present present;
        ObjectId raw;      ///< Of a file's bytes as they are, or a link's target.
        ObjectId cleaned;  ///< Of a file's bytes as git would store them.
        bool isStranger = false;
    };
    using TouchedPaths = std::vector<Touched>;

    [[nodiscard]] std::string keptIndex() const;
    [[nodiscard]] std::string fullPath(const RepoPath& path) const;
    [[nodiscard]] Present look(const RepoPath& path) const;
    [[nodiscard]] std::string bytesAt(const RepoPath& path, const Present& present) const;
    Result<TouchedPaths> touchedPaths(const RecordingState& state, const ObjectId& target);
    Status identify(TouchedPaths& paths);
    [[nodiscard]] bool holds(const Touched& path, const std::optional<FileVersion>& version) const;
    [[nodiscard]] bool isCutOff(const Touched& path, const std::optional<FileVersion>& version);
    Status findStrangers(TouchedPaths& paths);
    [[nodiscard]] bool hasForeignFiles(const RepoPath& folder, const TouchedPaths& paths) const;
    Result<std::vector<RepoPath>> setStrangersAside(const TouchedPaths& paths);
    Status removeLeftovers(const TouchedPaths& paths, const PathsBefore& before);
    [[nodiscard]] Result<std::map<RepoPath, std::string>> indexEntries() const;
    Status writeIndex(const TouchedPaths& paths, const ObjectId& target);
    Status updateIndex(const std::string& request);
    Status refreshIndex();
    Status writeFiles(const TouchedPaths& paths, const PathsBefore& before);
    Status restoreMarks(const PathsBefore& before);
    void removeEmptyFolders(const RepoPath& above) const;

    GitPlace& m_place;
};
}  // namespace rope
