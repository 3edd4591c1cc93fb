// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "desktop/command/join_warnings.h"

#include "core/findings/doubles.h"

namespace rope {
nlohmann::ordered_json warningsJson(const TextJoin& join)
{
    auto warnings = nlohmann::ordered_json::array();
    if (const auto twice = addedTwiceIn(join)) {
        warnings.push_back({{"kind", nameOf(twice->kind)},
                            {"line", twice->lines.begin + 1},
                            {"otherLine", twice->otherLine + 1},
                            {"lines", twice->count}});
    }
    return warnings;
}
}  // namespace rope
