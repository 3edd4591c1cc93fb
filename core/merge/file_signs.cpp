// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/file_signs.h"

#include "core/text/words.h"

#include <algorithm>
#include <unordered_set>

namespace rope {
namespace {
/// A name and no number. Whether it stands in code or in a comment is not known.
bool isUsableName(std::string_view word)
{
    return isName(word) && !(word[0] >= '0' && word[0] <= '9');
}

FileSigns::Names removedNames(std::string_view base, std::string_view side)
{
    std::unordered_set<std::string_view> kept;
    for (const std::string_view word : splitWords(side)) {
        if (isUsableName(word)) {
            kept.insert(word);
        }
    }
    FileSigns::Names removed;
    for (const std::string_view word : splitWords(base)) {
        if (isUsableName(word) && !kept.contains(word)) {
            ++removed[std::string(word)];
        }
    }
    return removed;
}

int occurrences(std::string_view text, std::string_view name)
{
    const auto words = splitWords(text);
    return static_cast<int>(std::count(words.begin(), words.end(), name));
}

bool isOfBrackets(const Consequence& consequence)
{
    return consequence.kind == ConsequenceKind::bracketsLeftOpen
           || consequence.kind == ConsequenceKind::bracketsExtra
           || consequence.kind == ConsequenceKind::bracketsBalance;
}

/// The first name of the text that a side removed here and elsewhere.
std::optional<std::string>
removedNameIn(std::string_view result, std::string_view base, const FileSigns::Names& removed)
{
    for (const std::string_view word : splitWords(result)) {
        const auto found = removed.find(word);
        if (found != removed.end() && found->second > occurrences(base, word)) {
            return found->first;
        }
    }
    return std::nullopt;
}

/// The brackets of the file with a text in place of a region; nothing while another region decides.
std::optional<int> bracketsWith(std::string_view result, std::size_t region, const FileSigns& signs)
{
    int net = signs.joinedBrackets + netBrackets(result);
    for (std::size_t other = 0; other < signs.regionBrackets.size(); ++other) {
        if (other == region) {
            continue;
        }
        if (!signs.regionBrackets[other]) {
            return std::nullopt;
        }
        net += *signs.regionBrackets[other];
    }
    return net;
}
}  // namespace

FileSigns signsOf(const TextJoin& join)
{
    FileSigns signs;
    signs.removedByOurs = removedNames(join.base().bytes(), join.ours().bytes());
    signs.removedByTheirs = removedNames(join.base().bytes(), join.theirs().bytes());
    for (const Chunk& chunk : join.chunks()) {
        if (chunk.kind != ChunkKind::region) {
            signs.joinedBrackets += netBrackets(join.joinedText(chunk));
        }
    }
    for (std::size_t region = 0; region < join.regionCount(); ++region) {
        const RegionTexts texts = join.regionTexts(region);
        const int ours = netBrackets(texts.ours);
        signs.regionBrackets.push_back(ours == netBrackets(texts.theirs) ? std::optional(ours)
                                                                         : std::nullopt);
    }
    const int ours = netBrackets(join.ours().bytes());
    if (ours == netBrackets(join.theirs().bytes())) {
        signs.fileBrackets = ours;
    }
    return signs;
}

std::vector<Consequence> fileConsequences(std::string_view result,
                                          const TextJoin& join,
                                          std::size_t region,
                                          const FileSigns& signs)
{
    std::vector<Consequence> found;
    const std::string_view base = join.regionTexts(region).base;
    if (auto name = removedNameIn(result, base, signs.removedByOurs)) {
        found.push_back({ConsequenceKind::usesNameOursRemoved, 1, std::move(*name)});
    }
    if (auto name = removedNameIn(result, base, signs.removedByTheirs)) {
        found.push_back({ConsequenceKind::usesNameTheirsRemoved, 1, std::move(*name)});
    }
    const auto net = bracketsWith(result, region, signs);
    if (net && signs.fileBrackets && *net != *signs.fileBrackets) {
        const int more = *net - *signs.fileBrackets;
        found.push_back(
            {more > 0 ? ConsequenceKind::bracketsLeftOpen : ConsequenceKind::bracketsExtra,
             std::abs(more),
             {}});
    }
    return found;
}

void addFileConsequences(std::vector<Candidate>& candidates,
                         const TextJoin& join,
                         std::size_t region,
                         const FileSigns& signs)
{
    for (Candidate& candidate : candidates) {
        auto found = fileConsequences(candidate.text, join, region, signs);
        auto& own = candidate.consequences;
        if (bracketsWith(candidate.text, region, signs) && signs.fileBrackets) {
            const bool isBalanced = std::none_of(found.begin(), found.end(), isOfBrackets);
            std::erase_if(own, [&](const Consequence& c) {
                return isOfBrackets(c)
                       && !(isBalanced && c.kind == ConsequenceKind::bracketsBalance);
            });
        }
        own.insert(own.end(), found.begin(), found.end());
    }
}
}  // namespace rope
