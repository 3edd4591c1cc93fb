// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace rope {
/// Exit codes of every subcommand.
inline constexpr int kExitClean = 0;
inline constexpr int kExitMustDecide = 1;
inline constexpr int kExitError = 2;
}  // namespace rope
