// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <vector>

namespace rope {
struct ForecastRequest
{
    std::string folder = ".";
    std::string ours;
    std::vector<std::string> theirs;  ///< At least one.
    bool joinsUnrelated = false;
    bool asJson = false;
    bool writesTree = false;
    bool allowsPrograms =
        false;  ///< Programs that the repository's own configuration names may run.
};

/// Prints what joining each of `theirs` into `ours` would give, in this order, and returns the exit
/// code, the highest if there are several (docs/command-line.md).
[[noreturn]] void runForecast(const ForecastRequest& request);
}  // namespace rope
