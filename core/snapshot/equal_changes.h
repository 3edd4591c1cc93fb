// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/place.h"

#include <map>
#include <span>
#include <stop_token>

namespace rope {
/// When two changes of one file count as the same.
enum class ChangeLikeness {
    /// The same lines removed and added, wherever they stand. To tell of; at most the newest 200 commits of
    /// a side are compared.
    lines,
    /// These and three lines around them are the same but for blanks, as for git-patch-id(1). All commits are
    /// compared, since such a one is not written anew.
    patch,
};

/// Returns the commits of theirs that make the same change as one of ours, with that one: the same
/// files, and in each the same change. Merges make no change of their own and are left out.
/// Errors: those of reading; `cancelled`.
[[nodiscard]] Result<std::map<ObjectId, ObjectId>> equalChanges(Place& repository,
                                                                std::span<const CommitLink> ours,
                                                                std::span<const CommitLink> theirs,
                                                                ChangeLikeness likeness,
                                                                const std::stop_token& stop = {});
}  // namespace rope
