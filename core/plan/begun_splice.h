// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "core/join/rebase_scope.h"
#include "core/system/begun_join.h"

namespace rope {
/// The plan of a splice that finishes what another program has begun. `stamp`: of its files.
/// REQUIRES: nothing stands in the way of taking it over
[[nodiscard]] SplicePlan planToFinish(const BegunJoin& begun, const std::string& stamp);

/// Whether a plan is to finish this, whatever has been edited in its files since.
[[nodiscard]] bool isToFinish(const SplicePlan& plan, const BegunJoin& begun);

/// What such a splice lays anew: of a rebase, all that is left of it, upon what is made so far; of a
/// pick, those that follow the first one, whose own join is no part of it. Errors: those of reading.
[[nodiscard]] Result<RebaseScope> scopeOfBegun(Place& place, const BegunJoin& begun);
}  // namespace rope
