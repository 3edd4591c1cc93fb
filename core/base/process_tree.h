// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <sys/types.h>
#include <vector>

namespace rope {
/// A process that has not ended.
struct RunningProcess
{
    pid_t id = 0;
    pid_t parent = 0;
    std::string name;
};

/// Whether a process of that number has not ended. One that has, and that its parent has not asked after yet,
/// is not running; one of another user is.
[[nodiscard]] bool isRunning(pid_t id);

/// All that this user may see. Linux: reads /proc.
[[nodiscard]] std::vector<RunningProcess> runningProcesses();

/// A process and all that it has started, at any depth, the process first.
[[nodiscard]] std::vector<pid_t> withDescendants(pid_t root);

/// Ends a process and all that it has started, at any depth: first asks (SIGTERM), and after
/// `graceMs` ends what is left (SIGKILL). Returns at once when nothing is left.
void endProcessTree(pid_t root, int graceMs);
}  // namespace rope
