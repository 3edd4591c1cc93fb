// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/git/git_place.h"

namespace rope {
/// What stands at a path of the working tree.
struct OnDisk
{
    enum class Shape { missing, file, symlink, folder, other };
    Shape shape = Shape::missing;
    bool isExecutable = false;
    std::uint64_t size = 0;
};

/// A path that a recording touches: what it may hold by right, and what stands there.
struct TouchedPath
{
    RepoPath path;
    std::optional<FileVersion> ours;
    std::optional<FileVersion> result;
    std::optional<FileVersion> target;
    OnDisk present;
    ObjectId raw;      ///< Of a file's bytes as they are, or a link's target.
    ObjectId cleaned;  ///< Of a file's bytes as git would store them.
    bool isStranger = false;
};
using TouchedPaths = std::vector<TouchedPath>;

/// Looks at paths of a checked-out repository, and changes nothing.
class PathsOnDisk
{
public:
    explicit PathsOnDisk(GitPlace& place)
        : m_place(place)
    {
    }

    [[nodiscard]] std::string fullPath(const RepoPath& path) const;
    /// Links on the way are not followed: what lies behind one is not in this working tree.
    [[nodiscard]] OnDisk look(const RepoPath& path) const;
    /// Reads what stands there: fills in `raw`, and `cleaned` where `raw` is none of the known versions.
    /// Errors: `systemFailed`, `io`.
    Status identify(TouchedPaths& paths);
    /// Whether a version stands there; nothing stands where there is none. After identify().
    [[nodiscard]] static bool holds(const TouchedPath& path,
                                    const std::optional<FileVersion>& version);
    /// Marks paths that hold neither a known version nor what writing one leaves when it is cut off.
    /// Errors: as identify().
    Status findStrangers(TouchedPaths& paths);
    /// Whether a folder holds files that none of the touched paths accounts for.
    [[nodiscard]] bool hasForeignFiles(const RepoPath& folder, const TouchedPaths& paths) const;

private:
    [[nodiscard]] std::string bytesAt(const RepoPath& path, const OnDisk& present) const;
    [[nodiscard]] bool isCutOff(const TouchedPath& path, const std::optional<FileVersion>& version);

    GitPlace& m_place;
};

/// The folder that a path lies in; empty at the top.
[[nodiscard]] RepoPath parentOf(const RepoPath& path);
}  // namespace rope
