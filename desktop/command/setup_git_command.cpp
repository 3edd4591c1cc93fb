// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "desktop/command/setup_git_command.h"

#include "core/system/factory/set_up_tool.h"
#include "desktop/command/exit_codes.h"
#include "desktop/command/print_error.h"
#include "desktop/command/terminal_text.h"

#include <cstdlib>
#include <filesystem>
#include <sstream>

namespace rope {
namespace {
/// The program's name alone where a shell finds this very program by it; else its whole path.
std::string ownProgram()
{
    std::error_code error;
    const std::filesystem::path own = std::filesystem::read_symlink("/proc/self/exe", error);
    const char* const path = std::getenv("PATH");
    std::istringstream folders(path == nullptr ? "" : path);
    for (std::string folder; std::getline(folders, folder, ':');) {
        const std::filesystem::path named = std::filesystem::path(folder) / "rope-splice";
        if (std::filesystem::exists(named, error)) {
            return std::filesystem::equivalent(named, own, error) ? "rope-splice" : own.string();
        }
    }
    return own.string();
}
}  // namespace

int runSetupGit(const SetupGitRequest& request)
{
    if (request.isGlobal && request.isLocal) {
        return printSentence("Say --global or --local, not both.");
    }
    const auto outcome = setUpTool(
        request.folder, {request.isGlobal, request.undoes, request.hasDriver, ownProgram()});
    if (!outcome) {
        return printError(outcome.error());
    }
    std::string file;
    for (const SetupLine& line : outcome->lines) {
        if (line.file != file) {
            file = line.file;
            printText("In " + file + ":\n");
        }
        printText((line.isRemoved ? "  - " : "  + ") + line.text + "\n");
    }
    if (outcome->lines.empty()) {
        printText(request.undoes ? "Nothing of this program was set up there.\n"
                                 : "All of it was set up already.\n");
    }
    if (!outcome->otherTool.empty() && !request.undoes) {
        printText("merge.tool stays " + outcome->otherTool
                  + ". Call this program by: git mergetool --tool=rope-splice\n");
    }
    return exitOf(kExitClean);
}
}  // namespace rope
