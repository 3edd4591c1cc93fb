// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/text_join.h"

#include <optional>
#include <string>

namespace rope {
/// What numbers that differ are, as far as their writing shows.
enum class NumberKind { count, version, date };

/// By what `greater` chooses between sides that differ in numbers alone: the number of the side that it takes,
/// where they first differ, with all that belongs to it (a whole version, a whole date). So 2.10 is newer than
/// 2.9, and 2026_04_12_083000 later than 2026_04_11_140000.
struct GreaterNumber
{
    std::string text;
    NumberKind kind = NumberKind::count;
    bool isOurs = false;
};
/// Nothing where the sides differ in anything else.
[[nodiscard]] std::optional<GreaterNumber> greaterNumber(const RegionTexts& texts);
/// The text of the side with the greater number.
[[nodiscard]] std::optional<std::string> greaterText(const RegionTexts& texts);
}  // namespace rope
