// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/diff/hunk.h"

#include <stop_token>

namespace rope {
/// Sets the flag of every token in `block` that is not part of a longest common subsequence.
/// Memory is linear; time is O((N+M)D), cut off where D grows beyond about the root of the size:
/// from there the furthest reaching path is taken, so the answer is right but may not be shortest.
/// Leaves flags that are set as they are. Returns early, flags half done, once `stop` is requested.
/// Source: E. Myers, "An O(ND) Difference Algorithm and Its Variations", Algorithmica 1, 1986, section 4b.
void markByMyers(Tokens before,
                 Tokens after,
                 const TokenBlock& block,
                 ChangeFlags& flags,
                 const std::stop_token& stop);
}  // namespace rope
