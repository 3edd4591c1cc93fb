// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/types.h"

#include <cstdint>
#include <optional>
#include <string>

namespace rope {
/// What is known of a recent repository without asking anybody else. A value, read in one go.
struct RecentPlace
{
    std::string branch;    ///< Empty: on no branch.
    std::string upstream;  ///< The shared branch that it follows; empty: none.
    WorkingTreeKind workingTree;
    bool hasWorkingTree = true;
    bool hasCommit = true;
    bool hasRemote = false;
    std::size_t ahead = 0;  ///< Commits that the shared branch does not have.
    std::size_t behind = 0;
    std::optional<std::int64_t>
        askedAt;  ///< When the remotes last answered; the longest ago counts.
    std::int64_t readAt = 0;
    std::size_t uncommitted = 0;
    bool hasOpenSplice = false;
    std::size_t decided = 0;  ///< In the open splice.
    std::size_t putAway = 0;
    std::string putAwayTheirs;  ///< Of the newest that was put away.
    std::int64_t putAwayAt = 0;
    std::size_t spliceCount = 0;  ///< That the journal knows.
};
}  // namespace rope
