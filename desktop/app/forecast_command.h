// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace rope {
struct ForecastRequest
{
    std::string folder = ".";
    std::string ours;
    std::string theirs;
    bool asJson = false;
    bool writesTree = false;
};

/// Prints what joining two commits would give and returns the exit code (docs/command-line.md).
int runForecast(const ForecastRequest& request);
}  // namespace rope
