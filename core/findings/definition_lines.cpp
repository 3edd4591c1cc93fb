// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_code_scan.cpp.
#include "core/findings/definition_lines.h"

#include "core/findings/file_view.h"
#include "core/text/text.h"
#include "core/text/words.h"

#include <algorithm>
#include <array>

namespace rope {
namespace {
bool hasAny(std::string_view content, std::initializer_list<std::string_view> words)
{
    return std::any_of(words.begin(), words.end(), [content](std::string_view word) {
        return content.find(word) != std::string_view::npos;
    });
}

/// Type and name before the bracket, or a name at the beginning of the line: a call stands indented alone.
bool mayDefineInC(std::string_view line, std::string_view content)
{
    constexpr std::array<std::string_view, 8> kStatements{
        "return", "if", "while", "for", "else", "switch", "case", "throw"};
    if (hasAny(content, {"class ", "struct ", "enum ", "interface ", "record ", "#define "})) {
        return true;
    }
    const std::size_t open = content.find('(');
    if (open == std::string_view::npos || content.ends_with(';') || content.front() == '#'
        || content.find('=') < open) {
        return false;
    }
    std::size_t words = 0;
    for (const std::string_view word : splitWords(content.substr(0, open))) {
        if (words == 0
            && std::find(kStatements.begin(), kStatements.end(), word) != kStatements.end()) {
            return false;
        }
        words += isName(word) ? 1U : 0U;
    }
    return words >= 2 || (words == 1 && line.front() != ' ' && line.front() != '\t');
}
}  // namespace

bool mayDefine(std::string_view line, Language language)
{
    const std::string_view content = trimmed(line);
    if (content.empty()) {
        return false;
    }
    switch (language) {
    case Language::python:
        return hasAny(content, {"def ", "class "});
    case Language::go:
        return hasAny(content, {"func ", "type "});
    case Language::rust:
        return hasAny(content, {"fn ", "struct ", "enum ", "trait ", "type ", "mod "});
    case Language::hash:
    case Language::lua:
        return hasAny(content, {"def ", "sub ", "function", "class ", "module ", "macro", "="});
    case Language::shell:
        return hasAny(content, {"function ", "()", "="});
    case Language::script:
        return hasAny(content, {"function", "class ", "=>", "interface ", "type "})
               || content.ends_with('{');
    case Language::c:
        return mayDefineInC(line, content);
    default:
        return false;
    }
}
}  // namespace rope
