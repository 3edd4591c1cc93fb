// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"

namespace rope {
/// Whether a side already holds, in the main, what the other did: most words that the other added
/// were added here too, or nearly all it removed were removed here too. Measured on real cases
/// (docs/candidates.md), this is what tells best whose text people take.
struct Adoption
{
    bool byOurs = false;    ///< Ours has taken up what theirs did.
    bool byTheirs = false;  ///< Theirs has taken up what ours did.
};
[[nodiscard]] Adoption adoptionIn(const RegionTexts& texts);
}  // namespace rope
