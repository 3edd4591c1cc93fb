// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_touching_splice.cpp and tst_candidates.cpp.
#include "core/merge/region_words.h"

#include "core/diff/diff_tokens.h"
#include "core/text/words.h"

namespace rope {
RegionWords::RegionWords(const RegionTexts& of)
    : texts(of)
    , base(splitWords(of.base))
    , ours(splitWords(of.ours))
    , theirs(splitWords(of.theirs))
{
    LineInterner interner(base.size() + ours.size());
    baseIds = interner.internAll(base);
    oursIds = interner.internAll(ours);
    theirsIds = interner.internAll(theirs);
    oursHunks = diffTokens(baseIds, oursIds, interner.idCount(), DiffMethod::myers).value();
    theirsHunks = diffTokens(baseIds, theirsIds, interner.idCount(), DiffMethod::myers).value();
}
}  // namespace rope
