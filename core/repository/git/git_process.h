// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <QProcess>

#include <functional>
#include <memory>
#include <stop_token>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace rope {
/// What a git command left behind. Both streams are bytes.
struct GitOutput
{
    int exitCode = 0;
    std::string out;
    std::string err;
};

/// Further wishes for one run of git.
struct GitRunOptions
{
    std::string_view input;                                        ///< Given on standard input.
    std::vector<std::pair<std::string, std::string>> environment;  ///< Set on top of the fixed one.
    std::function<void(std::string_view)> onErrorText;  ///< Told what comes on standard error.
    std::stop_token stop;
    bool keepsLocale = false;  ///< For hooks: they belong to the user, not to our parsers.
};

/// Starts git in one folder, always with an argument list, never through a shell, in a fixed
/// environment (C locale, no prompts on the terminal, no optional locks).
class GitProcess
{
public:
    explicit GitProcess(std::string folder)
        : m_folder(std::move(folder))
    {
    }

    /// Runs git to its end. A non-zero exit is not an error here: callers know what theirs means.
    /// Errors: `io` when git cannot be started, `cancelled`.
    Result<GitOutput> run(const std::vector<std::string>& arguments,
                          const GitRunOptions& options = {}) const;

    /// Runs git and gives its standard output. Errors: those of run(), `gitFailed` for a non-zero exit,
    /// with the command's name as subject and its message as detail.
    Result<std::string> output(const std::vector<std::string>& arguments,
                               const GitRunOptions& options = {}) const;

    /// Starts git and leaves it running; the caller reads and writes it. Errors: `io`.
    Result<std::unique_ptr<QProcess>> start(const std::vector<std::string>& arguments) const;

    [[nodiscard]] const std::string& folder() const { return m_folder; }

private:
    void prepare(QProcess& process,
                 const std::vector<std::string>& arguments,
                 const GitRunOptions& options) const;
    std::string m_folder;
};
}  // namespace rope
