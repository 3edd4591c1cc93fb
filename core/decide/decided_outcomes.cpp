// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_one_sided_file.cpp.
#include "core/decide/decided_outcomes.h"

#include "core/join/found_file.h"
#include "core/join/one_sided_file.h"

#include <set>

namespace rope {
Result<std::vector<OwnedOutcome>>
oneSidedOutcomesOf(Snapshots& snapshots, const Join& join, const std::vector<Decision>& decisions)
{
    std::set<RepoPath> paths;
    for (const Decision& decision : decisions) {
        if (decision.leg == 0 && decision.slot != kQuestionSlot
            && !isOfAnOutcome(join, decision.path)) {
            paths.insert(decision.path);
        }
    }
    std::vector<OwnedOutcome> outcomes;
    for (const Decision& decision : decisions) {
        const bool isOfFound =
            decision.leg == 0 && decision.slot == kQuestionSlot && decision.state.text;
        if (const auto found = isOfFound ? foundIn(*decision.state.text) : std::nullopt) {
            TRY_ASSIGN(outcomes.emplace_back(),
                       foundOutcome(snapshots, join, decision.path, *found));
        }
    }
    for (const RepoPath& path : paths) {
        TRY_ASSIGN(OwnedOutcome outcome, oneSidedOutcome(snapshots, join, path));
        if (outcome) {
            outcomes.push_back(std::move(outcome));
        }
    }
    return outcomes;
}
}  // namespace rope
