// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/file_view.h"

#include <map>
#include <optional>
#include <string>

namespace rope {
/// What is wrong with a text that should have a known structure.
struct ParseFault
{
    LineNumber line = 0;
    std::string words;  ///< The parser's own, UTF-8, without a place.
};

/// A key with all it stands in: "season.winter.factor"; and where it stands for the second time.
using KeysTwice = std::map<std::string, LineNumber>;

struct StructuredReading
{
    std::optional<ParseFault> fault;
    KeysTwice twice;
};

/// Reads a text as what it is: JSON, TOML, YAML, XML, INI. Nothing for other languages.
/// TOML's own rules make a key that stands twice a fault. Threads: any.
[[nodiscard]] std::optional<StructuredReading> readStructured(std::string_view text,
                                                              Language language);

/// Finds a result that cannot be read as both sides can, and keys that stand twice in it alone.
void findBrokenStructure(const FileView& file, std::vector<Finding>& found);
}  // namespace rope
