// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_forecast.cpp.
#include "core/splice/forecast.h"

#include "core/snapshot/tree_writer.h"
#include "core/splice/submodules.h"
#include "core/splice/virtual_base.h"

#include <algorithm>
#include <numeric>

namespace rope {
std::size_t Forecast::regionCount() const
{
    return std::accumulate(
        join.files.begin(),
        join.files.end(),
        std::size_t{0},
        [](std::size_t sum, const auto& file) { return sum + file.regionCount(); });
}

std::size_t Forecast::questionCount() const
{
    return static_cast<std::size_t>(
        std::count_if(join.files.begin(), join.files.end(), [](const auto& file) {
            return file.question.has_value();
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
/// What exists in memory only cannot be put back by an answer.
void dropUnwritableAnswers(const Repository& repository, TreeJoin& join)
{
    for (FileOutcome& file : join.files) {
        if (file.question) {
            std::erase_if(file.question->answers, [&](const Answer& answer) {
                return std::any_of(
                    answer.puts.begin(), answer.puts.end(), [&](const Placement& put) {
                        return !put.isJoinedText && repository.isHeld(put.version.id);
                    });
            });
        }
    }
}

/// The base to join over: its tree, and what is special about it.
Result<VirtualBase> baseOf(Repository& repository,
                           CommitGraph& graph,
                           const std::vector<ObjectId>& bases,
                           const std::optional<Commit>& newest,
                           const std::shared_ptr<MergeRules>& rules,
                           const ProgressSink& progress,
                           const std::stop_token& stop)
{
    if (bases.size() > 1) {
        return joinBases(repository, graph, bases, rules, progress, stop);
    }
    return VirtualBase{newest ? newest->tree : ObjectId{}, {}};
}
}  // namespace

Result<Forecast> forecastJoin(Repository& repository,
                              const ObjectId& ours,
                              const ObjectId& theirs,
                              const ForecastOptions& options,
                              const ProgressSink& progress,
                              const std::stop_token& stop)
{
    if (progress) {
        progress({"finding where the branches parted", 0, 0});
    }
    const ObjectId tips[] = {ours, theirs};
    TRY_ASSIGN(auto stream, repository.commitsFrom(tips));
    CommitGraph graph(std::move(stream));
    Forecast forecast;
    TRY_ASSIGN(forecast.divergence, findDivergence(graph, ours, theirs, stop));
    std::vector<ObjectId> bases = forecast.divergence.bases;
    std::vector<ObjectId> wanted{ours, theirs};
    wanted.insert(wanted.end(), bases.begin(), bases.end());
    TRY_ASSIGN(auto commits, repository.readCommits(wanted));
    forecast.ours = commits[0];
    forecast.theirs = commits[1];
    if (bases.empty()) {
        TRY_ASSIGN(const bool isCutOff, repository.isShallow());
        if (isCutOff) {
            return Error{ErrorCode::unsupported, theirs.hex(), "history cut off"};
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
    TRY_ASSIGN(VirtualBase base,
               baseOf(repository, graph, bases, forecast.base, rules, progress, stop));
    const TreeJoinOptions joining{true, std::move(base.twins), rules};
    TRY_ASSIGN(
        forecast.join,
        joinTrees(
            repository, base.tree, commits[0].tree, commits[1].tree, joining, progress, stop));
    if (bases.size() > 1) {
        dropUnwritableAnswers(repository, forecast.join);
    }
    TRY(settleSubmodules(repository, forecast.join, stop));
    TRY_ASSIGN(forecast.nameClashes, nameClashes(repository, forecast.join, forecast.ours.tree));
    return forecast;
}

Result<ObjectId> writeCleanTree(Repository& repository, const Forecast& forecast)
{
    ROPE_ASSERT(forecast.isClean(), "open questions have no joined tree");
    std::vector<TreeEdit> edits = settledEdits(forecast.join);
    std::vector<std::string> texts;
    std::vector<const FileOutcome*> joined;
    for (const FileOutcome& file : forecast.join.files) {
        if (file.text) {
            auto bytes = file.text->encoded(file.text->cleanText());
            if (!bytes) {
                return Error{ErrorCode::invalidInput, file.path, kUnencodable};
            }
            texts.push_back(std::move(*bytes));
            joined.push_back(&file);
        }
    }
    TRY_ASSIGN(const auto ids, repository.writeBlobs(texts, Storage::stored));
    for (std::size_t i = 0; i < ids.size(); ++i) {
        edits.push_back({joined[i]->path, FileVersion{joined[i]->joinedKind, ids[i]}});
    }
    return writeEditedTree(repository, forecast.ours.tree, edits);
}
}  // namespace rope
