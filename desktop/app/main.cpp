// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/command_line.h"

int main(int argc, char** argv)
{
    return rope::runCommandLine(argc, argv);
}
