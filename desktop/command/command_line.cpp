// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "desktop/command/command_line.h"

#include "desktop/command/command_tree.h"
#include "desktop/command/exit_codes.h"
#include "desktop/command/out_of_memory.h"

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
std::vector<std::string> windowArguments(const WindowRequest& request)
{
    std::vector<std::string> arguments;
    if (!request.theme.empty()) {
        arguments.insert(arguments.end(), {"--theme", request.theme});
    }
    if (!request.demo.empty()) {
        arguments.insert(arguments.end(), {"--demo", request.demo});
    }
    if (!request.path.empty()) {
        arguments.insert(arguments.end(), {"--", request.path});
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

int makeDemo(CommandTree& tree)
{
    DemoRequest& demo = tree.demo;
    const int code = runDemo(demo);
    return code != kExitClean || tree.demoStaysClosed || !hasDisplay()
               ? code
               : startWindow({"--demo", demo.folder, "--", demo.folder + "/slackwater"});
}

int runCalled(CommandTree& tree)
{
    if (tree.isCalled("forecast")) {
        runForecast(tree.forecast);
    }
    return tree.isCalled("collisions")   ? runCollisions(tree.collisions)
           : tree.isCalled("merge")      ? runJoin(tree.join)
           : tree.isCalled("audit")      ? runAudit(tree.audit)
           : tree.isCalled("merge-file") ? runMergeFile(tree.mergeFile)
           : tree.isCalled("setup-git")  ? runSetupGit(tree.setupGit)
           : tree.isCalled("demo")       ? makeDemo(tree)
           : tree.isCalled("resolve")    ? startWindow(windowArguments(tree.resolve))
                                         : startWindow(windowArguments(tree.window));
}
}  // namespace

int runCommandLine(int argc, char** argv)
{
    endWhenMemoryIsFull();
    CommandTree tree;
    try {
        if (argc > 1) {
            if (const std::string meant = meantCommand(tree.app, argv[1]);
                !meant.empty() && meant != argv[1] && std::string("join") != argv[1]) {
                std::fprintf(stderr,
                             "rope-splice: There is no command %s. Did you mean %s? "
                             "rope-splice --help lists all commands.\n",
                             argv[1],
                             meant.c_str());
                return kExitError;
            }
        }
        tree.app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        const int code = tree.app.exit(error);
        return code == 0 ? kExitClean : kExitError;
    }
    return runCalled(tree);
}
}  // namespace rope
