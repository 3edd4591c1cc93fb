// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/decided_result.h"
#include "core/decide/splice_plan.h"
#include "core/decide/splice_steps.h"
#include "core/join/forecast.h"
#include "core/join/leg_standing.h"

#include <algorithm>
#include <map>
#include <memory>
#include <string>
#include <tuple>
#include <vector>

namespace rope {
/// One integration: a plan, and joins that a person decides (DecidedJoin) in steps that can be undone. One
/// thread. Every change is told to the sink before anything else sees it.
/// While it is frozen, because it is being recorded, nothing changes it.
class Splice
{
public:
    /// The splice of a forecast: one leg.
    Splice(SplicePlan plan, const std::shared_ptr<const Forecast>& forecast);
    /// `decided`: what is decided already. `standings`: where commits are laid one upon the other, one for
    /// each leg that is no carried work; else none.
    Splice(SplicePlan plan,
           std::shared_ptr<const Forecast> forecast,
           DecidedJoin decided,
           std::vector<LegStanding> standings = {});
    /// All of it as it stands, without its steps and its sink: to be read in another thread.
    [[nodiscard]] std::shared_ptr<const Splice> copy() const;

    [[nodiscard]] const SplicePlan& plan() const { return m_plan; }
    /// What its plan was made of.
    [[nodiscard]] const Forecast& forecast() const { return *m_forecast; }
    [[nodiscard]] const DecidedJoin& decided() const { return m_decided; }
    // As of decided():
    [[nodiscard]] const std::vector<Leg>& legs() const { return m_decided.legs(); }
    [[nodiscard]] const std::vector<SpliceFile>& files() const { return m_decided.files(); }
    [[nodiscard]] const SlotState& state(SlotPlace place) const { return m_decided.state(place); }
    [[nodiscard]] std::size_t openCount() const { return m_decided.openCount(); }
    [[nodiscard]] std::size_t openCountOf(std::size_t leg) const
    {
        return m_decided.openCountOf(leg);
    }
    [[nodiscard]] std::size_t decidedCount() const { return m_decided.decidedCount(); }
    [[nodiscard]] std::vector<Decision> decisions() const { return m_decided.decisions(); }
    [[nodiscard]] std::vector<MarkerLeft> markersLeft() const { return m_decided.markersLeft(); }

    /// Where commits are laid one upon the other: what each leg writes anew. Else empty.
    [[nodiscard]] const std::vector<LegStanding>& standings() const { return m_standings; }
    /// Whether later legs hang on what is decided in earlier ones.
    [[nodiscard]] bool laysCommits() const { return !m_standings.empty(); }
    /// The leg of carried work, if there is one: it follows those that join commits.
    [[nodiscard]] std::size_t workLeg() const
    {
        return std::max(m_standings.size(), std::size_t{1});
    }
    [[nodiscard]] bool hasWorkLeg() const { return legs().size() > workLeg(); }
    /// The leg whose result the line of work will hold in the end.
    [[nodiscard]] std::size_t lastLeg() const { return workLeg() - 1; }
    /// Open places of all that is recorded: of every leg but that of carried work.
    [[nodiscard]] std::size_t openCountOfCommits() const;
    /// Adds the leg that carries uncommitted work, or puts it in the place of an earlier one; `work` is
    /// what it carries. A null leg: there is no work any more. Places of the other legs stay what they
    /// are. Nothing in it is decided yet, and steps about places of the earlier one are forgotten, with
    /// what lies before them.
    void setWorkLeg(Leg leg, const ObjectId& work);
    /// Puts other legs in the place of those from `first` on that write commits anew: what comes before
    /// them was decided otherwise. As setWorkLeg(), nothing in them is decided yet, and steps about them
    /// and carried work are forgotten. REQUIRES: one for each
    void setLegsFrom(std::size_t first, const std::vector<Leg>& legs);
    /// What is known anew of the legs as they are. REQUIRES: as many as before
    void setStandings(std::vector<LegStanding> standings);
    /// As DecidedJoin::takeUp(); steps keep their places. REQUIRES: no steps about a file that another one
    /// takes the place of
    std::size_t takeUp(OwnedOutcome outcome);
    /// What it carries, where that needs no leg: it is to be brought back later.
    void setWork(const ObjectId& work) { m_plan.work = work; }

    void setChangeSink(ChangeSink sink) { m_sink = std::move(sink); }
    /// Puts states in without a step to undo and without telling the sink: what is stored already.
    void put(const std::vector<SlotChange>& changes) { toChange().put(changes); }

    /// Takes up steps that were kept in an earlier run: they can be undone and redone again. To be
    /// called once all that was decided has been put in. Steps about places that are not there are
    /// left out, with all that lie behind them.
    void restoreSteps(const KeptSteps& kept);

    /// As DecidedJoin::offer(): it changes nothing that is decided.
    void offer(const std::vector<OfferedText>& texts) { m_decided.offer(texts); }
    /// As the functions of carry_over.h.
    void offerFromEarlierLegs();
    bool offerFromSameRegion(SlotPlace place);

    /// While frozen, change() and what it serves, undo() and redo() do nothing.
    void setFrozen(bool isFrozen) { m_isFrozen = isFrozen; }
    [[nodiscard]] bool isFrozen() const { return m_isFrozen; }

    /// Makes changes as one undoable step. With `typing`, a change of one slot that follows another
    /// such change of the same slot becomes part of that step.
    void change(std::vector<SlotChange> changes, bool typing = false);
    /// Ends a run of typing, so that the next change is a step of its own.
    void endTyping() { m_isTyping = false; }

    /// Takes a candidate for a region; an answer for a question; or leaves the slot as before.
    void takeCandidate(SlotPlace place, const Candidate& candidate);
    void answer(std::size_t file, FileChoice choice);
    void reopen(SlotPlace place);
    /// Decides every open region and question of a file for one side, as one step; see together.h.
    void decideAllOpen(std::size_t file, FileChoice side);

    [[nodiscard]] bool canUndo() const { return !m_isFrozen && m_position > 0; }
    [[nodiscard]] bool canRedo() const { return !m_isFrozen && m_position < m_steps.size(); }
    /// What undo() or redo() would put back. REQUIRES: canUndo(), canRedo()
    [[nodiscard]] const std::vector<SlotChange>& nextUndo() const
    {
        return m_steps[m_position - 1].before;
    }
    [[nodiscard]] const std::vector<SlotChange>& nextRedo() const
    {
        return m_steps[m_position].after;
    }
    /// The places that changed. REQUIRES: canUndo()
    std::vector<SlotPlace> undo();
    /// REQUIRES: canRedo()
    std::vector<SlotPlace> redo();

    /// What the line of work will hold in the end, as it is decided now: the same value until something is
    /// changed, to be worked out beside the interface. REQUIRES: nothing is open in the last leg
    [[nodiscard]] std::shared_ptr<const DecidedResult> sharedResult() const;
    /// As DecidedJoin::result(); what is worked out for the last leg is that of sharedResult(). It takes
    /// long for large files: not for the interface thread.
    [[nodiscard]] Result<ResultSnapshot> result(std::size_t leg) const;
    [[nodiscard]] Result<ResultSnapshot> result() const { return result(lastLeg()); }

    /// Why a place is decided as it is, in a person's words; empty: nothing is said. No step to undo: words
    /// about a decision stay where the decision changes, and are shown beside it.
    [[nodiscard]] std::string reason(SlotPlace place) const;
    /// Says why; empty: nothing is said any more. Returns it as it is to be stored.
    GivenReason giveReason(SlotPlace place, const std::string& text);
    /// Takes up what was said in an earlier run.
    void putReasons(const std::vector<GivenReason>& reasons);
    [[nodiscard]] bool hasReasons() const { return !m_reasons.empty(); }

private:
    struct Step
    {
        std::vector<SlotChange> before;
        std::vector<SlotChange> after;
        bool isTyping = false;
    };
    /// What is decided, to be changed: a result that was worked out before is none of it.
    [[nodiscard]] DecidedJoin& toChange();
    /// Of this leg and those behind it.
    void forgetStepsFrom(std::size_t leg);
    void apply(StepKind kind, std::size_t step, const Step& now);
    /// Under which a reason is kept: by name, so that it outlives legs that are joined anew.
    using ReasonKey = std::tuple<std::size_t, std::string, std::string>;
    [[nodiscard]] ReasonKey reasonKey(SlotPlace place) const;
    [[nodiscard]] std::optional<std::vector<SlotChange>>
    changesOf(const std::vector<Decision>& decisions) const;

    SplicePlan m_plan;
    std::shared_ptr<const Forecast> m_forecast;
    DecidedJoin m_decided;
    mutable std::shared_ptr<const DecidedResult>
        m_result;  ///< Null: of an earlier state, or none yet.
    std::vector<LegStanding> m_standings;
    std::map<ReasonKey, std::string> m_reasons;  ///< None is empty.
    ChangeSink m_sink;
    std::vector<Step> m_steps;
    std::size_t m_position = 0;   ///< Steps before it are done, those from it on undone.
    std::size_t m_firstStep = 0;  ///< The number of the oldest step.
    bool m_isTyping = false;
    bool m_isFrozen = false;
};
}  // namespace rope
