// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "desktop/command/demo_command.h"

#include "core/system/factory/lay_out_demo.h"
#include "desktop/command/exit_codes.h"
#include "desktop/command/print_error.h"
#include "desktop/command/terminal_text.h"

#include <filesystem>

namespace rope {
int runDemo(DemoRequest& request)
{
    if (request.folder.empty()) {
        request.folder = freshDemoFolder();
    }
    std::error_code error;
    const std::filesystem::path whole = std::filesystem::absolute(request.folder, error);
    request.folder = error ? request.folder : whole.string();
    if (const Status made = layOutDemo(request.folder, demoMaterials()); !made) {
        return printError(made.error());
    }
    printText("The demo is in " + request.folder + ".\n" + "Your repository: " + request.folder
              + "/slackwater\n" + "Let a teammate push meanwhile: " + request.folder
              + "/teammate-push\n");
    return exitOf(kExitClean);
}
}  // namespace rope
