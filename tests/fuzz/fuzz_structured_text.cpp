// SPDX-License-Identifier: GPL-3.0-or-later
// Files of a repository as JSON, TOML, YAML, XML and INI: any bytes give a reading, and its places are in the
// text.
#include "core/findings/structured_text.h"
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
    if (const auto reading = readStructured(text, language)) {
        const auto lineCount = std::count(text.begin(), text.end(), '\n') + 1;
        for (const auto& [key, line] : reading->twice) {
            fuzz::require(static_cast<std::ptrdiff_t>(line) <= lineCount,
                          "a key's line is one of the text's");
        }
    }
    return 0;
}
