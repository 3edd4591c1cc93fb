// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_merge_reading.cpp.
#include "core/join/octopus.h"

#include "core/history/divergence.h"
#include "core/join/join.h"
#include "core/join/result_tree.h"
#include "core/join/virtual_base.h"

namespace rope {
Result<std::optional<ObjectId>> octopusTree(Place& place,
                                            Overlay& snapshots,
                                            CommitGraph& graph,
                                            std::span<const ObjectId> parents,
                                            const std::stop_token& stop)
{
    TRY_ASSIGN(const auto commits, place.readCommits(parents));
    const auto rules = std::make_shared<MergeRules>();
    ObjectId tree = commits.front().tree;
    for (std::size_t i = 1; i < parents.size(); ++i) {
        TRY_ASSIGN(const auto bases,
                   findBases(graph, parents.first(i), parents.subspan(i, 1), stop));
        if (bases.empty()) {
            return std::optional<ObjectId>{};
        }
        JoinInputs inputs{{}, {tree, {}, {}}, {commits[i].tree, {}, {}}, {true, true, {}, rules}};
        if (bases.size() == 1) {
            TRY_ASSIGN(const auto base, place.readCommits(bases));
            inputs.base.tree = base.front().tree;
        } else {
            TRY_ASSIGN(VirtualBase base,
                       joinBases(place, snapshots, graph, bases, rules, {}, stop));
            inputs.base.tree = base.tree;
            inputs.options.twins = std::move(base.twins);
            inputs.options.madeUp = std::move(base.madeUp);
        }
        TRY_ASSIGN(const Join join, joinSnapshots(snapshots, std::move(inputs), {}, stop));
        if (join.openCount() > 0) {
            return std::optional<ObjectId>{};
        }
        TRY_ASSIGN(const ResultSnapshot result, resultTree(join, {}));
        TRY_ASSIGN(tree, snapshots.holdResult(result));
    }
    return std::optional(tree);
}
}  // namespace rope
