// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "core/system/begun_join.h"

#include <QString>

// What stands in the way of an action, each as one sentence with what can be done, or empty. The window
// and the command line use the same.
namespace rope {
/// Why nothing can be recorded in a place at all, whatever is joined.
[[nodiscard]] QString obstacleToRecording(const Standing& standing,
                                          const std::optional<BegunJoin>& begun);

/// What another program has begun in the files here, and how far it is.
[[nodiscard]] QString begunInWords(const BegunJoin& begun);
/// What it joins in, or is laid upon.
[[nodiscard]] QString begunName(const BegunJoin& begun);
/// "Finish the rebase of tide-windows"
[[nodiscard]] QString finishingInWords(const BegunJoin& begun);

/// Why a forecast leads to no splice: nothing to do, or nothing that a merge commit would serve.
[[nodiscard]] QString obstacleToSplicing(const Forecast& forecast);

/// Work that is not committed yet, by name: it does not forbid to decide, but to record.
[[nodiscard]] QString obstacleOfUncommitted(const std::vector<UncommittedFile>& files);

/// Why a splice cannot be recorded as it stands: something is open, markers were left.
[[nodiscard]] QString obstacleInSplice(const Splice& splice);
}  // namespace rope
