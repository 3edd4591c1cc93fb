// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/git/git_hooks.h"

namespace rope {
/// The message after the repository's hooks had their say. Errors: `refused` (Reason::hookRefused),
/// `invalidInput` (Reason::emptyMessage), `io`, `cancelled`.
Result<std::string>
checkedMessage(GitPlace& place, GitHooks& hooks, const std::string& message, bool isMerge);

/// Stores a commit, signed where the person signs commits. A null parent stands for `before`, the commit that
/// was written before this one. Errors: those of writing; `cancelled`.
Result<ObjectId> writeCommit(GitPlace& place,
                             const PlannedCommit& commit,
                             const ObjectId& tree,
                             const std::string& message,
                             const ObjectId& before,
                             const std::stop_token& stop);
}  // namespace rope
