// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/rewrites.h"

#include "core/diff/word_hunks.h"
#include "core/merge/line_splice.h"
#include "core/merge/word_splice.h"
#include "core/text/words.h"

#include <algorithm>
#include <set>

namespace rope {
namespace {
constexpr std::size_t kMostBytes = 100'000;       // of one comparison
constexpr std::size_t kMostSearched = 2'000'000;  // of changed text in a file
constexpr int kLeastPlaces = 2;

using Words = std::vector<std::string_view>;

std::string withNames(std::string_view text, const Rewrites& rewrites)
{
    std::string result;
    for (const std::string_view word : splitWords(text)) {
        const auto found = rewrites.names.find(word);
        result += found == rewrites.names.end() ? word : std::string_view(found->second);
    }
    return result;
}

/// How often a run of words stands among others; `at` is where it was found last.
std::size_t countOfRun(const Words& words, const Words& run, std::size_t& at)
{
    std::size_t count = 0;
    for (std::size_t i = 0; i + run.size() <= words.size(); ++i) {
        if (std::equal(run.begin(), run.end(), words.begin() + static_cast<std::ptrdiff_t>(i))) {
            at = i;
            ++count;
        }
    }
    return count;
}
}  // namespace

Rewrites theirsRewrites(const TextJoin& join)
{
    std::map<std::string, std::map<std::string, int>, std::less<>> places;
    std::size_t searched = 0;
    for (const Chunk& chunk : join.chunks()) {
        if (chunk.kind != ChunkKind::theirs && chunk.kind != ChunkKind::region) {
            continue;
        }
        const std::string_view before = join.base().lines(chunk.base);
        const std::string_view after = join.theirs().lines(chunk.theirs);
        searched += before.size() + after.size();
        if (before.size() + after.size() > kMostBytes || searched > kMostSearched) {
            continue;
        }
        for (const WordHunk& hunk : wordHunks(before, after)) {
            if (hunk.isOneForOne && isName(hunk.before) && isName(hunk.after)) {
                ++places[std::string(hunk.before)][std::string(hunk.after)];
            }
        }
    }
    Rewrites rewrites;
    for (const auto& [old, targets] : places) {
        if (targets.size() == 1 && targets.begin()->second >= kLeastPlaces && old.size() > 1) {
            rewrites.names[old] = targets.begin()->first;
        }
    }
    if (!rewrites.names.empty()) {
        for (const std::string_view word : splitWords(join.theirs().bytes())) {
            if (const auto left = rewrites.names.find(word); left != rewrites.names.end()) {
                rewrites.names.erase(left);
            }
        }
    }
    return rewrites;
}

std::optional<std::string> rewrittenText(const RegionTexts& texts, const Rewrites& rewrites)
{
    if (rewrites.names.empty() || texts.ours.size() > kMostBytes) {
        return std::nullopt;
    }
    const std::string ours = withNames(texts.ours, rewrites);
    if (ours == texts.ours) {
        return std::nullopt;
    }
    const std::string base = withNames(texts.base, rewrites);
    const RegionTexts carried{base, ours, texts.theirs};
    if (auto lines = spliceLines(carried, Blanks::count)) {
        return lines;
    }
    return spliceWords(carried);
}

std::optional<std::string> movedEditText(const RegionTexts& texts)
{
    if (texts.base.size() + texts.ours.size() + texts.theirs.size() > kMostBytes) {
        return std::nullopt;
    }
    std::string result(texts.theirs);
    const std::vector<WordHunk> edits = wordHunks(texts.base, texts.ours);
    for (const WordHunk& edit : edits) {
        if (std::none_of(edit.before.begin(), edit.before.end(), [](char c) {
                return std::isalnum(static_cast<unsigned char>(c)) != 0;
            })) {
            return std::nullopt;
        }
        const Words words = splitWords(result);
        std::size_t at = 0;
        if (countOfRun(words, splitWords(edit.before), at) != 1) {
            return std::nullopt;
        }
        const std::size_t offset = static_cast<std::size_t>(words[at].data() - result.data());
        result.replace(offset, edit.before.size(), edit.after);
    }
    return edits.empty() || result == texts.theirs ? std::nullopt : std::optional(result);
}
}  // namespace rope
