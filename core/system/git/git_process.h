// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/piped_process.h"
#include "core/base/result.h"

#include <functional>
#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

class QProcess;

namespace rope {
/// What a git command left behind. Both streams are bytes.
struct GitOutput
{
    int exitCode = 0;
    std::string out;
    std::string err;
};

using Environment = std::vector<std::pair<std::string, std::string>>;

/// Whom a started program belongs to, and so what it may find in its environment.
enum class RunFor {
    looking,    ///< Our own reading: nothing that the repository's own configuration names is run.
    acting,     ///< What a person asked for: filters run as in any other git command.
    ownTongue,  ///< Hooks and merge programs: the person's language, no variable of ours.
};

/// Further wishes for one run of git.
struct GitRunOptions
{
    std::string_view input;                             ///< Given on standard input.
    Environment environment;                            ///< Set on top of the fixed one.
    Environment settings;                               ///< Configuration for this run alone.
    std::function<void(std::string_view)> onErrorText;  ///< Told what comes on standard error.
    /// What acts without one is not to be stopped: a terminal's keys do not reach it either.
    std::stop_token stop;
    RunFor purpose = RunFor::looking;
    std::size_t mostKeptBytes = ~std::size_t{
        0};  ///< Of each stream; of more, only the end is kept. Of errors 64 kB at most.
};

/// Starts git in one folder, always with an argument list, never through a shell, in a fixed
/// environment (C locale, no prompts on the terminal, no optional locks), for one repository that
/// was found once. What is given by the user's configuration is made explicit by the caller.
class GitProcess
{
public:
    /// For the first question, in which git itself looks for the repository around `folder`.
    explicit GitProcess(std::string folder)
        : m_folder(std::move(folder))
    {
    }

    /// From now on the repository is this one, whatever the environment or its configuration say.
    void setPlace(std::string folder, std::string gitFolder, bool hasWorkingTree);
    /// What overrides the repository's own configuration while only looking (git-config(1),
    /// GIT_CONFIG_COUNT).
    void setOverrides(Environment overrides) { m_overrides = std::move(overrides); }

    /// Runs git to its end. A non-zero exit is not an error here: callers know what theirs means.
    /// A stop ends git and all that it has started. Errors: `io` when git cannot be started, `cancelled`.
    Result<GitOutput> run(const std::vector<std::string>& arguments,
                          const GitRunOptions& options = {}) const;
    /// As run(), for a command that changes the index. While another process has that locked, as a
    /// `git status` does for a moment, it is tried again, for about a second.
    Result<GitOutput> runOnIndex(const std::vector<std::string>& arguments,
                                 const GitRunOptions& options = {}) const;
    /// As run(), for any program.
    Result<GitOutput> runProgram(const std::string& program,
                                 const std::vector<std::string>& arguments,
                                 const GitRunOptions& options) const;

    /// Runs git and gives its standard output. Errors: those of run(), `systemFailed` for a non-zero exit,
    /// with the command's name as subject and its message as detail.
    Result<std::string> output(const std::vector<std::string>& arguments,
                               const GitRunOptions& options = {}) const;

    /// What a git that startPiped() has started left behind, once it has ended. Errors: as run().
    [[nodiscard]] static Result<GitOutput> finish(PipedProcess& process);

    /// Starts git and leaves it running; the caller reads and writes it. Errors: `io`.
    Result<std::unique_ptr<PipedProcess>> startPiped(const std::vector<std::string>& arguments,
                                                     const GitRunOptions& options = {}) const;

    [[nodiscard]] const std::string& folder() const { return m_folder; }
    /// Variables of git's that must not reach a program that works elsewhere.
    [[nodiscard]] static std::vector<std::string> leadingVariables();

private:
    [[nodiscard]] static Result<GitOutput> finish(QProcess& process, const GitRunOptions& options);
    void prepare(QProcess& process,
                 const std::string& program,
                 const std::vector<std::string>& arguments,
                 const GitRunOptions& options) const;
    /// What is different for git from our own environment; a variable without a value goes.
    using Changes = std::vector<std::pair<std::string, std::optional<std::string>>>;
    [[nodiscard]] Changes environmentChanges(const GitRunOptions& options) const;

    std::string m_folder;
    std::string m_gitFolder;  ///< Empty until the place is set.
    bool m_hasWorkingTree = false;
    Environment m_overrides;
};
}  // namespace rope
