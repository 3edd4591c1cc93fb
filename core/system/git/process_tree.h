// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <sys/types.h>

namespace rope {
/// Ends a process and all that it has started, at any depth: first asks (SIGTERM), and after
/// `graceMs` ends what is left (SIGKILL). Returns at once when nothing is left. Linux: reads /proc.
void endProcessTree(pid_t root, int graceMs);

/// Whether a living git process that may write works in one of the two folders, or below: any but
/// those that this program keeps open for reading, here or in another instance.
[[nodiscard]] bool gitWritesIn(const std::string& folder, const std::string& otherFolder);
}  // namespace rope
