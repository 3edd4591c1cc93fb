// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/git/git_index.h"
#include "core/system/git/recording_state.h"

namespace rope {
// What recording, recovery after a crash and handing back have in common.

/// The tree of a commit. Errors: those of readCommits().
Result<ObjectId> treeOf(GitPlace& place, const ObjectId& commit);

/// What the files held before: uncommitted work, if it stood on what the branch stands at now. (Where
/// a hook has moved the branch, the work stays where it is safe.)
[[nodiscard]] ObjectId treeToGoBackTo(const RecordingState& state, const ObjectId& tipTree);

/// What stands in the files of the begun join with this stamp. Errors: `stale` (Reason::begunChanged).
Result<GitPlace::BegunTrees> begunTreesOf(GitPlace& place, const std::string& stamp);

/// Checks a branch out that holds what is checked out. Errors: those of writing a ref.
Status leadTo(GitPlace& place, const std::string& line, const std::string& reason);

/// It is recorded: nothing says any more that the join which it finishes is under way. Where that
/// fails, the join is finished all the same, and git says so when it is asked to go on with it.
void endBegun(GitPlace& place, const RecordingState& state);
}  // namespace rope
