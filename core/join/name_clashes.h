// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/tree_join.h"

#include <utility>

namespace rope {
/// Two paths of the joined tree, the first by name first, that differ only in upper and lower case or
/// in Unicode normalisation: on some file systems one would replace the other.
using NameClash = std::pair<RepoPath, RepoPath>;

/// Returns the clashes that the join brings about: between what theirs adds and what ours has. Each
/// side's own ones are not told. Errors: those of reading trees.
[[nodiscard]] Result<std::vector<NameClash>>
nameClashes(Snapshots& repository, const TreeJoin& join, const ObjectId& oursTree);
}  // namespace rope
