// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/word_splice.h"

#include "core/diff/diff_tokens.h"
#include "core/text/words.h"

namespace rope {
namespace {
constexpr std::size_t kMostBytes = 100'000;  // a person reads no larger region word by word

void appendWords(std::string& text, const std::vector<std::string_view>& words, LineRange range)
{
    for (LineNumber i = range.begin; i < range.end; ++i) {
        text += words[i];
    }
}
}  // namespace

std::optional<std::string> spliceWords(const RegionTexts& texts)
{
    if (texts.base.size() + texts.ours.size() + texts.theirs.size() > kMostBytes) {
        return std::nullopt;
    }
    const auto base = splitWords(texts.base);
    const auto ours = splitWords(texts.ours);
    const auto theirs = splitWords(texts.theirs);
    LineInterner interner(base.size() + ours.size());
    const auto baseIds = interner.internAll(base);
    const auto oursIds = interner.internAll(ours);
    const auto theirsIds = interner.internAll(theirs);
    const auto oursHunks = diffTokens(baseIds, oursIds, interner.idCount(), DiffMethod::myers);
    const auto theirsHunks = diffTokens(baseIds, theirsIds, interner.idCount(), DiffMethod::myers);
    std::string text;
    for (const Chunk& chunk : joinHunks({baseIds, oursIds, theirsIds}, *oursHunks, *theirsHunks)) {
        if (chunk.kind == ChunkKind::region) {
            return std::nullopt;
        }
        const bool isTheirs = chunk.kind == ChunkKind::theirs;
        appendWords(text, isTheirs ? theirs : ours, isTheirs ? chunk.theirs : chunk.ours);
    }
    return text;
}
}  // namespace rope
