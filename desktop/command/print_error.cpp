// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "desktop/command/print_error.h"

#include "desktop/command/terminal_text.h"
#include "desktop/wording/describe_error.h"

namespace rope {
int printError(const Error& error)
{
    const int code = printSentence(describeInLine(error).toStdString());
    if (!error.detail.empty()) {
        printComplaint(error.detail + "\n");
    }
    return code;
}
}  // namespace rope
