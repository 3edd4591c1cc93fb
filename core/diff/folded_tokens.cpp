// SPDX-License-Identifier: GPL-3.0-or-later
// before: a b c d x e f          after: p q a b c x d e f
//   `a b c` stand once in both, side by side: one token; so do `e f`, and `p q` stand in one text only.
//   folded: [abc] d x [ef]                [pq] [abc] x d [ef]
// A common run that holds one token of a stretch holds the whole of it, so no split cuts one.
// Tested by tst_diff_tokens.cpp.
#include "core/diff/folded_tokens.h"

namespace rope {
namespace {
constexpr LineNumber kNowhere = ~LineNumber{0};
constexpr LineNumber kOften = kNowhere - 1;

/// By token: its only place in a text, or kNowhere, or kOften.
std::vector<LineNumber> onlyPlaces(Tokens tokens, TokenId idCount)
{
    std::vector<LineNumber> places(idCount, kNowhere);
    for (LineNumber i = 0; i < tokens.size(); ++i) {
        LineNumber& place = places[tokens[i]];
        place = place == kNowhere ? i : kOften;
    }
    return places;
}

FoldedTokens
foldOne(Tokens tokens, const std::vector<LineNumber>& own, const std::vector<LineNumber>& other)
{
    FoldedTokens folded;
    folded.tokens.reserve(tokens.size());
    folded.starts.reserve(tokens.size() + 1);
    LineNumber previous = kOften;  // the other text's only place of the token before
    for (LineNumber i = 0; i < tokens.size(); ++i) {
        LineNumber place = other[tokens[i]];
        if (own[tokens[i]] == kOften && place != kNowhere) {
            place = kOften;
        }
        const bool isBeside = place < kOften && previous < kOften && place == previous + 1;
        const bool isForeign = place == kNowhere && previous == kNowhere;
        if (!isBeside && !isForeign) {
            folded.tokens.push_back(tokens[i]);
            folded.starts.push_back(i);
        }
        previous = place;
    }
    folded.starts.push_back(static_cast<LineNumber>(tokens.size()));
    return folded;
}
}  // namespace

std::pair<FoldedTokens, FoldedTokens> foldTokens(Tokens before, Tokens after, TokenId idCount)
{
    const std::vector<LineNumber> inBefore = onlyPlaces(before, idCount);
    const std::vector<LineNumber> inAfter = onlyPlaces(after, idCount);
    return {foldOne(before, inBefore, inAfter), foldOne(after, inAfter, inBefore)};
}
}  // namespace rope
