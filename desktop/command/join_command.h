// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace rope {
struct JoinRequest
{
    std::string folder = ".";
    std::string theirs;
    std::string message;  ///< Empty: the proposed one.
    bool joinsUnrelated = false;
    bool allowsPrograms =
        false;  ///< Programs that the repository's own configuration names may run.
    bool commitsFastForward =
        false;  ///< Records a commit even where the branch could just move on.
};

/// Joins a commit into the branch that is checked out and records it, or says what must be decided
/// and changes nothing. Returns the exit code (docs/command-line.md).
int runJoin(const JoinRequest& request);
}  // namespace rope
