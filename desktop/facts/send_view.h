// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/collisions.h"
#include "core/logbook/journal.h"
#include "core/system/remotes.h"

#include <QString>

#include <optional>
#include <string>
#include <vector>

namespace rope {
/// What there is to send from the branch that is checked out, as of when the remote was last asked.
/// A value.
struct SendFacts
{
    SendTarget target;
    std::string line;      ///< Full name of the own branch.
    std::string lineName;  ///< For people.
    ObjectId tip;
    bool followsSomething = false;  ///< The branch has an upstream already.
    std::vector<Commit> commits;    ///< Those that the remote lacks, newest first; bounded.
    std::size_t commitCount = 0;    ///< All of them.
    std::vector<Commit>
        lacking;  ///< Those that it has and the branch lacks, newest first; bounded.
    std::size_t lackingCount = 0;
    std::optional<JournalEntry> recorded;  ///< The splice that made the tip, if one did.
    std::vector<Decision> decisions;       ///< Of it.
    std::vector<JournalEntry> logbook;     ///< Splices of this place, newest first; bounded.
    std::int64_t readAt = 0;               ///< Seconds since 1970.

    /// Commits that the remote has were this branch's own before it was rewritten.
    [[nodiscard]] bool isRewritten() const { return target.wasHere && lackingCount > 0; }
    [[nodiscard]] bool hasRemote() const { return !target.remote.empty(); }
    /// "origin/tide-windows"
    [[nodiscard]] std::string targetName() const { return target.remote + "/" + target.name; }
    [[nodiscard]] bool hasSomethingToSend() const
    {
        return hasRemote() && !tip.isNull() && tip != target.known
               && (commitCount > 0 || target.known.isNull());
    }
};

/// A way to bring in what the remote has got meanwhile.
struct SecondRound
{
    ObjectId theirs;       ///< What the remote has, as it was when this was worked out.
    ObjectId replaced;     ///< The commit that was not sent and gives its place; null: none does.
    std::size_t open = 0;  ///< What is to be decided.
    std::size_t carried = 0;        ///< Decisions of the first round that find their place again.
    std::vector<std::string> lost;  ///< Those that do not, each as a sentence, UTF-8.
    std::vector<std::string> openFiles;  ///< Where something is to be decided.
};

/// A push that did not happen, and what can be done.
struct Refusal
{
    Error error;
    std::vector<Commit>
        arrived;  ///< What the remote has that the branch lacks, newest first; bounded.
    std::size_t arrivedCount = 0;
    bool isRewritten = false;            ///< Commits that were on it before are gone from it.
    std::optional<SecondRound> inPlace;  ///< One merge commit in place of the one not sent.
    std::optional<SecondRound> onTop;    ///< One more merge commit on top.
    std::int64_t readAt = 0;
};

/// What the remote said when it was asked after a push.
struct Proof
{
    std::string remote;
    std::string name;
    ObjectId sent;
    ObjectId there;     ///< What it has now; null: it has no such line.
    std::string words;  ///< What the remote and hooks said, bytes.
    std::size_t commitCount = 0;
    std::size_t noteCount = 0;            ///< Notes of decisions that went along.
    std::optional<Error> notesTrouble{};  ///< Why some stayed here.
};

/// A shared branch that was joined and is contained in what was sent.
struct MergedBranch
{
    std::string remote;
    std::string name;  ///< There: "winter-fees".
    ObjectId tip;
};

/// What can be done once all has arrived. Each part may be missing.
struct AfterPush
{
    std::optional<MergedBranch> merged;
    std::optional<Branch> ownMerged;  ///< An own branch of that name that is contained as well.
    std::optional<Branch> teamMain;   ///< The own branch that follows what all start from.
    std::string mainName;             ///< What all start from, as it is here: "origin/main".
    /// What merging what was sent into that would give; nothing: they are the same line, or its newest
    /// commit is not here yet.
    std::optional<PairOutcome> intoMain;
};

/// "origin/main is at 5d0f7aa now, the same as yours."
[[nodiscard]] QString proofInWords(const Proof& proof);
/// "2 commits pushed, with a note of decisions."
[[nodiscard]] QString sentInWords(const Proof& proof);
/// Whether what was sent merges into what all start from: "origin/late-fees now merges cleanly into
/// origin/main." Empty where that is not known.
[[nodiscard]] QString intoMainInWords(const AfterPush& after, const SendFacts& sent);
/// Who sent what meanwhile, in a sentence.
[[nodiscard]] QString arrivedInWords(const Refusal& refusal);
/// "Your 7 decisions carry over, 1 new region in locks/fees.toml."
[[nodiscard]] QString roundInWords(const SecondRound& round);
/// What stands above the list of what will be sent, and below it where there is none.
[[nodiscard]] QString whatIsSentInWords(const SendFacts& facts);
/// Why there is nothing to push now; empty if there is.
[[nodiscard]] QString obstacleToSending(const SendFacts& facts);
/// Whose commits would go if a rewritten branch were sent in the place of what the remote has.
[[nodiscard]] QString replacedInWords(const SendFacts& facts);
/// "merge 5d0f7aa · pushed" of one splice.
[[nodiscard]] QString logbookLine(const JournalEntry& entry, const SendFacts& facts);
}  // namespace rope
