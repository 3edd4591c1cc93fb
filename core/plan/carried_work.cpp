// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_uncommitted_work.cpp.
#include "core/plan/carried_work.h"

namespace rope {
Result<Join> joinCarriedWork(Place& place,
                             const ObjectId& work,
                             const ResultSnapshot& result,
                             const std::stop_token& stop,
                             const std::shared_ptr<const HeldObjects>& held)
{
    const ObjectId works[] = {work};
    TRY_ASSIGN(const auto saved, place.readCommits(works));
    if (saved.front().parents.empty()) {
        return Error{ErrorCode::corrupt, work.hex(), {}};
    }
    const ObjectId stoodOn[] = {saved.front().parents.front()};
    TRY_ASSIGN(const auto base, place.readCommits(stoodOn));
    // Of commits that are laid one upon the other, none but the first stands on anything that is stored.
    Overlay snapshots(place, held ? *held : HeldObjects{});
    TRY_ASSIGN(const ObjectId resultTree, snapshots.holdResult(result));
    JoinInputs inputs{{base.front().tree, base.front().id.brief(), base.front().author},
                      {saved.front().tree, "uncommitted work", saved.front().author},
                      {resultTree, "result", {}},
                      {true, true, {}, std::make_shared<MergeRules>()},
                      true};
    return joinSnapshots(snapshots, std::move(inputs), {}, stop);
}
}  // namespace rope
