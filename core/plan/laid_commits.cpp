// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_rebase.cpp.
#include "core/plan/laid_commits.h"

#include "core/join/submodules.h"

#include <algorithm>
#include <iterator>
#include <numeric>

namespace rope {
namespace {
Snapshot snapshotOf(const Commit& commit, const ObjectId& tree)
{
    return {tree, commit.id.brief(), commit.author};
}

/// The decisions of one leg, as those of that leg alone.
std::vector<Decision> decisionsOf(const std::vector<Decision>& all, std::size_t leg)
{
    std::vector<Decision> own;
    for (const Decision& decision : all) {
        if (decision.leg == leg) {
            own.push_back(decision);
            own.back().leg = 0;
        }
    }
    return own;
}

/// Takes what comes first for everything that is open, so that what follows can be reckoned.
void takeFirstOfAll(DecidedJoin& decided)
{
    std::vector<SlotChange> changes;
    for (std::size_t i = 0; i < decided.files().size(); ++i) {
        const SpliceFile& file = decided.files()[i];
        if (file.outcome->question && !file.answer.isDecided) {
            const FileChoice first = file.outcome->question->answers.front().choice;
            changes.push_back(
                {{i, SlotPlace::kQuestion}, {true, std::string(nameOf(first)), std::nullopt}});
        }
        for (std::size_t slot = 0; file.text && slot < file.text->slotCount(); ++slot) {
            if (file.text->isOpen(slot)) {
                const auto candidates =
                    candidateTexts(file.text->join().regionTexts(file.text->regionOf(slot)),
                                   file.text->habits(),
                                   file.text->earlierText(slot),
                                   {},
                                   1);
                changes.push_back({{i, slot},
                                   {true,
                                    std::string(nameOf(candidates.front().kind)),
                                    candidates.front().text}});
            }
        }
    }
    decided.put(changes);
}

class Layer
{
public:
    Layer(Place& place,
          const LayRequest& request,
          const ProgressSink& progress,
          const std::stop_token& stop)
        : m_place(place)
        , m_request(request)
        , m_progress(progress)
        , m_stop(stop)
        , m_snapshots(place, heldAtFirst(request))
        , m_rules(std::make_shared<MergeRules>())
        , m_ground(request.kept.empty() ? request.scope.onto.tree : request.kept.back().tree)
        , m_isAbout(!request.kept.empty()
                    && (request.kept.back().standing.isAbout || request.kept.back().isOpen))
    {
    }

    Result<std::vector<LaidCommit>> all()
    {
        std::vector<LaidCommit> laid = m_request.kept;
        const auto& commits = m_request.scope.commits;
        if (m_request.below && laid.empty()) {
            TRY_ASSIGN(LaidCommit below, layBelow());
            laid.push_back(std::move(below));
        }
        for (std::size_t i = laid.size() - firstCommitLeg(); i < commits.size(); ++i) {
            if (m_stop.stop_requested()) {
                return Error{ErrorCode::cancelled, {}, {}};
            }
            if (m_progress) {
                m_progress({ProgressStep::layingCommits, {}, i, commits.size()});
            }
            TRY_ASSIGN(LaidCommit next, lay(i));
            laid.push_back(std::move(next));
        }
        return laid;
    }

private:
    /// What the first join reads that is stored nowhere: the ground that those before it made.
    static HeldObjects heldAtFirst(const LayRequest& request)
    {
        if (!request.kept.empty() && request.kept.size() < request.known.size()) {
            return *request.known[request.kept.size()]->held;
        }
        return request.below ? *request.below->held : HeldObjects();
    }
    /// The legs before those of commits.
    [[nodiscard]] std::size_t firstCommitLeg() const { return m_request.below ? 1 : 0; }

    Result<LaidCommit> layBelow()
    {
        LaidCommit laid;
        laid.leg = m_request.below;
        laid.standing.commit = m_request.scope.onto;
        TRY(settle(0, laid));
        return laid;
    }

    Result<LaidCommit> lay(std::size_t index)
    {
        const RebaseScope& scope = m_request.scope;
        LaidCommit laid;
        TRY_ASSIGN(laid.leg, legOf(index));
        laid.standing.commit = scope.commits[index].commit;
        laid.standing.isCarried = index + scope.carried >= scope.commits.size();
        laid.standing.as = scope.commits[index].as;
        const ObjectId before = m_ground;
        TRY_ASSIGN(const bool isOpen, settle(firstCommitLeg() + index, laid));
        laid.standing.isEmptied =
            !isOpen && laid.tree == before && !scope.commits[index].isEmptyItself();
        return laid;
    }

    /// What a leg makes of the ground, as far as it is decided; whether something is open in it.
    Result<bool> settle(std::size_t leg, LaidCommit& laid)
    {
        laid.standing.isAbout = m_isAbout;
        DecidedJoin decided({laid.leg});
        for (const OwnedOutcome& outcome :
             leg == 0 ? m_request.oneSided : std::vector<OwnedOutcome>()) {
            decided.takeUp(outcome);
        }
        decided.put(carryOver(decisionsOf(m_request.decisions, leg), decided).placed);
        const bool isOpen = decided.openCount() > 0;
        laid.isOpen = isOpen;
        if (isOpen) {
            takeFirstOfAll(decided);
        }
        const auto result = decided.result(0);
        if (!result && !isOpen) {
            return result.error();
        }
        // What comes first everywhere may not fit together; then the commits that follow are reckoned
        // without this one.
        laid.tree = m_ground;
        if (result) {
            TRY_ASSIGN(laid.tree, m_snapshots.holdResult(*result));
        }
        m_isAbout = m_isAbout || isOpen;
        m_ground = laid.tree;
        return isOpen;
    }

    Result<Leg> legOf(std::size_t index)
    {
        JoinInputs inputs = inputsFor(m_request.scope.commits[index]);
        const std::size_t leg = firstCommitLeg() + index;
        if (leg < m_request.known.size()) {
            const Leg& known = m_request.known[leg];
            if (known->base.tree == inputs.base.tree && known->ours.tree == inputs.ours.tree
                && known->theirs.tree == inputs.theirs.tree) {
                return known;
            }
        }
        TRY_ASSIGN(Join join, joinSnapshots(m_snapshots, std::move(inputs), {}, m_stop));
        TRY(settleSubmodules(m_place, join, m_stop));
        return std::make_shared<const Join>(std::move(join));
    }

    [[nodiscard]] JoinInputs inputsFor(const CommitToRewrite& laid) const
    {
        const Commit& commit = laid.commit;
        Snapshot before{laid.baseTree,
                        commit.parents.empty() ? std::string() : commit.parents.front().brief(),
                        {}};
        Snapshot after = snapshotOf(commit, commit.tree);
        JoinInputs inputs{{}, {}, {}, {true, true, {}, m_rules}, true};
        if (laid.as == LaidAs::rewritten) {
            inputs.base = std::move(before);
            inputs.ours = std::move(after);
            inputs.theirs = snapshotOf(m_request.scope.onto, m_ground);
            return inputs;
        }
        inputs.ours =
            m_request.below ? m_request.below->ours : snapshotOf(m_request.scope.onto, {});
        inputs.ours.tree = m_ground;
        inputs.base = std::move(laid.as == LaidAs::picked ? before : after);
        inputs.theirs = std::move(laid.as == LaidAs::picked ? after : before);
        return inputs;
    }

    Place& m_place;
    const LayRequest& m_request;
    const ProgressSink& m_progress;
    const std::stop_token& m_stop;
    Overlay m_snapshots;
    std::shared_ptr<MergeRules> m_rules;
    ObjectId m_ground;
    bool m_isAbout;
};
}  // namespace

std::vector<LegStanding> standingsOf(const std::vector<LaidCommit>& laid)
{
    std::vector<LegStanding> standings;
    std::transform(laid.begin(), laid.end(), std::back_inserter(standings), [](const auto& one) {
        return one.standing;
    });
    return standings;
}

const std::string&
laidIn(LaidAs as, const Snapshot& base, const Snapshot& ours, const Snapshot& theirs)
{
    return as == LaidAs::rewritten ? ours.label : as == LaidAs::picked ? theirs.label : base.label;
}

Result<std::vector<LaidCommit>> layCommits(Place& place,
                                           const LayRequest& request,
                                           const ProgressSink& progress,
                                           const std::stop_token& stop)
{
    return Layer(place, request, progress, stop).all();
}

std::size_t firstOtherLeg(const Splice& splice, const std::vector<LaidCommit>& laid)
{
    const auto other = std::mismatch(
        laid.begin(), laid.end(), splice.legs().begin(), [](const auto& one, const Leg& leg) {
            return one.leg == leg;
        });
    return static_cast<std::size_t>(other.first - laid.begin());
}

std::vector<LostDecision>
putLaid(Splice& splice, const std::vector<LaidCommit>& laid, std::vector<Decision> earlier)
{
    const std::size_t first = firstOtherLeg(splice, laid);
    std::vector<Leg> legs;
    for (std::size_t i = first; i < laid.size(); ++i) {
        legs.push_back(laid[i].leg);
    }
    // Legs before the first other one are as they were: what had no place there has none now.
    std::vector<LostDecision> lost;
    std::erase_if(earlier, [&](const Decision& decision) {
        const bool isBefore = decision.leg < first;
        if (isBefore) {
            lost.push_back({decision, NoPlace::regionGone});
        }
        return isBefore;
    });
    const std::vector<Decision> now = splice.decisions();
    std::copy_if(now.begin(), now.end(), std::back_inserter(earlier), [&](const auto& decision) {
        return decision.leg >= first && decision.leg < splice.workLeg();
    });
    splice.setStandings(standingsOf(laid));
    if (!legs.empty()) {
        splice.setLegsFrom(first, legs);
        CarriedOver carried = carryOver(earlier, splice.decided());
        splice.put(carried.placed);
        splice.offer(carried.offered);
        std::ranges::move(carried.lost, std::back_inserter(lost));
    }
    splice.offerFromEarlierLegs();
    return lost;
}

std::size_t RebaseForecast::openCount() const
{
    return std::accumulate(
        laid.begin(), laid.end(), std::size_t{0}, [](std::size_t sum, const LaidCommit& one) {
            return sum + one.leg->openCount();
        });
}

bool RebaseForecast::isAbout() const
{
    return !laid.empty() && laid.back().standing.isAbout;
}

std::size_t RebaseForecast::emptiedCount() const
{
    return static_cast<std::size_t>(std::count_if(
        laid.begin(), laid.end(), [](const LaidCommit& one) { return one.standing.isEmptied; }));
}

Result<RebaseForecast> forecastRebase(Place& place,
                                      const Divergence& divergence,
                                      const ObjectId& onto,
                                      const ProgressSink& progress,
                                      const std::stop_token& stop)
{
    RebaseForecast forecast;
    TRY_ASSIGN(forecast.scope, rebaseScope(place, divergence, onto, stop));
    TRY_ASSIGN(forecast.laid, layCommits(place, {forecast.scope, {}, {}, {}, {}}, progress, stop));
    forecast.tree = forecast.laid.empty() ? forecast.scope.onto.tree : forecast.laid.back().tree;
    return forecast;
}
}  // namespace rope
