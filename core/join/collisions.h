// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/forecast.h"

#include <functional>
#include <span>
#include <string>
#include <utility>
#include <vector>

namespace rope {
/// A branch that is joined with each other one, in memory.
struct CollisionBranch
{
    std::string ref;
    std::string name;  ///< For people.
    Commit tip;        ///< Its author stands for who works on it.
    bool isOwn = false;
};

/// A file in which two branches do not fit, or that both touch.
struct PairFile
{
    RepoPath path;
    std::size_t regions = 0;
    bool isQuestion = false;  ///< Asked about as a whole.
    [[nodiscard]] bool isOpen() const { return regions > 0 || isQuestion; }
    friend bool operator==(const PairFile&, const PairFile&) = default;
};

/// What joining two branches would give.
struct PairOutcome
{
    enum class Kind {
        notYet,     ///< Not worked out.
        joins,      ///< Without a question.
        collides,   ///< In regions or questions.
        contained,  ///< One of them holds all of the other.
        unknown,    ///< It could not be worked out.
    };
    Kind kind = Kind::notYet;
    Relation relation = Relation::same;  ///< Of the first, as ours, to the second, as theirs.
    std::size_t open = 0;                ///< Regions and questions.
    std::vector<PairFile> files;         ///< What both touch, what collides first.
    std::size_t firstCommits = 0;        ///< Commits of the first that the second lacks.
    std::size_t secondCommits = 0;       ///< And the other way round.
    friend bool operator==(const PairOutcome&, const PairOutcome&) = default;
};

/// What a forecast comes to.
[[nodiscard]] PairOutcome outcomeOf(const Forecast& forecast);

/// Two commits that are joined with one another in memory.
struct CommitPair
{
    ObjectId first;   ///< As ours.
    ObjectId second;  ///< As theirs.
    friend bool operator==(const CommitPair&, const CommitPair&) = default;
};

/// Takes what joining a pair gives, by its place among those asked for. Called on the thread that works.
using PairSink = std::function<void(std::size_t pair, const PairOutcome& outcome)>;

/// Two branches by their place in a list; `first` comes before `second` in it.
struct BranchPair
{
    std::size_t first = 0;
    std::size_t second = 0;
    friend bool operator==(const BranchPair&, const BranchPair&) = default;
    friend bool operator<(const BranchPair& a, const BranchPair& b)
    {
        return std::pair(a.first, a.second) < std::pair(b.first, b.second);
    }
};

/// Returns the branches that are compared, in their order: what the remote starts new copies with
/// (`mainRef`, may be empty) first, then one's own, then the newest first; at most `most` of them.
/// What is shared of one's own branch stands in it already, and is not among them, but for `mainRef`.
/// Errors: those of reading.
[[nodiscard]] Result<std::vector<CollisionBranch>> collisionBranches(Place& place,
                                                                     const std::vector<Branch>& all,
                                                                     const std::string& mainRef,
                                                                     const std::string& ownRef,
                                                                     std::size_t most);

/// Returns every pair of that many branches, those of `own` first. `own`: its place; past the end: none.
[[nodiscard]] std::vector<BranchPair> pairsInOrder(std::size_t branches, std::size_t own);

/// Joins pair after pair in memory, reading history once for all of them, and folders once for each.
/// What cannot be joined is `unknown`. Errors: those of History::commitsFrom(); `cancelled`.
[[nodiscard]] Status collideAll(Place& place,
                                std::span<const CommitPair> pairs,
                                const PairSink& sink,
                                const std::stop_token& stop = {});
}  // namespace rope
