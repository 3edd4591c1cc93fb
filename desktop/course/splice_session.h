// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/progress.h"
#include "core/decide/carry_over.h"
#include "desktop/course/journal_writer.h"
#include "desktop/course/leg_keeper.h"
#include "desktop/facts/send_view.h"

namespace rope {
/// How a splice came to be looked at here.
struct Started
{
    JournalEntry entry;   ///< Where the person was, if it was begun earlier.
    CarriedOver carried;  ///< From the splice that it carries on; empty if from none.
    bool isCarriedOn = false;
    bool isOfOpenOne = false;  ///< The one before was not recorded, and ends with this.
    bool isOfBegun = false;    ///< What another program has begun was taken over just now.
    std::string
        heldBy;  ///< The process of another window that has it; empty: it is ours to change.
};

/// How a splice is to begin.
struct StartWishes
{
    SpliceKind kind = SpliceKind::merge;
    WorkChoice work = WorkChoice::carry;
    bool keepsEmptied = false;
    std::string follows{};  ///< The splice whose decisions are carried over; empty: none.
};

enum class Ended {
    putAway,
    handedBack,  ///< With what was decided, to the program that had begun it.
    recorded,
    elsewhere,  ///< Another window or command ended it, or the place was left.
};

/// The splice under way in the open place: starts and resumes it, stores every decision, records it.
/// Lives on the interface thread; every answer arrives there as a signal.
class SpliceSession final : public QObject
{
    Q_OBJECT
public:
    SpliceSession(PlaceSession& place, QObject* parent);
    ~SpliceSession() override;

    /// Begins one from a forecast.
    void start(const std::string& theirsRef,
               const std::shared_ptr<const SurveyForecast>& survey,
               const StartWishes& wishes);
    /// Moves the branch to a shared one's commit: forward, or, as a rebase of which no commit is left, off
    /// its own commits.
    void moveTo(const std::string& theirsRef, SpliceKind kind, WorkChoice work);
    /// Opens a recorded splice again with all its decisions. What is recorded then takes the place of `made`,
    /// its commit, and what stands upon that is carried along; or, `onTop`, is a commit upon all that.
    void reopen(const JournalEntry& recorded, const ObjectId& made, bool onTop);
    /// Opens a merge of the history again, whoever made it, with what it says was decided. What is recorded
    /// then takes its place, or, where others have it or a merge commit stands upon it, is a commit on top.
    void reopenMerge(const ObjectId& merge);
    /// Begins a commit that takes out again what `made`, the commit of a recorded splice, brought in.
    void takeOut(const JournalEntry& recorded, const ObjectId& made);
    /// Moves the branch to where it stood before a recorded splice, or forward to it again.
    void roll(const JournalEntry& recorded, bool forward);
    /// Checks out another own branch, with uncommitted work carried across where it fits, and moves it
    /// forward to what it follows, if it can.
    void goToLine(const std::string& ref);
    /// Moves files that stand in the way of what is to be recorded beside their places.
    void keepBeside(const std::vector<RepoPath>& paths);
    /// Commits some of the uncommitted files.
    void commitFiles(const std::vector<ChosenFile>& files, const QString& message);
    /// Reads what is uncommitted, change by change.
    void readUncommitted();
    /// Begins to bring back the work that a splice has set aside; what fits comes at once.
    /// Brings uncommitted work back that is kept and that no splice has.
    void bringKeptBack(const ObjectId& work);
    void bringWorkBack(const std::string& id);
    /// Looks whether uncommitted work still is what was joined, and joins it again if it is not.
    void lookAtWork() { m_legs.lookAtWork(); }
    /// Whether later commits and carried work are joined to what is decided now.
    [[nodiscard]] bool isSettled() const { return m_legs.isSettled(); }
    /// Begins the join of what came to the shared branch that the last splice could not be sent to.
    void startRound(const SecondRound& round, const SendFacts& sent);
    /// Begins anew from where both branches stand now, with all decisions, and ends the one before.
    void carryOn(const JournalEntry& entry);
    void putAway();
    /// Goes on with one that was put away; what is open is put away first.
    void bringBack(const std::string& id);
    /// Goes on with the join that another program has begun in the files; `follows`: an earlier splice of
    /// it, which ends with this.
    void takeBegun(const std::string& follows = {});
    /// Gives a begun join back to the program that began it: its files as they were found, or with what
    /// is decided here. The splice is put away.
    void handBack(bool withDecisions);
    /// Takes an open splice from another window.
    void takeOver();
    /// The newest splice that was put away of joining this branch into the one checked out, if it has
    /// decisions; else nothing.
    [[nodiscard]] std::optional<JournalEntry> earlierOf(const std::string& theirsRef);

    /// `leavesNotes`: with what was decided and why beside the commits.
    void record(const QString& message, bool leavesNotes = false);
    void stopRecording() { m_recordStop.request_stop(); }
    /// Lines of messages that begin so are left out.
    /// Of a correction: what had been decided in what it corrects.
    [[nodiscard]] const std::vector<Decision>& corrected() const { return m_corrected; }
    /// Of a rebase: commits that are not written anew, since their change is there already.
    [[nodiscard]] const std::vector<CommitLeftOut>& leftOut() const { return m_legs.leftOut(); }
    void setCommentStart(const std::string& start) { m_commentStart = start; }
    /// Subjects of the commits that the splice under way brings in, newest first; bounded.
    [[nodiscard]] std::vector<std::string> joinedSubjects() const;
    void setNewIdentity(const QString& name, const QString& email);

    void requestFileFacts(std::size_t file);
    /// Asks since when the sides do not fit at a region; the last one asked for is answered.
    void requestSince(SlotPlace place);
    /// Reads what the result changes, once nothing is open; the last one asked for is answered.
    void requestContents();
    void storeMessage(const QString& message);
    void storeReason(const GivenReason& reason);
    void storePlace(const std::string& station, const std::string& place);
    /// What a person has said of findings and files of the splice under way.
    [[nodiscard]] std::set<std::string> marks(MarkKind kind);
    void storeMark(MarkKind kind, const std::string& key, bool isSet);
    /// What check commands gave on a tree, as far as that is remembered.
    [[nodiscard]] std::vector<CheckRun> runsOn(const ObjectId& tree);
    void storeRun(const CheckRun& run);
    /// What the splice under way was made of; null if there is none.
    [[nodiscard]] std::shared_ptr<const Forecast> forecast() const;

    [[nodiscard]] Splice* splice() const { return m_splice.get(); }
    [[nodiscard]] const JournalEntry& entry() const { return m_entry; }
    [[nodiscard]] bool isRecording() const { return m_isRecording; }
    [[nodiscard]] bool isHeldElsewhere() const { return m_isHeldElsewhere; }

signals:
    /// How far taking up a splice is, in words; empty: it is done.
    void startProgressed(const QString& text);
    void started(const rope::Started& started);
    /// The splice is about to go: whatever shows it must let it go now.
    void ending();
    void ended(rope::Ended how);
    /// An open splice does not stand where its branches stand now; it can be carried on.
    void fellBehind(const rope::JournalEntry& entry, const QString& why);
    /// Files of the first leg are about to be decided or written otherwise.
    void decisionsChanged(const std::set<rope::RepoPath>& paths);
    void fileFactsReady(std::size_t file, const rope::FileFacts& facts);
    void sinceReady(rope::SlotPlace place, const QString& words);
    void contentsReady(const rope::ResultReading& contents);
    void recordingProgressed(const QString& step);
    void recorded(const rope::Recorded& recorded);
    void recordingFailed(const rope::Error& error);
    /// Something was recorded that no splice was under way for: a fast-forward, a commit.
    void doneAtOnce(const rope::JournalEntry& entry, const rope::Recorded& recorded);
    void uncommittedRead(const rope::ResultReading& uncommitted);
    void keptBeside(const std::vector<rope::RepoPath>& names);
    /// Legs from this one on are about to be other ones: whatever shows their files lets them go.
    void legsAboutToChange(std::size_t first);
    void legsChanged(std::size_t first);
    /// Every leg stands on what is decided now.
    void settled();
    /// Decisions in later commits that the change of an earlier one left without a place.
    void decisionsLost(std::size_t count);
    void failed(const rope::Error& error);

private:
    void onOpened(const FoundPlace& found);
    void onFactsChanged();
    void watchHolder();
    void resume(const JournalEntry& entry);
    /// `decidedIn`: the tree of a finished merge that says what was decided; null: none.
    void forecastAndBegin(const JournalEntry& entry,
                          const std::string& follows,
                          const ObjectId& decidedIn = {});
    void begin(const JournalEntry& entry,
               const std::shared_ptr<const SurveyForecast>& survey,
               const std::string& follows,
               const ObjectId& decidedIn = {});
    /// Once the commits are kept alive: journals the splice, with what it carries over.
    void beginPrepared(JournalEntry entry,
                       const std::shared_ptr<const SurveyForecast>& survey,
                       const std::string& follows,
                       const PreparedSplice& prepared);
    [[nodiscard]] EarlierDecisions earlierDecisions(const std::string& splice);
    void takeUp(std::unique_ptr<Splice> splice,
                const JournalEntry& entry,
                std::shared_ptr<const SurveyForecast> survey,
                RebaseScope scope,
                std::vector<Decision> waiting);
    void readTip(const std::string& line, std::function<void(const ObjectId&)> take);
    [[nodiscard]] ProgressSink startProgress();
    void recordAtOnce(const JournalEntry& entry,
                      std::function<Result<Recorded>(const ProgressSink&, std::stop_token)> work);
    void finishLater(const Result<Recorded>& result);
    /// The newest splice that was to finish this begun join and was put away; empty: there is none.
    [[nodiscard]] std::string earlierOfBegun(const BegunJoin& begun);
    void connectLegs();
    void noteCorrected(const JournalEntry& entry, const Splice& splice);
    [[nodiscard]] std::shared_ptr<const FileOutcome> heldOutcome(std::size_t file) const;
    void drop(Ended how);
    [[nodiscard]] WorkChoice workOn(const std::string& line) const;
    [[nodiscard]] QString whyBehind(const JournalEntry& entry) const;
    /// What a splice of joining a branch into the one picked begins with.
    [[nodiscard]] SplicePlan
    freshPlan(const Branch& theirs, SpliceKind kind, WorkChoice work) const;
    void report(const Status& status);

    PlaceSession& m_place;
    std::unique_ptr<Journal> m_journal;
    std::unique_ptr<JournalWriter> m_writer;         ///< Of that journal.
    std::shared_ptr<const SurveyForecast> m_survey;  ///< What the splice under way was made of.
    std::unique_ptr<Splice> m_splice;
    JournalEntry m_entry;
    std::string m_holder;  ///< How this window is called in the journal.
    std::string m_commentStart;
    std::vector<Decision> m_corrected;  ///< Empty where the splice is no correction.
    std::optional<Signature> m_newIdentity;
    LegKeeper m_legs;
    std::stop_source m_recordStop;
    QString m_toldBehind;  ///< What was said of the branches last, so that it is said once.
    bool m_isStarting = false;
    bool m_isRecording = false;
    bool m_isHeldElsewhere = false;
    QTimer m_holderTimer;
    BackgroundRunner m_work;
    BackgroundRunner m_records;
    BackgroundRunner m_since;     ///< Superseded by each next one.
    BackgroundRunner m_contents;  ///< Superseded by each next one.
};
}  // namespace rope
