// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/command/command_line.h"

int main(int argc, char** argv)
{
    return rope::runCommandLine(argc, argv);
}
