// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/consequences.h"

#include "core/diff/word_diff.h"
#include "core/text/words.h"

#include <algorithm>
#include <unordered_map>

namespace rope {
namespace {
std::string_view trimmed(std::string_view line)
{
    constexpr std::string_view kBlanks = " \t\r\n";
    const std::size_t begin = line.find_first_not_of(kBlanks);
    return begin == std::string_view::npos
               ? std::string_view{}
               : line.substr(begin, line.find_last_not_of(kBlanks) - begin + 1);
}

constexpr double kSameLine =
    0.6;  // share of words in common from which two lines are versions of one
constexpr std::size_t kMostLines =
    200;  // longer regions are not searched for repeats, line by line

/// The lines that say something (have a name in them), as names, indentation and signs aside.
std::vector<std::vector<std::string_view>> tellingLines(std::string_view text)
{
    std::vector<std::vector<std::string_view>> lines;
    for (const std::string_view line : splitLines(text)) {
        auto words = splitWords(trimmed(line));
        std::erase_if(words, [](std::string_view word) { return word == " " || word == "\t"; });
        if (std::any_of(words.begin(), words.end(), isName)) {
            lines.push_back(std::move(words));
        }
    }
    return lines;
}

bool areVersionsOfOne(const std::vector<std::string_view>& a,
                      const std::vector<std::string_view>& b)
{
    std::unordered_map<std::string_view, int> counts;
    for (const std::string_view word : a) {
        ++counts[word];
    }
    std::size_t common = 0;
    for (const std::string_view word : b) {
        common += counts[word]-- > 0 ? 1U : 0U;
    }
    return static_cast<double>(2 * common) >= kSameLine * static_cast<double>(a.size() + b.size());
}

/// How many lines of a text have another version of themselves further down in it.
int repeatsIn(std::string_view text, bool& opensBlock)
{
    const auto lines = tellingLines(text);
    int repeats = 0;
    for (std::size_t i = 0; i < lines.size() && lines.size() <= kMostLines; ++i) {
        const auto again =
            std::find_if(lines.begin() + static_cast<std::ptrdiff_t>(i) + 1,
                         lines.end(),
                         [&](const auto& other) { return areVersionsOfOne(lines[i], other); });
        if (again != lines.end()) {
            ++repeats;
            opensBlock = opensBlock || lines[i].back() == ":" || lines[i].back() == "{";
        }
    }
    return repeats;
}

int netBrackets(std::string_view text)
{
    int net = 0;
    for (const char c : text) {
        net += c == '(' || c == '[' || c == '{' ? 1 : 0;
        net -= c == ')' || c == ']' || c == '}' ? 1 : 0;
    }
    return net;
}

bool hasOddQuotes(std::string_view text)
{
    return std::count(text.begin(), text.end(), '"') % 2 != 0;
}

void appendRepeats(std::string_view result,
                   const RegionTexts& texts,
                   std::vector<Consequence>& signs)
{
    bool opensBlock = false;
    bool ignored = false;
    const int repeated = repeatsIn(result, opensBlock) - repeatsIn(texts.ours, ignored)
                         - repeatsIn(texts.theirs, ignored);
    if (repeated > 0) {
        signs.push_back(
            {opensBlock ? ConsequenceKind::opensBlockTwice : ConsequenceKind::repeatsLines,
             repeated});
    }
}
}  // namespace

bool Consequence::isWarning() const
{
    switch (kind) {
    case ConsequenceKind::repeatsLines:
    case ConsequenceKind::opensBlockTwice:
    case ConsequenceKind::bracketsLeftOpen:
    case ConsequenceKind::bracketsExtra:
    case ConsequenceKind::quotesUnbalanced:
        return true;
    case ConsequenceKind::keepsBothEdits:
    case ConsequenceKind::dropsOurs:
    case ConsequenceKind::dropsTheirs:
    case ConsequenceKind::bracketsBalance:
        return false;
    }
    return false;
}

namespace {
using WordCounts = std::unordered_map<std::string_view, int>;

WordCounts countNames(std::string_view text)
{
    WordCounts counts;
    for (const std::string_view word : splitWords(text)) {
        if (isName(word)) {
            ++counts[word];
        }
    }
    return counts;
}

int countOf(const WordCounts& counts, std::string_view word)
{
    const auto found = counts.find(word);
    return found == counts.end() ? 0 : found->second;
}
}  // namespace

int lostEdits(std::string_view base,
              std::string_view side,
              std::string_view other,
              std::string_view result)
{
    const WordCounts inBase = countNames(base);
    const WordCounts inSide = countNames(side);
    const WordCounts inOther = countNames(other);
    const WordCounts inResult = countNames(result);
    const auto isLost = [&](const WordRun& run) {
        const auto words = splitWords(run.text);
        return std::any_of(words.begin(), words.end(), [&](std::string_view word) {
            if (!isName(word)) {
                return false;
            }
            const int byOther = countOf(inOther, word) - countOf(inBase, word);
            const int own = countOf(inSide, word);
            const int now = countOf(inResult, word);
            return run.change == WordChange::added ? now < own + std::min(byOther, 0)
                                                   : now > own + std::max(byOther, 0);
        });
    };
    int lost = 0;
    bool isInEdit = false;
    bool isCounted = false;
    for (const WordRun& run : diffWords(base, side)) {
        const bool isChange = run.change != WordChange::kept;
        isCounted = isChange && isInEdit && isCounted;
        if (isChange && !isCounted && isLost(run)) {
            ++lost;
            isCounted = true;
        }
        isInEdit = isChange;
    }
    return lost;
}

std::vector<Consequence> textConsequences(std::string_view result, const RegionTexts& texts)
{
    std::vector<Consequence> signs;
    appendRepeats(result, texts, signs);
    const int ours = netBrackets(texts.ours);
    const int own = netBrackets(result);
    if (ours == netBrackets(texts.theirs)) {
        if (own > ours) {
            signs.push_back({ConsequenceKind::bracketsLeftOpen, own - ours});
        } else if (own < ours) {
            signs.push_back({ConsequenceKind::bracketsExtra, ours - own});
        } else if (result.find_first_of("()[]{}") != std::string_view::npos) {
            signs.push_back({ConsequenceKind::bracketsBalance, 0});
        }
    }
    if (hasOddQuotes(result) && !hasOddQuotes(texts.ours) && !hasOddQuotes(texts.theirs)) {
        signs.push_back({ConsequenceKind::quotesUnbalanced, 0});
    }
    return signs;
}
}  // namespace rope
