// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <vector>

namespace rope {
struct CollisionsRequest
{
    std::string folder = ".";
    std::vector<std::string> branches;  ///< Empty: all shared ones.
    bool asJson = false;
};

/// Prints what joining each branch with each other would give; touches nothing. Returns the exit code:
/// kExitMustDecide where any pair collides.
[[nodiscard]] int runCollisions(const CollisionsRequest& request);
}  // namespace rope
