// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"
#include "core/system/types.h"

#include <memory>
#include <span>

namespace rope {
/// Commits one by one, each once.
class CommitStream
{
public:
    virtual ~CommitStream() = default;
    /// The next commit, or nothing at the end of history. Errors: `corrupt`, `systemFailed`.
    virtual Result<std::optional<CommitLink>> next() = 0;
    /// Whether every commit comes after all of its children, whatever the clocks say. Otherwise the
    /// newest by the committers' clocks come first, and a wrong clock may put a child behind its parent.
    [[nodiscard]] virtual bool isTopological() const = 0;
};

/// A line of work came to stand at a commit.
struct LineMove
{
    ObjectId tip;
    std::int64_t at = 0;  ///< Seconds since 1970.
};

/// Part of the port: lines of work and their commits.
class History
{
public:
    virtual ~History() = default;

    virtual Result<Standing> standing() = 0;
    virtual Result<std::vector<Branch>> branches() = 0;
    /// The commit that a branch name, tag or id stands for. Errors, about the name: `notFound`,
    /// `invalidInput`.
    virtual Result<ObjectId> resolveCommit(std::string_view name) = 0;
    /// Whether history is cut off somewhere because only the newest part was copied.
    virtual Result<bool> isShallow() = 0;
    virtual Result<std::unique_ptr<CommitStream>> commitsFrom(std::span<const ObjectId> tips) = 0;
    /// Tells that commitsFrom() will be asked soon, so that it can be made ready. Errors show there.
    virtual void expectCommits() {}
    virtual Result<std::vector<Commit>> readCommits(std::span<const ObjectId> ids) = 0;
    /// Where a line stood in this repository and since when, oldest first, as far back as that is kept.
    virtual Result<std::vector<LineMove>> movesOf(const std::string& ref) = 0;
};
}  // namespace rope
