// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/result_snapshot.h"

#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// The committed file in which a team shares its check commands, at the root of a tree; its format is
/// described in docs/check-command.md.
inline constexpr const char* kSharedChecksFile = ".rope-splice.toml";

/// The commands in such a file, in order.
/// Errors: `invalidInput` (Reason::sharedUnreadable) with what is wrong and where as detail.
[[nodiscard]] Result<std::vector<std::string>> sharedCommands(std::string_view bytes);

/// The commands that a result shares; none where it has no such file.
/// Errors: those of reading and of sharedCommands().
[[nodiscard]] Result<std::vector<std::string>> sharedCommandsOf(Snapshots& snapshots,
                                                                const ResultSnapshot& result);

/// A command's program and its arguments: words, with "…" around one that holds blanks. No shell reads
/// it. Errors: `invalidInput`: Reason::commandUnclear, or ::needsShell with the sign that only a shell
/// would understand as subject.
[[nodiscard]] Result<std::vector<std::string>> wordsOf(const std::string& command);
}  // namespace rope
