// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/consequences.h"

#include "core/text/words.h"

#include <algorithm>
#include <unordered_map>

namespace rope {
namespace {
std::string_view trimmed(std::string_view line)
{
    constexpr std::string_view kBlanks = " \t\r\n";
    const std::size_t begin = line.find_first_not_of(kBlanks);
    return begin == std::string_view::npos ? std::string_view{}
                                           : line.substr(begin, line.find_last_not_of(kBlanks) - begin + 1);
}

using LineCounts = std::unordered_map<std::string_view, int>;

/// How often each line that says something (has a name in it) stands in a text, indentation aside.
LineCounts countLines(std::string_view text)
{
    LineCounts counts;
    for (const std::string_view line : splitLines(text)) {
        const auto words = splitWords(trimmed(line));
        if (std::any_of(words.begin(), words.end(), isName)) {
            ++counts[trimmed(line)];
        }
    }
    return counts;
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

bool hasOddQuotes(std::string_view text) { return std::count(text.begin(), text.end(), '"') % 2 != 0; }

void appendRepeats(std::string_view result, const RegionTexts& texts, std::vector<Consequence>& signs)
{
    const LineCounts ours = countLines(texts.ours);
    const LineCounts theirs = countLines(texts.theirs);
    const auto countIn = [](const LineCounts& counts, std::string_view line) {
        const auto found = counts.find(line);
        return found == counts.end() ? 0 : found->second;
    };
    int repeated = 0;
    bool opensBlock = false;
    for (const auto& [line, count] : countLines(result)) {
        const int extra = count - std::max(countIn(ours, line), countIn(theirs, line));
        if (extra > 0) {
            repeated += extra;
            opensBlock = opensBlock || line.ends_with('{') || line.ends_with(':');
        }
    }
    if (opensBlock) {
        signs.push_back({ConsequenceKind::opensBlockTwice, repeated});
    } else if (repeated > 0) {
        signs.push_back({ConsequenceKind::repeatsLines, repeated});
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
    case ConsequenceKind::quotesUnbalanced: return true;
    case ConsequenceKind::keepsBothEdits:
    case ConsequenceKind::dropsOurs:
    case ConsequenceKind::dropsTheirs:
    case ConsequenceKind::bracketsBalance: return false;
    }
    return false;
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
