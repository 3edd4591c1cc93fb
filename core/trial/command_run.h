// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <cstdint>
#include <functional>
#include <stop_token>
#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// Of a command's output, this much of its beginning is kept, and of what follows the last part.
inline constexpr std::uint64_t kMostOutputBytes = 50'000'000;
inline constexpr std::uint64_t kLastOutputBytes = 1'000'000;

struct RunRequest
{
    std::string runner;              ///< The program rope-splice-run.
    std::vector<std::string> words;  ///< The program and its arguments.
    std::string folder;              ///< In which it runs.
    std::vector<std::string> unset;  ///< Environment variables that it must not see.
    std::string outputFile;          ///< Where its output is kept; written anew.
};

/// How a command ended.
struct RunOutcome
{
    int exitCode = 0;
    int signal = 0;              ///< That ended it; 0: it ended by itself.
    bool isStopped = false;      ///< It was ended before, because that was asked for.
    std::size_t leftBehind = 0;  ///< Processes that it left, and that were ended.
    std::int64_t durationMs = 0;
    std::uint64_t outputBytes = 0;   ///< Of all that it said.
    std::uint64_t droppedBytes = 0;  ///< Of them: kept nowhere.
};

/// What a command says, as it comes. Called on the thread that runs it, soon after.
using OutputSink = std::function<void(std::string_view)>;

/// Runs a command to its end, output and errors in one stream. A stop, the end of this process, and the
/// command's own end end all that it has started. It reads nothing.
/// Errors: `notFound` (Reason::commandNotFound) with the program as subject; `io`, also when the file
/// cannot be written, and then the command has been ended.
[[nodiscard]] Result<RunOutcome>
runCommand(const RunRequest& request, const OutputSink& sink, const std::stop_token& stop);
}  // namespace rope
