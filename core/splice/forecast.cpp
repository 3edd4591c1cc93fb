// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_forecast.cpp.
#include "core/splice/forecast.h"

#include "core/snapshot/tree_writer.h"

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

Result<Forecast> forecastJoin(Repository& repository,
                              const ObjectId& ours,
                              const ObjectId& theirs,
                              const ProgressSink& progress,
                              const std::stop_token& stop)
{
    if (progress) {
        progress({"finding where the branches parted", 0, 0});
    }
    Forecast forecast;
    TRY_ASSIGN(forecast.divergence, findDivergence(repository, ours, theirs, stop));
    std::vector<ObjectId> wanted{ours, theirs};
    if (!forecast.divergence.bases.empty()) {
        wanted.push_back(forecast.divergence.bases.front());
    }
    TRY_ASSIGN(auto commits, repository.readCommits(wanted));
    forecast.ours = commits[0];
    forecast.theirs = commits[1];
    if (wanted.size() < 3) {
        TRY_ASSIGN(const bool isCutOff, repository.isShallow());
        if (isCutOff) {
            return Error{ErrorCode::unsupported, theirs.hex(), "history cut off"};
        }
        return forecast;
    }
    forecast.base = commits[2];
    TRY_ASSIGN(
        forecast.join,
        joinTrees(repository, commits[2].tree, commits[0].tree, commits[1].tree, {}, progress, stop));
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
            texts.push_back(file.text->cleanText());
            joined.push_back(&file);
        }
    }
    TRY_ASSIGN(const auto ids, repository.writeBlobs(texts));
    for (std::size_t i = 0; i < ids.size(); ++i) {
        edits.push_back({joined[i]->path, FileVersion{joined[i]->joinedKind, ids[i]}});
    }
    return writeEditedTree(repository, forecast.ours.tree, edits);
}
}  // namespace rope
