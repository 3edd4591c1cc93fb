// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/diff/hunk.h"

#include <vector>

namespace rope {
/// Tokens of one text in which stretches were folded: each folded token stands for one stretch.
struct FoldedTokens
{
    std::vector<TokenId> tokens;     ///< The first token of each stretch.
    std::vector<LineNumber> starts;  ///< Where each stretch begins in the text, and the text's end.

    [[nodiscard]] LineNumber count() const { return static_cast<LineNumber>(tokens.size()); }
    /// The tokens of the text that some folded tokens stand for.
    [[nodiscard]] LineRange unfolded(LineRange range) const
    {
        return {starts[range.begin], starts[range.end]};
    }
};

/// Folds what two texts cannot be told apart by, so that comparing them costs less and finds the same:
/// neighbours that stand once in both texts, side by side in both; and neighbours that do not stand in
/// the other text at all. All ids must be below `idCount`.
[[nodiscard]] std::pair<FoldedTokens, FoldedTokens>
foldTokens(Tokens before, Tokens after, TokenId idCount);
}  // namespace rope
