// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_divergence.cpp.
#include "core/history/arrived.h"

namespace rope {
Result<std::set<ObjectId>> arrivedIn(History& history,
                                     const ObjectId& tip,
                                     std::span<const ObjectId> tips,
                                     const std::stop_token& stop)
{
    std::set<ObjectId> wanted(tips.begin(), tips.end());
    std::set<ObjectId> arrived;
    if (wanted.empty()) {
        return arrived;
    }
    TRY_ASSIGN(const auto commits, history.commitsFrom({&tip, 1}));
    for (std::size_t read = 0; read < kMostReadForArrived && !wanted.empty(); ++read) {
        if (stop.stop_requested()) {
            return Error{ErrorCode::cancelled, {}, {}};
        }
        TRY_ASSIGN(const auto commit, commits->next());
        if (!commit) {
            break;
        }
        if (wanted.erase(commit->id) > 0) {
            arrived.insert(commit->id);
        }
    }
    return arrived;
}
}  // namespace rope
