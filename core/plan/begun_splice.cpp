// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_begun_rebase.cpp.
#include "core/plan/begun_splice.h"

#include "core/base/assert.h"

namespace rope {
namespace {
SpliceKind kindOf(UnfinishedWork begun)
{
    switch (begun) {
    case UnfinishedWork::rebase:
        return SpliceKind::rebase;
    case UnfinishedWork::cherryPick:
        return SpliceKind::pick;
    case UnfinishedWork::revert:
        return SpliceKind::revert;
    case UnfinishedWork::merge:
    case UnfinishedWork::none:
    case UnfinishedWork::patches:
    case UnfinishedWork::unknown:
        break;
    }
    return SpliceKind::merge;
}
}  // namespace

SplicePlan planToFinish(const BegunJoin& begun, const std::string& stamp)
{
    ROPE_ASSERT(begun.obstacle == BegunObstacle::none, "it is taken over");
    SplicePlan plan;
    plan.kind = kindOf(begun.kind);
    plan.oursRef = begun.line;
    plan.oursName = begun.lineName;
    plan.theirsName = begun.theirsName.empty() ? begun.theirs.brief() : begun.theirsName;
    plan.ours = begun.lineTip;
    plan.theirs = plan.kind == SpliceKind::rebase ? begun.ours : begun.theirs;
    plan.workChoice = WorkChoice::carry;
    plan.begun = stamp;
    return plan;
}

bool isToFinish(const SplicePlan& plan, const BegunJoin& begun)
{
    if (plan.begun.empty() || begun.obstacle != BegunObstacle::none) {
        return false;
    }
    const SplicePlan now = planToFinish(begun, plan.begun);
    return now.kind == plan.kind && now.oursRef == plan.oursRef && now.ours == plan.ours
           && now.theirs == plan.theirs;
}

Result<RebaseScope> scopeOfBegun(Place& place, const BegunJoin& begun)
{
    RebaseScope scope;
    const LaidAs as = begun.kind == UnfinishedWork::revert       ? LaidAs::reverted
                      : begun.kind == UnfinishedWork::cherryPick ? LaidAs::picked
                                                                 : LaidAs::rewritten;
    std::vector<ObjectId> ids = begun.next;
    if (begun.kind == UnfinishedWork::rebase) {
        ids.insert(ids.begin(), begun.theirs);
    }
    const ObjectId ground = begun.kind == UnfinishedWork::rebase ? begun.ours : begun.theirs;
    TRY_ASSIGN(auto onto, place.readCommits({&ground, 1}));
    scope.onto = std::move(onto.front());
    TRY_ASSIGN(auto commits, place.readCommits(ids));
    for (Commit& commit : commits) {
        ObjectId baseTree;
        if (!commit.parents.empty()) {
            TRY_ASSIGN(const auto parents, place.readCommits({&commit.parents.front(), 1}));
            baseTree = parents.front().tree;
        }
        scope.commits.push_back({std::move(commit), baseTree, as});
    }
    if (begun.kind != UnfinishedWork::rebase) {
        scope.carried = scope.commits.size();
    }
    return scope;
}
}  // namespace rope
