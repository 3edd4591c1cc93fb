// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/history.h"

#include <set>
#include <span>
#include <stop_token>

namespace rope {
/// At most so many commits are read; a line that lies deeper is not found.
inline constexpr std::size_t kMostReadForArrived = 300'000;

/// Returns which of the commits `tips` are `tip` itself or lie in its history: what of other lines has arrived
/// in this one. One walk for all. Errors: those of History::commitsFrom; `cancelled`. Threads: any.
[[nodiscard]] Result<std::set<ObjectId>> arrivedIn(History& history,
                                                   const ObjectId& tip,
                                                   std::span<const ObjectId> tips,
                                                   const std::stop_token& stop = {});
}  // namespace rope
