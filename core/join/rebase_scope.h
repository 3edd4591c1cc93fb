// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/history/divergence.h"
#include "core/join/leg_standing.h"
#include "core/system/place.h"

#include <stop_token>
#include <vector>

namespace rope {
/// A commit that is laid on others, with the files that it was made on.
struct CommitToRewrite
{
    Commit commit;
    ObjectId baseTree;  ///< Its parent's; null for one that has none.
    LaidAs as = LaidAs::rewritten;

    /// Whether it never changed anything. Such a commit is kept as it is.
    [[nodiscard]] bool isEmptyItself() const { return commit.tree == baseTree; }
};

/// A commit that is not written anew, because another one has made the same change already.
struct CommitLeftOut
{
    Commit commit;
    ObjectId as;  ///< That one.
};

/// Which commits a rebase writes anew, and which it does not. A value.
struct RebaseScope
{
    Commit onto;
    std::vector<CommitToRewrite> commits;  ///< In the order in which they are laid on `onto`.
    std::vector<CommitLeftOut> leftOut;    ///< In the same order.
    std::vector<Commit> merges;            ///< Merge commits among them; these are flattened.
    /// So many of the last ones of `commits` stood upon what is recorded anew; see carried_commits.h.
    std::size_t carried = 0;
};

/// Returns what rebasing one side's own commits onto the other's tip means, as git-rebase(1) describes
/// it: commits of ours that theirs has not, parents first, without merges and without those whose change
/// theirs has already.
/// Errors: those of reading; `cancelled`.
[[nodiscard]] Result<RebaseScope> rebaseScope(Place& place,
                                              const Divergence& divergence,
                                              const ObjectId& onto,
                                              const std::stop_token& stop = {});

/// Returns what taking out a line of commits means: those below `newest` down to `onto`, newest first, each
/// to be reverted upon what reverts those before it. Errors: `invalidInput` where they are no line of
/// single commits; those of reading; `cancelled`.
[[nodiscard]] Result<RebaseScope> takingOutScope(Place& place,
                                                 const ObjectId& newest,
                                                 const ObjectId& onto,
                                                 const std::stop_token& stop = {});

/// Commits to be written anew that a shared branch has already: whoever has that branch has them too.
struct SharedCommits
{
    Branch branch;
    std::vector<Commit> commits;  ///< Oldest first.
    Commit tip;                   ///< Of the branch.
    /// Since when the oldest of them is known here to be there; nothing: that is not kept.
    std::optional<std::int64_t> since{};
};
/// Errors: those of reading; `cancelled`.
[[nodiscard]] Result<std::vector<SharedCommits>> sharedCommits(Place& place,
                                                               const RebaseScope& scope,
                                                               const ObjectId& ours,
                                                               const std::vector<Branch>& branches,
                                                               const std::stop_token& stop = {});

/// The commits of a list in git's topological order, turned round: parents before children, and what
/// stands on one line of history together (the last parent of a merge nearest to it).
/// `links`: commits of one side, children and parents among them.
[[nodiscard]] std::vector<CommitLink> parentsFirst(const std::vector<CommitLink>& links);
}  // namespace rope
