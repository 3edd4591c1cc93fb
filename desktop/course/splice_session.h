// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/carry_over.h"
#include "desktop/course/leg_keeper.h"
#include "desktop/course/splice_store.h"
#include "desktop/facts/behind.h"
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
    bool isFound = false;  ///< Nobody asked for it now: its branch was checked out meanwhile.
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
    abandoned,
    handedBack,  ///< With what was decided, to the program that had begun it.
    recorded,
    elsewhere,  ///< Another window or command ended it, or the place was left.
};

/// What a session is about. A splice is under way in `open` and `elsewhere`; while one is being started, or
/// something is recorded, there may be one.
enum class SpliceStage {
    none,
    starting,
    open,       ///< It is ours to change.
    elsewhere,  ///< Another window has it.
    recording,
};

/// Names a new splice, never given before.
[[nodiscard]] std::string freshSpliceId();

/// The splice under way in the open place: begins and resumes it, keeps every decision, puts it away. RecordSession
/// records it, SpliceReader reads for it. What does not fit the stage it is in does nothing.
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
    /// Opens a recorded splice again with all its decisions. What is recorded then takes the place of `made`,
    /// its commit, and what stands upon that is carried along; or, `onTop`, is a commit upon all that.
    void reopen(const JournalEntry& recorded, const ObjectId& made, bool onTop);
    /// Opens a merge of the history again, whoever made it, with what it says was decided. What is recorded
    /// then takes its place, or, where others have it or a merge commit stands upon it, is a commit on top.
    void reopenMerge(const ObjectId& merge);
    /// Begins a commit that takes out again what `made`, the commit of a recorded splice, brought in.
    void takeOut(const JournalEntry& recorded, const ObjectId& made);
    /// Begins to bring back the work that a splice has set aside; what fits comes at once.
    void bringWorkBack(const std::string& id);
    /// The same of work that is kept and that no splice has.
    void bringKeptBack(const ObjectId& work);
    /// Looks whether uncommitted work still is what was joined, and joins it again if it is not.
    void lookAtWork() { m_legs.lookAtWork(); }
    /// Whether later commits and carried work are joined to what is decided now.
    [[nodiscard]] bool isSettled() const { return m_legs.isSettled(); }
    /// Begins the join of what came to the shared branch that the last splice could not be sent to.
    void startRound(const SecondRound& round, const SendFacts& sent);
    /// Begins anew from where both branches stand now, with all decisions, and ends the one before.
    void carryOn(const JournalEntry& entry);
    void putAway();
    /// As putAway(), but nothing offers it any more: only the logbook can bring it back.
    void abandon();
    /// Goes on with what is under way on a branch. REQUIRES: a journal is open
    void goOnWithOpen(const std::string& line);
    /// Goes on with one that was put away or abandoned; what is open is put away first.
    void bringBack(const std::string& id);
    /// Goes on with the join that another program has begun in the files; `follows`: an earlier splice of
    /// it, which ends with this.
    void takeBegun(const std::string& follows = {});
    /// Takes an open splice from another window.
    void takeOver();
    /// The newest splice that was put away of joining this branch into the one checked out, if it has
    /// decisions; else nothing.
    [[nodiscard]] std::optional<JournalEntry> earlierOf(const std::string& theirsRef);

    /// From here until endRecording() nothing changes the splice, if there is one, and none is begun.
    /// REQUIRES: isFree() or isOpen()
    void beginRecording();
    /// A splice stays frozen until it is ended or goOnAfterFailure().
    void endRecording();
    /// It was not recorded: it can be changed again. `hasWorkChanged`: carried work is joined anew first.
    void goOnAfterFailure(bool hasWorkChanged);
    /// It was recorded; what it brought back is not kept any more.
    void noteRecorded();
    /// The splice goes, if there is one.
    void end(Ended how);

    /// Of a correction: what had been decided in what it corrects.
    [[nodiscard]] const std::vector<Decision>& corrected() const { return m_corrected; }
    /// Of a rebase: commits that are not written anew, since their change is there already.
    [[nodiscard]] const std::vector<CommitLeftOut>& leftOut() const { return m_legs.leftOut(); }
    /// Lines of messages that begin so are left out.
    void setCommentStart(const std::string& start) { m_commentStart = start; }
    [[nodiscard]] const std::string& commentStart() const { return m_commentStart; }
    /// Subjects of the commits that the splice under way brings in, newest first; bounded.
    [[nodiscard]] std::vector<std::string> joinedSubjects() const;
    /// What the splice under way was made of; null if there is none.
    [[nodiscard]] std::shared_ptr<const Forecast> forecast() const;

    /// The same with what Survey shows of it.
    [[nodiscard]] const std::shared_ptr<const SurveyForecast>& survey() const { return m_survey; }

    /// The journal, and what is kept in it of the splice under way.
    [[nodiscard]] SpliceStore& store() { return m_store; }
    [[nodiscard]] Splice* splice() const { return m_splice.get(); }
    [[nodiscard]] const JournalEntry& entry() const { return m_entry; }
    [[nodiscard]] SpliceStage stage() const { return m_stage; }
    /// Whether something may be begun.
    /// Whether something new may begin here; where only a journal is missing, it says so.
    [[nodiscard]] bool mayBegin();
    [[nodiscard]] bool isFree() const { return m_stage == SpliceStage::none && m_store.isOpen(); }
    /// Whether a splice is under way that may be changed and recorded.
    [[nodiscard]] bool isOpen() const { return m_stage == SpliceStage::open; }
    [[nodiscard]] bool isRecording() const { return m_stage == SpliceStage::recording; }
    [[nodiscard]] bool isHeldElsewhere() const;
    /// What becomes of uncommitted files when this line is changed.
    [[nodiscard]] WorkChoice workOn(const std::string& line) const;

signals:
    /// How far taking up a splice is, in words; empty: it is done.
    void startProgressed(const QString& text);
    void started(const rope::Started& started);
    /// What was asked for needs the place's journal, which is not open: FoundPlace::trouble says why.
    void journalMissing();
    /// The splice is about to go: whatever shows it must let it go now.
    void ending();
    void ended(rope::Ended how);
    /// An open splice does not stand where its branches stand now; it can be carried on.
    void fellBehind(const rope::JournalEntry& entry, const QString& why);
    /// Files of the first leg are about to be decided or written otherwise.
    void decisionsChanged(const std::set<rope::RepoPath>& paths);
    /// Legs from this one on are about to be other ones: whatever shows their files lets them go.
    void legsAboutToChange(std::size_t first);
    void legsChanged(std::size_t first);
    /// Every leg stands on what is decided now.
    void settled();
    /// Decisions in later commits that the change of an earlier one left without a place.
    void decisionsLost(std::size_t count);
    void failed(const rope::Error& error);

private:
    void leaveAs(SpliceState state, Ended how);
    void onOpened(const FoundPlace& found);
    void onFactsChanged();
    void watchHolder();
    void resume(const JournalEntry& entry, bool isFound = false);
    void resumeOpenOne(bool isFound);
    void resumeIfItStands(const JournalEntry& entry, bool isFound = false);
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
    void takeUp(std::unique_ptr<Splice> splice,
                const JournalEntry& entry,
                std::shared_ptr<const SurveyForecast> survey,
                LegKeeper::Laid laid);
    void readTip(const std::string& line, std::function<void(const ObjectId&)> take);
    [[nodiscard]] ProgressSink startProgress();
    /// The newest splice that was to finish this begun join and was put away; empty: there is none.
    [[nodiscard]] std::string earlierOfBegun(const BegunJoin& begun);
    void connectLegs();
    void noteCorrected(const JournalEntry& entry, const Splice& splice);

    [[nodiscard]] bool isBusy() const
    {
        return m_stage == SpliceStage::starting || m_stage == SpliceStage::recording;
    }
    /// Into a stage of which leave() returns.
    void enter(SpliceStage busy);
    void leave();
    /// What it is when nothing is started or recorded.
    void rest(SpliceStage stage);
    void holdElsewhere();

    PlaceSession& m_place;
    SpliceStore m_store;
    SpliceStage m_stage = SpliceStage::none;
    SpliceStage m_before =
        SpliceStage::none;  ///< While something is started or recorded: the one before.
    std::shared_ptr<const SurveyForecast> m_survey;  ///< What the splice under way was made of.
    std::unique_ptr<Splice> m_splice;
    JournalEntry m_entry;
    std::string m_holder;  ///< How this window is called in the journal.
    std::string m_commentStart;
    std::vector<Decision> m_corrected;  ///< Empty where the splice is no correction.
    LegKeeper m_legs;
    std::string m_lookedOn;  ///< The branch on which it was looked for something under way.
    QString m_toldBehind;    ///< What was said of the branches last, so that it is said once.
    QTimer m_holderTimer;
    BackgroundRunner m_work;
};
}  // namespace rope
