// SPDX-License-Identifier: GPL-3.0-or-later
// SpliceSession: all the ways in which a splice comes to be under way.
// Tested by tst_splice_session.cpp, tst_window.cpp.
#include "core/plan/begun_splice.h"
#include "core/plan/splice_wishes.h"
#include "core/text/tidied_message.h"
#include "desktop/course/splice_session.h"
#include "desktop/wording/done_words.h"

#include <algorithm>

namespace rope {
std::optional<JournalEntry> SpliceSession::earlierOf(const std::string& theirsRef)
{
    const Branch* theirs = m_place.facts() ? m_place.facts()->branch(theirsRef) : nullptr;
    if (!m_store.isOpen() || theirs == nullptr) {
        return std::nullopt;
    }
    const auto earlier = m_store.journal().splices(SpliceState::abandoned);
    if (!earlier) {
        return std::nullopt;
    }
    for (const JournalEntry& entry : *earlier) {
        if (entry.plan.oursRef == m_place.facts()->into.ref && entry.plan.theirsName == theirs->name
            && entry.begunBy == BegunBy::window) {
            const auto decisions = m_store.journal().decisions(entry.plan.id);
            return decisions && !decisions->empty() ? std::optional(entry) : std::nullopt;
        }
    }
    return std::nullopt;
}

bool SpliceSession::mayBegin()
{
    if (m_place.facts() && !m_store.isOpen()) {
        emit journalMissing();
        return false;
    }
    return isFree();
}

void SpliceSession::start(const std::string& theirsRef,
                          const std::shared_ptr<const SurveyForecast>& survey,
                          const StartWishes& wishes)
{
    const auto facts = m_place.facts();
    const Branch* theirs = facts ? facts->branch(theirsRef) : nullptr;
    if (!mayBegin() || theirs == nullptr || survey == nullptr) {
        return;
    }
    JournalEntry entry;
    entry.plan = planToJoin(freshSpliceId(),
                            facts->into,
                            *theirs,
                            wishes.kind,
                            facts->isElsewhere() ? WorkChoice::filesStay : wishes.work);
    entry.plan.ours = survey->forecast.ours.id;
    entry.plan.theirs = survey->forecast.theirs.id;
    entry.plan.keepsEmptied = wishes.keepsEmptied;
    begin(entry, survey, wishes.follows);
}

void SpliceSession::startRound(const SecondRound& round, const SendFacts& sent)
{
    if (!isFree()) {
        return;
    }
    JournalEntry entry;
    entry.plan = planToJoin(freshSpliceId(),
                            {sent.line, sent.lineName, sent.tip, true},
                            {{}, sent.targetName(), round.theirs, {}, true, false},
                            SpliceKind::merge,
                            workOn(sent.line));
    std::string follows;
    if (!round.replaced.isNull() && sent.recorded) {
        entry.plan.ours = sent.recorded->plan.ours;
        entry.plan.replaced = round.replaced;
        follows = sent.recorded->plan.id;
    }
    forecastAndBegin(entry, follows);
}

void SpliceSession::carryOn(const JournalEntry& entry)
{
    const auto facts = m_place.facts();
    const Branch* own = facts ? facts->branch(entry.plan.oursRef) : nullptr;
    if (!m_store.isOpen() || isBusy() || own == nullptr) {
        return;
    }
    if (!entry.plan.begun.empty() && facts->canTakeBegun()) {
        takeBegun(entry.plan.id);
        return;
    }
    const auto theirs = std::find_if(
        facts->branches.begin(), facts->branches.end(), [&entry](const Branch& branch) {
            return branch.name == entry.plan.theirsName;
        });
    JournalEntry next;
    next.plan = planToCarryOn(freshSpliceId(),
                              entry.plan,
                              *own,
                              own->ref == facts->standing.ref,
                              theirs == facts->branches.end() ? nullptr : &*theirs);
    forecastAndBegin(next, entry.plan.id);
}

void SpliceSession::bringBack(const std::string& id)
{
    if (!m_store.isOpen() || isBusy() || isHeldElsewhere()) {
        return;
    }
    const auto entry = m_store.journal().splice(id);
    if (!entry || !*entry || !canBeBroughtBack((*entry)->state)) {
        m_store.report(entry ? Status(Error{ErrorCode::notFound, id, {}}) : Status(entry.error()));
        return;
    }
    if (m_splice) {
        m_store.finish();
        m_store.report(m_store.journal().setState(m_entry.plan.id, SpliceState::abandoned));
        end(Ended::elsewhere);
    }
    if (!(*entry)->plan.begun.empty() && m_place.facts()->canTakeBegun()) {
        takeBegun(id);  // its files may have changed since
        return;
    }
    if (const auto stored = m_store.journal().setState(id, SpliceState::open); !stored) {
        m_store.report(stored);
        return;
    }
    resumeIfItStands(**entry);
    m_place.look();
}

std::string SpliceSession::earlierOfBegun(const BegunJoin& begun)
{
    if (const auto putAway = m_store.journal().splices(SpliceState::abandoned)) {
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
    if (facts && !m_store.isOpen()) {
        emit journalMissing();
        return;
    }
    if (!m_store.isOpen() || !facts || !facts->canTakeBegun() || isBusy() || isHeldElsewhere()
        || (m_splice && m_entry.plan.id != follows)) {
        return;
    }
    enter(SpliceStage::starting);
    m_work.run(
        [address = m_place.address()](const std::stop_token&) { return rope::begunWork(address); },
        [this, follows](const Result<BegunWork>& begun) {
            leave();
            if (!begun) {
                m_store.report(begun.error());
                m_place.look();
                return;
            }
            const BegunJoin& join = begun->join;
            JournalEntry entry;
            entry.plan = planToFinish(join, begun->files.stamp);
            entry.plan.id = freshSpliceId();
            entry.station = "resolve";      // nothing is recorded unseen
            if (join.theirsName.empty()) {  // somebody wrote a message of their own
                entry.message = tidiedMessage(join.message, m_commentStart);
            }
            forecastAndBegin(entry, follows.empty() ? earlierOfBegun(join) : follows);
        });
}

void SpliceSession::reopen(const JournalEntry& recorded, const ObjectId& made, bool onTop)
{
    if (!isFree()) {
        return;
    }
    readTip(recorded.plan.oursRef, [this, plan = recorded.plan, made, onTop](const ObjectId& tip) {
        JournalEntry entry;
        entry.plan = planToReopen(freshSpliceId(), plan, made, tip, onTop, workOn(plan.oursRef));
        entry.station = "resolve";  // one comes to change something
        forecastAndBegin(entry, plan.id);
    });
}

/// Where a branch stands, read anew: it may have moved a moment ago.
void SpliceSession::readTip(const std::string& line, std::function<void(const ObjectId&)> take)
{
    enter(SpliceStage::starting);
    m_work.run(
        [address = m_place.address(), line](const std::stop_token&) -> Result<ObjectId> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            return place->resolveCommit(line);
        },
        [this, take = std::move(take)](const Result<ObjectId>& tip) {
            leave();
            if (tip) {
                take(*tip);
            } else {
                m_store.report(tip.error());
            }
        });
}

void SpliceSession::reopenMerge(const ObjectId& merge)
{
    if (!isFree()) {
        return;
    }
    enter(SpliceStage::starting);
    const Standing into = m_place.facts()->into;
    m_work.run(
        [address = m_place.address(), merge, line = into.ref](
            const std::stop_token& stop) -> Result<FinishedMerge> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            return finishedMerge(*place, merge, line, stop);
        },
        [this, into](const Result<FinishedMerge>& found) {
            leave();
            if (!found) {
                m_store.report(found.error());
                return;
            }
            const Commit& finished = found->merge;
            JournalEntry entry;
            entry.plan = planToReopenMerge(
                freshSpliceId(), into, finished, found->staysThere, found->above, workOn(into.ref));
            entry.station = "resolve";  // one comes to change something
            entry.message = found->staysThere ? std::string() : finished.message;
            forecastAndBegin(entry, {}, finished.tree);
        });
}

void SpliceSession::takeOut(const JournalEntry& recorded, const ObjectId& made)
{
    if (!isFree()) {
        return;
    }
    readTip(recorded.plan.oursRef, [this, plan = recorded.plan, made](const ObjectId& tip) {
        JournalEntry entry;
        entry.plan = planToTakeOut(freshSpliceId(), plan, made, tip, workOn(plan.oursRef));
        entry.station = "record";  // it is not done before one has seen it
        forecastAndBegin(entry, {});
    });
}

void SpliceSession::bringWorkBack(const std::string& id)
{
    if (!isFree()) {
        return;
    }
    const auto before = m_store.journal().splice(id);
    if (!before || !*before || (*before)->plan.work.isNull()) {
        return;
    }
    enter(SpliceStage::starting);
    // Where the branch stands is read anew: it may have moved a moment ago.
    m_work.run(
        [address = m_place.address()](const std::stop_token&) -> Result<Standing> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            return place->standing();
        },
        [this, id, work = (*before)->plan.work](const Result<Standing>& now) {
            leave();
            if (!now) {
                m_store.report(now.error());
                return;
            }
            JournalEntry entry;
            entry.plan =
                planToBringBack(freshSpliceId(), *now, work, setAsideInWords().toStdString());
            forecastAndBegin(entry, id);
        });
}

void SpliceSession::bringKeptBack(const ObjectId& work)
{
    if (!isFree()) {
        return;
    }
    JournalEntry entry;
    entry.plan = planToBringBack(
        freshSpliceId(), m_place.facts()->standing, work, setAsideInWords().toStdString());
    forecastAndBegin(entry, {});
}
}  // namespace rope
