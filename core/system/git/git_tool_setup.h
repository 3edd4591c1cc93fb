// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/tool_setup.h"

namespace rope {
/// As setUpTool(), for git (git-config(1), git-mergetool(1), gitattributes(5)).
[[nodiscard]] Result<ToolSetupOutcome> setUpGitTool(const std::string& folder,
                                                    const ToolSetup& setup);
}  // namespace rope
