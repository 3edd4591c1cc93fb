// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "core/system/recording.h"

namespace rope {
/// How a splice is recorded.
struct RecordingWishes
{
    std::string
        commentStart{};  ///< Lines of the message that begin so are left out; empty: none are.
    bool leavesNotes = false;  ///< What was decided, and why, stands beside the commits.
};

/// Returns what records a splice: a merge commit with ours' and theirs' tips as parents, in the place
/// of an earlier one if the plan says so; or the commits of a rebase, each with its own message and
/// author; with the files holding carried work afterwards; or, for work that is brought back, the files
/// alone.
/// Errors: `invalidInput` for an empty message (Reason::emptyMessage) and for conflict markers
/// that stand in no stored version (::markersLeft, subject: path and line), those of Splice::result().
/// REQUIRES: nothing is open, and the legs of a rebase are laid on what was decided
[[nodiscard]] Result<RecordingPlan> recordingPlanOf(const Splice& splice,
                                                    const std::string& message,
                                                    const RecordingWishes& wishes = {});

/// Returns what moves a line forward to a commit that contains it, or, for a rebase of which no commit is
/// left, off its own commits; or back to where it stood, and forward again. `work`: uncommitted work that is
/// taken off first, see RecordingPlan; `workAfter`: what the files hold afterwards.
[[nodiscard]] RecordingPlan movePlan(const SplicePlan& plan,
                                     const std::optional<ResultSnapshot>& workAfter);

/// Returns what checks out another line in the place of the plan's: `plan.theirs` is its tip. `workAfter`
/// as for movePlan().
[[nodiscard]] RecordingPlan switchPlan(const SplicePlan& plan,
                                       const std::string& nextLine,
                                       const std::optional<ResultSnapshot>& workAfter);

/// Returns what commits these files of saved uncommitted work, and leaves the rest of it as it is.
/// `chosen`: what the commit holds, told against the last commit's tree. Errors: `invalidInput` (Reason::emptyMessage).
[[nodiscard]] Result<RecordingPlan> ownCommitPlan(const SplicePlan& plan,
                                                  const ObjectId& workTree,
                                                  ResultSnapshot chosen,
                                                  const std::string& message);
}  // namespace rope
