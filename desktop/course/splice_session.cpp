// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice_session.cpp, tst_window.cpp.
#include "desktop/course/splice_session.h"

#include "core/base/assert.h"
#include "core/base/process_tree.h"
#include "core/plan/begun_splice.h"
#include "desktop/course/log.h"
#include "desktop/course/progress_text.h"

#include <QDateTime>
#include <QUuid>

#include <algorithm>
#include <unistd.h>

namespace rope {
namespace {
constexpr int kHolderPollMs = 2000;

/// The process in a holder's name, if it lives and is not this one's own window.
std::string livingProcess(const std::string& holder)
{
    const std::string process = holder.substr(0, holder.find('-'));
    const int id = QString::fromStdString(process).toInt();
    return isRunning(id) ? process : std::string();
}

/// Decisions about legs that are not joined yet, or that have no place just now.
std::vector<Decision> waitingIn(const CarriedOver& carried)
{
    std::vector<Decision> waiting;
    for (const LostDecision& lost : carried.lost) {
        waiting.push_back(lost.decision);
    }
    return waiting;
}
}  // namespace

std::string freshSpliceId()
{
    return QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
}

SpliceSession::SpliceSession(PlaceSession& place, QObject* parent)
    : QObject(parent)
    , m_place(place)
    , m_store(this)
    , m_holder(std::to_string(::getpid()) + "-" + freshSpliceId())
    , m_legs(place, this)
    , m_work(2, this)
{
    connect(&m_store, &SpliceStore::failed, this, &SpliceSession::failed);
    connect(&m_place, &PlaceSession::opened, this, &SpliceSession::onOpened);
    connect(&m_place, &PlaceSession::factsChanged, this, &SpliceSession::onFactsChanged);
    m_holderTimer.setInterval(kHolderPollMs);
    connect(&m_holderTimer, &QTimer::timeout, this, &SpliceSession::watchHolder);
    connectLegs();
}

SpliceSession::~SpliceSession()
{
    if (m_splice && !isHeldElsewhere()) {
        m_store.finish();
        (void)m_store.journal().holdSplice(m_entry.plan.id, {});  // the process is gone soon anyway
    }
}

void SpliceSession::enter(SpliceStage busy)
{
    ROPE_ASSERT(!isBusy(), "one thing after the other");
    m_before = m_stage;
    m_stage = busy;
}

void SpliceSession::leave()
{
    m_stage = m_before;
}

void SpliceSession::rest(SpliceStage stage)
{
    (isBusy() ? m_before : m_stage) = stage;
}

bool SpliceSession::isHeldElsewhere() const
{
    return (isBusy() ? m_before : m_stage) == SpliceStage::elsewhere;
}

void SpliceSession::holdElsewhere()
{
    rest(SpliceStage::elsewhere);
    m_store.setSplice(m_entry.plan.id, false);
    m_splice->setFrozen(true);
    m_legs.setPaused(true);
}

void SpliceSession::beginRecording()
{
    enter(SpliceStage::recording);
    m_store.finish();
    if (m_splice) {
        m_splice->setFrozen(true);
        m_legs.setPaused(true);
    }
}

void SpliceSession::endRecording()
{
    ROPE_ASSERT(isRecording(), "what ends was begun");
    leave();
}

void SpliceSession::goOnAfterFailure(bool hasWorkChanged)
{
    m_splice->setFrozen(false);
    if (hasWorkChanged) {
        m_legs.forgetWork();
    }
    m_legs.setPaused(false);
}

void SpliceSession::noteRecorded()
{
    if (m_entry.plan.kind == SpliceKind::bringBack) {
        m_store.report(
            m_store.journal().setWork(m_entry.follows, WorkChoice::broughtBack, m_entry.plan.ours));
    }
}

void SpliceSession::connectLegs()
{
    connect(&m_legs, &LegKeeper::legsAboutToChange, this, [this](std::size_t first) {
        emit legsAboutToChange(first);
        m_store.finish();
    });
    connect(&m_legs, &LegKeeper::legsChanged, this, &SpliceSession::legsChanged);
    connect(&m_legs, &LegKeeper::settled, this, &SpliceSession::settled);
    connect(&m_legs, &LegKeeper::decisionsLost, this, &SpliceSession::decisionsLost);
    connect(&m_legs, &LegKeeper::decisionsToStore, this, [this](const auto& decisions) {
        m_store.report(m_store.journal().storeDecisions(m_entry.plan.id, decisions));
    });
    connect(&m_legs, &LegKeeper::workToStore, this, [this](const ObjectId& work) {
        m_store.report(m_store.journal().setWork(m_entry.plan.id, WorkChoice::carry, work));
        m_entry.plan.work = work;
    });
    connect(
        &m_legs, &LegKeeper::failed, this, [this](const Error& error) { m_store.report(error); });
}

void SpliceSession::onOpened(const FoundPlace& found)
{
    m_work.supersede();
    if (m_stage == SpliceStage::starting) {
        leave();
    }
    end(Ended::elsewhere);
    m_store.open(found.privateFolder);
    m_toldBehind.clear();
    if (m_store.isOpen()) {
        resumeOpenOne(false);
    }
}

void SpliceSession::goOnWithOpen(const std::string& line)
{
    auto entries = m_store.journal().splices(SpliceState::open);
    if (!isFree() || !entries) {
        return;
    }
    for (const JournalEntry& entry : *entries) {
        if (entry.plan.oursRef == line) {
            resumeIfItStands(entry);
            return;
        }
    }
}

/// What is under way on the branch that is checked out, or on one that leaves the files alone.
void SpliceSession::resumeOpenOne(bool isFound)
{
    const SurveyFacts& facts = *m_place.facts();
    m_lookedOn = facts.standing.ref;
    auto entries = m_store.journal().splices(SpliceState::open);
    if (!entries) {
        m_store.report(entries.error());
        return;
    }
    // The one of the branch that is checked out comes first.
    std::stable_partition(entries->begin(), entries->end(), [&facts](const JournalEntry& entry) {
        return entry.plan.oursRef == facts.standing.ref;
    });
    for (const JournalEntry& entry : *entries) {
        const bool isElsewhere = entry.plan.workChoice == WorkChoice::filesStay;
        // A begun rebase has its branch not checked out.
        const bool isBegun = facts.begun && isToFinish(entry.plan, *facts.begun);
        if (entry.plan.oursRef == facts.standing.ref || isElsewhere || isBegun) {
            if (isElsewhere) {
                m_place.setInto(entry.plan.oursRef);
            }
            resumeIfItStands(entry, isFound);
            return;
        }
    }
}

void SpliceSession::resumeIfItStands(const JournalEntry& entry, bool isFound)
{
    const SurveyFacts& facts = *m_place.facts();
    if (const Behind why = behindOf(entry.plan, facts); why != Behind::no) {
        emit fellBehind(entry, behindInWords(why, entry.plan, facts.standing));
    } else {
        resume(entry, isFound);
    }
}

void SpliceSession::onFactsChanged()
{
    const SurveyFacts& facts = *m_place.facts();
    if (isFree() && facts.standing.ref != m_lookedOn) {
        resumeOpenOne(
            true);  // another branch was checked out, and something may be under way there
        return;
    }
    if (!m_splice || isRecording()) {
        return;
    }
    // By its words: on a third branch it is another sentence.
    const QString why = behindInWords(behindOf(m_entry.plan, facts), m_entry.plan, facts.standing);
    if (why != m_toldBehind) {
        m_toldBehind = why;
        if (!why.isEmpty()) {
            emit fellBehind(m_entry, why);
        }
    }
}

void SpliceSession::begin(const JournalEntry& entry,
                          const std::shared_ptr<const SurveyForecast>& survey,
                          const std::string& follows,
                          const ObjectId& decidedIn)
{
    const SplicePlan& plan = entry.plan;
    if (const auto free = m_store.journal().checkLineIsFree(plan.oursRef, plan.oursName, follows);
        !free) {
        m_store.report(free);
        return;
    }
    SpliceStart start{plan, {survey, &survey->forecast}, {}, decidedIn};
    if (!follows.empty() && plan.kind != SpliceKind::bringBack) {
        start.earlier = m_store.decisionsOf(follows);
    }
    enter(SpliceStage::starting);
    m_work.run(
        [address = m_place.address(), start = std::move(start), progress = startProgress()](
            const std::stop_token& stop) { return prepareSplice(address, start, progress, stop); },
        [this, entry, survey, follows](const Result<PreparedSplice>& prepared) {
            leave();
            emit startProgressed({});
            if (prepared) {
                beginPrepared(entry, survey, follows, *prepared);
            } else {
                m_store.report(prepared.error());
                m_place.look();
            }
        });
}

void SpliceSession::beginPrepared(JournalEntry entry,
                                  const std::shared_ptr<const SurveyForecast>& survey,
                                  const std::string& follows,
                                  const PreparedSplice& prepared)
{
    entry.startedAt = QDateTime::currentSecsSinceEpoch();
    entry.holder = m_holder;
    entry.follows = follows;
    m_store.finish();
    Started started;
    if (!follows.empty() && entry.plan.kind != SpliceKind::bringBack) {
        const auto before = m_store.journal().splice(follows);
        if (before && *before) {
            entry.round = (*before)->round + 1;
            // A message that was recorded names what is decided anew.
            entry.message =
                (*before)->state == SpliceState::recorded ? std::string() : (*before)->message;
            entry.place = (*before)->place;
            started.isCarriedOn = true;
            started.isOfOpenOne = (*before)->state != SpliceState::recorded;
        }
    }
    started.isOfBegun = !entry.plan.begun.empty();
    auto splice =
        std::make_unique<Splice>(entry.plan,
                                 std::shared_ptr<const Forecast>(survey, &survey->forecast),
                                 prepared.decided,
                                 standingsOf(prepared.laid));
    std::vector<LegSnapshots> legs;
    for (const Leg& leg : splice->legs()) {
        legs.push_back({leg->base, leg->ours, leg->theirs});
    }
    if (const auto begun = m_store.journal().begin(entry, legs); !begun) {
        m_store.report(begun);
        return;
    }
    end(Ended::elsewhere);
    started.carried = prepared.carried;
    m_store.report(m_store.journal().storeDecisions(entry.plan.id, splice->decisions()));
    if (!follows.empty()) {
        m_store.report(m_store.journal().copyMarks(follows, entry.plan.id));  // takeUp() reads them
    }
    if (started.isOfOpenOne) {
        m_store.report(m_store.journal().setState(follows, SpliceState::abandoned));
    }
    started.entry = entry;
    takeUp(std::move(splice),
           entry,
           survey,
           {prepared.scope, prepared.laid, waitingIn(started.carried)});
    emit this->started(started);
}

void SpliceSession::forecastAndBegin(const JournalEntry& entry,
                                     const std::string& follows,
                                     const ObjectId& decidedIn)
{
    enter(SpliceStage::starting);
    PlaceAddress address = m_place.address();
    address.permissions.fetchesMissing = true;
    m_work.run(
        [address, plan = entry.plan, progress = startProgress()](const std::stop_token& stop) {
            return spliceForecast(address, plan, progress, stop);
        },
        [this, entry, follows, decidedIn](
            const Result<std::shared_ptr<const SurveyForecast>>& survey) {
            leave();
            emit startProgressed({});
            if (!survey) {
                m_store.report(survey.error());
                return;
            }
            begin(entry, *survey, follows, decidedIn);
        });
}

ProgressSink SpliceSession::startProgress()
{
    return progressTo(this, ProgressPace::calm, [this](const QString& text) {
        if (m_stage == SpliceStage::starting) {
            emit startProgressed(text);
        }
    });
}

void SpliceSession::takeUp(std::unique_ptr<Splice> splice,
                           const JournalEntry& entry,
                           std::shared_ptr<const SurveyForecast> survey,
                           LegKeeper::Laid laid)
{
    noteCorrected(entry, *splice);
    m_survey = std::move(survey);
    m_entry = entry;
    m_splice = std::move(splice);
    m_store.setSplice(entry.plan.id, true);
    rest(SpliceStage::open);
    m_toldBehind.clear();
    const auto reasons = m_store.journal().reasons(entry.plan.id);
    m_store.report(reasons ? ok() : Status(reasons.error()));
    m_splice->putReasons(reasons ? *reasons : std::vector<GivenReason>{});
    m_splice->setChangeSink([this](const SpliceChange& change) {
        m_store.storeChange(change);
        std::set<RepoPath> paths;
        for (const Decision& decision : change.after) {
            if (decision.leg < m_splice->workLeg()) {
                paths.insert(decision.path);
                m_legs.noteChange(decision.leg);
            }
        }
        emit decisionsChanged(paths);
    });
    m_legs.start(*m_splice, std::move(laid));
    m_holderTimer.start();
}

/// Decisions of the splice that is corrected; of a merge that no splice made, those that were read from
/// it: what a correction begins with.
void SpliceSession::noteCorrected(const JournalEntry& entry, const Splice& splice)
{
    m_corrected.clear();
    if (!entry.plan.isCorrection()) {
        return;
    }
    const auto before = entry.follows.empty() ? Result<std::vector<Decision>>(splice.decisions())
                                              : m_store.journal().decisions(entry.follows);
    m_store.report(before ? ok() : Status(before.error()));
    m_corrected = before ? *before : std::vector<Decision>();
}

void SpliceSession::resume(const JournalEntry& entry, bool isFound)
{
    enter(SpliceStage::starting);
    PlaceAddress address = m_place.address();
    address.permissions.fetchesMissing = true;
    using Resumed = std::pair<std::shared_ptr<const SurveyForecast>, PreparedSplice>;
    m_work.run(
        [address,
         plan = entry.plan,
         known = m_store.decisionsOf(entry.plan.id),
         progress = startProgress()](const std::stop_token& stop) -> Result<Resumed> {
            TRY_ASSIGN(auto survey, spliceForecast(address, plan, progress, stop));
            const SpliceStart start{plan, {survey, &survey->forecast}, known};
            TRY_ASSIGN(auto prepared, prepareToGoOn(address, start, progress, stop));
            return Resumed(std::move(survey), std::move(prepared));
        },
        [this, entry, isFound](const Result<Resumed>& resumed) {
            leave();
            emit startProgressed({});
            if (!resumed) {
                m_store.report(resumed.error());
                return;
            }
            const auto& survey = resumed->first;
            const PreparedSplice& prepared = resumed->second;
            auto splice =
                std::make_unique<Splice>(entry.plan,
                                         std::shared_ptr<const Forecast>(survey, &survey->forecast),
                                         prepared.decided,
                                         standingsOf(prepared.laid));
            if (const auto steps = m_store.journal().steps(entry.plan.id)) {
                splice->restoreSteps(*steps);
            } else {
                logError(steps.error());  // all decisions are there; they cannot be undone
            }
            const std::string other =
                entry.holder == m_holder ? std::string() : livingProcess(entry.holder);
            takeUp(std::move(splice),
                   entry,
                   survey,
                   {prepared.scope, prepared.laid, waitingIn(prepared.carried)});
            if (other.empty()) {
                m_store.report(m_store.journal().holdSplice(entry.plan.id, m_holder));
            } else {
                holdElsewhere();
            }
            emit started({entry, {}, false, false, false, other, isFound});
        });
}

/// Another window may take the splice over, or end it.
void SpliceSession::watchHolder()
{
    if (!m_splice || isRecording()) {
        return;
    }
    const auto entry = m_store.journal().splice(m_entry.plan.id);
    if (!entry) {
        return;  // it is asked again soon
    }
    if (!*entry || ((*entry)->state != SpliceState::open && isHeldElsewhere())) {
        end(Ended::elsewhere);
        return;
    }
    if (!isHeldElsewhere() && (*entry)->holder != m_holder && !(*entry)->holder.empty()) {
        holdElsewhere();
        emit started({**entry, {}, false, false, false, livingProcess((*entry)->holder), false});
    }
}

void SpliceSession::takeOver()
{
    if (m_stage != SpliceStage::elsewhere) {
        return;
    }
    const JournalEntry entry = m_entry;
    m_store.report(m_store.journal().holdSplice(entry.plan.id, m_holder));
    end(Ended::elsewhere);
    const auto now = m_store.journal().splice(entry.plan.id);
    if (now && *now && (*now)->state == SpliceState::open) {
        resume(**now);
    }
}

void SpliceSession::end(Ended how)
{
    if (!m_splice) {
        return;
    }
    emit ending();
    m_store.finish();
    m_holderTimer.stop();
    m_legs.stop();
    m_splice.reset();
    m_survey.reset();
    m_store.setSplice({}, false);
    rest(SpliceStage::none);
    emit ended(how);
}

void SpliceSession::putAway()
{
    leaveAs(SpliceState::abandoned, Ended::putAway);
}

void SpliceSession::abandon()
{
    leaveAs(SpliceState::givenUp, Ended::abandoned);
}

void SpliceSession::leaveAs(SpliceState state, Ended how)
{
    if (!isOpen()) {
        return;
    }
    m_store.finish();
    if (const auto stored = m_store.journal().setState(m_entry.plan.id, state); !stored) {
        m_store.report(stored);
        return;
    }
    (void)m_store.journal().holdSplice(m_entry.plan.id, {});  // who had it does not matter any more
    end(how);
    m_place.look();
}

std::vector<std::string> SpliceSession::joinedSubjects() const
{
    std::vector<std::string> subjects;
    for (const Commit& commit : m_survey ? m_survey->theirsCommits : std::vector<Commit>{}) {
        subjects.push_back(commit.subject());
    }
    return subjects;
}

/// Whether a line's files are looked after, or it is not checked out.
WorkChoice SpliceSession::workOn(const std::string& line) const
{
    return m_place.facts()->standing.ref == line ? WorkChoice::carry : WorkChoice::filesStay;
}

std::shared_ptr<const Forecast> SpliceSession::forecast() const
{
    return m_survey ? std::shared_ptr<const Forecast>(m_survey, &m_survey->forecast) : nullptr;
}
}  // namespace rope
