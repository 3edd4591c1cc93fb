// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/recording.h"

#include <string>
#include <vector>

namespace rope {
/// What is left of commits that git lays one by one, as it keeps that in its folder while it has stopped
/// (git-rebase(1), git-cherry-pick(1)). Names of commits are as written there.
struct BegunSteps
{
    std::string line;     ///< Of a rebase: full name of the branch; empty: it began on none.
    std::string lineTip;  ///< Of a rebase: where that stood.
    std::string onto;     ///< Of a rebase: what the first commit was laid on.
    std::string stopped;  ///< The commit that it has stopped at; empty: at none.
    std::vector<std::string> next;           ///< Those that follow it.
    std::vector<RewrittenCommit> rewritten;  ///< Of a rebase: those that are done.
    bool hasOtherSteps = false;  ///< It does something else on the way than laying commits.
    bool keepsOwnWork = false;   ///< Uncommitted work was put away, and is to be put back.
    std::string raw;             ///< Changes when somebody goes on with it.
};

/// Of either backend of git-rebase(1).
[[nodiscard]] BegunSteps begunRebase(const std::string& gitFolder);
/// Of a cherry-pick or a revert: `head` is the file that names the commit it has stopped at.
[[nodiscard]] BegunSteps begunSequence(const std::string& gitFolder, const std::string& head);

/// Nothing says any more that a rebase, a cherry-pick or a revert is under way. Errors: `io`.
[[nodiscard]] Status forgetBegunSteps(const std::string& gitFolder);
}  // namespace rope
