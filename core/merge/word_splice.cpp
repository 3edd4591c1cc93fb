// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/word_splice.h"

namespace rope {
namespace {
void appendWords(std::string& text, const std::vector<std::string_view>& words, LineRange range)
{
    for (LineNumber i = range.begin; i < range.end; ++i) {
        text += words[i];
    }
}
}  // namespace

std::optional<std::string> spliceWords(const RegionWords& words)
{
    std::string text;
    const ThreeTokens tokens{words.baseIds, words.oursIds, words.theirsIds};
    for (const Chunk& chunk : joinHunks(tokens, words.oursHunks, words.theirsHunks)) {
        if (chunk.kind == ChunkKind::region) {
            return std::nullopt;
        }
        const bool isTheirs = chunk.kind == ChunkKind::theirs;
        appendWords(
            text, isTheirs ? words.theirs : words.ours, isTheirs ? chunk.theirs : chunk.ours);
    }
    return text;
}

std::optional<std::string> spliceWords(const RegionTexts& texts)
{
    return isTooLargeForWords(texts) ? std::nullopt : spliceWords(RegionWords(texts));
}
}  // namespace rope
