// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_collisions.cpp.
#include "core/join/collisions.h"

#include <algorithm>

namespace rope {
Result<std::vector<CollisionBranch>> collisionBranches(Place& place,
                                                       const std::vector<Branch>& all,
                                                       const std::string& mainRef,
                                                       const std::string& ownRef,
                                                       std::size_t most)
{
    std::vector<ObjectId> tips;
    std::vector<const Branch*> wanted;
    std::string ownName;
    for (const Branch& branch : all) {
        ownName = branch.ref == ownRef ? branch.name : ownName;
    }
    for (const Branch& branch : all) {
        // What is shared of one's own branch is contained in it, or about to be joined to it; the
        // team's main is everybody's.
        const bool isOwnShared = branch.isShared && branch.ref != mainRef && !ownName.empty()
                                 && branch.name.ends_with("/" + ownName);
        if ((branch.isShared && !isOwnShared) || branch.ref == ownRef) {
            wanted.push_back(&branch);
            tips.push_back(branch.tip);
        }
    }
    TRY_ASSIGN(auto commits, place.readCommits(tips));
    std::vector<CollisionBranch> branches;
    for (std::size_t i = 0; i < wanted.size(); ++i) {
        branches.push_back(
            {wanted[i]->ref, wanted[i]->name, std::move(commits[i]), wanted[i]->ref == ownRef});
    }
    const auto rank = [&mainRef](const CollisionBranch& branch) {
        return branch.ref == mainRef ? 0 : branch.isOwn ? 1 : 2;
    };
    std::stable_sort(branches.begin(), branches.end(), [&](const auto& a, const auto& b) {
        return std::pair(rank(a), -a.tip.committer.time)
               < std::pair(rank(b), -b.tip.committer.time);
    });
    if (branches.size() > most) {
        branches.resize(most);
    }
    return branches;
}

std::vector<BranchPair> pairsInOrder(std::size_t branches, std::size_t own)
{
    std::vector<BranchPair> pairs;
    for (std::size_t second = 1; second < branches; ++second) {
        for (std::size_t first = 0; first < second; ++first) {
            pairs.push_back({first, second});
        }
    }
    std::stable_partition(pairs.begin(), pairs.end(), [own](const BranchPair& pair) {
        return pair.first == own || pair.second == own;
    });
    return pairs;
}

namespace {
std::vector<PairFile> filesOf(const Join& join)
{
    std::vector<PairFile> files;
    for (const FileOutcome& file : join.files) {
        files.push_back({file.path, file.regionCount(), file.question.has_value()});
    }
    std::stable_sort(files.begin(), files.end(), [](const auto& a, const auto& b) {
        return a.regions + (a.isQuestion ? 1 : 0) > b.regions + (b.isQuestion ? 1 : 0);
    });
    return files;
}
}  // namespace

PairOutcome outcomeOf(const Forecast& forecast)
{
    PairOutcome outcome;
    outcome.relation = forecast.divergence.relation;
    outcome.firstCommits = forecast.divergence.oursOnly.size();
    outcome.secondCommits = forecast.divergence.theirsOnly.size();
    switch (outcome.relation) {
    case Relation::same:
    case Relation::oursAhead:
    case Relation::theirsAhead:
        outcome.kind = PairOutcome::Kind::contained;
        break;
    case Relation::unrelated:
        outcome.kind = PairOutcome::Kind::unknown;
        break;
    case Relation::diverged:
        outcome.open = forecast.openCount();
        outcome.kind = outcome.open > 0 ? PairOutcome::Kind::collides : PairOutcome::Kind::joins;
        outcome.files = filesOf(forecast.join);
        break;
    }
    return outcome;
}

namespace {
/// Every commit of the pairs, each once.
std::vector<ObjectId> tipsOf(std::span<const CommitPair> pairs)
{
    std::vector<ObjectId> tips;
    for (const CommitPair& pair : pairs) {
        tips.push_back(pair.first);
        tips.push_back(pair.second);
    }
    std::sort(tips.begin(), tips.end());
    tips.erase(std::unique(tips.begin(), tips.end()), tips.end());
    return tips;
}
}  // namespace

Status collideAll(Place& place,
                  std::span<const CommitPair> pairs,
                  const PairSink& sink,
                  const std::stop_token& stop)
{
    if (pairs.empty()) {
        return ok();
    }
    TRY_ASSIGN(auto stream, place.commitsFrom(tipsOf(pairs)));
    CommitGraph history(std::move(stream));
    for (std::size_t i = 0; i < pairs.size(); ++i) {
        const auto forecast = forecastJoin(
            place, pairs[i].first, pairs[i].second, {false, &history, NewFolders::leave}, {}, stop);
        if (forecast) {
            sink(i, outcomeOf(*forecast));
        } else if (forecast.error().code == ErrorCode::cancelled) {
            return forecast.error();
        } else {
            sink(i, {PairOutcome::Kind::unknown, {}, {}, {}, {}, {}});
        }
    }
    return ok();
}
}  // namespace rope
