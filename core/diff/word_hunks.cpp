// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/diff/word_hunks.h"

#include "core/diff/diff_tokens.h"
#include "core/text/line_interner.h"
#include "core/text/words.h"

namespace rope {
namespace {
using Words = std::vector<std::string_view>;

std::string_view spanOf(const Words& words, LineRange range)
{
    if (range.begin == range.end) {
        return {};
    }
    const char* const first = words[range.begin].data();
    const std::string_view last = words[range.end - 1];
    return {first, static_cast<std::size_t>(last.data() + last.size() - first)};
}
}  // namespace

std::vector<WordHunk> wordHunks(std::string_view before, std::string_view after)
{
    const Words old = splitWords(before);
    const Words fresh = splitWords(after);
    LineInterner interner(old.size() + 8);
    const auto oldIds = interner.internAll(old);
    const auto freshIds = interner.internAll(fresh);
    const std::vector<Hunk> hunks =
        diffTokens(oldIds, freshIds, interner.idCount(), DiffMethod::myers).value();
    return wordHunksOf(old, fresh, hunks);
}

std::vector<WordHunk> wordHunksOf(const std::vector<std::string_view>& before,
                                  const std::vector<std::string_view>& after,
                                  const std::vector<Hunk>& hunks)
{
    std::vector<WordHunk> list;
    list.reserve(hunks.size());
    for (const Hunk& hunk : hunks) {
        list.push_back({spanOf(before, hunk.before),
                        spanOf(after, hunk.after),
                        hunk.before.size() == 1 && hunk.after.size() == 1});
    }
    return list;
}
}  // namespace rope
