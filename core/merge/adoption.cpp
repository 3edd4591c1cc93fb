// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/adoption.h"

#include "core/text/words.h"

#include <algorithm>
#include <unordered_map>
#include <vector>

namespace rope {
namespace {
/// From these shares on a change counts as taken up.
constexpr double kAddedToo = 0.6;
constexpr double kRemovedToo = 0.8;

constexpr std::size_t kMostSearched = 2'000'000;  // of changed text in a file

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

/// How many words of `part` are in `whole` too, and how many there are.
struct Common
{
    int all = 0;
    int common = 0;
    [[nodiscard]] std::optional<double> share() const
    {
        return all == 0 ? std::nullopt : std::optional(static_cast<double>(common) / all);
    }
};

Common commonOf(const Bag& part, const Bag& whole)
{
    Common result;
    for (const auto& [word, count] : part) {
        const auto other = whole.find(word);
        result.all += count;
        result.common += other == whole.end() ? 0 : std::min(count, other->second);
    }
    return result;
}

/// Whether at least `share` of `part` is in `whole` too; an empty part says nothing.
bool isMostlyIn(const Bag& part, const Bag& whole, double share)
{
    const Common found = commonOf(part, whole);
    return found.all > 0 && found.common >= share * found.all;
}

bool isLetter(char c)
{
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_';
}

bool hasLetters(std::string_view line, int least)
{
    for (std::size_t i = 0; i < line.size() && least > 0; ++i) {
        least -= isLetter(line[i]) ? 1 : 0;
    }
    return least <= 0;
}

/// Adds the lines of a text that say something.
void addLines(std::string_view text, Bag& bag)
{
    constexpr int kLeastLetters = 3;
    for (std::string_view line : splitLines(text)) {
        if (!hasLetters(line, kLeastLetters)) {
            continue;
        }
        line.remove_prefix(line.find_first_not_of(" \t\r\n"));
        ++bag[line.substr(0, line.find_last_not_of(" \t\r\n") + 1)];
    }
}

bool isNameProper(std::string_view word)
{
    return isName(word)
           && !std::all_of(word.begin(), word.end(), [](char c) { return c >= '0' && c <= '9'; });
}

/// Names that ours has more of in a region than the base.
std::vector<std::string_view> namesBrought(const RegionTexts& texts)
{
    std::vector<std::string_view> names;
    for (const auto& [word, count] : difference(bagOf(texts.ours), bagOf(texts.base))) {
        if (isNameProper(word)) {
            names.push_back(word);
        }
    }
    return names;
}

void addNames(const TextJoin& join, FileAdoption& adoption)
{
    for (std::size_t region = 0; region < join.regionCount(); ++region) {
        if (join.region(region).base.isEmpty()) {
            for (const std::string_view name : namesBrought(join.regionTexts(region))) {
                adoption.newNames.emplace(name);
            }
        }
    }
    if (adoption.newNames.empty()) {
        return;
    }
    eachWord(join.base().bytes(), [&adoption](std::string_view word) {
        if (const auto found = adoption.newNames.find(word); found != adoption.newNames.end()) {
            adoption.newNames.erase(found);
        }
    });
    eachWord(join.theirs().bytes(), [&adoption](std::string_view word) {
        if (adoption.newNames.contains(word)) {
            adoption.knownNames.emplace(word);
        }
    });
}

/// The lines of a file that say something, where anybody changed it: what nobody changed stands on each side
/// as often as in the base. Nothing of files in which too much was changed.
struct ChangedLines
{
    Bag base;
    Bag ours;
    Bag theirs;

    [[nodiscard]] Common addedToo() const
    {
        return commonOf(difference(ours, base), difference(theirs, base));
    }
};

std::optional<ChangedLines> changedLinesIn(const TextJoin& join)
{
    std::size_t searched = 0;
    for (const Chunk& chunk : join.chunks()) {
        searched += chunk.kind == ChunkKind::unchanged ? 0 : join.ours().lines(chunk.ours).size();
    }
    if (searched > kMostSearched) {
        return std::nullopt;
    }
    ChangedLines lines;
    for (const Chunk& chunk : join.chunks()) {
        if (chunk.kind != ChunkKind::unchanged) {
            addLines(join.base().lines(chunk.base), lines.base);
            addLines(join.ours().lines(chunk.ours), lines.ours);
            addLines(join.theirs().lines(chunk.theirs), lines.theirs);
        }
    }
    return lines;
}
}  // namespace

AddedLines addedLinesIn(const TextJoin& join)
{
    if (join.base().bytes().empty()) {
        return {};
    }
    const auto lines = changedLinesIn(join);
    const Common added = lines ? lines->addedToo() : Common{};
    return {added.all, added.common};
}

FileAdoption fileAdoption(const TextJoin& join)
{
    const auto lines = changedLinesIn(join);
    if (!lines) {
        return {};
    }
    FileAdoption adoption;
    adoption.added = lines->addedToo().share();
    adoption.removed =
        commonOf(difference(lines->base, lines->ours), difference(lines->base, lines->theirs))
            .share();
    // Two files of one kind begin and end alike: that says nothing before nearly all is alike.
    constexpr double kSameFile = 0.8;
    if (join.base().bytes().empty() && adoption.added < kSameFile) {
        adoption.added.reset();
    }
    addNames(join, adoption);
    return adoption;
}

std::optional<double> removedToo(const RegionTexts& texts)
{
    Bag base;
    Bag ours;
    Bag theirs;
    addLines(texts.base, base);
    addLines(texts.ours, ours);
    addLines(texts.theirs, theirs);
    return commonOf(difference(base, ours), difference(base, theirs)).share();
}

std::optional<double> knownShare(const RegionTexts& texts, const FileAdoption& adoption)
{
    Common found;
    for (const std::string_view name : namesBrought(texts)) {
        if (adoption.newNames.contains(name)) {
            ++found.all;
            found.common += adoption.knownNames.contains(name) ? 1 : 0;
        }
    }
    return found.share();
}

namespace {
Adoption adoptionBetween(const Bag& base, const Bag& ours, const Bag& theirs)
{
    const Bag oursAdded = difference(ours, base);
    const Bag oursRemoved = difference(base, ours);
    const Bag theirsAdded = difference(theirs, base);
    const Bag theirsRemoved = difference(base, theirs);
    // Sides that changed the same word have both removed it: only its absence may then count.
    return {isMostlyIn(theirsAdded, oursAdded, kAddedToo)
                || (theirsAdded.empty() && isMostlyIn(theirsRemoved, oursRemoved, kRemovedToo)),
            isMostlyIn(oursAdded, theirsAdded, kAddedToo)
                || (oursAdded.empty() && isMostlyIn(oursRemoved, theirsRemoved, kRemovedToo))};
}
}  // namespace

Adoption adoptionIn(const RegionTexts& texts)
{
    return adoptionBetween(bagOf(texts.base), bagOf(texts.ours), bagOf(texts.theirs));
}

Adoption adoptionOfNames(const RegionTexts& texts)
{
    const auto namesOf = [](std::string_view text) {
        Bag bag = bagOf(text);
        std::erase_if(bag, [](const auto& word) { return !isName(word.first); });
        return bag;
    };
    return adoptionBetween(namesOf(texts.base), namesOf(texts.ours), namesOf(texts.theirs));
}
}  // namespace rope
