// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_text.cpp.
#include "core/text/tidied_message.h"

#include "core/text/text.h"

namespace rope {
std::string tidiedMessage(const std::string& message, const std::string& commentStart)
{
    std::string tidy;
    bool hasGap = false;
    for (std::string_view line : splitLines(message)) {
        if (!commentStart.empty() && line.starts_with(commentStart)) {
            continue;
        }
        const std::size_t last = line.find_last_not_of(" \t\r\n");
        if (last == std::string_view::npos) {
            hasGap = true;
            continue;
        }
        if (hasGap && !tidy.empty()) {
            tidy += '\n';
        }
        hasGap = false;
        tidy.append(line.substr(0, last + 1)).append(1, '\n');
    }
    return tidy;
}
}  // namespace rope
