// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace rope {
struct SetupGitRequest
{
    std::string folder = ".";
    bool isGlobal = false;
    bool isLocal = false;
    bool hasDriver = false;
    bool undoes = false;
};

/// Writes, or takes out, the configuration by which git calls this program, and prints each line of it.
/// Returns the exit code: kExitClean or kExitError.
int runSetupGit(const SetupGitRequest& request);
}  // namespace rope
