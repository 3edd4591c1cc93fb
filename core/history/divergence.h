// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/history/commit_graph.h"

#include <span>
#include <stop_token>
#include <string_view>
#include <vector>

namespace rope {
/// How two commits lie to each other. The names (nameOf) are part of the command line's JSON.
enum class Relation {
    same,
    oursAhead,    ///< Theirs is contained in ours: nothing to do.
    theirsAhead,  ///< Ours is contained in theirs: a fast-forward.
    diverged,
    unrelated,  ///< They have no commit in common.
};

[[nodiscard]] std::string_view nameOf(Relation relation);

struct Divergence
{
    Relation relation = Relation::same;
    std::vector<ObjectId> bases;         ///< All best common ancestors, by id.
    std::vector<CommitLink> oursOnly;    ///< Newest first.
    std::vector<CommitLink> theirsOnly;  ///< Newest first.
};

/// Returns where two commits parted and what each has that the other has not. History is read
/// only until the answer is certain, whatever the committers' clocks say (see the source for how far
/// that is without a commit graph).
/// Source: the painting of ancestors that git's documentation describes for merge-base: both colours
/// flow down from the tips, a commit that gets both is common, what is below it is stale.
/// Errors: those of History::commitsFrom and its stream; `cancelled`.
[[nodiscard]] Result<Divergence> findDivergence(History& history,
                                                const ObjectId& ours,
                                                const ObjectId& theirs,
                                                const std::stop_token& stop = {});

/// As above, over a graph that is kept for further questions. REQUIRES: it reads from both tips.
[[nodiscard]] Result<Divergence> findDivergence(CommitGraph& graph,
                                                const ObjectId& ours,
                                                const ObjectId& theirs,
                                                const std::stop_token& stop = {});

/// Returns all best common ancestors of two sets of commits, each standing for one commit that has
/// them as parents: the oldest first, equal times by id. Errors: as findDivergence().
/// REQUIRES: all are in the graph's history.
[[nodiscard]] Result<std::vector<ObjectId>> findBases(CommitGraph& graph,
                                                      std::span<const ObjectId> ours,
                                                      std::span<const ObjectId> theirs,
                                                      const std::stop_token& stop = {});
}  // namespace rope
