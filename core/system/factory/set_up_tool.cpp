// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "core/system/factory/set_up_tool.h"

#include "core/system/git/git_tool_setup.h"

namespace rope {
Result<ToolSetupOutcome> setUpTool(const std::string& folder, const ToolSetup& setup)
{
    return setUpGitTool(folder, setup);
}
}  // namespace rope
