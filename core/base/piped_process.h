// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <sys/types.h>
#include <vector>

namespace rope {
/// A program that answers on its standard output what is asked on its standard input, for much data: what it
/// prints is copied once. What it says on standard error never holds it up. It ends with this. One thread.
class PipedProcess
{
public:
    /// `program`: found as a shell would; `environment`: all of it, each "NAME=value". Errors: `io`; `notFound`
    /// where there is no such program.
    static Result<std::unique_ptr<PipedProcess>> start(const std::string& program,
                                                       const std::vector<std::string>& arguments,
                                                       const std::vector<std::string>& environment,
                                                       const std::string& folder);
    /// Closes its input, and kills it.
    ~PipedProcess();
    PipedProcess(const PipedProcess&) = delete;
    PipedProcess& operator=(const PipedProcess&) = delete;

    /// Hands over a question. What was asked and not read must be little, else both wait for each other.
    /// Errors: `io` when it has ended.
    Status write(std::string_view bytes) const;
    void closeInput();
    /// Takes what it has printed since, as much as there is room for, waiting for the first of it. Returns
    /// how much; 0: it prints no more. Errors: `io` when nothing came for `waitMs`.
    Result<std::size_t> read(std::span<char> into, int waitMs);
    /// Waits until some of these have printed something, or ended. Returns which, by index.
    /// Errors: `io` when nothing came for `waitMs`.
    static Result<std::vector<std::size_t>> waitForAny(std::span<PipedProcess* const> processes,
                                                       int waitMs);
    /// Whether it has not ended yet.
    [[nodiscard]] bool isRunning();
    /// Whether a signal ended it, as when memory runs out. One whose output has ended is given a moment.
    [[nodiscard]] bool wasKilled();
    /// Waits for its end. Returns its exit code; -1: it was killed.
    int wait();
    /// What it said on standard error so far.
    [[nodiscard]] std::string errorText() const;

private:
    PipedProcess() = default;
    void takeEnd(int status);

    pid_t m_id = -1;  ///< -1: it was waited for.
    int m_exitCode = -1;
    int m_input = -1;
    int m_output = -1;
    int m_errors = -1;  ///< A file in memory.
};
}  // namespace rope
