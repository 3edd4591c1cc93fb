// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "core/join/rebase_scope.h"

namespace rope {
/// Whether one of them is a merge commit, which is not carried along.
[[nodiscard]] bool holdsMerge(const std::vector<CommitLink>& commits);

/// Adds to what a splice lays anew what stands upon the commit whose place it takes: the commits from
/// `plan.replaced` to `plan.above`, oldest first. A correction stays on top of them all; to it they are one
/// change, that its new decisions are joined to. Nothing is added where nothing stands upon it. Where the
/// scope is empty before, and the plan is of no rebase, what is added is laid on `plan.replaced`'s place.
/// Errors: `stale` (Reason::lineMoved) where `above` does not contain it; `unsupported` (Reason::mergeAbove,
/// subject: that commit) for a merge commit among those that would be written anew; those of reading.
[[nodiscard]] Status addCarriedCommits(Place& place,
                                       const SplicePlan& plan,
                                       RebaseScope& scope,
                                       const std::stop_token& stop = {});
}  // namespace rope
