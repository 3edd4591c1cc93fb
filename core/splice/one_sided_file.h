// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/splice/decision.h"
#include "core/splice/join.h"

#include <memory>

namespace rope {
using OwnedOutcome = std::shared_ptr<const FileOutcome>;

/// Reads a file that only one side changed, or none, as if it had been joined, so that it can be edited
/// like any other: see Splice::takeUp(). Null where there is no such file at the path, or it is no text.
/// Errors: those of reading.
[[nodiscard]] Result<OwnedOutcome>
oneSidedOutcome(Snapshots& snapshots, const Join& join, const RepoPath& path);

/// As oneSidedOutcome(), for all files of the first leg that decisions are about and no outcome is.
[[nodiscard]] Result<std::vector<OwnedOutcome>>
oneSidedOutcomesOf(Snapshots& snapshots, const Join& join, const std::vector<Decision>& decisions);
}  // namespace rope
