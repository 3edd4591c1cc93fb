// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/logbook/journal.h"
#include "core/merge/line_origin.h"

#include <QString>

#include <optional>
#include <string>
#include <vector>

namespace rope {
/// Where a splice of the logbook stands, each a word and a mark.
enum class LogState { open, putAway, abandoned, recorded, sent, replaced, rolledBack };

/// A splice as the logbook lists it. A value, read in one go.
struct LoggedSplice
{
    JournalEntry entry;
    LogState state = LogState::recorded;
    std::size_t decided = 0;
    std::size_t byHand = 0;         ///< Of these.
    std::vector<RepoPath> files{};  ///< In which something was decided.
    std::string person{};           ///< Who made theirs' newest commit; bytes.
    bool isSent = false;            ///< What it recorded is on a shared branch.
    bool isAtTip = false;           ///< Its branch still stands where it left it.
    ObjectId made{};            ///< Its commit; `entry.recorded` may be one carried along upon it.
    bool isMergeAfter = false;  ///< A merge commit came on its branch since.
    bool isBranchGone = false;  ///< Its branch is not there any more.
    bool isCheckedOut = false;  ///< Its branch is the one that is checked out.
    ObjectId next{};  ///< Of what took its place, or took it out again; null: nothing did.
    std::vector<Commit> after{};  ///< What came on its branch since, newest first; bounded.
    std::size_t afterCount = 0;   ///< All of it.
};

/// Something that is kept in the repository and that no splice of the journal has.
struct KeptWork
{
    std::string name;  ///< As Recording::keptAlive() has it.
    ObjectId id;
    bool isWork = false;    ///< Uncommitted work; else a commit.
    std::int64_t at = 0;    ///< Seconds since 1970.
    std::size_t files = 0;  ///< That the work changes.
    std::string subject;    ///< Of a commit.
};

struct LogbookFacts
{
    std::vector<LoggedSplice> splices;  ///< Newest first.
    std::vector<KeptWork> kept;         ///< Work first, then by age.
    std::int64_t readAt = 0;            ///< Seconds since 1970.
};

/// A candidate that was offered and not taken.
struct OfferedThen
{
    QString label;
    QString consequences;
};

/// One decision of a splice, with what had been offered.
struct LoggedDecision
{
    RepoPath path;
    int line = 0;    ///< From 1, in the result; 0: it is about the whole file.
    QString commit;  ///< Where commits are laid one upon the other: "2 of 3".
    QString choice;  ///< "word splice"; empty: still open.
    bool isByHand = false;
    bool isOdd = false;          ///< Of a merge of the history: nothing explains it.
    int oddLine = -1;            ///< Which of the lines; -1: none of them.
    std::vector<QString> lines;  ///< What was chosen, bounded.
    std::vector<LineOrigin> origins;
    std::vector<OfferedThen> others;
    QString reason{};     ///< In the words of whoever decided it.
    QString otherwise{};  ///< Of a merge: that its note tells something else; empty: it does not.
};

struct LoggedDetails
{
    std::string splice;  ///< Its id.
    std::vector<LoggedDecision> decisions;
    std::size_t joinedFiles = 0;
    QString noteWords{};     ///< Of a merge of the history: about its note; empty: it has none.
    bool canReopen = false;  ///< Of a merge of the history: the branch holds it.
    QString reopenWords{};   ///< Of a merge of the history.
    QString trouble;         ///< Why its decisions cannot be shown; empty: they can.
};

/// What can be done with a splice, and what each would do here.
struct LogActions
{
    enum class Back { none, goOn, bringBack, rollBack, rollForward, takeOut };
    bool canReopen = false;
    bool reopensOnTop = false;  ///< What is recorded then is a commit on top.
    QString reopenLabel;
    QString reopenWords;
    Back back = Back::none;
    QString backLabel;
    QString backWords;
};
[[nodiscard]] LogActions actionsOf(const LoggedSplice& splice);

/// "origin/main into tide-windows", "tide-windows onto origin/main".
[[nodiscard]] QString whatIntoWhat(const SplicePlan& plan);
/// "merge commit 5d0f7aa"
[[nodiscard]] QString methodInWords(const JournalEntry& entry);
[[nodiscard]] QString stateInWords(const LoggedSplice& splice);
/// "10 decided, 1 by hand"
[[nodiscard]] QString decidedInWords(const LoggedSplice& splice);
/// Whether words of the filter stand in branch, file, person, commit or state.
[[nodiscard]] bool matches(const LoggedSplice& splice, const QString& filter);
/// All of it as plain text, to be sent to somebody.
[[nodiscard]] QString asText(const LoggedSplice& splice, const LoggedDetails& details);
}  // namespace rope
