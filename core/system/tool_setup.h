// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <string>
#include <vector>

namespace rope {
/// How the system is to call this program for files that clash.
struct ToolSetup
{
    bool isGlobal = false;   ///< For all places of this person; else for the one in the folder.
    bool undoes = false;     ///< Takes out what an earlier setup wrote, and nothing else.
    bool hasDriver = false;  ///< Besides: it joins every file, whenever the system merges.
    std::string program;     ///< How this program is started.
};

/// A line that was added to, or taken out of, a file of the system's.
struct SetupLine
{
    std::string file;
    std::string text;
    bool isRemoved = false;
};

struct ToolSetupOutcome
{
    std::vector<SetupLine> lines;  ///< In order; none where all was so already.
    std::string otherTool;  ///< A tool that was set up before and stays the first one; empty: none.
};
}  // namespace rope
