// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/decided_join.h"

namespace rope {
/// Why an earlier decision found no place.
enum class NoPlace {
    fileGone,          ///< The join no longer needs or has this file.
    regionGone,        ///< The region is not there any more, or its texts are others now.
    answerNotOffered,  ///< The question is another one now.
    clashes,           ///< The text that was written by hand does not fit what stands there now.
};

struct LostDecision
{
    Decision decision;
    NoPlace reason = NoPlace::fileGone;
};

struct CarriedOver
{
    std::vector<SlotChange> placed;
    std::vector<OfferedText> offered;  ///< These stand among the lost ones too.
    std::vector<LostDecision> lost;
};

/// Finds the places of earlier decisions (of an earlier splice, leg or round) in a new one. A decision stays
/// in its leg: what later legs are laid on was worked out so.
/// A region is found by its key, in its own file first, then wherever that key stands once; a file
/// also by the names that it has on either side, so that renames are followed. A text that was written
/// by hand is kept with what it was written on; where that is something else now, it is joined into it
/// three-way, and where that clashes it is offered. Nothing is changed; see DecidedJoin::put().
/// Returns places and states in the new one; each earlier decision is either placed or lost.
[[nodiscard]] CarriedOver carryOver(const std::vector<Decision>& earlier, const DecidedJoin& onto);

/// Offers for each open region what was decided for the same region in an earlier leg.
void offerFromEarlierLegs(DecidedJoin& decided);

/// Offers for a region what is decided for the very same one elsewhere in its leg: the nearest before it, or
/// else the first behind it. Such an offer is taken back where no place is decided so any more. Returns
/// whether another text is offered now. REQUIRES: the place is a region
bool offerFromSameRegion(DecidedJoin& decided, SlotPlace place);
}  // namespace rope
