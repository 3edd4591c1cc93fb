// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/tool_setup.h"

namespace rope {
/// Writes, or takes out, the configuration by which the system calls this program.
/// Errors: `notFound` (Reason::notARepository) for a folder that belongs to none; `io`, `systemFailed`.
[[nodiscard]] Result<ToolSetupOutcome> setUpTool(const std::string& folder, const ToolSetup& setup);
}  // namespace rope
