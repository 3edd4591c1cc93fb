// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace rope {
inline constexpr const char* kVersion = "0.1.0";

/// What help and manual pages say of a command besides its options. Plain text in English.
struct CommandText
{
    struct Example
    {
        const char* line;
        const char* meaning;
    };
    const char* name;  ///< Of the command; empty: of the program itself.
    std::vector<const char*>
        about;  ///< Paragraphs; a line that begins with a blank stands as it is.
    std::vector<const char*> exitCodes;  ///< A line each.
    std::vector<Example> examples;
};

/// REQUIRES: name is a command, or empty
[[nodiscard]] const CommandText& textOf(std::string_view name);

/// What stands below the options in --help: exit codes and examples.
[[nodiscard]] std::string footerOf(std::string_view name);
}  // namespace rope
