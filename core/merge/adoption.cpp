// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/adoption.h"

#include "core/text/words.h"

#include <unordered_map>

namespace rope {
namespace {
/// From these shares on a change counts as taken up.
constexpr double kAddedToo = 0.6;
constexpr double kRemovedToo = 0.8;

/// How often each word stands in a text, blanks aside.
using Bag = std::unordered_map<std::string_view, int>;

Bag bagOf(std::string_view text)
{
    Bag bag;
    for (const std::string_view word : splitWords(text)) {
        if (word.find_first_not_of(" \t\r\n") != std::string_view::npos) {
            ++bag[word];
        }
    }
    return bag;
}

/// What `from` has more of than `without`.
Bag difference(const Bag& from, const Bag& without)
{
    Bag rest;
    for (const auto& [word, count] : from) {
        const auto other = without.find(word);
        const int left = count - (other == without.end() ? 0 : other->second);
        if (left > 0) {
            rest[word] = left;
        }
    }
    return rest;
}

/// Whether at least `share` of `part` is in `whole` too; an empty part says nothing.
bool isMostlyIn(const Bag& part, const Bag& whole, double share)
{
    int all = 0;
    int common = 0;
    for (const auto& [word, count] : part) {
        const auto other = whole.find(word);
        all += count;
        common += other == whole.end() ? 0 : std::min(count, other->second);
    }
    return all > 0 && common >= share * all;
}
}  // namespace

Adoption adoptionIn(const RegionTexts& texts)
{
    const Bag base = bagOf(texts.base);
    const Bag ours = bagOf(texts.ours);
    const Bag theirs = bagOf(texts.theirs);
    const Bag oursAdded = difference(ours, base);
    const Bag oursRemoved = difference(base, ours);
    const Bag theirsAdded = difference(theirs, base);
    const Bag theirsRemoved = difference(base, theirs);
    return {isMostlyIn(theirsAdded, oursAdded, kAddedToo)
                || isMostlyIn(theirsRemoved, oursRemoved, kRemovedToo),
            isMostlyIn(oursAdded, theirsAdded, kAddedToo)
                || isMostlyIn(oursRemoved, theirsRemoved, kRemovedToo)};
}
}  // namespace rope
