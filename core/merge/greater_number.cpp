// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/greater_number.h"

#include "core/text/words.h"

#include <algorithm>
#include <charconv>

namespace rope {
namespace {
bool isNumber(std::string_view word)
{
    return !word.empty() && word.size() <= 18
           && std::all_of(word.begin(), word.end(), [](char c) { return c >= '0' && c <= '9'; });
}

long long numberIn(std::string_view word)
{
    long long value = 0;
    std::from_chars(word.data(), word.data() + word.size(), value);
    return value;
}

/// Digits in groups of one shape, such as 2026_04_12_083000: the later one is the greater text.
bool areStamps(std::string_view a, std::string_view b)
{
    const auto isDigit = [](char c) {
        return c >= '0' && c <= '9';
    };
    return a.size() == b.size() && a.find('_') != std::string_view::npos
           && std::equal(a.begin(), a.end(), b.begin(), [&](char x, char y) {
                  return (isDigit(x) && isDigit(y)) || (x == '_' && y == '_');
              });
}

/// Where the sides differ in numbers alone: the first two of these, which decide. So 2.10 is later than
/// 2.9, and a later date is greater whatever follows.
struct DecidingNumbers
{
    std::string_view ours;
    std::string_view theirs;
    [[nodiscard]] bool isOursGreater() const
    {
        return areStamps(ours, theirs) ? ours > theirs : numberIn(ours) > numberIn(theirs);
    }
};

std::optional<DecidingNumbers> decidingNumbers(const RegionTexts& texts)
{
    const auto ours = splitWords(texts.ours);
    const auto theirs = splitWords(texts.theirs);
    if (ours.size() != theirs.size()) {
        return std::nullopt;
    }
    std::optional<DecidingNumbers> deciding;
    for (std::size_t i = 0; i < ours.size(); ++i) {
        if (ours[i] == theirs[i]) {
            continue;
        }
        if (!areStamps(ours[i], theirs[i]) && (!isNumber(ours[i]) || !isNumber(theirs[i]))) {
            return std::nullopt;
        }
        if (!deciding) {
            deciding = {ours[i], theirs[i]};
        }
    }
    return deciding;
}

/// A number of a text with what belongs to it: 1.10 of "v1.10", 2026-04-12 of "due 2026-04-12".
std::string_view wholeNumber(std::string_view text, std::string_view number)
{
    static constexpr std::string_view kJoints = ".-/:_";
    const auto belongs = [](char c) {
        return (c >= '0' && c <= '9') || kJoints.find(c) != std::string_view::npos;
    };
    auto begin = static_cast<std::size_t>(number.data() - text.data());
    std::size_t end = begin + number.size();
    while (begin > 0 && belongs(text[begin - 1])) {
        --begin;
    }
    while (end < text.size() && belongs(text[end])) {
        ++end;
    }
    std::string_view whole = text.substr(begin, end - begin);
    while (!whole.empty() && kJoints.find(whole.front()) != std::string_view::npos) {
        whole.remove_prefix(1);
    }
    while (!whole.empty() && kJoints.find(whole.back()) != std::string_view::npos) {
        whole.remove_suffix(1);
    }
    return whole;
}

NumberKind kindOf(std::string_view number)
{
    constexpr std::size_t kYearDigits = 4;
    const std::size_t joint = number.find_first_not_of("0123456789");
    if (joint == std::string_view::npos) {
        return NumberKind::count;
    }
    const bool beginsWithYear = joint == kYearDigits && (number[0] == '1' || number[0] == '2');
    const std::size_t last = number.find_last_not_of("0123456789");
    if (beginsWithYear && last != joint && number[joint] != ':') {
        return NumberKind::date;
    }
    return number.find_first_not_of("0123456789.") == std::string_view::npos ? NumberKind::version
                                                                             : NumberKind::count;
}
}  // namespace

std::optional<std::string> greaterText(const RegionTexts& texts)
{
    const auto deciding = decidingNumbers(texts);
    if (!deciding) {
        return std::nullopt;
    }
    return std::string(deciding->isOursGreater() ? texts.ours : texts.theirs);
}

std::optional<GreaterNumber> greaterNumber(const RegionTexts& texts)
{
    const auto deciding = decidingNumbers(texts);
    if (!deciding) {
        return std::nullopt;
    }
    const bool isOurs = deciding->isOursGreater();
    const std::string_view number =
        wholeNumber(isOurs ? texts.ours : texts.theirs, isOurs ? deciding->ours : deciding->theirs);
    return GreaterNumber{std::string(number), kindOf(number), isOurs};
}
}  // namespace rope
