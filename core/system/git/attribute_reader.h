// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/git/git_parsers.h"
#include "core/system/git/git_process.h"

#include <memory>
#include <span>

namespace rope {
/// Asks what .gitattributes says of merging through a long-lived `git check-attr --stdin`, started at first
/// use: a forecast asks again with each of its bases. Any thread, one at a time. After a failure the process is let go
/// and started anew by the next call.
class AttributeReader
{
public:
    explicit AttributeReader(const GitProcess& git)
        : m_git(git)
    {
    }
    ~AttributeReader();
    AttributeReader(const AttributeReader&) = delete;
    AttributeReader& operator=(const AttributeReader&) = delete;

    /// For each path in order its `merge`, then its `conflict-marker-size`.
    /// Errors: `corrupt` for an answer that is none; `io`.
    Result<std::vector<AttributeValue>> valuesOf(std::span<const RepoPath> paths);

    /// Lets the process go, so that the next call sees what has changed since.
    void restart();

private:
    const GitProcess& m_git;
    /// As valuesOf(), for so few that git can print all it says of them before anybody reads.
    Result<std::vector<AttributeValue>> valuesOfFew(std::span<const RepoPath> paths);

    std::unique_ptr<PipedProcess> m_process;
};
}  // namespace rope
