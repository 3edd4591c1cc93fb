// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/decided_join.h"

#include <stop_token>
#include <string_view>
#include <vector>

namespace rope {
/// Reads off a finished text how each slot of a joined file was decided: a region by the candidate whose
/// text stands there, else by a text of its own; what joined by itself where it stands otherwise now.
/// Where the text can be read in several ways, candidates come before texts of one's own, and the
/// candidate that is offered first comes first; all such readings give the same text.
/// Returns one state for each slot; put together their texts are `result`.
/// `result`: in the form of the join's own texts, see decodedFor().
[[nodiscard]] std::vector<SlotState>
inferredStates(const SplicedText& text, std::string_view result, const std::stop_token& stop = {});

/// Puts into a join what the files of a finished result say was decided: its regions, its questions,
/// and what was written into what had joined by itself. `tree`: of that result. A question to which no
/// answer gives what stands there stays open, and so do the regions of a text that is not there.
/// Errors: those of reading; `cancelled`.
[[nodiscard]] Status putInferred(DecidedJoin& decided,
                                 Snapshots& snapshots,
                                 const ObjectId& tree,
                                 const std::stop_token& stop = {});
}  // namespace rope
