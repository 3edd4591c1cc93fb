// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/course/splice_session.h"
#include "desktop/course/splice_tasks.h"

namespace rope {
/// Writes to the open place: the splice under way, or what needs none (a branch that only moves, a commit of one's
/// own). One at a time; while it writes, no splice is begun or changed and no other place is opened.
/// Interface thread.
class RecordSession final : public QObject
{
    Q_OBJECT
public:
    RecordSession(PlaceSession& place, SpliceSession& splices, QObject* parent);

    /// Records the splice under way, once nothing is open in it. `leavesNotes`: with what was decided and why beside
    /// the commits.
    void record(const QString& message, bool leavesNotes = false);
    /// Stops what is being recorded; it is taken back.
    void stop() { m_stop.request_stop(); }
    /// Gives a begun join back to the program that began it: its files as they were found, or with what
    /// is decided here. The splice is put away.
    void handBack(bool withDecisions);

    /// Moves the branch to a shared one's commit: forward, or, as a rebase of which no commit is left, off
    /// its own commits.
    void moveTo(const std::string& theirsRef, SpliceKind kind, WorkChoice work);
    /// Moves the branch to where it stood before a recorded splice, or forward to it again.
    void roll(const JournalEntry& recorded, bool forward);
    /// Checks out another own branch, with uncommitted work carried across where it fits, and moves it
    /// forward to what it follows, if it can.
    void goToLine(const std::string& ref);
    /// Commits some of the uncommitted files.
    void commitFiles(const std::vector<ChosenFile>& files, const QString& message);
    /// Moves files that stand in the way of what is to be recorded beside their places.
    void keepBeside(const std::vector<RepoPath>& paths);

    /// Whose the next commit is, where the system does not know it.
    void setNewIdentity(const QString& name, const QString& email);

signals:
    /// The step that it is at, in words; empty: it is over.
    void progressed(const QString& step);
    /// The splice under way is recorded, and ends.
    void recorded(const rope::Recorded& recorded);
    /// Nothing was recorded, and all is as before, unless the error says what is left to do.
    void failed(const rope::Error& error);
    /// Something was recorded that no splice was under way for.
    void doneAtOnce(const rope::JournalEntry& entry, const rope::Recorded& recorded);
    /// The names that the files have now.
    void keptBeside(const std::vector<rope::RepoPath>& names);

private:
    void begin(const QString& firstStep);
    void onAnswer(const Result<Recorded>& result);
    void onDoneAtOnce(const JournalEntry& entry, const Result<Recorded>& result);
    void recordAtOnce(
        SplicePlan plan,
        const std::string& follows,
        std::function<Result<Recorded>(const JournalEntry&, const ProgressSink&, std::stop_token)>
            work);
    void finishLater(const Result<Recorded>& result);
    [[nodiscard]] ProgressSink progress();

    PlaceSession& m_place;
    SpliceSession& m_splices;
    std::optional<Signature> m_newIdentity;
    std::stop_source m_stop;
    BackgroundRunner m_records;
    BackgroundRunner m_moves;  ///< Files beside their places.
};
}  // namespace rope
