// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_diff_tokens.cpp.
#include "core/diff/word_diff.h"

#include "core/base/assert.h"
#include "core/diff/diff_tokens.h"
#include "core/text/words.h"

#include <algorithm>

namespace rope {
namespace {
constexpr std::size_t kMostBytes = 200'000;  // beyond it word evidence helps nobody and costs time

using Words = std::vector<std::string_view>;

std::string join(const Words& words, LineRange range)
{
    std::string text;
    for (LineNumber i = range.begin; i < range.end; ++i) {
        text += words[i];
    }
    return text;
}

bool isBlankGap(const Words& words, LineRange range)
{
    return std::all_of(words.begin() + range.begin,
                       words.begin() + range.end,
                       [](std::string_view word) { return word[0] == ' ' || word[0] == '\t'; });
}

std::vector<Hunk> wordHunks(const Words& before, const Words& after)
{
    LineInterner interner(before.size() + after.size());
    const std::vector<TokenId> a = interner.internAll(before);
    const std::vector<TokenId> b = interner.internAll(after);
    auto hunks = diffTokens(a, b, interner.idCount(), DiffMethod::myers);
    ROPE_ASSERT(hunks.hasValue(), "a diff without a stop token cannot be cancelled");
    std::vector<Hunk> merged;
    for (const Hunk& hunk : *hunks) {
        if (!merged.empty() && isBlankGap(before, {merged.back().before.end, hunk.before.begin})) {
            merged.back().before.end = hunk.before.end;
            merged.back().after.end = hunk.after.end;
        } else {
            merged.push_back(hunk);
        }
    }
    return merged;
}

void append(std::vector<WordRun>& runs, WordChange change, std::string text)
{
    if (!text.empty()) {
        runs.push_back({change, std::move(text)});
    }
}
}  // namespace

std::vector<WordRun> diffWords(std::string_view before, std::string_view after)
{
    std::vector<WordRun> runs;
    if (before.size() + after.size() > kMostBytes) {
        append(runs, WordChange::removed, std::string(before));
        append(runs, WordChange::added, std::string(after));
        return runs;
    }
    const Words a = splitWords(before);
    const Words b = splitWords(after);
    LineNumber at = 0;
    for (const Hunk& hunk : wordHunks(a, b)) {
        append(runs, WordChange::kept, join(a, {at, hunk.before.begin}));
        append(runs, WordChange::removed, join(a, hunk.before));
        append(runs, WordChange::added, join(b, hunk.after));
        at = hunk.before.end;
    }
    append(runs, WordChange::kept, join(a, {at, static_cast<LineNumber>(a.size())}));
    return runs;
}

int countEdits(std::string_view before, std::string_view after)
{
    if (before.size() + after.size() > kMostBytes) {
        return before == after ? 0 : 1;
    }
    return static_cast<int>(wordHunks(splitWords(before), splitWords(after)).size());
}
}  // namespace rope
