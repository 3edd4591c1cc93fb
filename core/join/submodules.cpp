// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_merge_rules.cpp.
#include "core/join/submodules.h"

#include "core/history/divergence.h"
#include "core/system/place.h"

namespace rope {
namespace {
/// The later of two commits of a submodule; nothing where they have parted, or it cannot be told.
std::optional<FileVersion>
laterOf(Place& submodule, const FileOutcome& file, const std::stop_token& stop)
{
    const auto contains = [&](const ObjectId& later, const ObjectId& earlier) {
        const auto found = findDivergence(submodule, later, earlier, stop);
        return found
               && (found->relation == Relation::oursAhead || found->relation == Relation::same);
    };
    if (!contains(file.ours->id, file.base->id) || !contains(file.theirs->id, file.base->id)) {
        return std::nullopt;
    }
    if (contains(file.ours->id, file.theirs->id)) {
        return file.ours;
    }
    return contains(file.theirs->id, file.ours->id) ? file.theirs : std::nullopt;
}
}  // namespace

Status settleSubmodules(Checkout& checkout, TreeJoin& join, const std::stop_token& stop)
{
    for (FileOutcome& file : join.files) {
        if (!file.question || file.question->kind != QuestionKind::submodule || !file.base
            || file.base->kind != EntryKind::submodule) {
            continue;
        }
        const auto submodule = checkout.openSubmodule(file.oursPath);
        if (!submodule) {
            continue;
        }
        if (auto later = laterOf(**submodule, file, stop)) {
            file.settled = later;
            file.question.reset();
        }
        if (stop.stop_requested()) {
            return Error{ErrorCode::cancelled, file.path, {}};
        }
    }
    return ok();
}
}  // namespace rope
