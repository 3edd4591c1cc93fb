// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/file_outcome.h"
#include "core/snapshot/sides.h"

#include <functional>
#include <set>

namespace rope {
/// Makes names for files that cannot stand where they belong because another one stays there: the
/// one place that does. No two are alike, and none is that of a file or folder of either side.
class NamesBeside
{
public:
    /// Tells whether a path is in use, whatever this class has made.
    using TakenCheck = std::function<Result<bool>(const RepoPath&)>;

    explicit NamesBeside(TakenCheck isTaken)
        : m_isTaken(std::move(isTaken))
    {
    }

    /// A name for a side's file at `path`: `docs/plan.theirs.png` beside `docs/plan.png`.
    /// Errors: those of the check.
    Result<NameBeside> make(const RepoPath& path, Side side);
    /// As make(), with another word than the side's in it, and without what git would call it.
    Result<RepoPath> makeFor(const RepoPath& path, std::string_view word);

private:
    Result<bool> isFree(const RepoPath& name) const;

    TakenCheck m_isTaken;
    std::set<RepoPath> m_given;
    std::set<RepoPath> m_givenGitNames;
};
}  // namespace rope
