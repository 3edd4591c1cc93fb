// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice_wishes.cpp.
#include "core/plan/splice_wishes.h"

#include "core/base/assert.h"

#include <utility>

namespace rope {
namespace {
SplicePlan planOf(SpliceKind kind, std::string id, const Standing& ours)
{
    SplicePlan plan;
    plan.kind = kind;
    plan.id = std::move(id);
    plan.oursRef = ours.ref;
    plan.oursName = ours.name;
    plan.ours = ours.tip;
    return plan;
}
}  // namespace

SplicePlan planToJoin(
    std::string id, const Standing& into, const Branch& theirs, SpliceKind kind, WorkChoice work)
{
    SplicePlan plan = planOf(kind, std::move(id), into);
    plan.theirsName = theirs.name;
    plan.theirs = theirs.tip;
    plan.workChoice = work;
    return plan;
}

SplicePlan planToCarryOn(std::string id,
                         const SplicePlan& earlier,
                         const Branch& own,
                         bool isCheckedOut,
                         const Branch* theirs)
{
    SplicePlan plan = earlier;
    plan.id = std::move(id);
    plan.begun.clear();
    if (!isCheckedOut) {
        plan.workChoice = WorkChoice::filesStay;
    } else if (plan.workChoice == WorkChoice::filesStay) {
        plan.workChoice = WorkChoice::carry;
    }
    if (earlier.replaced.isNull() || own.tip != earlier.expected()) {
        plan.ours = own.tip;
        plan.replaced = {};
        plan.above = {};
    }
    if (theirs != nullptr) {
        plan.theirs = theirs->tip;
    }
    return plan;
}

SplicePlan planToReopen(std::string id,
                        const SplicePlan& recorded,
                        const ObjectId& made,
                        const ObjectId& tip,
                        bool onTop,
                        WorkChoice work)
{
    SplicePlan plan = recorded;
    plan.id = std::move(id);
    if (onTop) {
        plan.kind =
            recorded.laysOwnCommits() ? SpliceKind::rebaseCorrection : SpliceKind::correction;
    }
    plan.replaced = made;
    plan.above = tip == made ? ObjectId{} : tip;
    plan.workChoice = work;
    plan.work = {};
    plan.begun.clear();
    return plan;
}

SplicePlan planToReopenMerge(std::string id,
                             const Standing& into,
                             const Commit& merge,
                             bool staysThere,
                             const ObjectId& above,
                             WorkChoice work)
{
    ROPE_ASSERT(merge.parents.size() > 1, "a merge has two parents");
    SplicePlan plan =
        planOf(staysThere ? SpliceKind::correction : SpliceKind::merge, std::move(id), into);
    plan.ours = merge.parents[0];
    plan.theirs = merge.parents[1];
    plan.theirsName = merge.parents[1].brief();
    plan.replaced = merge.id;
    plan.above = above;
    plan.workChoice = work;
    return plan;
}

SplicePlan planToTakeOut(std::string id,
                         const SplicePlan& recorded,
                         const ObjectId& made,
                         const ObjectId& tip,
                         WorkChoice work)
{
    SplicePlan plan =
        planOf(SpliceKind::revert, std::move(id), {recorded.oursRef, recorded.oursName, tip, true});
    plan.theirsName = recorded.kind == SpliceKind::merge ? recorded.theirsName : made.brief();
    plan.theirs = made;
    plan.workChoice = work;
    return plan;
}

SplicePlan planToRoll(std::string id,
                      const SplicePlan& recorded,
                      const ObjectId& recordedAs,
                      bool forward,
                      WorkChoice work)
{
    const ObjectId before = recorded.expected();
    SplicePlan plan = planOf(forward ? SpliceKind::rollForward : SpliceKind::rollBack,
                             std::move(id),
                             {recorded.oursRef, recorded.oursName, recordedAs, true});
    plan.ours = forward ? before : recordedAs;
    plan.theirs = forward ? recordedAs : before;
    plan.theirsName = recorded.theirsName;
    plan.workChoice = work;
    return plan;
}

SplicePlan planToSwitch(std::string id, const Standing& from, const Branch& to)
{
    return planToJoin(std::move(id), from, to, SpliceKind::switchLine, WorkChoice::carry);
}

SplicePlan planToFollow(std::string id, const Branch& own, const Branch* followed)
{
    return planToJoin(std::move(id),
                      {own.ref, own.name, own.tip, true},
                      followed == nullptr ? Branch{} : *followed,
                      SpliceKind::fastForward,
                      WorkChoice::carry);
}

SplicePlan
planToBringBack(std::string id, const Standing& now, const ObjectId& work, std::string name)
{
    SplicePlan plan = planOf(SpliceKind::bringBack, std::move(id), now);
    plan.oursName = std::move(name);
    plan.ours = work;
    plan.theirsName = now.name;
    plan.theirs = now.tip;
    return plan;
}

SplicePlan planToCommit(std::string id, const Standing& now)
{
    SplicePlan plan = planOf(SpliceKind::ownCommit, std::move(id), now);
    plan.theirsName = now.name;
    plan.theirs = now.tip;
    return plan;
}
}  // namespace rope
