// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_logbook_round.cpp.
#include "core/plan/finished_merge.h"

#include "core/history/divergence.h"
#include "core/plan/carried_commits.h"

namespace rope {
Result<FinishedMerge> finishedMerge(Place& place,
                                    const ObjectId& merge,
                                    const std::string& line,
                                    const std::stop_token& stop)
{
    TRY_ASSIGN(const auto commits, place.readCommits({&merge, 1}));
    if (commits.front().parents.size() != 2) {
        return Error{ErrorCode::invalidInput, merge.brief(), {}};
    }
    TRY_ASSIGN(const ObjectId tip, place.resolveCommit(line));
    FinishedMerge found{commits.front(), false, {}};
    if (tip != merge) {
        TRY_ASSIGN(const Divergence since, findDivergence(place, tip, merge, stop));
        if (since.relation != Relation::oursAhead) {
            return Error{ErrorCode::stale, line, "now at " + tip.hex(), Reason::lineMoved};
        }
        found.above = tip;
        found.staysThere = holdsMerge(since.oursOnly);
    }
    TRY_ASSIGN(const auto branches, place.branches());
    std::vector<ObjectId> tips{merge};
    for (const Branch& branch : branches) {
        tips.push_back(branch.isShared ? branch.tip : merge);
    }
    TRY_ASSIGN(auto stream, place.commitsFrom(tips));
    CommitGraph graph(std::move(stream));
    for (const Branch& branch : branches) {
        if (branch.isShared && !found.staysThere) {
            TRY_ASSIGN(const Divergence apart, findDivergence(graph, branch.tip, merge, stop));
            found.staysThere =
                apart.relation == Relation::same || apart.relation == Relation::oursAhead;
        }
    }
    return found;
}
}  // namespace rope
