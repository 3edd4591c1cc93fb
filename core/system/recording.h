// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/system/result_snapshot.h"

#include <functional>
#include <stop_token>

namespace rope {
/// A commit that is to be written.
struct PlannedCommit
{
    ResultSnapshot result;
    /// In order. A null id stands for the commit planned before this one.
    std::vector<ObjectId> parents;
    std::string message;
    std::optional<Signature> author;  ///< Of a commit that is written anew; else the identity, now.
    ObjectId rewrites;                ///< The commit that is written anew; null: it is a new one.
    std::string encoding;             ///< Of its message, by name; empty: UTF-8.
    std::string note{};               ///< Left beside it, see Notes; empty: none.
};

/// A commit and the one that it was written anew as.
struct RewrittenCommit
{
    ObjectId before;
    ObjectId after;
    friend bool operator==(const RewrittenCommit&, const RewrittenCommit&) = default;
};

/// What is to be written once nothing is open. A value; it knows no adapter's steps.
struct RecordingPlan
{
    std::string line;                    ///< Full name of the line of work that moves.
    std::string lineName;                ///< For people.
    ObjectId expected;                   ///< Where it must still stand.
    std::vector<PlannedCommit> commits;  ///< In order; the line moves to the last.
    std::size_t carried = 0;             ///< So many of the last ones are only carried along.
    std::string reason;                  ///< For the line's own log.
    /// Where the line moves without a new commit; `expected`: it stays, and only files change.
    ObjectId target;
    /// Uncommitted work as Checkout::saveWork() gave it, which is taken off the files first. Null:
    /// there must be none. A refusal brings it back.
    ObjectId work;
    /// What the files hold in the end, uncommitted; nothing: what the line stands at then.
    std::optional<ResultSnapshot> workAfter;
    /// The line is not checked out, and the files stay as they are. Hooks that look at files do not run.
    bool keepsFiles = false;
    /// Full name of another line that is checked out in the place of this one, and stands at `target`.
    /// No line moves then. Empty: none.
    std::string nextLine;
    /// The line only goes to and fro: hooks that follow a join do not run.
    bool joinsNothing = false;
    /// The stamp of the begun join that this finishes: its files come off before, and nothing of it is
    /// left behind afterwards. Empty: nothing is begun.
    std::string begun;
    /// Of a begun rebase: what is checked out in the place of the line, which is so again in the end. Null:
    /// the line is checked out.
    ObjectId detached;
    /// Of a rebase: the name of what commits are laid on, as hooks are told. Empty: it is none.
    std::string onto;
};

/// Where a recording stands. Written and read by the adapter alone; the journal keeps it.
using RecordingNote = std::string;
/// Keeps a note safe before the step that it tells of is taken. The step is not taken when it fails.
using NoteSink = std::function<Status(const RecordingNote&)>;

/// What is written into the files of a begun join when it is given back to the program that began it.
struct HandBack
{
    std::string begun;              ///< Its stamp.
    std::vector<ResultEdit> edits;  ///< All other files stay as they stand.
    std::vector<RepoPath> settled;  ///< Of these files: nothing is open in them, they are staged.
};

struct RecordOutcome
{
    ObjectId commit;                         ///< Where the line of work stands now.
    std::string hookOutput;                  ///< What the place's own hooks printed, in order.
    std::vector<RewrittenCommit> rewritten;  ///< In order.
};

/// What is set up here about commit messages.
struct MessageConventions
{
    std::string beginning;           ///< Text that a message is begun with; bytes.
    std::size_t mostListed = 0;      ///< Subjects of joined commits that a merge's message lists.
    std::string commentStart = "#";  ///< Lines that begin so are for the writer alone.
};

/// Part of the port: writing. An adapter owns its steps; each is noted before it is taken, so that
/// recover() can finish or undo whatever was cut off anywhere. The caller holds the place's WriterLock.
class Recording
{
public:
    virtual ~Recording() = default;

    virtual Result<std::optional<Signature>> identity() = 0;
    virtual Status setIdentity(const std::string& name, const std::string& email) = 0;
    virtual Result<MessageConventions> messageConventions() = 0;

    /// Stores a result without recording it, and gives its tree. Nothing refers to it.
    virtual Result<ObjectId> storeTree(const ResultSnapshot& result) = 0;

    /// Records: checks everything that could refuse, brings the working tree to the last commit's
    /// result, runs the hooks, writes the commits, moves the line from where it was expected, and puts
    /// uncommitted work there. On a
    /// refusal or failure everything goes back. `progress` is told each step after it was noted.
    /// Errors: `stale` (Reason::lineMoved, ::switched, ::checkedOut, ::uncommitted, ::workChanged;
    /// ::inTheWay with the paths), `busy`,
    /// `refused` by a hook (::hookRefused, ::hookChangedResult) or by signing, `noIdentity`, `io`,
    /// `cancelled`; where it could not go back, Reason::notUndone, and recover() is needed.
    virtual Result<RecordOutcome> record(const RecordingPlan& plan,
                                         const NoteSink& note,
                                         const ProgressSink& progress,
                                         const std::stop_token& stop) = 0;
    /// Finishes or undoes what a note says was begun: the outcome, or nothing when it was undone.
    /// Looks before it writes: a path that holds neither what stood before nor the result is
    /// somebody's work; then nothing is touched. Safe to repeat.
    /// Errors: `stale` (Reason::changedSince) with such a path as subject; `busy`.
    virtual Result<std::optional<RecordOutcome>> recover(const RecordingNote& note) = 0;

    /// Writes what was decided into the files of a begun join, which stays begun. Paths that are not in
    /// `settled` stay half-joined. Before or after, never between: see recover(), which undoes it.
    /// Errors: `stale` (Reason::begunChanged), `io`, `busy`.
    virtual Status handBack(const HandBack& work, const NoteSink& note) = 0;

    /// Takes an own line of work away, if it stands at `expected`; its commits stay.
    /// Errors: `stale` (Reason::lineMoved, ::checkedOut).
    virtual Status removeOwnLine(const std::string& line, const ObjectId& expected) = 0;

    /// Removes scratch files of ours whose process has ended without doing so itself.
    virtual Status removeScratch() = 0;

    /// Keeps a commit or a tree from being cleaned away, under a name of ours. A null id lets it go.
    virtual Status keepAlive(const std::string& name, const ObjectId& kept) = 0;
    /// The names under which commits are kept alive, but for those whose first part is the journal of
    /// another working tree of the same repository (`journal-id` in its private folder).
    virtual Result<std::vector<std::string>> keptAlive() = 0;
    /// What is kept under one of these. Errors: `notFound`.
    virtual Result<ObjectId> keptCommit(const std::string& name) = 0;
};
}  // namespace rope
