// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "core/logbook/database.h"
#include "core/system/recording.h"

#include <array>
#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <span>
#include <string>
#include <vector>

namespace rope {
enum class SpliceState {
    open,       ///< Under way.
    recording,  ///< Being recorded, or cut off while it was.
    recorded,
    abandoned,  ///< Put away: offered again where its branch stands.
    givenUp,    ///< Abandoned by a person: the logbook alone has it, and can bring it back.
};

inline constexpr std::array kSpliceStates{SpliceState::open,
                                          SpliceState::recording,
                                          SpliceState::recorded,
                                          SpliceState::abandoned,
                                          SpliceState::givenUp};

/// Whether a person left it before it was recorded, and it can be gone on with.
[[nodiscard]] constexpr bool canBeBroughtBack(SpliceState state)
{
    return state == SpliceState::abandoned || state == SpliceState::givenUp;
}

/// Who began a splice, and so whether somebody goes on with it after a crash.
enum class BegunBy { window, command };

/// A splice as the journal knows it.
struct JournalEntry
{
    SplicePlan plan;
    SpliceState state = SpliceState::open;
    BegunBy begunBy = BegunBy::window;
    std::int64_t startedAt = 0;  ///< Seconds since 1970.
    std::int64_t endedAt = 0;    ///< When it was recorded or put away; 0 before.
    int round = 1;               ///< 1, or one more than the splice that it carries on.
    std::string follows;         ///< Id of that splice; empty if none.
    std::string message;         ///< The half-written commit message; empty if none.
    std::string station;         ///< Where the person was: "survey", "resolve", "record".
    std::string place;           ///< The selected thing there; the station's own notation.
    std::string holder;          ///< The window that has it open, see holdSplice(); empty if none.
    ObjectId recorded;           ///< The commit it ended in, or null.
    std::size_t carried = 0;     ///< So many of the last commits of these were only carried along.
};

/// How far back undo reaches after a restart.
inline constexpr std::size_t kMostKeptSteps = 500;
inline constexpr std::size_t kMostStepBytes = 16'000'000;  ///< Of texts, all steps together.

/// What a person has said of something that is no decision.
enum class MarkKind {
    fine,  ///< A finding, by its key.
    read,  ///< A file of the result, by a digest of its path and text.
};

/// What running a command on a tree gave. Only what ended by itself is kept.
struct CheckRun
{
    ObjectId tree;
    std::string command;  ///< As it was written.
    int exitCode = 0;
    int signal = 0;  ///< That ended it; 0: it ended by itself.
    std::int64_t durationMs = 0;
    std::int64_t endedAt = 0;  ///< Seconds since 1970.

    [[nodiscard]] bool hasPassed() const { return exitCode == 0 && signal == 0; }
};

/// What a merge of the history, or an earlier splice, says was decided for a region.
struct LearnedDecision
{
    std::string region;  ///< Its key.
    std::string loose;   ///< Its key, blanks aside.
    std::string text;
    EarlierSource source;
};
/// Of them, the newest that are kept, and the longest texts.
inline constexpr std::int64_t kMostLearned = 20'000;
inline constexpr std::size_t kMostLearnedBytes = 20'000;

/// The newest runs that are kept.
inline constexpr std::int64_t kMostKeptRuns = 1000;

/// The memory of splices: `journal.sqlite` in the place's private folder (docs/journal.md).
/// What a call has stored survives the end of the process at any moment after it returns; recording
/// notes survive the end of power as well. One thread per instance; several instances may share a file.
class Journal
{
public:
    /// Opens or makes the journal in `folder`, bringing an older version up to date. A file that is
    /// no journal of ours, or damaged, is set aside: see setAsideAs().
    /// Errors: `io`; `unsupported` (Reason::journalNewer, or ::journalUnreadable for a link or another
    /// user's file), the file is left as it is. A call that finds another instance writing for longer than
    /// `patience` gives `busy`, and has stored nothing.
    static Result<std::unique_ptr<Journal>>
    open(const std::string& folder, std::chrono::milliseconds patience = Database::kPatience);
    Journal(const Journal&) = delete;
    Journal& operator=(const Journal&) = delete;

    /// The name that an unreadable file has now; empty if there was none.
    [[nodiscard]] const std::string& setAsideAs() const { return m_setAsideAs; }
    /// Random, and the journal's for good.
    [[nodiscard]] const std::string& id() const { return m_id; }
    /// Whether this person's state knows it, see known_journals.h. One that open() has made is known.
    [[nodiscard]] bool isOurs() const { return m_isOurs; }
    /// A person has said that it is theirs. Errors: `io`.
    Status adopt();
    /// Gives the journal in `folder` another name, so that a new one can be begun; returns the name.
    /// Errors: `io`.
    static Result<std::string> setAside(const std::string& folder);
    /// The name under which a splice of this journal keeps something alive: whose it is, for which
    /// splice, and what it is ("work", "ours", …).
    [[nodiscard]] std::string keptName(const std::string& splice, const std::string& part) const;

    Status begin(const JournalEntry& entry, const std::vector<LegSnapshots>& legs = {});
    /// Splices in this state, newest first.
    Result<std::vector<JournalEntry>> splices(SpliceState state);
    /// Nothing when it is not known.
    Result<std::optional<JournalEntry>> splice(const std::string& id);
    /// One line of work, one splice at a time. Errors: `busy` (Reason::spliceOpen, subject `lineName`)
    /// while another than `except` is open or being recorded there.
    Status checkLineIsFree(const std::string& line,
                           const std::string& lineName,
                           const std::string& except = {});
    /// Ids of the splices that another one carries on.
    Result<std::set<std::string>> carriedOn();
    Result<std::vector<LegSnapshots>> legs(const std::string& splice);
    Status setState(const std::string& splice, SpliceState state);
    /// What uncommitted work a splice looks after, and what becomes of it.
    Status setWork(const std::string& splice, WorkChoice choice, const ObjectId& work);
    /// Forgets a splice and all that hangs on it.
    Status forget(const std::string& splice);

    /// Notes which window has an open splice; an empty name lets it go.
    Status holdSplice(const std::string& splice, const std::string& holder);

    /// Stores all of these or none. A state of "nothing yet" removes what was stored.
    Status storeDecisions(const std::string& splice, const std::vector<Decision>& decisions);
    Result<std::vector<Decision>> decisions(const std::string& splice);
    /// Stores what a change made of its places, and the step with which it can be undone or redone;
    /// all or none. Of the steps, the newest are kept: at most kMostKeptSteps and kMostStepBytes.
    Status storeChange(const std::string& splice, const SpliceChange& change);
    Result<KeptSteps> steps(const std::string& splice);

    /// Keeps why something is decided so; an empty text: nothing is said any more.
    Status storeReason(const std::string& splice, const GivenReason& reason);
    Result<std::vector<GivenReason>> reasons(const std::string& splice);

    Status storeMark(const std::string& splice, MarkKind kind, const std::string& key, bool isSet);
    Result<std::set<std::string>> marks(const std::string& splice, MarkKind kind);
    /// Gives a splice the marks of the one that it carries on, and what was said there about decisions.
    Status copyMarks(const std::string& from, const std::string& to);

    /// Keeps a run in the place of an earlier one of that command on that tree.
    Status storeRun(const CheckRun& run);
    Result<std::vector<CheckRun>> runsOn(const ObjectId& tree);

    /// Keeps what a merge says, and that it was read. A decision that is newer stays.
    Status learnFrom(const ObjectId& merge, const std::vector<LearnedDecision>& decisions);
    Result<std::set<ObjectId>> learnedMerges();
    /// What was decided for a region before: for the very same in a splice that was not recorded, newest
    /// first, but not in `except`; else in a merge of the history; else, blanks aside, there.
    Result<std::optional<LearnedDecision>>
    decidedBefore(const std::string& region, const std::string& loose, const std::string& except);
    /// Whether a person has said that what is odd about a merge is fine.
    Status setMergeFine(const ObjectId& merge, bool isFine);
    Result<std::set<ObjectId>> fineMerges();

    Status storeMessage(const std::string& splice, const std::string& message);
    Status
    storePlace(const std::string& splice, const std::string& station, const std::string& place);

    /// Notes how many of the commits that are about to be recorded are only carried along.
    Status noteCarried(const std::string& splice, std::size_t count);
    /// Notes the step a recording is about to take, and the state that goes with it.
    Status noteRecording(const std::string& splice, const RecordingNote& note);
    /// Nothing when none is under way.
    Result<std::optional<RecordingNote>> recordingNote(const std::string& splice);
    /// Ends a recording: the note goes, the state becomes `state`, the last note of what was recorded
    /// stays for rolling back. `recorded` is null unless it was.
    Status endRecording(const std::string& splice, SpliceState state, const ObjectId& recorded);

    /// When each remote last answered a question of ours, in seconds since 1970.
    Status noteAsked(const std::string& remote, std::int64_t at);
    Result<std::map<std::string, std::int64_t>> lastAsked();

private:
    explicit Journal(const std::string& file);
    static Result<std::unique_ptr<Journal>> openFile(const std::string& file,
                                                     std::chrono::milliseconds patience);
    Result<int> version();
    Status prepareTables();
    Status migrate(bool isNew);
    /// Runs what leads from one version to the next, where the file is not there yet.
    Status bringTo(int version, int present, std::span<const char* const> statements);
    Status remember();
    void writeIdBeside() const;
    Result<std::set<ObjectId>> idsIn(const char* table);
    Result<std::vector<JournalEntry>> entriesWhere(const std::string& condition,
                                                   const QVariant& value);

    Database m_database;
    std::string m_setAsideAs;
    std::string m_id;
    bool m_isOurs = false;
};
}  // namespace rope
