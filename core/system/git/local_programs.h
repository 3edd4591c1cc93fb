// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/git/git_process.h"

#include <map>
#include <set>
#include <string>

namespace rope {
/// Which commands of a repository's own configuration may run while it is only looked at.
struct ProgramTrust
{
    bool allowsAll = false;
    std::set<std::string> allowed;  ///< Commands, as they are configured.
};

/// The part of git's configuration that names programs or says how to join, with where each value
/// comes from (git-config(1), --show-scope). What the person's or the system's own files or the
/// command line say is trusted; what the repository itself brings along is not, until allowed.
class LocalPrograms
{
public:
    struct Value
    {
        std::string value;
        bool isLocal = false;  ///< From the repository's or the working tree's own configuration.
    };

    /// `listed` is `git config --show-scope -z --get-regexp kKeys`.
    static std::optional<LocalPrograms> parse(std::string_view listed, ProgramTrust trust);
    static constexpr const char* kKeys =
        "^(filter\\..*|merge\\..*|core\\.fsmonitor|core\\.attributesfile|core\\.commitgraph|"
        "core\\.autocrlf|core\\.eol|diff\\.renames|diff\\.renamelimit|"
        "extensions\\.partialclone|remote\\..*\\.promisor)$";

    /// The effective value of a key; null where it is not set.
    [[nodiscard]] const Value* value(const std::string& key) const;
    /// All that was read, and what is allowed, as one text.
    [[nodiscard]] std::string inOneText() const;
    /// Whether the command that a key holds may run.
    [[nodiscard]] bool isAllowed(const Value& command) const;
    /// Filters of the repository's own that may not run: name to command.
    [[nodiscard]] std::map<std::string, std::string> lockedFilters() const;
    /// Configuration that keeps everything that may not run from being run.
    [[nodiscard]] Environment overrides() const;
    /// The remote that a partial copy asks for what it lacks; empty where the copy is whole.
    [[nodiscard]] std::string promisorRemote() const;

private:
    std::map<std::string, Value> m_values;
    ProgramTrust m_trust;
};
}  // namespace rope
