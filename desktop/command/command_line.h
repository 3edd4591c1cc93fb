// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace rope {
/// Runs the program as called: a subcommand to its end, or the window, by replacing this process.
/// Returns the exit code.
int runCommandLine(int argc, char** argv);
}  // namespace rope
