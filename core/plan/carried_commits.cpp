// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_carried_commits.cpp.
#include "core/plan/carried_commits.h"

#include "core/history/divergence.h"

#include <algorithm>

namespace rope {
namespace {
/// What stands upon `below`, oldest first.
Result<std::vector<Commit>>
commitsBetween(Place& place, const Commit& below, const Commit& above, const std::stop_token& stop)
{
    TRY_ASSIGN(const Divergence apart, findDivergence(place, above.id, below.id, stop));
    if (apart.relation != Relation::oursAhead) {
        return Error{ErrorCode::stale, above.id.brief(), below.id.hex(), Reason::lineMoved};
    }
    std::vector<ObjectId> ids;
    for (const CommitLink& link : parentsFirst(apart.oursOnly)) {
        ids.push_back(link.id);
    }
    return place.readCommits(ids);
}
}  // namespace

bool holdsMerge(const std::vector<CommitLink>& commits)
{
    return std::any_of(commits.begin(), commits.end(), [](const CommitLink& link) {
        return link.parents.size() > 1;
    });
}

Status addCarriedCommits(Place& place,
                         const SplicePlan& plan,
                         RebaseScope& scope,
                         const std::stop_token& stop)
{
    if (plan.above.isNull()) {
        return ok();
    }
    const ObjectId ends[] = {plan.replaced, plan.above};
    TRY_ASSIGN(const auto read, place.readCommits(ends));
    const Commit& below = read[0];
    const Commit& above = read[1];
    if (!plan.laysOwnCommits() && scope.commits.empty()) {
        scope.onto = below;
    }
    if (plan.isCorrection()) {
        scope.commits.push_back({above, below.tree});
        ++scope.carried;
        return ok();
    }
    TRY_ASSIGN(auto commits, commitsBetween(place, below, above, stop));
    ObjectId baseTree = below.tree;
    for (Commit& commit : commits) {
        if (commit.parents.size() > 1) {
            return Error{ErrorCode::unsupported, commit.id.brief(), {}, Reason::mergeAbove};
        }
        const ObjectId tree = commit.tree;
        scope.commits.push_back({std::move(commit), baseTree});
        baseTree = tree;
    }
    scope.carried = commits.size();
    return ok();
}
}  // namespace rope
