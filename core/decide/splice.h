// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice_plan.h"
#include "core/decide/splice_steps.h"
#include "core/decide/spliced_text.h"
#include "core/join/forecast.h"
#include "core/join/leg_standing.h"
#include "core/join/one_sided_file.h"
#include "core/join/result_tree.h"

#include <algorithm>
#include <map>
#include <memory>
#include <string>
#include <tuple>
#include <vector>

namespace rope {
/// One file of a splice: what the join made of it, and what a person made of that.
struct SpliceFile
{
    std::size_t leg = 0;  ///< Which of the splice's legs it belongs to.
    const FileOutcome* outcome = nullptr;
    OwnedOutcome
        own;  ///< Set where the outcome is none of a leg's: see one_sided_file.h, found_file.h.
    const FileOutcome* stoodFor = nullptr;  ///< The leg's outcome that it has taken the place of.
    std::unique_ptr<SplicedText> text;      ///< Where the file was joined by lines.
    SlotState answer;  ///< To the question about the whole file, if there is one.

    [[nodiscard]] std::size_t openCount() const;
    [[nodiscard]] std::size_t decidedCount() const;
};

/// Which slot of which file; the question when `slot` is kQuestion.
struct SlotPlace
{
    static constexpr std::size_t kQuestion = ~std::size_t{0};
    std::size_t file = 0;
    std::size_t slot = 0;
    friend bool operator==(const SlotPlace&, const SlotPlace&) = default;
};

/// A slot and the state it is to get.
struct SlotChange
{
    SlotPlace place;
    SlotState state;
};

/// One leg of a splice: a join, and what a person made of it. A merge commit has one leg, and one more for
/// each commit that is carried along upon it; a rebase has one for each commit that it writes anew, in
/// order; work that is carried across is a last one.
using Leg = std::shared_ptr<const Join>;

/// A conflict marker that stands in a result and in no stored version.
struct MarkerLeft
{
    RepoPath path;
    LineNumber line = 0;  ///< From 0.
};

/// One integration: the outcomes of its legs (constant) plus decisions (undoable). The result is
/// always both together. One thread. Every change is told to the sink before anything else sees it.
/// While it is frozen, because it is being recorded, nothing changes it.
class Splice
{
public:
    /// The splice of a forecast: one leg.
    Splice(SplicePlan plan, const std::shared_ptr<const Forecast>& forecast);
    /// `standings`: where commits are laid one upon the other, one for each leg that is no carried work;
    /// else none.
    /// REQUIRES: at least one leg
    Splice(SplicePlan plan,
           std::shared_ptr<const Forecast> forecast,
           std::vector<Leg> legs,
           std::vector<LegStanding> standings = {});

    [[nodiscard]] const SplicePlan& plan() const { return m_plan; }
    /// What its plan was made of.
    [[nodiscard]] const Forecast& forecast() const { return *m_forecast; }
    [[nodiscard]] const std::vector<Leg>& legs() const { return m_legs; }
    /// The files of all legs, in the order of the legs.
    [[nodiscard]] const std::vector<SpliceFile>& files() const { return m_files; }
    [[nodiscard]] const SlotState& state(SlotPlace place) const;
    [[nodiscard]] std::size_t openCount() const;
    [[nodiscard]] std::size_t decidedCount() const;

    /// Where commits are laid one upon the other: what each leg writes anew. Else empty.
    [[nodiscard]] const std::vector<LegStanding>& standings() const { return m_standings; }
    /// Whether later legs hang on what is decided in earlier ones.
    [[nodiscard]] bool laysCommits() const { return !m_standings.empty(); }
    /// The leg of carried work, if there is one: it follows those that join commits.
    [[nodiscard]] std::size_t workLeg() const
    {
        return std::max(m_standings.size(), std::size_t{1});
    }
    [[nodiscard]] bool hasWorkLeg() const { return m_legs.size() > workLeg(); }
    /// The leg whose result the line of work will hold in the end.
    [[nodiscard]] std::size_t lastLeg() const { return workLeg() - 1; }
    /// Open places of one leg.
    [[nodiscard]] std::size_t openCountOf(std::size_t leg) const;
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
    /// Adds a file of the first leg that only one side changed, behind the leg's others, so that it can be
    /// edited; steps keep their places. Returns its place among files(); where it is there already, that.
    /// What was put there by hand (foundOutcome) takes the place of what the leg has.
    /// REQUIRES: then, no steps about it
    std::size_t takeUp(OwnedOutcome outcome);
    /// What it carries, where that needs no leg: it is to be brought back later.
    void setWork(const ObjectId& work) { m_plan.work = work; }

    void setChangeSink(ChangeSink sink) { m_sink = std::move(sink); }
    /// Puts states in without a step to undo and without telling the sink: what is stored already.
    void put(const std::vector<SlotChange>& changes);

    /// Takes up steps that were kept in an earlier run: they can be undone and redone again. To be
    /// called once all that was decided has been put in. Steps about places that are not there are
    /// left out, with all that lie behind them.
    void restoreSteps(const KeptSteps& kept);

    /// Offers a text for a region, as one of its candidates.
    void offerEarlier(SlotPlace place, const std::string& text, const EarlierSource& source = {})
    {
        m_files[place.file].text->setEarlierText(place.slot, text, source);
    }

    /// Offers it no more.
    void withdrawEarlier(SlotPlace place)
    {
        m_files[place.file].text->forgetEarlierText(place.slot);
    }

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

    /// What a leg and its decisions put into the joined tree, with the bytes of all that is stored
    /// nowhere. Errors: those of resultTree(). REQUIRES: nothing is open in the leg
    [[nodiscard]] Result<ResultSnapshot> result(std::size_t leg) const;
    /// What the line of work will hold in the end. As result(lastLeg()).
    [[nodiscard]] Result<ResultSnapshot> result() const { return result(lastLeg()); }
    /// Conflict markers that would be recorded.
    [[nodiscard]] std::vector<MarkerLeft> markersLeft() const;
    /// Everything that was decided or written, to be stored or carried over.
    [[nodiscard]] std::vector<Decision> decisions() const;

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
    [[nodiscard]] std::vector<SpliceFile> filesOf(std::size_t leg) const;
    static void putInPlaceOf(SpliceFile& file, OwnedOutcome outcome);
    /// Of this leg and those behind it.
    void forgetStepsFrom(std::size_t leg);
    void apply(StepKind kind, std::size_t step, const Step& now);
    [[nodiscard]] Decision decisionAt(const SlotChange& change) const;
    /// Under which a reason is kept: by name, so that it outlives legs that are joined anew.
    using ReasonKey = std::tuple<std::size_t, std::string, std::string>;
    [[nodiscard]] ReasonKey reasonKey(SlotPlace place) const;
    /// Where a decision of this splice belongs; nothing if there is no such place.
    [[nodiscard]] std::optional<SlotPlace> placeOf(const Decision& decision) const;
    [[nodiscard]] std::optional<std::vector<SlotChange>>
    changesOf(const std::vector<Decision>& decisions) const;

    SplicePlan m_plan;
    std::shared_ptr<const Forecast> m_forecast;
    std::vector<Leg> m_legs;
    std::vector<LegStanding> m_standings;
    std::vector<SpliceFile> m_files;
    std::map<ReasonKey, std::string> m_reasons;  ///< None is empty.
    ChangeSink m_sink;
    std::vector<Step> m_steps;
    std::size_t m_position = 0;   ///< Steps before it are done, those from it on undone.
    std::size_t m_firstStep = 0;  ///< The number of the oldest step.
    bool m_isTyping = false;
    bool m_isFrozen = false;
};
}  // namespace rope
