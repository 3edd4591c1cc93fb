// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/decision.h"

#include <functional>
#include <vector>

namespace rope {
/// What a change means for the steps that can be undone.
enum class StepKind {
    made,      ///< A new step; those that had been undone are gone.
    extended,  ///< More typing in the newest one: what stood before it stays what it was.
    undone,
    redone,
};

/// A change of a splice, as it is told for safe keeping. `before` and `after` name the same places in
/// the same order.
struct SpliceChange
{
    StepKind kind = StepKind::made;
    std::size_t step = 0;  ///< Number of the step; they count up through the life of a splice.
    std::vector<Decision> before;
    std::vector<Decision> after;
};

/// Takes a change for safe keeping, before it is shown.
using ChangeSink = std::function<void(const SpliceChange&)>;

/// The steps of a splice as they are kept: of each what its places do not hold now.
struct KeptSteps
{
    std::size_t first = 0;                      ///< Number of the oldest one.
    std::vector<std::vector<Decision>> done;    ///< Oldest first: what stood before each.
    std::vector<std::vector<Decision>> undone;  ///< Next to redo first: what stood after each.
};
}  // namespace rope
