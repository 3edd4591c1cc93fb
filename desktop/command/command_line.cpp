// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "desktop/command/command_line.h"

#include "desktop/command/audit_command.h"
#include "desktop/command/collisions_command.h"
#include "desktop/command/demo_command.h"
#include "desktop/command/exit_codes.h"
#include "desktop/command/forecast_command.h"
#include "desktop/command/join_command.h"
#include "desktop/command/merge_file_command.h"
#include "desktop/command/out_of_memory.h"
#include "desktop/command/setup_git_command.h"

#include <CLI/CLI.hpp>
#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <numeric>
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
    CLI::App* command = app.add_subcommand(
        "forecast", "show what merging THEIRS into OURS would give; changes nothing");
    command->add_option("--repo", request.folder, "the repository; else the current folder");
    command->add_flag("--json", request.asJson, "print JSON");
    command->add_flag("--write-tree", request.writesTree, "write the merged tree when it is clean");
    command->add_option("ours", request.ours, "branch or commit")->required();
    command->add_option("theirs", request.theirs, "branches or commits")->required();
    command->add_flag("--allow-programs",
                      request.allowsPrograms,
                      "run filters and merge programs that the repository itself names");
    command->add_flag(
        "--unrelated", request.joinsUnrelated, "merge histories without a common commit");
    return command;
}

CLI::App* addCollisions(CLI::App& app, CollisionsRequest& request)
{
    CLI::App* command = app.add_subcommand(
        "collisions", "show what merging each branch with each other would give; changes nothing");
    command->add_option("--repo", request.folder, "the repository; else the current folder");
    command->add_flag("--json", request.asJson, "print JSON");
    command->add_option(
        "branches", request.branches, "branches or commits; else all shared branches");
    return command;
}

CLI::App* addJoin(CLI::App& app, JoinRequest& request)
{
    CLI::App* command = app.add_subcommand(
        "merge", "merge THEIRS into the current branch and record it, if there is no conflict");
    command->add_option("--repo", request.folder, "the repository; else the current folder");
    command->alias("join");
    command->add_option("-m", request.message, "the commit message; else a proposed one")
        ->check([](const std::string& message) {
            return message.find_first_not_of(" \t\n") == std::string::npos
                       ? std::string("The message is empty.")
                       : std::string();
        });
    command->add_flag("--commit",
                      request.commitsFastForward,
                      "record a commit even where the branch could just move on");
    command->add_flag("--allow-programs",
                      request.allowsPrograms,
                      "run merge programs that the repository itself names");
    command->add_flag(
        "--unrelated", request.joinsUnrelated, "merge histories without a common commit");
    command->add_option("theirs", request.theirs, "branch or commit")->required();
    return command;
}

CLI::App* addAudit(CLI::App& app, AuditRequest& request)
{
    CLI::App* command = app.add_subcommand(
        "audit", "read recorded merges again and show what neither side explains");
    command->add_option("--repo", request.folder, "the repository; else the current folder");
    command->add_flag("--json", request.asJson, "print JSON, with how each region was decided");
    command->add_option("range", request.range, "A..B, or a branch or commit; else HEAD's history");
    return command;
}

CLI::App* addMergeFile(CLI::App& app, MergeFileRequest& request)
{
    CLI::App* command = app.add_subcommand(
        "merge-file", "merge three files; prints the result, with markers where they conflict");
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
        "--driver", request.hasDriver, "let git use merge-file for every file it merges");
    command->add_flag("--undo", request.undoes, "remove what was written");
    return command;
}

CLI::App* addDemo(CLI::App& app, DemoRequest& request, bool& staysClosed)
{
    CLI::App* command = app.add_subcommand(
        "demo", "make repositories of a made-up team to try it with, and open the window on them");
    command->add_flag("--no-window", staysClosed, "only make them");
    command->add_option("folder", request.folder, "where; else a new folder among your data");
    return command;
}

/// Whether a window can be shown.
bool hasDisplay()
{
    for (const char* name : {"DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"}) {
        if (const char* const value = std::getenv(name); value != nullptr && *value != '\0') {
            return true;
        }
    }
    return false;
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

/// The window on a repository, or on its start page.
std::vector<std::string>
windowArguments(const std::string& theme, const std::string& demo, const std::string& path)
{
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
    return arguments;
}

/// How many letters must be put in, taken out or changed to make one word of another (Levenshtein).
std::size_t slipsBetween(const std::string& from, const std::string& to)
{
    std::vector<std::size_t> row(to.size() + 1);
    std::iota(row.begin(), row.end(), std::size_t{0});
    for (std::size_t i = 0; i < from.size(); ++i) {
        std::size_t diagonal = row[0];
        row[0] = i + 1;
        for (std::size_t j = 0; j < to.size(); ++j) {
            const std::size_t changed = diagonal + (from[i] == to[j] ? 0 : 1);
            diagonal = row[j + 1];
            row[j + 1] = std::min({changed, row[j] + 1, row[j + 1] + 1});
        }
    }
    return row[to.size()];
}

/// The command that somebody has probably meant, where a word is no command and no folder; else empty.
std::string meantCommand(const CLI::App& app, const std::string& word)
{
    constexpr std::size_t kMostSlips = 2;
    std::error_code error;
    if (word.starts_with('-') || word.find('/') != std::string::npos
        || std::filesystem::exists(word, error)) {
        return {};
    }
    std::string meant;
    std::size_t least = kMostSlips + 1;
    for (const CLI::App* command : app.get_subcommands({})) {
        const std::size_t slips = slipsBetween(word, command->get_name());
        if (slips < least) {
            least = slips;
            meant = command->get_name();
        }
    }
    return meant;
}
}  // namespace

int runCommandLine(int argc, char** argv)
{
    endWhenMemoryIsFull();
    CLI::App app("Merges diverged branches three-way. Without a command it opens the window.",
                 "rope-splice");
    app.set_version_flag("--version", "rope-splice 0.1.0");
    std::string path;
    std::string theme;
    std::string demo;
    app.add_option("--demo", demo, "the demo's folder: adds a menu to play the teammate");
    app.add_option("path", path, "the repository to open in the window");
    app.add_option("--theme", theme, "look of the window: light, dark or contrast; else as preferred")
        ->check(CLI::IsMember({"light", "dark", "contrast"}));

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

    DemoRequest demoFolder;
    bool staysClosed = false;
    const CLI::App* demoApp = addDemo(app, demoFolder, staysClosed);

    try {
        if (argc > 1) {
            if (const std::string meant = meantCommand(app, argv[1]);
                !meant.empty() && meant != argv[1] && std::string("join") != argv[1]) {
                std::fprintf(stderr,
                             "rope-splice: There is no command %s. Did you mean %s? "
                             "rope-splice --help lists all commands.\n",
                             argv[1],
                             meant.c_str());
                return kExitError;
            }
        }
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
    if (*demoApp) {
        const int code = runDemo(demoFolder);
        return code != kExitClean || staysClosed || !hasDisplay()
                   ? code
                   : startWindow(
                         {"--demo", demoFolder.folder, "--", demoFolder.folder + "/slackwater"});
    }
    if (*resolveApp) {
        return startWindow(windowArguments(resolve));
    }
    return startWindow(windowArguments(theme, demo, path));
}
}  // namespace rope
