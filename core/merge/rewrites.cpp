// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/rewrites.h"

#include "core/diff/word_hunks.h"
#include "core/merge/line_splice.h"
#include "core/merge/touching_splice.h"
#include "core/merge/word_splice.h"
#include "core/text/words.h"

#include <algorithm>
#include <set>

namespace rope {
namespace {
constexpr std::size_t kMostRewrittenBytes = 100'000;  // of a text that is written anew
constexpr std::size_t kMostCompared = 40'000;         // a larger block was replaced, not renamed in
constexpr std::size_t kMostSearchedBytes = 2'000'000;  // of changed text in a file
constexpr int kLeastPlaces = 2;

using Words = std::vector<std::string_view>;

std::string withNames(std::string_view text, const Rewrites& rewrites)
{
    std::string result;
    for (const std::string_view word : splitWords(text)) {
        const auto found = rewrites.names.find(word);
        if (found == rewrites.names.end()) {
            result += word;
            continue;
        }
        const std::string& target = found->second;
        // Where it stands in its new form already, it stays.
        const bool isThere =
            target.ends_with(word)
            && result.ends_with(std::string_view(target).substr(0, target.size() - word.size()));
        result += isThere ? word : std::string_view(target);
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

/// What a name was replaced by, and how often.
using Targets = std::map<std::string, int>;
using Places = std::map<std::string, Targets, std::less<>>;

bool isBlank(char c)
{
    return c == ' ' || c == '\t' || c == '\r' || c == '\n';
}

/// A run of words without blanks that holds a name.
bool isTarget(std::string_view run)
{
    if (run.empty() || std::any_of(run.begin(), run.end(), isBlank)) {
        return false;
    }
    const Words words = splitWords(run);
    return std::any_of(words.begin(), words.end(), isName);
}

/// The name that begins at a place of a text; empty: none does.
std::string_view nameAt(std::string_view text, std::size_t position)
{
    const Words words = splitWords(text.substr(position, text.find_first_of(" \t\r\n", position)));
    return !words.empty() && isName(words.front()) ? words.front() : std::string_view();
}

/// "p->b." put in before a name, which is told so where the name itself stays.
bool isPrefix(std::string_view run)
{
    constexpr std::size_t kMostWords = 4;
    return isTarget(run) && (run.ends_with('.') || run.ends_with('>') || run.ends_with(':'))
           && splitWords(run).size() <= kMostWords;
}

void addPlaces(std::string_view before, std::string_view after, Places& places)
{
    for (const WordHunk& hunk : wordHunks(before, after)) {
        if (isName(hunk.before) && isTarget(hunk.after)) {
            ++places[std::string(hunk.before)][std::string(hunk.after)];
        } else if (hunk.before.empty() && isPrefix(hunk.after)) {
            const auto end =
                static_cast<std::size_t>(hunk.after.data() + hunk.after.size() - after.data());
            const std::string name(nameAt(after, end));
            if (!name.empty()) {
                ++places[name][std::string(hunk.after) + name];
            }
        }
    }
}

Places placesIn(const TextJoin& join)
{
    Places places;
    std::size_t searched = 0;
    for (const Chunk& chunk : join.chunks()) {
        if (chunk.kind != ChunkKind::theirs && chunk.kind != ChunkKind::region) {
            continue;
        }
        const std::string_view before = join.base().lines(chunk.base);
        const std::string_view after = join.theirs().lines(chunk.theirs);
        searched += before.size() + after.size();
        if (before.size() + after.size() <= kMostCompared && searched <= kMostSearchedBytes) {
            addPlaces(before, after, places);
        }
    }
    return places;
}

/// How often each of these names stands in a text.
std::map<std::string, int, std::less<>> countsOf(const Rewrites& rewrites, std::string_view text)
{
    std::map<std::string, int, std::less<>> counts;
    eachWord(text, [&](std::string_view word) {
        if (isName(word) && rewrites.names.contains(word)) {
            ++counts[std::string(word)];
        }
    });
    return counts;
}

int countOf(std::string_view text, std::string_view part)
{
    int count = 0;
    for (std::size_t at = text.find(part); at != std::string_view::npos;
         at = text.find(part, at + part.size())) {
        ++count;
    }
    return count;
}
}  // namespace

Rewrites theirsRewrites(const TextJoin& join)
{
    constexpr double kSameTarget = 0.8;
    constexpr double kMostLeft = 0.1;
    Rewrites rewrites;
    for (const auto& [old, targets] : placesIn(join)) {
        int all = 0;
        for (const auto& [target, count] : targets) {
            all += count;
        }
        const auto usual =
            std::max_element(targets.begin(), targets.end(), [](const auto& a, const auto& b) {
                return a.second < b.second;
            });
        if (all >= kLeastPlaces && usual->second >= kSameTarget * all && old.size() > 1) {
            rewrites.names[old] = usual->first;
        }
    }
    if (rewrites.names.empty()) {
        return rewrites;
    }
    const auto before = countsOf(rewrites, join.base().bytes());
    for (const auto& [old, left] : countsOf(rewrites, join.theirs().bytes())) {
        const std::string& target = rewrites.names.find(old)->second;
        const Words words = splitWords(target);
        const bool holdsItself = std::find(words.begin(), words.end(), old) != words.end();
        const int inTargets = holdsItself ? countOf(join.theirs().bytes(), target) : 0;
        const auto known = before.find(old);
        if (left - inTargets > kMostLeft * (known == before.end() ? 0 : known->second)) {
            rewrites.names.erase(old);
        }
    }
    return rewrites;
}

std::optional<RewrittenText> rewrittenText(const RegionTexts& texts, const Rewrites& rewrites)
{
    if (rewrites.names.empty() || texts.ours.size() > kMostRewrittenBytes) {
        return std::nullopt;
    }
    const std::string ours = withNames(texts.ours, rewrites);
    if (ours == texts.ours) {
        return std::nullopt;
    }
    const std::string base = withNames(texts.base, rewrites);
    const RegionTexts carried{base, ours, texts.theirs};
    if (isTooLargeForWords(carried)) {
        return std::nullopt;
    }
    const RegionWords words(carried);
    if (auto lines = spliceLines(words, Blanks::count)) {
        return RewrittenText{std::move(*lines), false};
    }
    if (auto spliced = spliceWords(words)) {
        return RewrittenText{std::move(*spliced), false};
    }
    auto touching = spliceTouching(words);
    return touching ? std::optional(RewrittenText{std::move(touching->text), true}) : std::nullopt;
}

std::optional<std::string> movedEditText(const RegionWords& region)
{
    std::string result(region.texts.theirs);
    const std::vector<WordHunk> edits = wordHunksOf(region.base, region.ours, region.oursHunks);
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
    return edits.empty() || result == region.texts.theirs ? std::nullopt : std::optional(result);
}
}  // namespace rope
