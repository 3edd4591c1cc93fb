// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/join.h"

#include <memory>

namespace rope {
/// Reads a file that only one side changed, or none, as if it had been joined, so that it can be edited
/// like any other: see Splice::takeUp(). Null where there is no such file at the path, or it is no text.
/// Errors: those of reading.
[[nodiscard]] Result<OwnedOutcome>
oneSidedOutcome(Snapshots& snapshots, const Join& join, const RepoPath& path);
}  // namespace rope
