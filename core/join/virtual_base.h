// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/history/commit_graph.h"
#include "core/snapshot/overlay.h"
#include "core/snapshot/tree_join.h"

#include <span>

namespace rope {
/// The tree that several best common ancestors are joined to, so that there is one base to join over.
struct VirtualBase
{
    ObjectId tree;  ///< Held by the overlay, unless a base has the same.
    std::vector<TwinPaths> twins;
    std::map<RepoPath, RepoPath> madeUp;  ///< See TreeJoinOptions.
};

/// Joins best common ancestors, oldest first, over their own bases, to any depth. Nothing is asked:
/// texts that clash stand in it between markers, longer by two for each level; a file deleted on one
/// side and edited on the other, binary or of different kinds is as its own base has it; a file that
/// got two names has both. No folder renames are followed. Without a common commit below, the base
/// is empty. Source: the recursive
/// strategy as git-merge(1) describes it.
/// Errors: those of reading; `cancelled`. REQUIRES: at least two bases, all in the graph's history.
[[nodiscard]] Result<VirtualBase> joinBases(History& history,
                                            Overlay& snapshots,
                                            CommitGraph& graph,
                                            std::span<const ObjectId> bases,
                                            const std::shared_ptr<MergeRules>& rules,
                                            const ProgressSink& progress = {},
                                            const std::stop_token& stop = {});
}  // namespace rope
