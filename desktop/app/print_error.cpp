// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "desktop/app/print_error.h"

#include "desktop/app/command_line.h"
#include "desktop/wording/describe_error.h"

#include <cstdio>

namespace rope {
int printError(const Error& error)
{
    std::fprintf(stderr, "rope-splice: %s\n", qPrintable(describeInLine(error)));
    if (!error.detail.empty()) {
        std::fprintf(stderr, "%s\n", error.detail.c_str());
    }
    return kExitError;
}
}  // namespace rope
