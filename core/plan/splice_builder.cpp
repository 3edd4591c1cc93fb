// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_begun_rebase.cpp, tst_splice_session.cpp and tst_logbook_round.cpp.
#include "core/plan/splice_builder.h"

#include "core/decide/begun_decisions.h"
#include "core/decide/decided_outcomes.h"
#include "core/plan/begun_splice.h"
#include "core/plan/carried_commits.h"
#include "core/system/tree_difference.h"

#include <algorithm>

namespace rope {
/// Whether commits are laid upon a join, rather than upon theirs.
bool SpliceBuilder::laysUponJoin(const RebaseScope& scope) const
{
    return !scope.commits.empty() && !m_plan.laysOwnCommits();
}

/// Of a rebase that is taken out again, the commits below its newest one; else nothing.
Result<RebaseScope> SpliceBuilder::scopeOfRevert() const
{
    const auto& recorded = m_memory.recorded;
    const auto rebase = std::find_if(recorded.begin(), recorded.end(), [&](const auto& splice) {
        return splice.plan.kind == SpliceKind::rebase && splice.recorded == m_plan.theirs;
    });
    return rebase == recorded.end()
               ? RebaseScope()
               : takingOutScope(m_place, m_plan.theirs, rebase->plan.theirs, m_stop);
}

/// The corrections that one corrects in turn, the first of all first, and that one itself.
std::vector<SplicePlan> SpliceBuilder::correctionsUpTo() const
{
    const auto& recorded = m_memory.recorded;
    std::vector<SplicePlan> corrections{m_plan};
    while (!corrections.back().replaced.isNull()) {
        const auto below = std::find_if(recorded.begin(), recorded.end(), [&](const auto& splice) {
            return splice.plan.isCorrection() && splice.recorded == corrections.back().replaced;
        });
        if (below == recorded.end()) {
            break;
        }
        corrections.push_back(below->plan);
    }
    std::reverse(corrections.begin(), corrections.end());
    return corrections;
}

/// What came upon a commit since is laid on what is decided in its place; of corrections one upon the other
/// what came between each two of them.
Status SpliceBuilder::addWhatStandsUpon(RebaseScope& scope) const
{
    if (!m_plan.isCorrection()) {
        return addCarriedCommits(m_place, m_plan, scope, m_stop);
    }
    for (const SplicePlan& correction : correctionsUpTo()) {
        TRY(addCarriedCommits(m_place, correction, scope, m_stop));
    }
    return ok();
}

/// What the plan lays anew; empty: nothing.
Result<RebaseScope> SpliceBuilder::scope(const BegunJoin* begun) const
{
    if (begun != nullptr) {
        return scopeOfBegun(m_place, *begun);
    }
    if (m_plan.kind == SpliceKind::revert) {
        return scopeOfRevert();
    }
    RebaseScope scope;
    if (m_plan.laysOwnCommits()) {
        TRY_ASSIGN(scope, rebaseScope(m_place, m_forecast->divergence, m_plan.theirs, m_stop));
    }
    TRY(addWhatStandsUpon(scope));
    return scope;
}

/// Commits may have another leg now than they had when something was decided in them.
void SpliceBuilder::moveToLegs(Draft& draft, const std::vector<LegSnapshots>& before) const
{
    constexpr std::size_t kNoLeg = ~std::size_t{0};
    const auto& commits = draft.scope.commits;
    const std::size_t first = laysUponJoin(draft.scope) ? 1 : 0;
    const auto placeOf = [&](std::size_t leg) {
        if (leg >= before.size()) {
            return first + commits.size();  // carried work
        }
        if (leg < first) {
            return leg;
        }
        const auto now =
            std::find_if(commits.begin(), commits.end(), [&](const CommitToRewrite& rewritten) {
                const LegSnapshots& was = before[leg];
                return rewritten.commit.id.brief()
                       == laidIn(rewritten.as, was.base, was.ours, was.theirs);
            });
        return now == commits.end() ? kNoLeg
                                    : first + static_cast<std::size_t>(now - commits.begin());
    };
    for (Decision& decision : draft.decisions) {
        decision.leg = placeOf(decision.leg);
    }
    // Those of commits that are not written anew any more have no place.
    std::erase_if(draft.decisions, [](const auto& decision) { return decision.leg == kNoLeg; });
}

/// Lays what stands upon a commit that is recorded anew on what its join and the decisions make.
Status SpliceBuilder::layUponJoin(Draft& draft) const
{
    if (laysUponJoin(draft.scope)) {
        const LayRequest request{draft.scope, draft.decisions, {}, joinLeg(), draft.oneSided};
        TRY_ASSIGN(draft.laid, layCommits(m_place, request, m_progress, m_stop));
    }
    return ok();
}

/// Lays the commits of a rebase on what is decided so far. Files that only one side changed are taken up in
/// the first of them.
Status SpliceBuilder::layRebase(Draft& draft) const
{
    LayRequest request{draft.scope, draft.decisions, {}, {}, draft.oneSided};
    TRY_ASSIGN(draft.laid, layCommits(m_place, request, m_progress, m_stop));
    const Join& first = *draft.laid.front().leg;
    std::vector<Decision> ofFirst;
    std::copy_if(draft.decisions.begin(),
                 draft.decisions.end(),
                 std::back_inserter(ofFirst),
                 [](const Decision& decision) { return decision.leg == 0; });
    Overlay snapshots(m_place, *first.held);
    TRY_ASSIGN(draft.oneSided, oneSidedOutcomesOf(snapshots, first, ofFirst));
    if (draft.oneSided.size() != request.oneSided.size()) {
        request.oneSided = draft.oneSided;
        for (const LaidCommit& laid : draft.laid) {
            request.known.push_back(laid.leg);
        }
        TRY_ASSIGN(draft.laid, layCommits(m_place, request, m_progress, m_stop));
    }
    return ok();
}

/// What was decided for regions like those of the join: in splices that were left, and in the history.
Result<std::vector<OfferedText>> SpliceBuilder::decidedBefore() const
{
    std::vector<OfferedText> offered;
    const DecidedJoin join({joinLeg()});  // its places are those of the splice
    for (std::size_t i = 0; m_memory.decidedBefore && i < join.files().size(); ++i) {
        const auto& text = join.files()[i].text;
        for (std::size_t region = 0; text && region < text->join().regionCount(); ++region) {
            TRY_ASSIGN(auto known,
                       m_memory.decidedBefore(text->join().regionKey(region),
                                              text->join().looseRegionKey(region)));
            if (known) {
                offered.push_back({{i, text->slotOfRegion(region)},
                                   std::move(known->text),
                                   std::move(known->source)});
            }
        }
    }
    return offered;
}

PreparedSplice SpliceBuilder::built(Draft draft) const
{
    std::vector<Leg> legs;
    for (const LaidCommit& laid : draft.laid) {
        legs.push_back(laid.leg);
    }
    if (legs.empty()) {
        legs.push_back(joinLeg());
    }
    DecidedJoin decided(std::move(legs));
    for (OwnedOutcome& outcome : draft.oneSided) {
        decided.takeUp(std::move(outcome));
    }
    CarriedOver carried = carryOver(draft.decisions, decided);
    decided.put(carried.placed);
    decided.offer(draft.offered);
    decided.offer(carried.offered);
    offerFromEarlierLegs(decided);
    return {std::move(draft.scope), std::move(decided), std::move(draft.laid), std::move(carried)};
}

Result<PreparedSplice> SpliceBuilder::fresh(EarlierDecisions earlier, const BegunJoin* begun)
{
    Draft draft;
    draft.decisions = std::move(earlier.decisions);
    TRY_ASSIGN(draft.scope, scope(begun));
    if (!draft.scope.commits.empty()) {
        moveToLegs(draft, earlier.legs);
    }
    if (!m_plan.laysOwnCommits()) {
        Overlay snapshots(m_place, *m_forecast->join.held);
        TRY_ASSIGN(draft.oneSided,
                   oneSidedOutcomesOf(snapshots, m_forecast->join, draft.decisions));
        TRY_ASSIGN(draft.offered, decidedBefore());
        TRY(layUponJoin(draft));
        return built(std::move(draft));
    }
    if (draft.scope.commits.empty()) {
        return Error{
            ErrorCode::invalidInput, m_plan.oursName, m_plan.theirsName, Reason::nothingToRewrite};
    }
    TRY(layRebase(draft));
    return built(std::move(draft));
}

/// What was decided before, where the files of a begun join say nothing themselves.
Status SpliceBuilder::putEarlier(DecidedJoin& decided,
                                 Snapshots& snapshots,
                                 const std::vector<Decision>& earlier)
{
    TRY_ASSIGN(const auto owned, oneSidedOutcomesOf(snapshots, *decided.legs().front(), earlier));
    for (const OwnedOutcome& outcome : owned) {
        const auto& files = decided.files();
        const bool isThere = std::any_of(files.begin(), files.end(), [&](const SpliceFile& file) {
            return file.leg == 0 && file.outcome->path == outcome->path;
        });
        if (!isThere) {
            decided.takeUp(outcome);
        }
    }
    for (const SlotChange& change : carryOver(earlier, decided).placed) {
        const SlotState& now = decided.state(change.place);
        // The same as then was found there: what was answered to that holds.
        const bool isFoundAgain =
            change.place.slot == SlotPlace::kQuestion && now.text && now.text == change.state.text;
        if (now == SlotState{} || isFoundAgain) {
            decided.put({change});
        }
    }
    return ok();
}

namespace {
std::vector<OwnedOutcome> ownedOutcomesOf(const DecidedJoin& decided)
{
    std::vector<OwnedOutcome> owned;
    for (const SpliceFile& file : decided.files()) {
        if (file.own) {
            owned.push_back(file.own);
        }
    }
    return owned;
}
}  // namespace

Result<PreparedSplice> SpliceBuilder::begun(const BegunWork& work, const EarlierDecisions& earlier)
{
    Draft draft;
    TRY_ASSIGN(draft.scope, scope(&work.join));
    Leg first = joinLeg();
    if (m_plan.kind == SpliceKind::rebase) {
        LayRequest request{draft.scope, {}, {}, {}, {}};
        request.scope.commits.resize(1);
        TRY_ASSIGN(const auto laid, layCommits(m_place, request, {}, m_stop));
        first = laid.front().leg;
    }
    Overlay snapshots(m_place, *first->held);
    DecidedJoin found({first});
    TRY_ASSIGN(BegunDecisions read, putBegun(found, snapshots, work.files, m_stop));
    TRY(putEarlier(found, snapshots, earlier.decisions));
    draft.decisions = found.decisions();
    draft.oneSided = ownedOutcomesOf(found);
    draft.offered = std::move(read.offered);
    TRY(m_plan.kind == SpliceKind::rebase ? layRebase(draft) : layUponJoin(draft));
    return built(std::move(draft));
}

Result<PreparedSplice> SpliceBuilder::finished(const ObjectId& tree)
{
    Overlay snapshots(m_place, *m_forecast->join.held);
    BegunFiles files;
    files.tree = tree;
    TRY_ASSIGN(const auto changes, treeDifference(m_place, m_forecast->ours.tree, tree));
    for (const FileChange& change : changes) {
        files.settled.push_back(change.path);
    }
    DecidedJoin found({joinLeg()});
    TRY(putBegun(found, snapshots, files, m_stop));
    Draft draft;
    draft.decisions = found.decisions();
    draft.oneSided = ownedOutcomesOf(found);
    TRY(addCarriedCommits(m_place, m_plan, draft.scope, m_stop));
    TRY(layUponJoin(draft));
    return built(std::move(draft));
}
}  // namespace rope
