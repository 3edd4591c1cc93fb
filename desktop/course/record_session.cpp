// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice_session.cpp, tst_window.cpp.
#include "desktop/course/record_session.h"

#include "core/base/assert.h"
#include "core/decide/begun_decisions.h"
#include "core/plan/recording_plan.h"
#include "core/plan/splice_wishes.h"
#include "desktop/course/log.h"
#include "desktop/course/progress_text.h"

#include <QDateTime>

namespace rope {
namespace {
/// Whether it is a commit that says nothing but what it changes.
bool standsAloneOnTop(const SplicePlan& plan)
{
    return plan.begun.empty() && factsOf(plan.kind).isOnTop;
}
}  // namespace

RecordSession::RecordSession(PlaceSession& place, SpliceSession& splices, QObject* parent)
    : QObject(parent)
    , m_place(place)
    , m_splices(splices)
    , m_records(1, this)
    , m_moves(1, this)
{
}

void RecordSession::setNewIdentity(const QString& name, const QString& email)
{
    m_newIdentity = Signature{name.toStdString(), email.toStdString(), 0};
}

ProgressSink RecordSession::progress()
{
    return progressTo(
        this, ProgressPace::everyStep, [this](const QString& step) { emit progressed(step); });
}

/// From here until the answer nothing changes what is recorded, nor where it is recorded.
void RecordSession::begin(const QString& firstStep)
{
    m_splices.beginRecording();
    m_place.setPaused(true);
    m_stop = {};
    emit progressed(firstStep);
}

void RecordSession::record(const QString& message, bool leavesNotes)
{
    if (!m_splices.isOpen() || m_splices.splice()->openCount() > 0 || !m_splices.isSettled()) {
        return;
    }
    const SplicePlan& plan = m_splices.entry().plan;
    begin(tr("Recording…"));
    RecordRequest request{m_splices.splice()->copy(),
                          message.toStdString(),
                          {m_splices.commentStart(), leavesNotes},
                          m_newIdentity,
                          plan.workChoice == WorkChoice::setAside,
                          standsAloneOnTop(plan)};
    m_records.runToTheEnd(
        [address = m_place.address(), request = std::move(request), progress = progress()](
            const std::stop_token& stop) {
            return recordInPlace(address, request, progress, stop);
        },
        [this](const Result<Recorded>& result) { onAnswer(result); },
        m_stop.get_token());
}

void RecordSession::onAnswer(const Result<Recorded>& result)
{
    m_splices.endRecording();
    emit progressed({});
    ROPE_ASSERT(m_splices.splice() != nullptr, "no other place is opened while one records");
    if (result) {
        m_newIdentity.reset();
        logNote("recorded " + result->commit.id.hex());
        m_splices.noteRecorded();
        emit recorded(*result);
        m_splices.end(Ended::recorded);
    } else {
        logError(result.error());
        // Where work has changed nothing is recorded before it is joined again.
        m_splices.goOnAfterFailure(result.error().reason == Reason::workChanged);
        emit failed(result.error());
    }
    m_place.setPaused(false);
    finishLater(result);
}

/// Where it is recorded but the work is not back, opening the place again tries once more. Recording
/// again must not be tried: it would forget what is left to do.
void RecordSession::finishLater(const Result<Recorded>& result)
{
    if (!result && result.error().reason == Reason::workNotBack) {
        m_splices.end(Ended::elsewhere);
        m_place.open(m_place.folder());
    }
}

void RecordSession::handBack(bool withDecisions)
{
    if (!m_splices.isOpen() || m_splices.entry().plan.begun.empty()) {
        return;
    }
    if (!withDecisions) {
        m_splices.putAway();  // nothing of it was ever touched
        return;
    }
    const SplicePlan& plan = m_splices.entry().plan;
    BegunTexts texts = begunTexts(*m_splices.splice());
    begin(tr("Writing what is decided into the files…"));
    m_records.runToTheEnd(
        [address = m_place.address(),
         splice = plan.id,
         work = HandBack{plan.begun, std::move(texts.edits), std::move(texts.settled)}](
            const std::stop_token&) { return handBackInPlace(address, splice, work); },
        [this](const Status& handed) {
            m_splices.endRecording();
            emit progressed({});
            if (handed) {
                m_splices.end(Ended::handedBack);
            } else {
                m_splices.goOnAfterFailure(false);
                logError(handed.error());
                emit failed(handed.error());
            }
            m_place.setPaused(false);
            m_place.look();
        },
        {});
}

void RecordSession::recordAtOnce(
    SplicePlan plan,
    const std::string& follows,
    std::function<Result<Recorded>(const JournalEntry&, const ProgressSink&, std::stop_token)> work)
{
    JournalEntry entry;
    entry.plan = std::move(plan);
    entry.follows = follows;
    entry.begunBy = BegunBy::command;  // nobody goes on with it after a crash
    entry.startedAt = QDateTime::currentSecsSinceEpoch();
    begin(tr("Recording…"));
    m_records.runToTheEnd(
        [work = std::move(work), entry, progress = progress()](const std::stop_token& stop) {
            return work(entry, progress, stop);
        },
        [this, entry](const Result<Recorded>& result) { onDoneAtOnce(entry, result); },
        m_stop.get_token());
}

void RecordSession::onDoneAtOnce(const JournalEntry& entry, const Result<Recorded>& result)
{
    m_splices.endRecording();
    emit progressed({});
    if (result) {
        m_newIdentity.reset();
        logNote("recorded " + result->commit.id.hex());
        emit doneAtOnce(entry, *result);
    } else {
        logError(result.error());
        emit failed(result.error());
    }
    m_place.setPaused(false);
    finishLater(result);
}

void RecordSession::moveTo(const std::string& theirsRef, SpliceKind kind, WorkChoice work)
{
    const auto facts = m_place.facts();
    const Branch* theirs = facts ? facts->branch(theirsRef) : nullptr;
    if (!m_splices.mayBegin() || theirs == nullptr) {
        return;
    }
    recordAtOnce(planToJoin(freshSpliceId(),
                            facts->into,
                            *theirs,
                            kind,
                            facts->isElsewhere() ? WorkChoice::filesStay : work),
                 {},
                 [address = m_place.address()](const JournalEntry& entry,
                                               const ProgressSink& progress,
                                               const std::stop_token& stop) {
                     return moveLine(address, entry, progress, stop);
                 });
}

void RecordSession::roll(const JournalEntry& recorded, bool forward)
{
    if (!m_splices.mayBegin()) {
        return;
    }
    recordAtOnce(planToRoll(freshSpliceId(),
                            recorded.plan,
                            recorded.recorded,
                            forward,
                            m_splices.workOn(recorded.plan.oursRef)),
                 recorded.plan.id,
                 [address = m_place.address()](const JournalEntry& entry,
                                               const ProgressSink& progress,
                                               const std::stop_token& stop) {
                     return moveLine(address, entry, progress, stop);
                 });
}

void RecordSession::goToLine(const std::string& ref)
{
    const auto facts = m_place.facts();
    const Branch* line = facts ? facts->branch(ref) : nullptr;
    if (!m_splices.mayBegin() || line == nullptr || facts->standing.ref == ref) {
        return;
    }
    JournalEntry forward;
    forward.plan = planToFollow(freshSpliceId(), *line, facts->branch(line->upstreamRef));
    forward.begunBy = BegunBy::command;
    forward.startedAt = QDateTime::currentSecsSinceEpoch();
    recordAtOnce(planToSwitch(freshSpliceId(), facts->standing, *line),
                 {},
                 [address = m_place.address(), forward](const JournalEntry& entry,
                                                        const ProgressSink& progress,
                                                        const std::stop_token& stop) {
                     return rope::goToLine(address, entry, forward, progress, stop);
                 });
}

void RecordSession::commitFiles(const std::vector<ChosenFile>& files, const QString& message)
{
    const auto facts = m_place.facts();
    if (!m_splices.mayBegin() || !facts) {
        return;
    }
    recordAtOnce(
        planToCommit(freshSpliceId(), facts->standing),
        {},
        [address = m_place.address(),
         files,
         text = message.toStdString(),
         identity = m_newIdentity](
            const JournalEntry& entry, const ProgressSink& progress, const std::stop_token& stop) {
            return rope::commitFiles(address, entry, files, text, identity, progress, stop);
        });
}

void RecordSession::keepBeside(const std::vector<RepoPath>& paths)
{
    if (m_splices.isRecording() || m_splices.isHeldElsewhere()) {
        return;
    }
    m_moves.run(
        [address = m_place.address(),
         paths](const std::stop_token&) -> Result<std::vector<RepoPath>> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            return place->keepBeside(paths);
        },
        [this](const Result<std::vector<RepoPath>>& names) {
            if (names) {
                emit keptBeside(*names);
            } else {
                m_splices.store().report(names.error());
            }
            m_place.look();
        });
}
}  // namespace rope
