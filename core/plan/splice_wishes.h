// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice_plan.h"
#include "core/system/types.h"

namespace rope {
// What a person can wish, each as the plan that its splice begins with. Nothing is read here: where branches stand
// is given in. `id` names the new splice.

/// Theirs is brought into a branch.
[[nodiscard]] SplicePlan planToJoin(
    std::string id, const Standing& into, const Branch& theirs, SpliceKind kind, WorkChoice work);

/// A splice that was not recorded goes on from where both branches stand now. `theirs`: null where it is gone; then
/// it is joined as it was.
[[nodiscard]] SplicePlan planToCarryOn(std::string id,
                                       const SplicePlan& earlier,
                                       const Branch& own,
                                       bool isCheckedOut,
                                       const Branch* theirs);

/// A recorded splice is opened again. What is recorded then takes the place of `made`, its commit, or, `onTop`, is a
/// commit on top. `tip`: where the branch stands.
[[nodiscard]] SplicePlan planToReopen(std::string id,
                                      const SplicePlan& recorded,
                                      const ObjectId& made,
                                      const ObjectId& tip,
                                      bool onTop,
                                      WorkChoice work);

/// A merge of the history is opened again, whoever made it. `staysThere`: what is decided otherwise goes on top.
/// `above`: where the branch stands, if that is another commit.
/// REQUIRES: the merge has two parents
[[nodiscard]] SplicePlan planToReopenMerge(std::string id,
                                           const Standing& into,
                                           const Commit& merge,
                                           bool staysThere,
                                           const ObjectId& above,
                                           WorkChoice work);

/// What `made`, the commit of a recorded splice, brought in is taken out again.
[[nodiscard]] SplicePlan planToTakeOut(std::string id,
                                       const SplicePlan& recorded,
                                       const ObjectId& made,
                                       const ObjectId& tip,
                                       WorkChoice work);

/// The branch goes to where it stood before a recorded splice, or `forward` to what that had recorded.
[[nodiscard]] SplicePlan planToRoll(std::string id,
                                    const SplicePlan& recorded,
                                    const ObjectId& recordedAs,
                                    bool forward,
                                    WorkChoice work);

/// Another own branch is checked out.
[[nodiscard]] SplicePlan planToSwitch(std::string id, const Standing& from, const Branch& to);

/// A branch that is checked out by planToSwitch() moves forward to what it follows; null: it follows nothing, and
/// `theirs` of the plan is null.
[[nodiscard]] SplicePlan planToFollow(std::string id, const Branch& own, const Branch* followed);

/// Uncommitted work that is kept comes back to the files. `name`: of that work, for people.
[[nodiscard]] SplicePlan
planToBringBack(std::string id, const Standing& now, const ObjectId& work, std::string name);

/// Some of the uncommitted files become a commit.
[[nodiscard]] SplicePlan planToCommit(std::string id, const Standing& now);
}  // namespace rope
