// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/diff/hunk.h"

namespace rope {
/// Moves every run of changed tokens that could as well stand earlier or later to one agreed place:
/// beside a change of the other text if it can get there, else as late as possible. Runs that meet
/// become one. The common subsequence keeps its length. Two sides that made the same change so
/// always report it at the same place, which is what lets a three-way join see it.
void slideHunks(Tokens before, Tokens after, ChangeFlags& flags);
}  // namespace rope
