// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/decision.h"
#include "core/join/join.h"

#include <vector>

namespace rope {
/// Outcomes of the files that decisions of the first leg are about and the join has none of: see
/// oneSidedOutcome() and foundOutcome().
/// Errors: those of reading.
[[nodiscard]] Result<std::vector<OwnedOutcome>>
oneSidedOutcomesOf(Snapshots& snapshots, const Join& join, const std::vector<Decision>& decisions);
}  // namespace rope
