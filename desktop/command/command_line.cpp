// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "desktop/command/command_line.h"

#include "desktop/command/audit_command.h"
#include "desktop/command/collisions_command.h"
#include "desktop/command/exit_codes.h"
#include "desktop/command/forecast_command.h"
#include "desktop/command/join_command.h"
#include "desktop/command/merge_file_command.h"
#include "desktop/command/out_of_memory.h"
#include "desktop/command/setup_git_command.h"

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

CLI::App* addForecast(CLI::App& app, ForecastRequest& request)
{
    CLI::App* command =
        app.add_subcommand("forecast", "what joining THEIRS into OURS would give; touches nothing");
    command->add_option("--repo", request.folder, "the repository; else the current folder");
    command->add_flag("--json", request.asJson, "print JSON");
    command->add_flag("--write-tree", request.writesTree, "write the joined tree when clean");
    command->add_option("ours", request.ours, "branch or commit")->required();
    command->add_option("theirs", request.theirs, "branches or commits")->required();
    command->add_flag("--allow-programs",
                      request.allowsPrograms,
                      "run filters and merge programs that the repository itself names");
    command->add_flag(
        "--unrelated", request.joinsUnrelated, "join histories without a common commit");
    return command;
}

CLI::App* addCollisions(CLI::App& app, CollisionsRequest& request)
{
    CLI::App* command = app.add_subcommand(
        "collisions", "what joining each branch with each other would give; touches nothing");
    command->add_option("--repo", request.folder, "the repository; else the current folder");
    command->add_flag("--json", request.asJson, "print JSON");
    command->add_option(
        "branches", request.branches, "branches or commits; else all shared branches");
    return command;
}

CLI::App* addJoin(CLI::App& app, JoinRequest& request)
{
    CLI::App* command = app.add_subcommand(
        "join", "join THEIRS into the current branch and record it, if nothing must be decided");
    command->add_option("--repo", request.folder, "the repository; else the current folder");
    command->add_option("-m", request.message, "the commit message; else a proposed one");
    command->add_flag("--commit",
                      request.commitsFastForward,
                      "record a commit even where the branch could just move on");
    command->add_flag("--allow-programs",
                      request.allowsPrograms,
                      "run merge programs that the repository itself names");
    command->add_flag(
        "--unrelated", request.joinsUnrelated, "join histories without a common commit");
    command->add_option("theirs", request.theirs, "branch or commit")->required();
    return command;
}

CLI::App* addAudit(CLI::App& app, AuditRequest& request)
{
    CLI::App* command = app.add_subcommand(
        "audit", "read recorded merges again, and tell what no join of their sides explains");
    command->add_option("--repo", request.folder, "the repository; else the current folder");
    command->add_flag("--json", request.asJson, "print JSON, with how each region was decided");
    command->add_option("range", request.range, "A..B, or a branch or commit; else HEAD's history");
    return command;
}

CLI::App* addMergeFile(CLI::App& app, MergeFileRequest& request)
{
    CLI::App* command = app.add_subcommand(
        "merge-file", "join three files; prints the result, with markers where needed");
    command->add_flag("--json", request.asJson, "print JSON with regions and candidates");
    command->add_option("-o", request.output, "write the result to this file instead");
    command->add_option("--labels", request.labels, "what stands behind the markers")->expected(3);
    command->add_option("--marker-size", request.markerSize, "how long markers are")
        ->check(CLI::Range(1, 1000));
    command->add_option("base", request.base)->required();
    command->add_option("ours", request.ours)->required();
    command->add_option("theirs", request.theirs)->required();
    return command;
}

struct ResolveRequest
{
    std::string base;
    std::string ours;
    std::string theirs;
    std::string result;
    std::vector<std::string> labels;
};

CLI::App* addResolve(CLI::App& app, ResolveRequest& request)
{
    CLI::App* command = app.add_subcommand(
        "resolve", "opens a window on one file; 0 once RESULT was saved with nothing open");
    command->add_option("--labels", request.labels, "what base, ours and theirs are called")
        ->expected(3);
    command->add_option("base", request.base, "empty or missing: both sides have added the file")
        ->required();
    command->add_option("ours", request.ours)->required();
    command->add_option("theirs", request.theirs)->required();
    command->add_option("result", request.result, "where the result is saved")->required();
    return command;
}

CLI::App* addSetupGit(CLI::App& app, SetupGitRequest& request)
{
    CLI::App* command = app.add_subcommand(
        "setup-git", "lets git call this program for files that clash, and shows what is written");
    command->add_flag("--global", request.isGlobal, "for all repositories of yours");
    command->add_flag("--local", request.isLocal, "for this repository alone, as without either");
    command->add_flag(
        "--driver", request.hasDriver, "let git join every file by merge-file whenever it merges");
    command->add_flag("--undo", request.undoes, "take out again what was written");
    return command;
}

/// The window on one file; options, since a path may begin like one.
std::vector<std::string> windowArguments(const ResolveRequest& request)
{
    std::vector<std::string> arguments{"--resolve-base=" + request.base,
                                       "--resolve-ours=" + request.ours,
                                       "--resolve-theirs=" + request.theirs,
                                       "--resolve-result=" + request.result};
    for (const std::string& label : request.labels) {
        arguments.push_back("--resolve-label=" + label);
    }
    return arguments;
}
}  // namespace

int runCommandLine(int argc, char** argv)
{
    endWhenMemoryIsFull();
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
    const CLI::App* forecastApp = addForecast(app, forecast);
    CollisionsRequest collisions;
    const CLI::App* collisionsApp = addCollisions(app, collisions);
    JoinRequest join;
    const CLI::App* joinApp = addJoin(app, join);
    AuditRequest audit;
    const CLI::App* auditApp = addAudit(app, audit);
    MergeFileRequest mergeFile;
    const CLI::App* mergeFileApp = addMergeFile(app, mergeFile);
    ResolveRequest resolve;
    const CLI::App* resolveApp = addResolve(app, resolve);
    SetupGitRequest setupGit;
    const CLI::App* setupGitApp = addSetupGit(app, setupGit);

    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        const int code = app.exit(error);
        return code == 0 ? kExitClean : kExitError;
    }
    if (*forecastApp) {
        runForecast(forecast);
    }
    if (*collisionsApp) {
        return runCollisions(collisions);
    }
    if (*joinApp) {
        return runJoin(join);
    }
    if (*auditApp) {
        return runAudit(audit);
    }
    if (*mergeFileApp) {
        return runMergeFile(mergeFile);
    }
    if (*setupGitApp) {
        return runSetupGit(setupGit);
    }
    if (*resolveApp) {
        return startWindow(windowArguments(resolve));
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
