// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"
#include "core/diff/hunk.h"

#include <stop_token>
#include <vector>

namespace rope {
/// How the common subsequence is searched.
enum class DiffMethod {
    histogram,  ///< Rare common tokens first: for lines, keeps what people see as unchanged.
    myers,      ///< Fewest edits: for words, where nothing is rare.
};

/// Returns the hunks that turn `before` into `after`, rising and not touching each other, each slid
/// to one agreed place (see hunk_slider.h). Depends on the arguments alone.
/// Cost: near-linear in real texts; a budget bounds it on hostile ones, where the answer is still
/// right but may be longer than need be.
/// REQUIRES: every token is below `idCount`.
/// Errors: `cancelled` when `stop` was requested. Threads: any.
[[nodiscard]] Result<std::vector<Hunk>> diffTokens(Tokens before,
                                                   Tokens after,
                                                   TokenId idCount,
                                                   DiffMethod method = DiffMethod::histogram,
                                                   const std::stop_token& stop = {});
}  // namespace rope
