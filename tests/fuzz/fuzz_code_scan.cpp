// SPDX-License-Identifier: GPL-3.0-or-later
// Files of a repository as code: any bytes in any language give words and brackets that stand in the text.
#include "core/findings/code_scan.h"
#include "tests/fuzz/three_versions.h"

#include <algorithm>

using namespace rope;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    if (size == 0) {
        return 0;
    }
    const std::string_view text(reinterpret_cast<const char*>(data) + 1, size - 1);
    const auto language = static_cast<Language>(data[0] % (static_cast<int>(Language::html) + 1));
    const CodeScan scan = scanCode(text, language);
    const auto lineCount = std::count(text.begin(), text.end(), '\n') + 1;
    for (const CodeWord& word : scan.words) {
        fuzz::require(text.substr(word.position, word.text.size()) == word.text,
                      "a word stands there");
        fuzz::require(static_cast<std::ptrdiff_t>(word.line) < lineCount,
                      "its line is one of the text's");
    }
    for (const LooseBracket& bracket : scan.looseBrackets) {
        fuzz::require(text[bracket.position] == bracket.sign, "a bracket stands there");
    }
    fuzz::require(scan.looseBrackets.size() <= kMostLoose, "not too many brackets");
    return 0;
}
