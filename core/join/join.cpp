// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_forecast.cpp.
#include "core/join/join.h"

#include <algorithm>
#include <numeric>

namespace rope {
namespace {
/// What exists in memory only cannot be put back by an answer.
void dropUnwritableAnswers(const Snapshots& snapshots, TreeJoin& join)
{
    for (FileOutcome& file : join.files) {
        if (file.question) {
            std::erase_if(file.question->answers, [&](const Answer& answer) {
                return std::any_of(
                    answer.puts.begin(), answer.puts.end(), [&](const Placement& put) {
                        return !put.isJoinedText && !snapshots.isStored(put.version.id);
                    });
            });
        }
    }
}
}  // namespace

std::size_t Join::regionCount() const
{
    return std::accumulate(
        files.begin(), files.end(), std::size_t{0}, [](std::size_t sum, const auto& file) {
            return sum + file.regionCount();
        });
}

std::size_t Join::questionCount() const
{
    return static_cast<std::size_t>(std::count_if(
        files.begin(), files.end(), [](const auto& file) { return file.question.has_value(); }));
}

bool isOfAnOutcome(const Join& join, const RepoPath& path)
{
    return std::any_of(join.files.begin(), join.files.end(), [&](const FileOutcome& file) {
        return file.path == path || file.oursPath == path || file.theirsPath == path;
    });
}

Result<Join> joinSnapshots(Overlay& snapshots,
                           JoinInputs inputs,
                           const ProgressSink& progress,
                           const std::stop_token& stop)
{
    Join join;
    TRY_ASSIGN(static_cast<TreeJoin&>(join),
               joinTrees(snapshots,
                         inputs.base.tree,
                         inputs.ours.tree,
                         inputs.theirs.tree,
                         inputs.options,
                         progress,
                         stop));
    if (!inputs.storesHeld) {
        dropUnwritableAnswers(snapshots, join);
    }
    join.base = std::move(inputs.base);
    join.ours = std::move(inputs.ours);
    join.theirs = std::move(inputs.theirs);
    join.held = std::make_shared<const HeldObjects>(snapshots.held());
    TRY_ASSIGN(join.nameClashes, nameClashes(snapshots, join, join.ours.tree));
    return join;
}
}  // namespace rope
