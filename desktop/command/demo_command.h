// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace rope {
struct DemoRequest
{
    std::string folder;  ///< Empty: a fresh one in the user's data folder; then where it was made.
};

/// Makes the demo's repositories and says where. Returns the exit code; kExitClean: `request.folder` is told.
int runDemo(DemoRequest& request);
}  // namespace rope
