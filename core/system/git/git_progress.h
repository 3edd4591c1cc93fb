// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/progress.h"

#include <functional>
#include <optional>
#include <string>
#include <string_view>

namespace rope {
/// What one line of git's progress says ("Receiving objects:  45% (9/20), 1.2 MiB | 3 MiB/s"), a
/// remote's own lines too; nothing for any other line.
[[nodiscard]] std::optional<Progress> progressIn(std::string_view line);

/// Returns what takes git's standard error as it comes, in any pieces, and gives `progress`, which is
/// copied, every progress line in it. Empty for an empty sink. One run of git.
[[nodiscard]] std::function<void(std::string_view)> progressLinesTo(const ProgressSink& progress);

/// Standard error without its progress lines: what git, the remote and hooks have said. Bytes.
[[nodiscard]] std::string withoutProgress(std::string_view errorText);
}  // namespace rope
