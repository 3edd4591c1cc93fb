// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/trial/command_run.h"
#include "core/trial/layout.h"

#include <QString>

namespace rope {
/// "Running on the result, 12 s"; with how long it has said nothing, in seconds, if that is long.
[[nodiscard]] QString runningInWords(const QString& where, qint64 seconds, qint64 quietSeconds);
/// How a command ended just now: "Failed with exit status 1 after 0.4 s."
[[nodiscard]] QString endedInWords(const RunOutcome& outcome);
/// That a person ended it.
[[nodiscard]] QString stoppedInWords(const RunOutcome& outcome);
/// How a command ended earlier, on the very same files.
[[nodiscard]] QString
rememberedInWords(int exitCode, int signal, std::int64_t durationMs, std::int64_t endedAt);
/// What is to be known of submodules in a copy; empty: nothing.
[[nodiscard]] QString submodulesInWords(const std::vector<LaidOutSubmodule>& submodules);
}  // namespace rope
