// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/diff/hunk.h"

#include <stop_token>

namespace rope {
/// Sets the flag of every token that is not part of the common subsequence found by
/// splitting at the rarest common run, again and again. Runs whose tokens all occur more than 64
/// times, and whatever is left when the work budget is spent, go to Myers' algorithm.
/// Leaves flags that are set as they are. Returns early, flags half done, once `stop` is requested.
/// Source: the histogram extension of patience diff as first published with the JGit library (2010).
void markByHistogram(
    Tokens before, Tokens after, TokenId idCount, ChangeFlags& flags, const std::stop_token& stop);
}  // namespace rope
