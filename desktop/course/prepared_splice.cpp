// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_begun_rebase.cpp, tst_window.cpp and tst_logbook_round.cpp.
#include "desktop/course/prepared_splice.h"

#include "core/decide/begun_decisions.h"
#include "core/decide/decided_outcomes.h"
#include "core/history/divergence.h"
#include "core/plan/begun_splice.h"
#include "core/plan/carried_commits.h"
#include "core/system/tree_difference.h"

#include <algorithm>

namespace rope {
Status prepareSplice(const PlaceAddress& address, const SplicePlan& plan)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const Standing standing, place->standing());
    TRY_ASSIGN(const auto journal, journalOf(*place));
    if (!plan.begun.empty()) {
        TRY_ASSIGN(const auto begun, place->begunJoin());
        return begun && isToFinish(plan, *begun)
                   ? keepAlive(*place, *journal, plan)
                   : Status(Error{ErrorCode::stale, {}, {}, Reason::begunChanged});
    }
    if (plan.workChoice == WorkChoice::filesStay) {
        TRY_ASSIGN(const ObjectId tip, place->resolveCommit(plan.oursRef));
        if (standing.ref == plan.oursRef || tip != plan.expected()) {
            return Error{ErrorCode::stale, plan.oursName, "now at " + tip.hex(), Reason::lineMoved};
        }
        return keepAlive(*place, *journal, plan);
    }
    if (standing.ref != plan.oursRef || standing.tip != plan.expected()) {
        return Error{
            ErrorCode::stale, plan.oursName, "now at " + standing.tip.hex(), Reason::lineMoved};
    }
    if (plan.kind == SpliceKind::bringBack) {
        TRY_ASSIGN(const auto files, place->uncommittedFiles());
        if (std::any_of(files.begin(), files.end(), [](const UncommittedFile& file) {
                return !file.isUntracked;
            })) {
            return Error{ErrorCode::stale, standing.name, {}, Reason::workInTheWay};
        }
    }
    return keepAlive(*place, *journal, plan);
}

Result<std::shared_ptr<const SurveyForecast>> spliceForecast(const PlaceAddress& address,
                                                             const SplicePlan& plan,
                                                             const ProgressSink& progress,
                                                             const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    if (plan.kind != SpliceKind::revert && plan.kind != SpliceKind::pick) {
        return surveyForecast(*place, address, plan.ours, plan.theirs, progress, stop);
    }
    place->setAsking(address.asking);
    place->setMissingBytes({address.permissions.fetchesMissing, progress, stop});
    auto survey = std::make_shared<SurveyForecast>();
    const auto forecast = plan.kind == SpliceKind::pick ? forecastPick : forecastRevert;
    TRY_ASSIGN(survey->forecast, forecast(*place, plan.ours, plan.theirs, progress, stop));
    TRY_ASSIGN(survey->oursCommits, readListed(*place, survey->forecast.divergence.oursOnly));
    return std::shared_ptr<const SurveyForecast>(std::move(survey));
}

namespace {
/// Whether commits are laid upon a join, rather than upon theirs.
bool laysUponJoin(const SplicePlan& plan, const RebaseScope& scope)
{
    return !scope.commits.empty() && !plan.laysOwnCommits();
}

/// Of a rebase that is taken out again, the commits below its newest one; else nothing.
Result<RebaseScope> scopeOfRevert(Place& place, const SplicePlan& plan, const std::stop_token& stop)
{
    TRY_ASSIGN(const auto journal, journalOf(place));
    TRY_ASSIGN(const auto entries, journal->splices(SpliceState::recorded));
    const auto rebase = std::find_if(entries.begin(), entries.end(), [&](const auto& entry) {
        return entry.plan.kind == SpliceKind::rebase && entry.recorded == plan.theirs;
    });
    return rebase == entries.end() ? RebaseScope()
                                   : takingOutScope(place, plan.theirs, rebase->plan.theirs, stop);
}

/// The corrections that one corrects in turn, the first of all first, and that one itself.
Result<std::vector<SplicePlan>> correctionsUpTo(Place& place, const SplicePlan& plan)
{
    TRY_ASSIGN(const auto journal, journalOf(place));
    TRY_ASSIGN(const auto entries, journal->splices(SpliceState::recorded));
    std::vector<SplicePlan> corrections{plan};
    while (!corrections.back().replaced.isNull()) {
        const auto below = std::find_if(entries.begin(), entries.end(), [&](const auto& entry) {
            return entry.plan.isCorrection() && entry.recorded == corrections.back().replaced;
        });
        if (below == entries.end()) {
            break;
        }
        corrections.push_back(below->plan);
    }
    std::reverse(corrections.begin(), corrections.end());
    return corrections;
}

/// What came upon a commit since is laid on what is decided in its place; of corrections one upon the other
/// what came between each two of them.
Status addWhatStandsUpon(Place& place,
                         const SplicePlan& plan,
                         RebaseScope& scope,
                         const std::stop_token& stop)
{
    if (!plan.isCorrection()) {
        return addCarriedCommits(place, plan, scope, stop);
    }
    TRY_ASSIGN(const auto corrections, correctionsUpTo(place, plan));
    for (const SplicePlan& correction : corrections) {
        TRY(addCarriedCommits(place, correction, scope, stop));
    }
    return ok();
}

/// What a plan lays anew; empty: nothing.
Result<RebaseScope>
scopeOf(Place& place, const SplicePlan& plan, const Forecast& forecast, const std::stop_token& stop)
{
    if (!plan.begun.empty()) {
        TRY_ASSIGN(const auto begun, place.begunJoin());
        if (begun && isToFinish(plan, *begun)) {
            return scopeOfBegun(place, *begun);
        }
    }
    if (plan.kind == SpliceKind::revert) {
        return scopeOfRevert(place, plan, stop);
    }
    RebaseScope scope;
    if (plan.laysOwnCommits()) {
        TRY_ASSIGN(scope, rebaseScope(place, forecast.divergence, plan.theirs, stop));
    }
    TRY(addWhatStandsUpon(place, plan, scope, stop));
    return scope;
}

/// Commits may have another leg now than they had when something was decided in them.
void moveToLegs(std::vector<Decision>& decisions,
                const std::vector<JournalLeg>& before,
                const SplicePlan& plan,
                const RebaseScope& scope)
{
    const std::size_t first = laysUponJoin(plan, scope) ? 1 : 0;
    const auto placeOf = [&](std::size_t leg) {
        if (leg >= before.size()) {
            return first + scope.commits.size();  // carried work
        }
        if (leg < first) {
            return leg;
        }
        const auto now = std::find_if(
            scope.commits.begin(), scope.commits.end(), [&](const CommitToRewrite& rewritten) {
                const JournalLeg& was = before[leg];
                return rewritten.commit.id.brief()
                       == laidIn(rewritten.as, was.base, was.ours, was.theirs);
            });
        return now == scope.commits.end()
                   ? ~std::size_t{0}
                   : first + static_cast<std::size_t>(now - scope.commits.begin());
    };
    for (Decision& decision : decisions) {
        decision.leg = placeOf(decision.leg);
    }
    // Those of commits that are not written anew any more have no place.
    std::erase_if(decisions, [](const auto& decision) { return decision.leg == ~std::size_t{0}; });
}

/// Lays what stands upon a commit that is recorded anew on what its join and the decisions make.
Status layUponJoin(Place& place,
                   const SplicePlan& plan,
                   const std::shared_ptr<const Forecast>& forecast,
                   const ProgressSink& progress,
                   const std::stop_token& stop,
                   PreparedSplice& prepared)
{
    if (!laysUponJoin(plan, prepared.scope)) {
        return ok();
    }
    const Leg join(forecast, &forecast->join);
    TRY_ASSIGN(prepared.laid,
               layCommits(place,
                          {prepared.scope, prepared.decisions, {}, join, prepared.oneSided},
                          progress,
                          stop));
    return ok();
}
/// What was decided for regions like those of a join: in splices that were left, and in the history.
Result<std::vector<OfferedText>>
decidedBefore(Place& place, const SplicePlan& plan, const Forecast& forecast)
{
    TRY_ASSIGN(auto journal, journalOf(place));
    // The places are those of a splice; this one is thrown away.
    const Splice splice(plan, std::shared_ptr<const Forecast>(std::shared_ptr<void>(), &forecast));
    std::vector<OfferedText> offered;
    for (std::size_t i = 0; i < splice.files().size(); ++i) {
        const auto& text = splice.files()[i].text;
        for (std::size_t region = 0; text && region < text->join().regionCount(); ++region) {
            TRY_ASSIGN(auto known,
                       journal->decidedBefore(text->join().regionKey(region),
                                              text->join().looseRegionKey(region),
                                              plan.id));
            if (known) {
                offered.push_back({{i, text->slotOfRegion(region)},
                                   std::move(known->text),
                                   std::move(known->source)});
            }
        }
    }
    return offered;
}
/// Lays the commits of a rebase on what is decided so far. Files that only one side changed are taken up in
/// the first of them.
Result<PreparedSplice> layRebase(Place& place,
                                 PreparedSplice prepared,
                                 const ProgressSink& progress,
                                 const std::stop_token& stop)
{
    LayRequest request{prepared.scope, prepared.decisions, {}, {}, prepared.oneSided};
    TRY_ASSIGN(prepared.laid, layCommits(place, request, progress, stop));
    const Join& first = *prepared.laid.front().leg;
    std::vector<Decision> ofFirst;
    for (const Decision& decision : prepared.decisions) {
        if (decision.leg == 0) {
            ofFirst.push_back(decision);
        }
    }
    Overlay snapshots(place, *first.held);
    TRY_ASSIGN(prepared.oneSided, oneSidedOutcomesOf(snapshots, first, ofFirst));
    if (prepared.oneSided.size() != request.oneSided.size()) {
        request.oneSided = prepared.oneSided;
        for (const LaidCommit& laid : prepared.laid) {
            request.known.push_back(laid.leg);
        }
        TRY_ASSIGN(prepared.laid, layCommits(place, request, progress, stop));
    }
    return prepared;
}
}  // namespace

Result<PreparedSplice> readForSplice(const PlaceAddress& address,
                                     const SplicePlan& plan,
                                     const std::shared_ptr<const Forecast>& forecast,
                                     EarlierDecisions earlier,
                                     const ProgressSink& progress,
                                     const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    PreparedSplice prepared;
    prepared.decisions = std::move(earlier.decisions);
    TRY_ASSIGN(prepared.scope, scopeOf(*place, plan, *forecast, stop));
    if (!prepared.scope.commits.empty()) {
        moveToLegs(prepared.decisions, earlier.legs, plan, prepared.scope);
    }
    if (!plan.laysOwnCommits()) {
        Overlay snapshots(*place, *forecast->join.held);
        TRY_ASSIGN(prepared.oneSided,
                   oneSidedOutcomesOf(snapshots, forecast->join, prepared.decisions));
        TRY_ASSIGN(prepared.offered, decidedBefore(*place, plan, *forecast));
        TRY(layUponJoin(*place, plan, forecast, progress, stop, prepared));
        return prepared;
    }
    if (prepared.scope.commits.empty()) {
        return Error{
            ErrorCode::invalidInput, plan.oursName, plan.theirsName, Reason::nothingToRewrite};
    }
    return layRebase(*place, std::move(prepared), progress, stop);
}

Result<BegunWork> begunWork(const PlaceAddress& address)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const auto begun, place->begunJoin());
    if (!begun || begun->obstacle != BegunObstacle::none) {
        return Error{ErrorCode::stale, {}, {}, Reason::begunChanged};
    }
    TRY_ASSIGN(const BegunFiles files, place->begunFiles());
    return BegunWork{*begun, files.stamp};
}

namespace {
/// What a splice that is thrown away says is decided.
void takeFrom(const Splice& splice, PreparedSplice& prepared)
{
    prepared.decisions = splice.decisions();
    prepared.oneSided.clear();
    for (const SpliceFile& file : splice.files()) {
        if (file.own) {
            prepared.oneSided.push_back(file.own);
        }
    }
}
}  // namespace

namespace {
/// What was decided before, where the files of a begun join say nothing themselves.
Status putEarlier(Splice& splice, Snapshots& snapshots, const std::vector<Decision>& earlier)
{
    TRY_ASSIGN(const auto owned, oneSidedOutcomesOf(snapshots, *splice.legs().front(), earlier));
    for (const OwnedOutcome& outcome : owned) {
        const auto& files = splice.files();
        const bool isThere = std::any_of(files.begin(), files.end(), [&](const SpliceFile& file) {
            return file.leg == 0 && file.outcome->path == outcome->path;
        });
        if (!isThere) {
            splice.takeUp(outcome);
        }
    }
    for (const SlotChange& change : carryOver(earlier, splice).placed) {
        const SlotState& now = splice.state(change.place);
        // The same as then was found there: what was answered to that holds.
        const bool isFoundAgain =
            change.place.slot == SlotPlace::kQuestion && now.text && now.text == change.state.text;
        if (now == SlotState{} || isFoundAgain) {
            splice.put({change});
        }
    }
    return ok();
}
}  // namespace

Result<PreparedSplice> readBegun(const PlaceAddress& address,
                                 const SplicePlan& plan,
                                 const std::shared_ptr<const Forecast>& forecast,
                                 const EarlierDecisions& earlier,
                                 const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const BegunFiles files, place->begunFiles());
    if (files.stamp != plan.begun) {
        return Error{ErrorCode::stale, {}, {}, Reason::begunChanged};
    }
    TRY_ASSIGN(const auto journal, journalOf(*place));
    TRY(keepFoundAlive(*place, *journal, plan, files));
    PreparedSplice prepared;
    TRY_ASSIGN(prepared.scope, scopeOf(*place, plan, *forecast, stop));
    Leg first(forecast, &forecast->join);
    if (plan.kind == SpliceKind::rebase) {
        LayRequest request{prepared.scope, {}, {}, {}, {}};
        request.scope.commits.resize(1);
        TRY_ASSIGN(const auto laid, layCommits(*place, request, {}, stop));
        first = laid.front().leg;
    }
    Overlay snapshots(*place, *first->held);
    // In a splice of its own, which is thrown away: the one that a person works on is made of what it says.
    const auto splice = std::make_unique<Splice>(plan, forecast, std::vector<Leg>{first});
    TRY_ASSIGN(BegunDecisions begun, putBegun(*splice, snapshots, files, stop));
    TRY(putEarlier(*splice, snapshots, earlier.decisions));
    takeFrom(*splice, prepared);
    prepared.offered = std::move(begun.offered);
    if (plan.kind == SpliceKind::rebase) {
        return layRebase(*place, std::move(prepared), {}, stop);
    }
    TRY(layUponJoin(*place, plan, forecast, {}, stop, prepared));
    return prepared;
}

Result<FinishedMerge> finishedMerge(const PlaceAddress& address,
                                    const ObjectId& merge,
                                    const std::string& line,
                                    const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const auto commits, place->readCommits({&merge, 1}));
    if (commits.front().parents.size() != 2) {
        return Error{ErrorCode::invalidInput, merge.brief(), {}};
    }
    TRY_ASSIGN(const ObjectId tip, place->resolveCommit(line));
    FinishedMerge found{commits.front(), false, {}};
    if (tip != merge) {
        TRY_ASSIGN(const Divergence since, findDivergence(*place, tip, merge, stop));
        if (since.relation != Relation::oursAhead) {
            return Error{ErrorCode::stale, line, "now at " + tip.hex(), Reason::lineMoved};
        }
        found.above = tip;
        found.staysThere = holdsMerge(since.oursOnly);
    }
    TRY_ASSIGN(const auto branches, place->branches());
    std::vector<ObjectId> tips{merge};
    for (const Branch& branch : branches) {
        tips.push_back(branch.isShared ? branch.tip : merge);
    }
    TRY_ASSIGN(auto stream, place->commitsFrom(tips));
    CommitGraph graph(std::move(stream));
    for (const Branch& branch : branches) {
        if (branch.isShared && !found.staysThere) {
            TRY_ASSIGN(const Divergence apart, findDivergence(graph, branch.tip, merge, stop));
            found.staysThere =
                apart.relation == Relation::same || apart.relation == Relation::oursAhead;
        }
    }
    return found;
}

Result<PreparedSplice> readFinished(const PlaceAddress& address,
                                    const SplicePlan& plan,
                                    const std::shared_ptr<const Forecast>& forecast,
                                    const ObjectId& tree,
                                    const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    Overlay snapshots(*place, *forecast->join.held);
    PreparedSplice prepared;
    const auto splice = makeSplice(plan, forecast, prepared);
    BegunFiles files;
    files.tree = tree;
    TRY_ASSIGN(const auto changes, treeDifference(*place, forecast->ours.tree, tree));
    for (const FileChange& change : changes) {
        files.settled.push_back(change.path);
    }
    TRY(putBegun(*splice, snapshots, files, stop));
    takeFrom(*splice, prepared);
    TRY(addCarriedCommits(*place, plan, prepared.scope, stop));
    TRY(layUponJoin(*place, plan, forecast, {}, stop, prepared));
    return prepared;
}

std::unique_ptr<Splice> makeSplice(const SplicePlan& plan,
                                   const std::shared_ptr<const Forecast>& forecast,
                                   const PreparedSplice& prepared)
{
    std::vector<Leg> legs;
    std::vector<LegStanding> standings;
    for (const LaidCommit& laid : prepared.laid) {
        legs.push_back(laid.leg);
        standings.push_back(laid.standing);
    }
    auto splice =
        legs.empty()
            ? std::make_unique<Splice>(plan, forecast)
            : std::make_unique<Splice>(plan, forecast, std::move(legs), std::move(standings));
    for (const OwnedOutcome& outcome : prepared.oneSided) {
        splice->takeUp(outcome);
    }
    return splice;
}
}  // namespace rope
