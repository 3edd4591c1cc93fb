// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_forecast.cpp.
#include "core/join/forecast.h"

#include "core/join/result_tree.h"
#include "core/join/submodules.h"
#include "core/join/virtual_base.h"
#include "core/snapshot/tree_changes.h"

#include <algorithm>

namespace rope {
std::size_t Forecast::joinedFileCount() const
{
    return join.theirsEdits.size()
           + static_cast<std::size_t>(
               std::count_if(join.files.begin(), join.files.end(), [](const FileOutcome& file) {
                   return !file.needsDecision();
               }));
}

std::size_t Forecast::openFileCount() const
{
    return static_cast<std::size_t>(
        std::count_if(join.files.begin(), join.files.end(), [](const auto& file) {
            return file.needsDecision();
        }));
}

namespace {
Snapshot snapshotOf(const Commit& commit)
{
    return {commit.tree, commit.id.brief(), commit.author};
}

}  // namespace

Result<Forecast> forecastJoin(Place& place,
                              const ObjectId& ours,
                              const ObjectId& theirs,
                              const ForecastOptions& options,
                              const ProgressSink& progress,
                              const std::stop_token& stop)
{
    if (progress) {
        progress({ProgressStep::findingBase, {}, 0, 0});
    }
    std::optional<CommitGraph> own;
    if (options.history == nullptr) {
        const ObjectId tips[] = {ours, theirs};
        TRY_ASSIGN(auto stream, place.commitsFrom(tips));
        own.emplace(std::move(stream));
    }
    CommitGraph& graph = own ? *own : *options.history;
    Forecast forecast;
    TRY_ASSIGN(forecast.divergence, findDivergence(graph, ours, theirs, stop));
    std::vector<ObjectId> bases = forecast.divergence.bases;
    std::vector<ObjectId> wanted{ours, theirs};
    wanted.insert(wanted.end(), bases.begin(), bases.end());
    TRY_ASSIGN(auto commits, place.readCommits(wanted));
    forecast.ours = commits[0];
    forecast.theirs = commits[1];
    if (bases.empty()) {
        TRY_ASSIGN(const bool isCutOff, place.isShallow());
        if (isCutOff) {
            return Error{ErrorCode::unsupported, theirs.hex(), {}, Reason::historyCutOff};
        }
        if (!options.joinsUnrelated) {
            return forecast;
        }
    } else {
        std::sort(commits.begin() + 2, commits.end(), [](const Commit& a, const Commit& b) {
            return std::pair(a.committer.time, a.id) < std::pair(b.committer.time, b.id);
        });
        std::transform(commits.begin() + 2, commits.end(), bases.begin(), [](const Commit& c) {
            return c.id;
        });
        forecast.base = commits.back();
    }
    const auto rules = std::make_shared<MergeRules>();
    Overlay snapshots(place);
    JoinInputs inputs{forecast.base ? snapshotOf(*forecast.base) : Snapshot{},
                      snapshotOf(forecast.ours),
                      snapshotOf(forecast.theirs),
                      {true, true, {}, rules}};
    inputs.options.newFolders = options.newFolders;
    if (bases.size() > 1) {
        std::vector<ObjectId> trees;
        std::transform(commits.begin(),
                       commits.end(),
                       std::back_inserter(trees),
                       [](const Commit& commit) { return commit.tree; });
        TRY(readAhead(snapshots, trees, stop));
        TRY_ASSIGN(VirtualBase base,
                   joinBases(place, snapshots, graph, bases, rules, progress, stop));
        inputs.base = {base.tree, std::to_string(bases.size()) + " common ancestors", {}};
        inputs.options.twins = std::move(base.twins);
        inputs.options.madeUp = std::move(base.madeUp);
    }
    TRY_ASSIGN(forecast.join, joinSnapshots(snapshots, std::move(inputs), progress, stop));
    TRY(settleSubmodules(place, forecast.join, stop));
    return forecast;
}

namespace {
/// Of one commit's change, or of its opposite.
Result<Forecast> forecastChange(Place& place,
                                const ObjectId& ours,
                                const ObjectId& commit,
                                bool takesOut,
                                const ProgressSink& progress,
                                const std::stop_token& stop)
{
    const ObjectId ids[] = {ours, commit};
    TRY_ASSIGN(const auto commits, place.readCommits(ids));
    if (commits[1].parents.empty()) {
        return Error{ErrorCode::invalidInput, commit.hex(), {}};
    }
    TRY_ASSIGN(const auto before, place.readCommits({&commits[1].parents.front(), 1}));
    Forecast forecast;
    forecast.ours = commits[0];
    forecast.base = takesOut ? commits[1] : before.front();
    forecast.theirs = takesOut ? before.front() : commits[1];
    TRY_ASSIGN(forecast.divergence, findDivergence(place, ours, commit, stop));
    forecast.divergence.relation = Relation::diverged;
    forecast.divergence.bases = {forecast.base->id};
    Overlay snapshots(place);
    JoinInputs inputs{snapshotOf(*forecast.base),
                      snapshotOf(forecast.ours),
                      snapshotOf(forecast.theirs),
                      {true, true, {}, std::make_shared<MergeRules>()}};
    TRY_ASSIGN(forecast.join, joinSnapshots(snapshots, std::move(inputs), progress, stop));
    TRY(settleSubmodules(place, forecast.join, stop));
    return forecast;
}
}  // namespace

Result<Forecast> forecastRevert(Place& place,
                                const ObjectId& ours,
                                const ObjectId& commit,
                                const ProgressSink& progress,
                                const std::stop_token& stop)
{
    return forecastChange(place, ours, commit, true, progress, stop);
}

Result<Forecast> forecastPick(Place& place,
                              const ObjectId& ours,
                              const ObjectId& commit,
                              const ProgressSink& progress,
                              const std::stop_token& stop)
{
    return forecastChange(place, ours, commit, false, progress, stop);
}

Result<ObjectId> storeCleanTree(Place& place, const Forecast& forecast)
{
    ROPE_ASSERT(forecast.isClean(), "open questions have no joined tree");
    TRY_ASSIGN(const ResultSnapshot result, resultTree(forecast.join, {}));
    return place.storeTree(result);
}
}  // namespace rope
