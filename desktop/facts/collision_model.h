// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/collisions.h"
#include "core/join/pair_reading.h"

#include <QString>

#include <map>

namespace rope {
/// Which branches are compared and what is known of their pairs. A value.
struct CollisionModel
{
    std::vector<CollisionBranch> branches;
    std::map<BranchPair, PairOutcome> pairs;  ///< Those that are known.
    std::int64_t readAt = 0;

    [[nodiscard]] const PairOutcome& outcome(BranchPair pair) const;
    [[nodiscard]] std::size_t pairCount() const
    {
        return branches.size() < 2 ? 0 : branches.size() * (branches.size() - 1) / 2;
    }
    /// How many others a branch collides with, as far as is known.
    [[nodiscard]] std::size_t meets(std::size_t branch) const;
    /// Pairs that collide, most open places first.
    [[nodiscard]] std::vector<BranchPair> colliding() const;
};

/// "booking-api": without the remote's name where all have the same.
[[nodiscard]] QString shortName(const CollisionBranch& branch);
/// "joins", "3", "contained", "not yet": what stands in a cell.
[[nodiscard]] QString cellWords(const PairOutcome& outcome);
/// One sentence to say aloud about a pair.
[[nodiscard]] QString pairInWords(const CollisionModel& model, BranchPair pair);
/// "11 pairs will meet, in 41 regions"
[[nodiscard]] QString collisionsInWords(const CollisionModel& model);
/// "Since 4 Nov, when Tao Lindqvist's b1c2d3e “Bookings” came on booking-api." Empty where that is not known.
[[nodiscard]] QString
sinceInWords(const CollisionModel& model, BranchPair pair, const PairReading& reading);
/// Plain text for both people: the sentence, the files, the two commits.
[[nodiscard]] QString noteForBoth(const CollisionModel& model, BranchPair pair);
}  // namespace rope
