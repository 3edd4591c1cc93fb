// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice_session.cpp.
#include "desktop/facts/behind.h"

#include "core/plan/begun_splice.h"

#include <algorithm>

namespace rope {
namespace {
/// Whether commits that came to theirs belong into it: what is recorded anew joins what was joined before.
bool followsTheirs(const SplicePlan& plan)
{
    return plan.replaced.isNull() && factsOf(plan.kind).followsTheirs;
}
}  // namespace

Behind behindOf(const SplicePlan& plan, const SurveyFacts& facts)
{
    if (!plan.begun.empty()) {
        return facts.begun && isToFinish(plan, *facts.begun) ? Behind::no : Behind::begunEnded;
    }
    const Branch* own = facts.branch(plan.oursRef);
    if (own == nullptr) {
        return Behind::oursDeleted;
    }
    const bool staysElsewhere = plan.workChoice == WorkChoice::filesStay;
    const bool isCheckedOut = facts.standing.ref == plan.oursRef;
    if (staysElsewhere && isCheckedOut) {
        return Behind::oursCheckedOut;
    }
    if (!staysElsewhere && !isCheckedOut) {
        return Behind::onAnotherLine;
    }
    if (own->tip != plan.expected()) {
        return Behind::oursMoved;
    }
    const bool hasMoved =
        followsTheirs(plan)
        && std::any_of(facts.branches.begin(), facts.branches.end(), [&](const Branch& branch) {
               return branch.name == plan.theirsName && branch.tip != plan.theirs;
           });
    return hasMoved ? Behind::theirsMoved : Behind::no;
}
}  // namespace rope
