// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/folder_renames.h"

namespace rope {
/// A version of a file, and where it stands in the tree it comes from.
struct PlacedVersion
{
    FileVersion version;
    RepoPath path;
    friend bool operator==(const PlacedVersion&, const PlacedVersion&) = default;
};

/// Why an entry needs a person whatever its contents are.
enum class Concern {
    none,
    renamedAndDeleted,  ///< `by` renamed it, the other side deleted it.
    renamedTwice,       ///< Both renamed it, differently; each name is an entry.
    renamedOntoAdded,   ///< As renamedAndDeleted, and the other side has a new file of this name.
    movedWithFolder,    ///< `by` put it into a folder that the other side renamed.
    splitFolder,        ///< `by` put it into a folder that the other side split.
    blockedFolder,      ///< As movedWithFolder, but it could not follow.
};

/// What stands at one path of the joined tree: a version of each side, followed through renames.
struct JoinEntry
{
    std::optional<PlacedVersion> base;
    PerSide<std::optional<PlacedVersion>> sides;
    /// Set where a side's version came onto this path by a rename while the other side put a file of
    /// its own here: what is to be joined into it first, the base and the other side's version of the
    /// file it was.
    struct Origin
    {
        PlacedVersion base;
        PlacedVersion other;
    };
    PerSide<std::optional<Origin>> origins;
    Concern concern = Concern::none;
    Side by = Side::ours;
    /// renamedTwice: the other name and the old one. The folder concerns: where it could go.
    std::vector<RepoPath> otherPaths;

    [[nodiscard]] bool isEmpty() const { return !base && !sides.ours && !sides.theirs; }
    /// Whether a side has anything else here than the base had, or has it from elsewhere.
    [[nodiscard]] bool isTouchedBy(Side side) const { return sides[side] != base; }
};

using JoinEntries = std::map<RepoPath, JoinEntry>;

/// Pairs what both sides have, following renames of files and of folders as far as `rules` say.
/// Paths that neither side touched are left out. Errors: those of reading; `cancelled`.
[[nodiscard]] Result<JoinEntries> pairEntries(Snapshots& repository,
                                              const ThreeTrees& trees,
                                              const PerSide<TreeChanges>& changes,
                                              const RenameRules& rules,
                                              const ProgressSink& progress = {},
                                              const std::stop_token& stop = {});
}  // namespace rope
