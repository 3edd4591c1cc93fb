// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice.cpp.
#include "core/splice/recording_plan.h"

#include "core/text/tidied_message.h"

namespace rope {
Result<RecordingPlan> mergeCommitPlan(const Splice& splice, const std::string& message)
{
    const std::string tidy = tidiedMessage(message);
    if (tidy.empty()) {
        return Error{ErrorCode::invalidInput, "message", {}, Reason::emptyMessage};
    }
    if (const auto left = splice.markersLeft(); !left.empty()) {
        return Error{ErrorCode::invalidInput,
                     left.front().path + ":" + std::to_string(left.front().line + 1),
                     {},
                     Reason::markersLeft};
    }
    const SplicePlan& plan = splice.plan();
    TRY_ASSIGN(ResultSnapshot result, splice.result());
    return RecordingPlan{plan.oursRef,
                         plan.oursName,
                         plan.ours,
                         {{std::move(result), {plan.ours, plan.theirs}, tidy, {}}},
                         "merge " + plan.theirsName + ": spliced"};
}
}  // namespace rope
