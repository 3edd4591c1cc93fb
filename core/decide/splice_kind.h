// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <cstddef>

namespace rope {
/// What a splice makes.
enum class SpliceKind {
    merge,        ///< A merge commit.
    rebase,       ///< Own commits are written anew, on top of theirs.
    fastForward,  ///< The line moves; no commit is made.
    bringBack,    ///< Work that was set aside comes back to the files, uncommitted.
    ownCommit,    ///< A commit of uncommitted work.
    switchLine,   ///< Another line is checked out.
    correction,   ///< A commit on top of a sent one, which holds what was decided otherwise.
    revert,       ///< A commit that takes out again what a sent one brought in.
    rollBack,     ///< The line goes back to where it stood before a splice.
    rollForward,  ///< The line goes to what a splice that was rolled back had recorded.
    pick,         ///< A commit of elsewhere is made anew upon the line.
    rebaseCorrection,  ///< As a correction, of a rebase: its commits are decided anew, and stay as they are.
};

/// What kinds have in common. Whoever tells several kinds from the others asks here.
struct KindFacts
{
    const char* name = "";        ///< In the journal, for good.
    bool followsTheirs = false;   ///< What comes to theirs later belongs into it.
    bool makesCommits = false;    ///< It decides a join, and ends in commits.
    bool isReopened = false;      ///< What is decided in it can be decided otherwise later.
    bool laysOwnCommits = false;  ///< Each of the line's own commits is joined to theirs.
    bool isCorrection =
        false;  ///< What was recorded stays; what is decided otherwise is a commit on top.
    bool isOnTop = false;  ///< Its commit stands upon the line alone: theirs is no parent.
    bool isRoll = false;   ///< The line goes to a commit that a splice knows.
    bool isListed =
        false;  ///< A row of its own in the logbook; others are events in the life of these.
};

/// In the order of SpliceKind.
inline constexpr std::array<KindFacts, 12> kKinds{{
    {.name = "merge",
     .followsTheirs = true,
     .makesCommits = true,
     .isReopened = true,
     .isListed = true},
    {.name = "rebase",
     .followsTheirs = true,
     .makesCommits = true,
     .isReopened = true,
     .laysOwnCommits = true,
     .isListed = true},
    {.name = "fast-forward", .followsTheirs = true, .isListed = true},
    {.name = "bring-back"},
    {.name = "own-commit", .isListed = true},
    {.name = "switch"},
    {.name = "correction",
     .makesCommits = true,
     .isReopened = true,
     .isCorrection = true,
     .isOnTop = true,
     .isListed = true},
    {.name = "revert", .makesCommits = true, .isOnTop = true, .isListed = true},
    {.name = "roll-back", .isRoll = true},
    {.name = "roll-forward", .isRoll = true},
    {.name = "pick", .makesCommits = true, .isOnTop = true, .isListed = true},
    {.name = "rebase-correction",
     .makesCommits = true,
     .isReopened = true,
     .laysOwnCommits = true,
     .isCorrection = true,
     .isOnTop = true,
     .isListed = true},
}};

[[nodiscard]] constexpr const KindFacts& factsOf(SpliceKind kind)
{
    return kKinds[static_cast<std::size_t>(kind)];
}

/// Whether the line can go back to where it was before such a splice, as long as it was not pushed. One's own
/// work would leave the files with it.
[[nodiscard]] constexpr bool canBeRolledBack(SpliceKind kind)
{
    return kind == SpliceKind::fastForward
           || (factsOf(kind).makesCommits && kind != SpliceKind::ownCommit);
}
}  // namespace rope
