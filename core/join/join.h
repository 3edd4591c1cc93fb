// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/name_clashes.h"
#include "core/snapshot/overlay.h"
#include "core/snapshot/tree_join.h"

namespace rope {
/// One of the three that are joined: a state of all files, what it is called and who stands behind it.
struct Snapshot
{
    ObjectId tree;      ///< Null: no files.
    std::string label;  ///< For people; bytes, nearly always UTF-8.
    std::optional<Signature> by;
};

/// Three snapshots joined. It knows no commits, no lines of work and no system: a merge, one commit
/// of a rebase, or uncommitted work carried across are all this. A value, computed once.
struct Join : TreeJoin
{
    Snapshot base;
    Snapshot ours;
    Snapshot theirs;
    std::vector<NameClash> nameClashes;  ///< Names that the join brings too near each other.
    /// What is stored nowhere of what was joined: a base of several, the ground of a rebased commit.
    /// Null: there is no such thing.
    std::shared_ptr<const HeldObjects> held;

    [[nodiscard]] std::size_t regionCount() const;
    /// Questions about whole files.
    [[nodiscard]] std::size_t questionCount() const;
    /// Regions and questions together.
    [[nodiscard]] std::size_t openCount() const { return regionCount() + questionCount(); }
};

/// Whether an outcome of the join is about the path, by any of its names.
[[nodiscard]] bool isOfAnOutcome(const Join& join, const RepoPath& path);

/// The outcome of a file that is none of a join's own: see one_sided_file.h, found_file.h.
using OwnedOutcome = std::shared_ptr<const FileOutcome>;

/// The snapshots to be joined, and what is special about them.
struct JoinInputs
{
    Snapshot base;
    Snapshot ours;
    Snapshot theirs;
    TreeJoinOptions options;
    /// What is held in memory is stored with the result, so that answers may put it there. Otherwise
    /// they may not: it stands for what nobody ever had.
    bool storesHeld = false;
};

/// Joins three snapshots. `snapshots` may hold objects that are stored nowhere; the join keeps them.
/// Errors: those of reading; `cancelled`.
[[nodiscard]] Result<Join> joinSnapshots(Overlay& snapshots,
                                         JoinInputs inputs,
                                         const ProgressSink& progress = {},
                                         const std::stop_token& stop = {});
}  // namespace rope
