// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_push_round.cpp.
#include "core/plan/second_round.h"

#include "core/decide/decided_outcomes.h"

namespace rope {
Result<RoundForecast> forecastRound(Place& place,
                                    const std::shared_ptr<const Forecast>& forecast,
                                    const std::vector<Decision>& decisions)
{
    DecidedJoin decided({Leg(forecast, &forecast->join)});
    Overlay snapshots(place, *forecast->join.held);
    TRY_ASSIGN(const auto oneSided, oneSidedOutcomesOf(snapshots, forecast->join, decisions));
    for (const OwnedOutcome& outcome : oneSided) {
        decided.takeUp(outcome);
    }
    CarriedOver carried = carryOver(decisions, decided);
    decided.put(carried.placed);
    RoundForecast round;
    round.open = decided.openCount();
    round.carried = carried.placed.size();
    round.lost = std::move(carried.lost);
    for (const SpliceFile& file : decided.files()) {
        if (file.openCount() > 0) {
            round.openFiles.push_back(file.outcome->path);
        }
    }
    return round;
}
}  // namespace rope
