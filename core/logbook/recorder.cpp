// SPDX-License-Identifier: GPL-3.0-or-later
// The steps themselves belong to the adapter; here they are journalled, and one at a time.
// Tested by tst_recorder.cpp.
#include "core/logbook/recorder.h"

#include "core/system/writer_lock.h"

#include <QDateTime>

namespace rope {
namespace {
constexpr std::int64_t kForgottenAfterSeconds = 180LL * 24 * 60 * 60;

/// A name of what is kept alive, in its parts. Earlier versions did not say whose journal knows it.
struct KeptName
{
    std::string journal;  ///< Empty: an earlier version's.
    std::string splice;
    std::string part;
};

std::optional<KeptName> keptNameOf(const std::string& name)
{
    const std::size_t first = name.find('/');
    if (first == std::string::npos) {
        return std::nullopt;
    }
    const std::size_t second = name.find('/', first + 1);
    if (second == std::string::npos) {
        return KeptName{{}, name.substr(0, first), name.substr(first + 1)};
    }
    return KeptName{
        name.substr(0, first), name.substr(first + 1, second - first - 1), name.substr(second + 1)};
}

Status letGo(Place& place, const Journal& journal, const std::string& splice)
{
    TRY_ASSIGN(const auto names, place.keptAlive());
    for (const std::string& name : names) {
        const auto kept = keptNameOf(name);
        const bool isOfIt =
            kept && kept->splice == splice
            && (kept->journal.empty() || name == journal.keptName(splice, kept->part));
        if (isOfIt) {
            TRY(place.keepAlive(name, {}));
        }
    }
    return ok();
}

/// A splice that a command began ends with it: nobody is there to go on.
SpliceState stateAfterUndo(const JournalEntry& entry)
{
    return entry.begunBy == BegunBy::command ? SpliceState::abandoned : SpliceState::open;
}

Result<Recovery> recover(Place& place, Journal& journal, const JournalEntry& entry)
{
    TRY_ASSIGN(const auto note, journal.recordingNote(entry.plan.id));
    Recovery recovery{entry.plan, false, {}};
    if (!note) {
        TRY(journal.setState(entry.plan.id, stateAfterUndo(entry)));
        return recovery;
    }
    TRY_ASSIGN(const auto outcome, place.recover(*note));
    if (outcome) {
        TRY(journal.endRecording(entry.plan.id, SpliceState::recorded, outcome->commit));
        recovery.isFinished = true;
        recovery.commit = outcome->commit;
    } else {
        TRY(journal.endRecording(entry.plan.id, stateAfterUndo(entry), {}));
    }
    return recovery;
}

/// What was begun and left by a command.
Status putAwayLeft(Journal& journal)
{
    TRY_ASSIGN(const auto open, journal.splices(SpliceState::open));
    for (const JournalEntry& entry : open) {
        if (entry.begunBy == BegunBy::command) {
            TRY(journal.setState(entry.plan.id, SpliceState::abandoned));
        }
    }
    return ok();
}

/// Whether a splice looks after work that has not come back.
bool hasWorkAside(const SplicePlan& plan)
{
    return plan.workChoice == WorkChoice::setAside && !plan.work.isNull();
}

/// Splices so old that nobody will come back to them.
Status forgetOld(Place& place, Journal& journal, SpliceState state)
{
    const std::int64_t oldest = QDateTime::currentSecsSinceEpoch() - kForgottenAfterSeconds;
    TRY_ASSIGN(const auto ended, journal.splices(state));
    for (const JournalEntry& entry : ended) {
        if (entry.endedAt < oldest && !hasWorkAside(entry.plan)) {
            TRY(letGo(place, journal, entry.plan.id));
            TRY(journal.forget(entry.plan.id));
        }
    }
    return ok();
}

/// Lets go what was kept alive for splices that a command began and did not record, and what a
/// recording left that was cut off.
Status letGoLeft(Place& place, Journal& journal)
{
    TRY_ASSIGN(const auto names, place.keptAlive());
    for (const std::string& name : names) {
        const auto kept = keptNameOf(name);
        if (!kept) {  // of a recording itself, which no journal has to know
            TRY(place.keepAlive(name, {}));
            continue;
        }
        TRY_ASSIGN(const auto entry, journal.splice(kept->splice));
        const bool isGivenUp = entry && entry->begunBy == BegunBy::command
                               && entry->state != SpliceState::recording
                               && entry->state != SpliceState::recorded;
        if (isGivenUp) {
            TRY(place.keepAlive(name, {}));
        }
    }
    return ok();
}
}  // namespace

Result<std::vector<KeptThing>> keptByOthers(Place& place, Journal& journal)
{
    std::vector<KeptThing> others;
    TRY_ASSIGN(auto names, place.keptAlive());
    for (std::string& name : names) {
        const auto kept = keptNameOf(name);
        if (!kept) {
            continue;
        }
        TRY_ASSIGN(const auto entry, journal.splice(kept->splice));
        if (!entry) {
            others.push_back({std::move(name), kept->part});
        }
    }
    return others;
}

Status keepAlive(Place& place, const Journal& journal, const SplicePlan& plan)
{
    const std::pair<const char*, const ObjectId*> parts[] = {{"work", &plan.work},
                                                             {"replaced", &plan.replaced},
                                                             {"above", &plan.above},
                                                             {"ours", &plan.ours},
                                                             {"theirs", &plan.theirs}};
    for (const auto& [part, id] : parts) {
        if (!id->isNull()) {
            TRY(place.keepAlive(journal.keptName(plan.id, part), *id));
        }
    }
    return ok();
}

Status keepFoundAlive(Place& place,
                      const Journal& journal,
                      const SplicePlan& plan,
                      const BegunFiles& files)
{
    return place.keepAlive(journal.keptName(plan.id, "found"), files.tree);
}

namespace {
Result<Recorded> readRecorded(Place& place, RecordOutcome outcome)
{
    std::vector<ObjectId> ids{outcome.commit};
    for (const RewrittenCommit& commit : outcome.rewritten) {
        ids.insert(ids.end(), {commit.before, commit.after});
    }
    TRY_ASSIGN(auto commits, place.readCommits(ids));
    Recorded recorded{std::move(commits.front()), std::move(outcome.hookOutput)};
    for (std::size_t i = 1; i < commits.size(); i += 2) {
        recorded.rewritten.emplace_back(std::move(commits[i]), std::move(commits[i + 1]));
    }
    return recorded;
}

/// With the lock held.
Result<Recorded> recordLocked(Place& place,
                              Journal& journal,
                              const std::string& splice,
                              const RecordingPlan& plan,
                              const ProgressSink& progress,
                              const std::stop_token& stop)
{
    const NoteSink note = [&](const RecordingNote& text) {
        return journal.noteRecording(splice, text);
    };
    if (!plan.work.isNull()) {
        TRY(place.keepAlive(journal.keptName(splice, "work"), plan.work));
    }
    if (plan.carried > 0) {
        TRY(journal.noteCarried(splice, plan.carried));
    }
    auto outcome = place.record(plan, note, progress, stop);
    if (!outcome) {
        // Where something is still to be undone or finished, the journal goes on saying so.
        const Reason reason = outcome.error().reason;
        if (reason != Reason::notUndone && reason != Reason::workNotBack) {
            TRY_ASSIGN(const auto entry, journal.splice(splice));
            TRY(journal.endRecording(
                splice, entry ? stateAfterUndo(*entry) : SpliceState::open, {}));
        }
        return std::move(outcome).error();
    }
    // It is recorded, whatever the disk says now: where this note fails, the next start makes it.
    (void)journal.endRecording(splice, SpliceState::recorded, outcome->commit);
    return readRecorded(place, std::move(*outcome));
}
}  // namespace

Result<Recorded> recordSplice(Place& place,
                              Journal& journal,
                              const std::string& splice,
                              const RecordingPlan& plan,
                              const ProgressSink& progress,
                              const std::stop_token& stop)
{
    TRY_ASSIGN(const std::string folder, place.privateFolder());
    TRY_ASSIGN(const auto lock, WriterLock::take(folder));
    return recordLocked(place, journal, splice, plan, progress, stop);
}

Result<Recorded> recordAtOnce(Place& place,
                              Journal& journal,
                              const JournalEntry& entry,
                              const std::vector<LegSnapshots>& legs,
                              const RecordingPlan& plan,
                              const std::stop_token& stop,
                              const ProgressSink& progress)
{
    TRY_ASSIGN(const std::string folder, place.privateFolder());
    TRY_ASSIGN(const auto lock, WriterLock::take(folder));
    TRY(journal.begin(entry, legs));
    const std::string& splice = entry.plan.id;
    TRY(keepAlive(place, journal, entry.plan));
    auto recorded = recordLocked(place, journal, splice, plan, progress, stop);
    if (!recorded && recorded.error().reason != Reason::notUndone
        && recorded.error().reason != Reason::workNotBack) {
        // A command leaves nothing half-done to come back to. The next start tries again if this fails.
        (void)letGo(place, journal, splice);
    }
    return recorded;
}

Status handBack(Place& place, Journal& journal, const std::string& splice, const HandBack& work)
{
    TRY_ASSIGN(const std::string folder, place.privateFolder());
    TRY_ASSIGN(const auto lock, WriterLock::take(folder));
    auto handed = place.handBack(
        work, [&](const RecordingNote& text) { return journal.noteRecording(splice, text); });
    if (!handed && handed.error().reason == Reason::notUndone) {
        return handed;  // the journal goes on saying so
    }
    TRY(journal.endRecording(splice, handed ? SpliceState::abandoned : SpliceState::open, {}));
    return handed;
}

Result<std::optional<Recovery>> recoverRecording(Place& place, Journal& journal)
{
    TRY_ASSIGN(const std::string folder, place.privateFolder());
    if (!journal.isOurs()) {
        return Error{ErrorCode::refused, folder, {}, Reason::begunElsewhere};
    }
    TRY_ASSIGN(const auto lock, WriterLock::take(folder));
    TRY(place.removeScratch());
    TRY_ASSIGN(const auto interrupted, journal.splices(SpliceState::recording));
    std::optional<Recovery> last;
    for (const JournalEntry& entry : interrupted) {
        TRY_ASSIGN(last, recover(place, journal, entry));
    }
    TRY(putAwayLeft(journal));
    TRY(forgetOld(place, journal, SpliceState::recorded));
    TRY(forgetOld(place, journal, SpliceState::abandoned));
    TRY(forgetOld(place, journal, SpliceState::givenUp));
    TRY(letGoLeft(place, journal));
    return last;
}
}  // namespace rope
