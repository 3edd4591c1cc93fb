// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/region_words.h"

#include <optional>
#include <string>

namespace rope {
/// Returns the three texts of a region joined word by word (words.h), or nothing where the edits of
/// the two sides touch each other even in words.
/// Measured on real cases the outcome is often what a person wants and often not: it may be
/// offered, never taken by itself.
[[nodiscard]] std::optional<std::string> spliceWords(const RegionWords& words);
/// The same; nothing where the texts are too large for words.
[[nodiscard]] std::optional<std::string> spliceWords(const RegionTexts& texts);
}  // namespace rope
