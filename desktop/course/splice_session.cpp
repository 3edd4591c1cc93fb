// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/course/splice_session.h"

#include "core/base/process_tree.h"
#include "core/decide/begun_decisions.h"
#include "core/plan/begun_splice.h"
#include "core/plan/recording_plan.h"
#include "core/text/tidied_message.h"
#include "desktop/course/log.h"
#include "desktop/course/progress_text.h"
#include "desktop/wording/merge_words.h"

#include <QDateTime>
#include <QUuid>

#include <algorithm>
#include <unistd.h>

namespace rope {
namespace {
constexpr int kHolderPollMs = 2000;

std::string freshId()
{
    return QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
}

/// The process in a holder's name, if it lives and is not this one's own window.
std::string livingProcess(const std::string& holder)
{
    const std::string process = holder.substr(0, holder.find('-'));
    const int id = QString::fromStdString(process).toInt();
    return isRunning(id) ? process : std::string();
}

void offerTexts(const std::vector<OfferedText>& offered, Splice& splice)
{
    for (const OfferedText& text : offered) {
        splice.offerEarlier(text.place, text.text, text.source);
    }
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

SpliceSession::SpliceSession(PlaceSession& place, QObject* parent)
    : QObject(parent)
    , m_place(place)
    , m_holder(std::to_string(::getpid()) + "-" + freshId())
    , m_legs(place, this)
    , m_work(2, this)
    , m_records(1, this)
    , m_since(1, this)
    , m_contents(1, this)
{
    connect(&m_place, &PlaceSession::opened, this, &SpliceSession::onOpened);
    connect(&m_place, &PlaceSession::factsChanged, this, &SpliceSession::onFactsChanged);
    m_holderTimer.setInterval(kHolderPollMs);
    connect(&m_holderTimer, &QTimer::timeout, this, &SpliceSession::watchHolder);
    connectLegs();
}

void SpliceSession::connectLegs()
{
    connect(&m_legs, &LegKeeper::legsAboutToChange, this, [this](std::size_t first) {
        m_since.supersede();
        emit legsAboutToChange(first);
        m_writer->finish();
    });
    connect(&m_legs, &LegKeeper::legsChanged, this, &SpliceSession::legsChanged);
    connect(&m_legs, &LegKeeper::settled, this, &SpliceSession::settled);
    connect(&m_legs, &LegKeeper::decisionsLost, this, &SpliceSession::decisionsLost);
    connect(&m_legs, &LegKeeper::decisionsToStore, this, [this](const auto& decisions) {
        report(m_journal->storeDecisions(m_entry.plan.id, decisions));
    });
    connect(&m_legs, &LegKeeper::workToStore, this, [this](const ObjectId& work) {
        report(m_journal->setWork(m_entry.plan.id, WorkChoice::carry, work));
        m_entry.plan.work = work;
    });
    connect(&m_legs, &LegKeeper::failed, this, [this](const Error& error) { report(error); });
}

SpliceSession::~SpliceSession()
{
    if (m_splice && !m_isHeldElsewhere && m_journal) {
        m_writer->finish();
        (void)m_journal->holdSplice(m_entry.plan.id, {});  // the process is gone soon anyway
    }
}

void SpliceSession::report(const Status& status)
{
    if (!status && status.error().code != ErrorCode::cancelled) {
        logError(status.error());
        emit failed(status.error());
    }
}

void SpliceSession::onOpened(const FoundPlace& found)
{
    m_work.supersede();
    m_isStarting = false;
    drop(Ended::elsewhere);
    m_writer.reset();
    m_journal.reset();
    m_toldBehind.clear();
    if (found.privateFolder.empty()) {
        return;
    }
    auto journal = Journal::open(found.privateFolder);
    if (!journal) {
        report(journal.error());
        return;
    }
    m_journal = std::move(*journal);
    m_writer = std::make_unique<JournalWriter>(*m_journal, found.privateFolder, nullptr);
    connect(m_writer.get(), &JournalWriter::failed, this, [this](const Error& error) {
        report(error);
    });
    auto entries = m_journal->splices(SpliceState::open);
    if (!entries) {
        report(entries.error());
        return;
    }
    // The one of the branch that is checked out comes first.
    std::stable_partition(entries->begin(), entries->end(), [this](const JournalEntry& entry) {
        return entry.plan.oursRef == m_place.facts()->standing.ref;
    });
    for (const JournalEntry& entry : *entries) {
        const bool isElsewhere = entry.plan.workChoice == WorkChoice::filesStay;
        // A begun rebase has its branch not checked out.
        const auto& begun = m_place.facts()->begun;
        const bool isBegun = begun && isToFinish(entry.plan, *begun);
        if (entry.plan.oursRef == m_place.facts()->standing.ref || isElsewhere || isBegun) {
            if (isElsewhere) {
                m_place.setInto(entry.plan.oursRef);
            }
            if (const QString why = whyBehind(entry); !why.isEmpty()) {
                emit fellBehind(entry, why);
            } else {
                resume(entry);
            }
            return;
        }
    }
}

/// Why a splice does not stand where its branches stand; empty if it does.
QString SpliceSession::whyBehind(const JournalEntry& entry) const
{
    const SurveyFacts& facts = *m_place.facts();
    if (!entry.plan.begun.empty()) {
        return facts.begun && isToFinish(entry.plan, *facts.begun)
                   ? QString()
                   : tr("What this splice was to finish was ended on the command line, or gone on "
                        "with there.");
    }
    const QString ours = shown(entry.plan.oursName);
    const QString theirs = shown(entry.plan.theirsName);
    const Branch* own = facts.branch(entry.plan.oursRef);
    if (own == nullptr) {
        return tr("%1, the branch of this splice, was deleted.").arg(ours);
    }
    const bool staysElsewhere = entry.plan.workChoice == WorkChoice::filesStay;
    if (staysElsewhere && facts.standing.ref == entry.plan.oursRef) {
        return tr("%1 is checked out now; this splice was to leave the files as they are.")
            .arg(ours);
    }
    if (!staysElsewhere && facts.standing.ref != entry.plan.oursRef) {
        return tr("You are on %1 now; this splice joins into %2.")
            .arg(facts.standing.name.empty() ? tr("no branch") : shown(facts.standing.name), ours);
    }
    if (own->tip != entry.plan.expected()) {
        return tr("%1 has moved since this splice of %2 began.").arg(ours, theirs);
    }
    for (const Branch& branch : facts.branches) {
        const bool joinsBranch = entry.plan.kind == SpliceKind::merge
                                 || entry.plan.kind == SpliceKind::rebase
                                 || entry.plan.kind == SpliceKind::fastForward;
        // What is recorded anew joins what was joined before.
        if (joinsBranch && entry.plan.replaced.isNull() && entry.plan.begun.empty()
            && branch.name == entry.plan.theirsName && branch.tip != entry.plan.theirs) {
            return tr("Commits arrived on %1 since this splice began.").arg(theirs);
        }
    }
    return {};
}

void SpliceSession::onFactsChanged()
{
    if (!m_splice || m_isRecording) {
        return;
    }
    const QString why = whyBehind(m_entry);
    if (why != m_toldBehind) {
        m_toldBehind = why;
        if (!why.isEmpty()) {
            emit fellBehind(m_entry, why);
        }
    }
}

std::optional<JournalEntry> SpliceSession::earlierOf(const std::string& theirsRef)
{
    const Branch* theirs = m_place.facts() ? m_place.facts()->branch(theirsRef) : nullptr;
    if (!m_journal || theirs == nullptr) {
        return std::nullopt;
    }
    const auto earlier = m_journal->splices(SpliceState::abandoned);
    if (!earlier) {
        return std::nullopt;
    }
    for (const JournalEntry& entry : *earlier) {
        if (entry.plan.oursRef == m_place.facts()->into.ref && entry.plan.theirsName == theirs->name
            && entry.begunBy == BegunBy::window) {
            const auto decisions = m_journal->decisions(entry.plan.id);
            return decisions && !decisions->empty() ? std::optional(entry) : std::nullopt;
        }
    }
    return std::nullopt;
}

void SpliceSession::start(const std::string& theirsRef,
                          const std::shared_ptr<const SurveyForecast>& survey,
                          const StartWishes& wishes)
{
    const auto facts = m_place.facts();
    const Branch* theirs = facts ? facts->branch(theirsRef) : nullptr;
    if (!m_journal || theirs == nullptr || survey == nullptr || m_splice || m_isStarting) {
        return;
    }
    JournalEntry entry;
    entry.plan = freshPlan(*theirs, wishes.kind, wishes.work);
    entry.plan.ours = survey->forecast.ours.id;
    entry.plan.theirs = survey->forecast.theirs.id;
    entry.plan.keepsEmptied = wishes.keepsEmptied;
    begin(entry, survey, wishes.follows);
}

SplicePlan SpliceSession::freshPlan(const Branch& theirs, SpliceKind kind, WorkChoice work) const
{
    const SurveyFacts& facts = *m_place.facts();
    SplicePlan plan{
        freshId(), facts.into.ref, facts.into.name, theirs.name, facts.into.tip, theirs.tip};
    plan.kind = kind;
    plan.workChoice = facts.isElsewhere() ? WorkChoice::filesStay : work;
    return plan;
}

void SpliceSession::startRound(const SecondRound& round, const SendFacts& sent)
{
    if (!m_journal || m_splice || m_isStarting || m_isRecording) {
        return;
    }
    JournalEntry entry;
    entry.plan = {freshId(), sent.line, sent.lineName, sent.targetName(), sent.tip, round.theirs};
    entry.plan.workChoice =
        sent.line == m_place.facts()->standing.ref ? WorkChoice::carry : WorkChoice::filesStay;
    std::string follows;
    if (!round.replaced.isNull() && sent.recorded) {
        entry.plan.ours = sent.recorded->plan.ours;
        entry.plan.replaced = round.replaced;
        follows = sent.recorded->plan.id;
    }
    forecastAndBegin(entry, follows);
}

void SpliceSession::begin(const JournalEntry& entry,
                          const std::shared_ptr<const SurveyForecast>& survey,
                          const std::string& follows,
                          const ObjectId& decidedIn)
{
    const SplicePlan& plan = entry.plan;
    if (const auto free = m_journal->checkLineIsFree(plan.oursRef, plan.oursName, follows); !free) {
        report(free);
        return;
    }
    EarlierDecisions earlier = follows.empty() ? EarlierDecisions() : earlierDecisions(follows);
    m_isStarting = true;
    m_work.run(
        [address = m_place.address(),
         plan,
         survey,
         decidedIn,
         earlier = std::move(earlier),
         progress = startProgress()](const std::stop_token& stop) -> Result<PreparedSplice> {
            TRY(prepareSplice(address, plan));
            const std::shared_ptr<const Forecast> forecast(survey, &survey->forecast);
            if (!plan.begun.empty()) {
                return readBegun(address, plan, forecast, earlier, stop);
            }
            if (!decidedIn.isNull()) {
                return readFinished(address, plan, forecast, decidedIn, stop);
            }
            return readForSplice(address, plan, forecast, earlier, progress, stop);
        },
        [this, entry, survey, follows](const Result<PreparedSplice>& prepared) {
            m_isStarting = false;
            emit startProgressed({});
            if (prepared) {
                beginPrepared(entry, survey, follows, *prepared);
            } else {
                report(prepared.error());
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
    m_writer->finish();
    Started started;
    std::vector<Decision> earlier;
    if (!follows.empty() && entry.plan.kind != SpliceKind::bringBack) {
        const auto before = m_journal->splice(follows);
        if (before && *before) {
            entry.round = (*before)->round + 1;
            // A message that was recorded names what is decided anew.
            entry.message =
                (*before)->state == SpliceState::recorded ? std::string() : (*before)->message;
            entry.place = (*before)->place;
            earlier = prepared.decisions;
            started.isCarriedOn = true;
            started.isOfOpenOne = (*before)->state != SpliceState::recorded;
        }
    }
    if (!entry.plan.begun.empty()) {
        earlier = prepared.decisions;
        started.isOfBegun = true;
    } else if (follows.empty()) {
        earlier = prepared.decisions;  // of a finished merge, or none
    }
    auto splice = makeSplice(
        entry.plan, std::shared_ptr<const Forecast>(survey, &survey->forecast), prepared);
    std::vector<JournalLeg> legs;
    for (const Leg& leg : splice->legs()) {
        legs.push_back({leg->base, leg->ours, leg->theirs});
    }
    if (const auto begun = m_journal->begin(entry, legs); !begun) {
        report(begun);
        return;
    }
    drop(Ended::elsewhere);
    started.carried = carryOver(earlier, *splice);
    splice->put(started.carried.placed);
    offerTexts(prepared.offered, *splice);
    offerTexts(started.carried.offered, *splice);
    offerFromEarlierLegs(*splice);
    report(m_journal->storeDecisions(entry.plan.id, splice->decisions()));
    if (!follows.empty()) {
        report(m_journal->copyMarks(follows, entry.plan.id));  // takeUp() reads them
    }
    if (started.isOfOpenOne) {
        report(m_journal->setState(follows, SpliceState::abandoned));
    }
    started.entry = entry;
    takeUp(std::move(splice), entry, survey, prepared.scope, waitingIn(started.carried));
    emit this->started(started);
}

/// What was decided in a splice, as the journal knows it.
EarlierDecisions SpliceSession::earlierDecisions(const std::string& splice)
{
    m_writer->finish();
    EarlierDecisions earlier;
    auto decisions = m_journal->decisions(splice);
    auto legs = m_journal->legs(splice);
    report(decisions ? ok() : Status(decisions.error()));
    if (decisions && legs) {
        earlier = {std::move(*decisions), std::move(*legs)};
    }
    return earlier;
}

void SpliceSession::carryOn(const JournalEntry& entry)
{
    const auto facts = m_place.facts();
    const Branch* own = facts ? facts->branch(entry.plan.oursRef) : nullptr;
    if (!m_journal || m_isStarting || m_isRecording || own == nullptr) {
        return;
    }
    if (!entry.plan.begun.empty() && facts->canTakeBegun()) {
        takeBegun(entry.plan.id);
        return;
    }
    JournalEntry next;
    next.plan = entry.plan;
    next.plan.id = freshId();
    next.plan.begun.clear();
    if (own->ref != facts->standing.ref) {
        next.plan.workChoice = WorkChoice::filesStay;
    } else if (next.plan.workChoice == WorkChoice::filesStay) {
        next.plan.workChoice = WorkChoice::carry;
    }
    if (entry.plan.replaced.isNull() || own->tip != entry.plan.expected()) {
        next.plan.ours = own->tip;
        next.plan.replaced = {};
        next.plan.above = {};
    }
    for (const Branch& branch : facts->branches) {
        if (branch.name == entry.plan.theirsName) {
            next.plan.theirs = branch.tip;
        }
    }
    forecastAndBegin(next, entry.plan.id);
}

void SpliceSession::forecastAndBegin(const JournalEntry& entry,
                                     const std::string& follows,
                                     const ObjectId& decidedIn)
{
    m_isStarting = true;
    PlaceAddress address = m_place.address();
    address.permissions.fetchesMissing = true;
    m_work.run(
        [address, plan = entry.plan, progress = startProgress()](const std::stop_token& stop) {
            return spliceForecast(address, plan, progress, stop);
        },
        [this, entry, follows, decidedIn](
            const Result<std::shared_ptr<const SurveyForecast>>& survey) {
            m_isStarting = false;
            emit startProgressed({});
            if (!survey) {
                report(survey.error());
                return;
            }
            begin(entry, *survey, follows, decidedIn);
        });
}

ProgressSink SpliceSession::startProgress()
{
    return progressTo(this, ProgressPace::calm, [this](const QString& text) {
        if (m_isStarting) {
            emit startProgressed(text);
        }
    });
}

void SpliceSession::takeUp(std::unique_ptr<Splice> splice,
                           const JournalEntry& entry,
                           std::shared_ptr<const SurveyForecast> survey,
                           RebaseScope scope,
                           std::vector<Decision> waiting)
{
    noteCorrected(entry, *splice);
    m_survey = std::move(survey);
    m_entry = entry;
    m_splice = std::move(splice);
    m_isHeldElsewhere = false;
    m_toldBehind.clear();
    const auto reasons = m_journal->reasons(entry.plan.id);
    report(reasons ? ok() : Status(reasons.error()));
    m_splice->putReasons(reasons ? *reasons : std::vector<GivenReason>{});
    m_splice->setChangeSink([this](const SpliceChange& change) {
        m_writer->storeChange(m_splice->plan().id, change);
        std::set<RepoPath> paths;
        for (const Decision& decision : change.after) {
            if (decision.leg < m_splice->workLeg()) {
                paths.insert(decision.path);
            }
        }
        if (!paths.empty()) {
            m_legs.noteChange();
        }
        emit decisionsChanged(paths);
    });
    m_legs.start(*m_splice, std::move(scope), std::move(waiting));
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
                                              : m_journal->decisions(entry.follows);
    report(before ? ok() : Status(before.error()));
    m_corrected = before ? *before : std::vector<Decision>();
}

void SpliceSession::resume(const JournalEntry& entry)
{
    m_isStarting = true;
    PlaceAddress address = m_place.address();
    address.permissions.fetchesMissing = true;
    using Resumed = std::pair<std::shared_ptr<const SurveyForecast>, PreparedSplice>;
    m_work.run(
        [address,
         plan = entry.plan,
         known = earlierDecisions(entry.plan.id),
         progress = startProgress()](const std::stop_token& stop) -> Result<Resumed> {
            TRY_ASSIGN(auto survey, spliceForecast(address, plan, progress, stop));
            TRY_ASSIGN(auto prepared,
                       readForSplice(address,
                                     plan,
                                     std::shared_ptr<const Forecast>(survey, &survey->forecast),
                                     known,
                                     progress,
                                     stop));
            return Resumed(std::move(survey), std::move(prepared));
        },
        [this, entry](const Result<Resumed>& resumed) {
            m_isStarting = false;
            emit startProgressed({});
            if (!resumed) {
                report(resumed.error());
                return;
            }
            const auto& survey = resumed->first;
            auto splice = makeSplice(entry.plan,
                                     std::shared_ptr<const Forecast>(survey, &survey->forecast),
                                     resumed->second);
            const CarriedOver carried = carryOver(resumed->second.decisions, *splice);
            splice->put(carried.placed);
            offerTexts(resumed->second.offered, *splice);
            offerFromEarlierLegs(*splice);
            if (const auto steps = m_journal->steps(entry.plan.id)) {
                splice->restoreSteps(*steps);
            } else {
                logError(steps.error());  // all decisions are there; they cannot be undone
            }
            const std::string other =
                entry.holder == m_holder ? std::string() : livingProcess(entry.holder);
            takeUp(std::move(splice), entry, survey, resumed->second.scope, waitingIn(carried));
            m_isHeldElsewhere = !other.empty();
            m_splice->setFrozen(m_isHeldElsewhere);
            m_legs.setPaused(m_isHeldElsewhere);
            if (!m_isHeldElsewhere) {
                report(m_journal->holdSplice(entry.plan.id, m_holder));
            }
            emit started({entry, {}, false, false, false, other});
        });
}

/// Another window may take the splice over, or end it.
void SpliceSession::watchHolder()
{
    if (!m_splice || m_isRecording) {
        return;
    }
    const auto entry = m_journal->splice(m_entry.plan.id);
    if (!entry) {
        return;  // it is asked again soon
    }
    if (!*entry || ((*entry)->state != SpliceState::open && m_isHeldElsewhere)) {
        drop(Ended::elsewhere);
        return;
    }
    if (!m_isHeldElsewhere && (*entry)->holder != m_holder && !(*entry)->holder.empty()) {
        m_isHeldElsewhere = true;
        m_splice->setFrozen(true);
        m_legs.setPaused(true);
        emit started({**entry, {}, false, false, false, livingProcess((*entry)->holder)});
    }
}

void SpliceSession::takeOver()
{
    if (!m_splice || !m_isHeldElsewhere) {
        return;
    }
    const JournalEntry entry = m_entry;
    report(m_journal->holdSplice(entry.plan.id, m_holder));
    drop(Ended::elsewhere);
    const auto now = m_journal->splice(entry.plan.id);
    if (now && *now && (*now)->state == SpliceState::open) {
        resume(**now);
    }
}

void SpliceSession::drop(Ended how)
{
    if (!m_splice) {
        return;
    }
    emit ending();
    m_writer->finish();
    m_holderTimer.stop();
    m_legs.stop();
    m_splice.reset();
    m_survey.reset();
    m_isHeldElsewhere = false;
    emit ended(how);
}

void SpliceSession::putAway()
{
    if (!m_splice || m_isRecording || m_isHeldElsewhere) {
        return;
    }
    m_writer->finish();
    if (const auto stored = m_journal->setState(m_entry.plan.id, SpliceState::abandoned); !stored) {
        report(stored);
        return;
    }
    (void)m_journal->holdSplice(m_entry.plan.id, {});  // who had it does not matter any more
    drop(Ended::putAway);
    m_place.look();
}

void SpliceSession::bringBack(const std::string& id)
{
    if (!m_journal || m_isRecording || m_isStarting || m_isHeldElsewhere) {
        return;
    }
    const auto entry = m_journal->splice(id);
    if (!entry || !*entry || (*entry)->state != SpliceState::abandoned) {
        report(entry ? Status(Error{ErrorCode::notFound, id, {}}) : Status(entry.error()));
        return;
    }
    if (m_splice) {
        m_writer->finish();
        report(m_journal->setState(m_entry.plan.id, SpliceState::abandoned));
        drop(Ended::elsewhere);
    }
    if (!(*entry)->plan.begun.empty() && m_place.facts()->canTakeBegun()) {
        takeBegun(id);  // its files may have changed since
        return;
    }
    if (const auto stored = m_journal->setState(id, SpliceState::open); !stored) {
        report(stored);
        return;
    }
    if (const QString why = whyBehind(**entry); !why.isEmpty()) {
        emit fellBehind(**entry, why);
    } else {
        resume(**entry);
    }
    m_place.look();
}

std::string SpliceSession::earlierOfBegun(const BegunJoin& begun)
{
    if (const auto putAway = m_journal->splices(SpliceState::abandoned)) {
        for (const JournalEntry& entry : *putAway) {
            if (isToFinish(entry.plan, begun)) {
                return entry.plan.id;
            }
        }
    }
    return {};
}

void SpliceSession::takeBegun(const std::string& follows)
{
    const auto facts = m_place.facts();
    if (!m_journal || !facts || !facts->canTakeBegun() || m_isStarting || m_isRecording
        || m_isHeldElsewhere || (m_splice && m_entry.plan.id != follows)) {
        return;
    }
    m_isStarting = true;
    m_work.run(
        [address = m_place.address()](const std::stop_token&) { return rope::begunWork(address); },
        [this, follows](const Result<BegunWork>& begun) {
            m_isStarting = false;
            if (!begun) {
                report(begun.error());
                m_place.look();
                return;
            }
            const BegunJoin& join = begun->join;
            JournalEntry entry;
            entry.plan = planToFinish(join, begun->stamp);
            entry.plan.id = freshId();
            entry.station = "resolve";      // nothing is recorded unseen
            if (join.theirsName.empty()) {  // somebody wrote a message of their own
                entry.message = tidiedMessage(join.message, m_commentStart);
            }
            forecastAndBegin(entry, follows.empty() ? earlierOfBegun(join) : follows);
        });
}

void SpliceSession::handBack(bool withDecisions)
{
    if (!m_splice || m_isRecording || m_isStarting || m_isHeldElsewhere
        || m_entry.plan.begun.empty()) {
        return;
    }
    if (!withDecisions) {
        putAway();  // nothing of it was ever touched
        return;
    }
    m_writer->finish();
    BegunTexts texts = begunTexts(*m_splice);
    m_isRecording = true;
    m_splice->setFrozen(true);
    m_legs.setPaused(true);
    m_place.setPaused(true);
    emit recordingProgressed(tr("Writing what is decided into the files…"));
    m_records.runToTheEnd(
        [address = m_place.address(),
         splice = m_entry.plan.id,
         work = HandBack{m_entry.plan.begun, std::move(texts.edits), std::move(texts.settled)}](
            const std::stop_token&) { return handBackInPlace(address, splice, work); },
        [this](const Status& handed) {
            m_isRecording = false;
            emit recordingProgressed({});
            if (handed) {
                drop(Ended::handedBack);
            } else {
                m_splice->setFrozen(false);
                m_legs.setPaused(false);
                logError(handed.error());
                emit recordingFailed(handed.error());
            }
            m_place.setPaused(false);
            m_place.look();
        },
        {});
}

void SpliceSession::setNewIdentity(const QString& name, const QString& email)
{
    m_newIdentity = Signature{name.toStdString(), email.toStdString(), 0};
}

namespace {
/// Whether it is a commit that says nothing but what it changes.
bool standsAloneOnTop(const SplicePlan& plan)
{
    return plan.begun.empty()
           && (plan.isCorrection() || plan.kind == SpliceKind::revert
               || plan.kind == SpliceKind::pick);
}
}  // namespace

void SpliceSession::record(const QString& message, bool leavesNotes)
{
    if (!m_splice || m_isRecording || m_isHeldElsewhere || m_splice->openCount() > 0
        || !isSettled()) {
        return;
    }
    auto plan = recordingPlanOf(*m_splice, message.toStdString(), {m_commentStart, leavesNotes});
    if (!plan) {
        logError(plan.error());
        emit recordingFailed(plan.error());
        return;
    }
    m_writer->finish();
    // From here until the answer nothing changes what is recorded, nor where it is recorded.
    m_isRecording = true;
    m_splice->setFrozen(true);
    m_legs.setPaused(true);
    m_place.setPaused(true);
    m_recordStop = {};
    emit recordingProgressed(tr("Recording…"));
    RecordRequest request{m_entry.plan.id,
                          std::move(*plan),
                          m_newIdentity,
                          m_entry.plan.workChoice == WorkChoice::setAside,
                          standsAloneOnTop(m_entry.plan)};
    m_records.runToTheEnd(
        [address = m_place.address(),
         request = std::move(request),
         progress = progressTo(this,
                               ProgressPace::everyStep,
                               [this](const QString& step) { emit recordingProgressed(step); })](
            const std::stop_token& stop) {
            return recordInPlace(address, request, progress, stop);
        },
        [this](const Result<Recorded>& result) {
            m_isRecording = false;
            emit recordingProgressed({});
            ROPE_ASSERT(m_splice != nullptr, "no other place is opened while one records");
            if (!result) {
                m_splice->setFrozen(false);
                logError(result.error());
                if (result.error().reason == Reason::workChanged) {
                    m_legs.forgetWork();  // nothing is recorded before it is joined again
                }
                m_legs.setPaused(false);
                emit recordingFailed(result.error());
            } else {
                if (m_entry.plan.kind == SpliceKind::bringBack) {
                    report(m_journal->setWork(
                        m_entry.follows, WorkChoice::broughtBack, m_entry.plan.ours));
                }
                m_newIdentity.reset();
                logNote("recorded " + result->commit.id.hex());
                emit recorded(*result);
                drop(Ended::recorded);
            }
            m_place.setPaused(false);
            finishLater(result);
        },
        m_recordStop.get_token());
}

/// Where it is recorded but the work is not back, opening the place again tries once more. Recording
/// again must not be tried: it would forget what is left to do.
void SpliceSession::finishLater(const Result<Recorded>& result)
{
    if (!result && result.error().reason == Reason::workNotBack) {
        drop(Ended::elsewhere);
        m_place.open(m_place.folder());
    }
}

/// The outcome of a file, with whatever holds it.
std::shared_ptr<const FileOutcome> SpliceSession::heldOutcome(std::size_t file) const
{
    const SpliceFile& looked = m_splice->files()[file];
    const std::pair<OwnedOutcome, Leg> holders(looked.own, m_splice->legs()[looked.leg]);
    return {std::make_shared<std::pair<OwnedOutcome, Leg>>(holders), looked.outcome};
}

void SpliceSession::requestFileFacts(std::size_t file)
{
    if (!m_splice) {
        return;
    }
    const std::shared_ptr<const Forecast> forecast(m_survey, &m_survey->forecast);
    // A file of its own may be gone, with its splice, before the answer is there.
    const std::shared_ptr<const FileOutcome> outcome = heldOutcome(file);
    const auto take = [this, file, survey = m_survey, outcome](const Result<FileFacts>& facts) {
        const bool isOfThis = survey == m_survey && m_splice && file < m_splice->files().size()
                              && m_splice->files()[file].outcome == outcome.get();
        if (!isOfThis) {
            return;  // of another splice, or of work that was joined again
        }
        if (facts) {
            emit fileFactsReady(file, *facts);
        } else if (facts.error().code != ErrorCode::cancelled) {
            logError(facts.error());  // the region can be decided without it
        }
    };
    const std::size_t number = m_splice->files()[file].leg;
    const Leg& leg = m_splice->legs()[number];
    if (number == m_splice->workLeg()) {
        m_work.run(
            [address = m_place.address(), leg, outcome](const std::stop_token& stop) {
                return workFileFacts(address, leg, *outcome, stop);
            },
            take);
        return;
    }
    if (m_splice->laysCommits() && (number > 0 || m_entry.plan.laysOwnCommits())) {
        m_work.run(
            [address = m_place.address(),
             forecast,
             leg,
             laid = m_splice->standings()[number],
             outcome,
             now = m_place.facts()->readAt](const std::stop_token& stop) {
                return legFileFacts(address, forecast, leg, laid, *outcome, now, stop);
            },
            take);
        return;
    }
    m_work.run(
        [address = m_place.address(), forecast, outcome, now = m_place.facts()->readAt](
            const std::stop_token& stop) {
            return fileFacts(address, forecast, *outcome, now, stop);
        },
        take);
}

void SpliceSession::requestSince(SlotPlace place)
{
    m_since.supersede();
    if (!m_splice) {
        return;
    }
    const SpliceFile& file = m_splice->files()[place.file];
    const SplicePlan& plan = m_entry.plan;
    const bool joinsLines =
        file.leg == 0 && (plan.kind == SpliceKind::merge || plan.kind == SpliceKind::correction);
    const bool laysCommit = plan.laysOwnCommits() && file.leg < m_splice->standings().size()
                            && !m_splice->standings()[file.leg].isCarried;
    if (!joinsLines && !laysCommit) {
        return;
    }
    m_since.run(
        [address = m_place.address(),
         forecast = std::shared_ptr<const Forecast>(m_survey, &m_survey->forecast),
         whose = laysCommit ? SinceOf::ground : SinceOf::bothSides,
         leg = m_splice->legs()[file.leg],  // it holds the outcome, as does one of the file's own
         own = file.own,
         outcome = file.outcome,
         region = file.text->regionOf(place.slot),
         now = m_place.facts()->readAt](const std::stop_token& stop) {
            return sinceWords(address, whose, forecast, *outcome, region, now, stop);
        },
        [this, place, survey = m_survey](const Result<QString>& words) {
            if (words && survey == m_survey) {
                emit sinceReady(place, *words);
            } else if (!words && words.error().code != ErrorCode::cancelled) {
                logError(words.error());  // the region can be decided without it
            }
        });
}

void SpliceSession::recordAtOnce(
    const JournalEntry& entry,
    std::function<Result<Recorded>(const ProgressSink&, std::stop_token)> work)
{
    m_isRecording = true;
    m_place.setPaused(true);
    m_recordStop = {};
    emit recordingProgressed(tr("Recording…"));
    m_records.runToTheEnd(
        [work = std::move(work),
         progress = progressTo(this,
                               ProgressPace::everyStep,
                               [this](const QString& step) { emit recordingProgressed(step); })](
            const std::stop_token& stop) { return work(progress, stop); },
        [this, entry](const Result<Recorded>& result) {
            m_isRecording = false;
            emit recordingProgressed({});
            if (result) {
                m_newIdentity.reset();
                logNote("recorded " + result->commit.id.hex());
                emit doneAtOnce(entry, *result);
            } else {
                logError(result.error());
                emit recordingFailed(result.error());
            }
            m_place.setPaused(false);
            finishLater(result);
        },
        m_recordStop.get_token());
}

void SpliceSession::moveTo(const std::string& theirsRef, SpliceKind kind, WorkChoice work)
{
    const auto facts = m_place.facts();
    const Branch* theirs = facts ? facts->branch(theirsRef) : nullptr;
    if (!m_journal || theirs == nullptr || m_splice || m_isStarting || m_isRecording) {
        return;
    }
    JournalEntry entry;
    entry.plan = freshPlan(*theirs, kind, work);
    entry.begunBy = BegunBy::command;  // nobody goes on with it after a crash
    entry.startedAt = QDateTime::currentSecsSinceEpoch();
    recordAtOnce(entry,
                 [address = m_place.address(), entry](const ProgressSink& progress,
                                                      const std::stop_token& stop) {
                     return moveLine(address, entry, progress, stop);
                 });
}

/// Whether a line's files are looked after, or it is not checked out.
WorkChoice SpliceSession::workOn(const std::string& line) const
{
    return m_place.facts()->standing.ref == line ? WorkChoice::carry : WorkChoice::filesStay;
}

void SpliceSession::reopen(const JournalEntry& recorded, const ObjectId& made, bool onTop)
{
    if (!m_journal || m_splice || m_isStarting || m_isRecording) {
        return;
    }
    readTip(recorded.plan.oursRef, [this, plan = recorded.plan, made, onTop](const ObjectId& tip) {
        JournalEntry entry;
        entry.plan = plan;
        entry.plan.id = freshId();
        entry.plan.kind = !onTop                  ? plan.kind
                          : plan.laysOwnCommits() ? SpliceKind::rebaseCorrection
                                                  : SpliceKind::correction;
        entry.plan.replaced = made;
        entry.plan.above = tip == made ? ObjectId{} : tip;
        entry.plan.workChoice = workOn(plan.oursRef);
        entry.plan.work = {};
        entry.plan.begun.clear();
        entry.station = "resolve";  // one comes to change something
        forecastAndBegin(entry, plan.id);
    });
}

/// Where a branch stands, read anew: it may have moved a moment ago.
void SpliceSession::readTip(const std::string& line, std::function<void(const ObjectId&)> take)
{
    m_isStarting = true;
    m_work.run(
        [address = m_place.address(), line](const std::stop_token&) -> Result<ObjectId> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            return place->resolveCommit(line);
        },
        [this, take = std::move(take)](const Result<ObjectId>& tip) {
            m_isStarting = false;
            if (tip) {
                take(*tip);
            } else {
                report(tip.error());
            }
        });
}

void SpliceSession::reopenMerge(const ObjectId& merge)
{
    if (!m_journal || m_splice || m_isStarting || m_isRecording) {
        return;
    }
    m_isStarting = true;
    const Standing into = m_place.facts()->into;
    m_work.run(
        [address = m_place.address(), merge, line = into.ref](const std::stop_token& stop) {
            return finishedMerge(address, merge, line, stop);
        },
        [this, into](const Result<FinishedMerge>& found) {
            m_isStarting = false;
            if (!found) {
                report(found.error());
                return;
            }
            const Commit& finished = found->merge;
            JournalEntry entry;
            entry.plan = {freshId(),
                          into.ref,
                          into.name,
                          finished.parents[1].brief(),
                          finished.parents[0],
                          finished.parents[1]};
            entry.plan.kind = found->staysThere ? SpliceKind::correction : SpliceKind::merge;
            entry.plan.replaced = finished.id;
            entry.plan.above = found->above;
            entry.plan.workChoice = workOn(into.ref);
            entry.station = "resolve";  // one comes to change something
            entry.message = found->staysThere ? std::string() : finished.message;
            forecastAndBegin(entry, {}, finished.tree);
        });
}

void SpliceSession::takeOut(const JournalEntry& recorded, const ObjectId& made)
{
    if (!m_journal || m_splice || m_isStarting || m_isRecording) {
        return;
    }
    readTip(recorded.plan.oursRef, [this, plan = recorded.plan, made](const ObjectId& tip) {
        JournalEntry entry;
        entry.plan = {freshId(),
                      plan.oursRef,
                      plan.oursName,
                      plan.kind == SpliceKind::merge ? plan.theirsName : made.brief(),
                      tip,
                      made};
        entry.plan.kind = SpliceKind::revert;
        entry.plan.workChoice = workOn(plan.oursRef);
        entry.station = "record";  // it is not done before one has seen it
        forecastAndBegin(entry, {});
    });
}

void SpliceSession::roll(const JournalEntry& recorded, bool forward)
{
    if (!m_journal || m_splice || m_isStarting || m_isRecording) {
        return;
    }
    JournalEntry entry;
    const ObjectId before = recorded.plan.expected();
    entry.plan = {freshId(),
                  recorded.plan.oursRef,
                  recorded.plan.oursName,
                  recorded.plan.theirsName,
                  forward ? before : recorded.recorded,
                  forward ? recorded.recorded : before};
    entry.plan.kind = forward ? SpliceKind::rollForward : SpliceKind::rollBack;
    entry.plan.workChoice = workOn(recorded.plan.oursRef);
    entry.follows = recorded.plan.id;
    entry.begunBy = BegunBy::command;
    entry.startedAt = QDateTime::currentSecsSinceEpoch();
    recordAtOnce(entry,
                 [address = m_place.address(), entry](const ProgressSink& progress,
                                                      const std::stop_token& stop) {
                     return moveLine(address, entry, progress, stop);
                 });
}

void SpliceSession::goToLine(const std::string& ref)
{
    const auto facts = m_place.facts();
    const Branch* line = facts ? facts->branch(ref) : nullptr;
    if (!m_journal || line == nullptr || m_splice || m_isStarting || m_isRecording
        || facts->standing.ref == ref) {
        return;
    }
    JournalEntry entry;
    entry.plan = {freshId(),
                  facts->standing.ref,
                  facts->standing.name,
                  line->name,
                  facts->standing.tip,
                  line->tip};
    entry.plan.kind = SpliceKind::switchLine;
    entry.plan.workChoice = WorkChoice::carry;
    entry.begunBy = BegunBy::command;
    entry.startedAt = QDateTime::currentSecsSinceEpoch();
    const Branch* followed = facts->branch(line->upstreamRef);
    JournalEntry forward = entry;
    forward.plan.id = freshId();
    forward.plan.kind = SpliceKind::fastForward;
    forward.plan.oursRef = line->ref;
    forward.plan.oursName = line->name;
    forward.plan.ours = line->tip;
    forward.plan.theirsName = followed == nullptr ? std::string() : followed->name;
    forward.plan.theirs = followed == nullptr ? ObjectId{} : followed->tip;
    recordAtOnce(entry,
                 [address = m_place.address(), entry, forward](const ProgressSink& progress,
                                                               const std::stop_token& stop) {
                     return rope::goToLine(address, entry, forward, progress, stop);
                 });
}

void SpliceSession::commitFiles(const std::vector<ChosenFile>& files, const QString& message)
{
    const auto facts = m_place.facts();
    if (!m_journal || !facts || m_splice || m_isStarting || m_isRecording) {
        return;
    }
    JournalEntry entry;
    const Standing& standing = facts->standing;
    entry.plan = {
        freshId(), standing.ref, standing.name, standing.name, standing.tip, standing.tip};
    entry.plan.kind = SpliceKind::ownCommit;
    entry.begunBy = BegunBy::command;
    entry.startedAt = QDateTime::currentSecsSinceEpoch();
    recordAtOnce(
        entry,
        [address = m_place.address(),
         entry,
         files,
         text = message.toStdString(),
         identity = m_newIdentity](const ProgressSink& progress, const std::stop_token& stop) {
            return rope::commitFiles(address, entry, files, text, identity, progress, stop);
        });
}

void SpliceSession::bringWorkBack(const std::string& id)
{
    const auto before = m_journal ? m_journal->splice(id) : Result(std::optional<JournalEntry>());
    if (!before || !*before || m_splice || m_isStarting || m_isRecording
        || (*before)->plan.work.isNull()) {
        return;
    }
    m_isStarting = true;
    // Where the branch stands is read anew: it may have moved a moment ago.
    m_work.run(
        [address = m_place.address()](const std::stop_token&) -> Result<Standing> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            return place->standing();
        },
        [this, id, work = (*before)->plan.work](const Result<Standing>& now) {
            m_isStarting = false;
            if (!now) {
                report(now.error());
                return;
            }
            JournalEntry entry;
            entry.plan = {freshId(),
                          now->ref,
                          tr("your work set aside").toStdString(),
                          now->name,
                          work,
                          now->tip};
            entry.plan.kind = SpliceKind::bringBack;
            forecastAndBegin(entry, id);
        });
}

void SpliceSession::bringKeptBack(const ObjectId& work)
{
    if (!m_journal || m_splice || m_isStarting || m_isRecording) {
        return;
    }
    const Standing& now = m_place.facts()->standing;
    JournalEntry entry;
    entry.plan = {
        freshId(), now.ref, tr("your work set aside").toStdString(), now.name, work, now.tip};
    entry.plan.kind = SpliceKind::bringBack;
    forecastAndBegin(entry, {});
}

void SpliceSession::readUncommitted()
{
    m_contents.supersede();
    m_contents.run([address = m_place.address()](
                       const std::stop_token& stop) { return uncommittedWork(address, stop); },
                   [this](const Result<ResultReading>& uncommitted) {
                       if (uncommitted) {
                           emit uncommittedRead(*uncommitted);
                       } else {
                           report(uncommitted.error());
                       }
                   });
}

void SpliceSession::keepBeside(const std::vector<RepoPath>& paths)
{
    if (m_isRecording || m_isHeldElsewhere) {
        return;
    }
    m_work.run(
        [address = m_place.address(),
         paths](const std::stop_token&) -> Result<std::vector<RepoPath>> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            return place->keepBeside(paths);
        },
        [this](const Result<std::vector<RepoPath>>& names) {
            if (names) {
                emit keptBeside(*names);
            } else {
                report(names.error());
            }
            m_place.look();
        });
}

std::vector<std::string> SpliceSession::joinedSubjects() const
{
    std::vector<std::string> subjects;
    for (const Commit& commit : m_survey ? m_survey->theirsCommits : std::vector<Commit>{}) {
        subjects.push_back(commit.subject());
    }
    return subjects;
}

void SpliceSession::requestContents()
{
    m_contents.supersede();
    if (!m_splice || m_isRecording || m_splice->openCountOfCommits() > 0) {
        return;
    }
    auto result = m_splice->result();
    if (!result) {
        return;  // it cannot be recorded either, and Record says why
    }
    m_contents.run(
        [address = m_place.address(), plan = m_entry.plan, result = std::move(*result)](
            const std::stop_token& stop) -> Result<ResultReading> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            if (!plan.isCorrection()) {
                return readResult(*place, result.from, result, stop);
            }
            // It stands upon what was recorded, and is told against that.
            const ObjectId below[] = {plan.expected()};
            TRY_ASSIGN(const auto commits, place->readCommits(below));
            return readResult(*place, commits.front().tree, result, stop);
        },
        [this](const Result<ResultReading>& contents) {
            if (contents && m_splice) {
                emit contentsReady(*contents);
            } else if (!contents && contents.error().code != ErrorCode::cancelled) {
                logError(contents.error());  // it can be recorded all the same
            }
        });
}

void SpliceSession::storeReason(const GivenReason& reason)
{
    if (m_splice) {
        m_writer->storeReason(m_splice->plan().id, reason);
    }
}

void SpliceSession::storeMessage(const QString& message)
{
    if (m_splice && !m_isHeldElsewhere) {
        m_writer->storeMessage(m_splice->plan().id, message.toStdString());
    }
}

std::set<std::string> SpliceSession::marks(MarkKind kind)
{
    if (!m_splice) {
        return {};
    }
    auto marks = m_journal->marks(m_splice->plan().id, kind);
    if (!marks) {
        report(marks.error());
        return {};
    }
    return std::move(*marks);
}

void SpliceSession::storeMark(MarkKind kind, const std::string& key, bool isSet)
{
    if (m_splice && !m_isHeldElsewhere) {
        report(m_journal->storeMark(m_splice->plan().id, kind, key, isSet));
    }
}

std::vector<CheckRun> SpliceSession::runsOn(const ObjectId& tree)
{
    if (!m_journal) {
        return {};
    }
    auto runs = m_journal->runsOn(tree);
    if (!runs) {
        report(runs.error());
        return {};
    }
    return std::move(*runs);
}

void SpliceSession::storeRun(const CheckRun& run)
{
    if (m_journal) {
        report(m_journal->storeRun(run));
    }
}

std::shared_ptr<const Forecast> SpliceSession::forecast() const
{
    return m_survey ? std::shared_ptr<const Forecast>(m_survey, &m_survey->forecast) : nullptr;
}

void SpliceSession::storePlace(const std::string& station, const std::string& place)
{
    if (m_splice && !m_isHeldElsewhere) {
        m_writer->storePlace(m_splice->plan().id, station, place);
    }
}
}  // namespace rope
