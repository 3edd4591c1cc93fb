// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_recorder.cpp, tst_begun_join.cpp.
#include "core/system/git/recording_steps.h"

#include "core/system/git/git_errors.h"

namespace rope {
Result<ObjectId> treeOf(GitPlace& place, const ObjectId& commit)
{
    const ObjectId ids[] = {commit};
    TRY_ASSIGN(const auto commits, place.readCommits(ids));
    return commits.front().tree;
}

ObjectId treeToGoBackTo(const RecordingState& state, const ObjectId& tipTree)
{
    return !state.workTree.isNull() && tipTree == state.oursTree ? state.workTree : tipTree;
}

Result<GitPlace::BegunTrees> begunTreesOf(GitPlace& place, const std::string& stamp)
{
    auto trees = place.begunTrees(RunFor::looking);  // as it was when it was taken over
    if (!trees && trees.error().code != ErrorCode::notFound) {
        return std::move(trees).error();
    }
    if (!trees || trees->join.stamp != stamp) {
        return Error{ErrorCode::stale, {}, {}, Reason::begunChanged};
    }
    return place.hasLockedFilters() ? place.begunTrees(RunFor::acting)
                                    : Result<GitPlace::BegunTrees>(std::move(*trees));
}

Status leadTo(GitPlace& place, const std::string& line, const std::string& reason)
{
    TRY_ASSIGN(const GitOutput led, place.git().run({"symbolic-ref", "-m", reason, "HEAD", line}));
    return led.exitCode == 0 ? ok() : Status(writingError(line, led.err));
}

void endBegun(GitPlace& place, const RecordingState& state)
{
    if (!state.begun.empty()) {
        if (place.begunHeads() == state.begun) {
            (void)place.forgetBegun();
        }
        GitIndex(place).forgetKept();
    }
}
}  // namespace rope
