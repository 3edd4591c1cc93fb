// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_together.cpp.
#include "core/decide/alike.h"

#include <algorithm>
#include <map>
#include <string>

namespace rope {
namespace {
constexpr std::size_t kMostBytes = 2000;

bool isDigit(char c)
{
    return c >= '0' && c <= '9';
}

/// The text with one sign in the place of each run of digits.
std::string withoutNumbers(std::string_view text)
{
    std::string masked;
    masked.reserve(text.size());
    for (const char c : text) {
        const bool goesOn = isDigit(c) && !masked.empty() && masked.back() == '\0';
        if (!goesOn) {
            masked += isDigit(c) ? '\0' : c;
        }
    }
    return masked;
}

/// The three texts as one, so that no two cases give the same.
std::string keyOf(const RegionTexts& texts)
{
    std::string key;
    for (const std::string_view text : {texts.base, texts.ours, texts.theirs}) {
        key += std::to_string(text.size()) + ':' + std::string(text);
    }
    return key;
}

std::vector<AlikeRegions> groupsOf(AlikeRegions::What what,
                                   std::map<std::string, std::vector<std::size_t>>&& byKey)
{
    std::vector<AlikeRegions> groups;
    for (auto& [key, regions] : byKey) {
        if (regions.size() >= kLeastAlike) {
            groups.push_back({what, std::move(regions)});
        }
    }
    return groups;
}
}  // namespace

std::vector<AlikeRegions> alikeRegions(const TextJoin& join)
{
    std::map<std::string, std::vector<std::size_t>> bySameTexts;
    std::map<std::string, std::vector<std::size_t>> byNumbers;
    for (std::size_t region = 0; region < join.regionCount(); ++region) {
        const RegionTexts texts = join.regionTexts(region);
        if (texts.base.size() + texts.ours.size() + texts.theirs.size() > kMostBytes) {
            continue;
        }
        const std::string masked = withoutNumbers(texts.base);
        const bool onlyNumbers = masked.find('\0') != std::string::npos
                                 && masked == withoutNumbers(texts.ours)
                                 && masked == withoutNumbers(texts.theirs);
        (onlyNumbers ? byNumbers[masked] : bySameTexts[keyOf(texts)]).push_back(region);
    }
    std::vector<AlikeRegions> groups =
        groupsOf(AlikeRegions::What::sameTexts, std::move(bySameTexts));
    for (AlikeRegions& group : groupsOf(AlikeRegions::What::numbers, std::move(byNumbers))) {
        groups.push_back(std::move(group));
    }
    std::sort(groups.begin(), groups.end(), [](const AlikeRegions& a, const AlikeRegions& b) {
        return a.regions.front() < b.regions.front();
    });
    return groups;
}
}  // namespace rope
