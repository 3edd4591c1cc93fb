// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/carry_over.h"
#include "core/join/forecast.h"
#include "core/system/place.h"

#include <memory>

namespace rope {
/// What joining again would mean: once the remote has moved on, with what was decided in the first round.
struct RoundForecast
{
    std::size_t open = 0;             ///< What is to be decided.
    std::size_t carried = 0;          ///< Decisions of the first round that find their place again.
    std::vector<LostDecision> lost;   ///< Those that do not.
    std::vector<RepoPath> openFiles;  ///< Where something is to be decided.
};

/// Errors: those of reading.
[[nodiscard]] Result<RoundForecast> forecastRound(Place& place,
                                                  const std::shared_ptr<const Forecast>& forecast,
                                                  const std::vector<Decision>& decisions);
}  // namespace rope
