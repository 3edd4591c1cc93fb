// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/splice/splice.h"
#include "core/system/recording.h"

namespace rope {
/// Returns what records a splice as a merge commit: one commit with ours' and theirs' tips as parents.
/// Errors: `invalidInput` for an empty message (Reason::emptyMessage) and for conflict markers
/// that stand in no stored version (::markersLeft, subject: path and line), those of Splice::result().
/// REQUIRES: nothing is open
[[nodiscard]] Result<RecordingPlan> mergeCommitPlan(const Splice& splice,
                                                    const std::string& message);
}  // namespace rope
