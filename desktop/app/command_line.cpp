// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "desktop/app/command_line.h"

#include "desktop/app/collisions_command.h"
#include "desktop/app/forecast_command.h"
#include "desktop/app/join_command.h"
#include "desktop/app/merge_file_command.h"

#include <CLI/CLI.hpp>
#include <cstdio>
#include <filesystem>
#include <unistd.h>

namespace rope {
namespace {
constexpr const char* kWindowProgram = "rope-splice-window";

/// Becomes the window. Returns only when that failed.
int startWindow(const std::vector<std::string>& arguments)
{
    std::error_code error;
    const std::filesystem::path own = std::filesystem::read_symlink("/proc/self/exe", error);
    const std::string beside = (own.parent_path() / kWindowProgram).string();
    const std::string installed =
        (own.parent_path().parent_path() / "libexec" / kWindowProgram).string();
    for (const std::string& program : {beside, installed}) {
        std::vector<char*> argv{const_cast<char*>(program.c_str())};
        for (const std::string& argument : arguments) {
            argv.push_back(const_cast<char*>(argument.c_str()));
        }
        argv.push_back(nullptr);
        ::execv(program.c_str(), argv.data());
    }
    std::fprintf(stderr,
                 "rope-splice: %s is missing beside this program. Build or install it again.\n",
                 kWindowProgram);
    return kExitError;
}
}  // namespace

int runCommandLine(int argc, char** argv)
{
    CLI::App app("Joins diverged branches three-way. Without a subcommand it opens the window.",
                 "rope-splice");
    app.set_version_flag("--version", "rope-splice 0.1.0");
    std::string path;
    std::string theme;
    std::string demo;
    app.add_option("--demo", demo, "the demo's folder: adds a menu to play the teammate");
    app.add_option("path", path, "the repository to open in the window");
    app.add_option("--theme", theme, "look of the window: light or dark; else the desktop's")
        ->check(CLI::IsMember({"light", "dark"}));

    ForecastRequest forecast;
    CLI::App* forecastApp =
        app.add_subcommand("forecast", "what joining THEIRS into OURS would give; touches nothing");
    forecastApp->add_option("--repo", forecast.folder, "the repository; else the current folder");
    forecastApp->add_flag("--json", forecast.asJson, "print JSON");
    forecastApp->add_flag("--write-tree", forecast.writesTree, "write the joined tree when clean");
    forecastApp->add_option("ours", forecast.ours, "branch or commit")->required();
    forecastApp->add_option("theirs", forecast.theirs, "branches or commits")->required();
    forecastApp->add_flag("--allow-programs",
                          forecast.allowsPrograms,
                          "run filters and merge programs that the repository itself names");
    forecastApp->add_flag(
        "--unrelated", forecast.joinsUnrelated, "join histories without a common commit");

    CollisionsRequest collisions;
    CLI::App* collisionsApp = app.add_subcommand(
        "collisions", "what joining each branch with each other would give; touches nothing");
    collisionsApp->add_option(
        "--repo", collisions.folder, "the repository; else the current folder");
    collisionsApp->add_flag("--json", collisions.asJson, "print JSON");
    collisionsApp->add_option(
        "branches", collisions.branches, "branches or commits; else all shared branches");

    JoinRequest join;
    CLI::App* joinApp = app.add_subcommand(
        "join", "join THEIRS into the current branch and record it, if nothing must be decided");
    joinApp->add_option("--repo", join.folder, "the repository; else the current folder");
    joinApp->add_option("-m", join.message, "the commit message; else a proposed one");
    joinApp->add_flag("--commit",
                      join.commitsFastForward,
                      "record a commit even where the branch could just move on");
    joinApp->add_flag("--allow-programs",
                      join.allowsPrograms,
                      "run merge programs that the repository itself names");
    joinApp->add_flag("--unrelated", join.joinsUnrelated, "join histories without a common commit");
    joinApp->add_option("theirs", join.theirs, "branch or commit")->required();

    MergeFileRequest mergeFile;
    CLI::App* mergeFileApp = app.add_subcommand(
        "merge-file", "join three files; prints the result, with markers where needed");
    mergeFileApp->add_flag("--json", mergeFile.asJson, "print JSON with regions and candidates");
    mergeFileApp->add_option("-o", mergeFile.output, "write the result to this file instead");
    mergeFileApp->add_option("base", mergeFile.base)->required();
    mergeFileApp->add_option("ours", mergeFile.ours)->required();
    mergeFileApp->add_option("theirs", mergeFile.theirs)->required();

    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        const int code = app.exit(error);
        return code == 0 ? kExitClean : kExitError;
    }
    if (*forecastApp) {
        return runForecast(forecast);
    }
    if (*collisionsApp) {
        return runCollisions(collisions);
    }
    if (*joinApp) {
        return runJoin(join);
    }
    if (*mergeFileApp) {
        return runMergeFile(mergeFile);
    }
    std::vector<std::string> arguments;
    if (!theme.empty()) {
        arguments.insert(arguments.end(), {"--theme", theme});
    }
    if (!demo.empty()) {
        arguments.insert(arguments.end(), {"--demo", demo});
    }
    if (!path.empty()) {
        arguments.insert(arguments.end(), {"--", path});
    }
    return startWindow(arguments);
}
}  // namespace rope
