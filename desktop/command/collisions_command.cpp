// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "desktop/command/collisions_command.h"

#include "core/join/collisions.h"
#include "core/system/factory/open_place.h"
#include "desktop/command/exit_codes.h"
#include "desktop/command/json_bytes.h"
#include "desktop/command/print_error.h"
#include "desktop/command/terminal_text.h"
#include "desktop/wording/forecast_words.h"

#include <algorithm>
#include <nlohmann/json.hpp>
#include <thread>

namespace rope {
namespace {
using Json = nlohmann::ordered_json;

struct NamedTip
{
    std::string name;
    ObjectId tip;
};

Result<std::vector<NamedTip>> tipsOf(Place& place, const CollisionsRequest& request)
{
    std::vector<NamedTip> tips;
    for (const std::string& name : request.branches) {
        TRY_ASSIGN(const ObjectId tip, place.resolveCommit(name));
        tips.push_back({name, tip});
    }
    if (request.branches.empty()) {
        TRY_ASSIGN(const auto branches, place.branches());
        for (const Branch& branch : branches) {
            if (branch.isShared) {
                tips.push_back({branch.name, branch.tip});
            }
        }
    }
    return tips;
}

/// Every other pair, beginning with the first or the second, each through a repository of its own.
Status workOut(Place& place,
               std::span<const CommitPair> pairs,
               std::size_t first,
               std::size_t step,
               std::vector<PairOutcome>& outcomes)
{
    std::vector<CommitPair> own;
    for (std::size_t i = first; i < pairs.size(); i += step) {
        own.push_back(pairs[i]);
    }
    return collideAll(place, own, [&](std::size_t i, const PairOutcome& outcome) {
        outcomes[first + i * step] = outcome;
    });
}

Result<std::vector<PairOutcome>>
workOutAll(Place& place, const std::string& folder, std::span<const CommitPair> pairs)
{
    std::vector<PairOutcome> outcomes(pairs.size());
    if (pairs.size() < 2) {
        TRY(workOut(place, pairs, 0, 1, outcomes));
        return outcomes;
    }
    Status other = ok();
    {
        const std::jthread thread([&] {
            auto own = openPlace(folder, {});
            other = own ? workOut(**own, pairs, 1, 2, outcomes) : Status(own.error());
        });
        TRY(workOut(place, pairs, 0, 2, outcomes));
    }
    TRY(other);
    return outcomes;
}

Json pairJson(const NamedTip& first, const NamedTip& second, const PairOutcome& outcome)
{
    Json files = Json::array();
    for (const PairFile& file : outcome.files) {
        files.push_back(
            {{"path", file.path}, {"regions", file.regions}, {"question", file.isQuestion}});
    }
    return {{"first", first.name},
            {"second", second.name},
            {"relation", nameOf(outcome.relation)},
            {"open", outcome.open},
            {"known", outcome.kind != PairOutcome::Kind::unknown},
            {"files", files}};
}
}  // namespace

int runCollisions(const CollisionsRequest& request)
{
    const auto place = openPlace(request.folder, {});
    if (!place) {
        return printError(place.error());
    }
    const auto tips = tipsOf(**place, request);
    if (!tips) {
        return printError(tips.error());
    }
    const auto order = pairsInOrder(tips->size(), tips->size());
    std::vector<CommitPair> pairs;
    pairs.reserve(order.size());
    for (const BranchPair& pair : order) {
        pairs.push_back({(*tips)[pair.first].tip, (*tips)[pair.second].tip});
    }
    const auto outcomes = workOutAll(**place, request.folder, pairs);
    if (!outcomes) {
        return printError(outcomes.error());
    }
    Json all = Json::array();
    bool isAnyOpen = false;
    for (std::size_t i = 0; i < pairs.size(); ++i) {
        const NamedTip& first = (*tips)[order[i].first];
        const NamedTip& second = (*tips)[order[i].second];
        const PairOutcome& outcome = (*outcomes)[i];
        isAnyOpen = isAnyOpen || outcome.open > 0;
        if (request.asJson) {
            all.push_back(pairJson(first, second, outcome));
        } else {
            printText(first.name + ", " + second.name + ": "
                      + forecastInWords(outcome).toStdString() + "\n");
        }
    }
    if (request.asJson) {
        printText(jsonText(all));
    }
    return exitOf(isAnyOpen ? kExitMustDecide : kExitClean);
}
}  // namespace rope
