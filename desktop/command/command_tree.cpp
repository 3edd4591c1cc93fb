// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp, tst_command_papers.cpp.
#include "desktop/command/command_tree.h"

#include "desktop/command/command_texts.h"

namespace rope {
CommandTree::CommandTree()
    : app("Merges diverged branches three-way. Without a command it opens the window.",
          "rope-splice")
{
    app.set_version_flag(
        "-v,--version", "rope-splice " + std::string(kVersion), "print the version");
    app.set_help_flag("-h,--help", "print this help");
    app.footer(footerOf(""));
    app.add_option("--demo", window.demo, "the demo's folder: adds a menu to play the teammate")
        ->type_name(value_name::kFolder);
    app.add_option("--theme",
                   window.theme,
                   "look of the window: light, dark or contrast; else as preferred")
        ->type_name("LOOK")
        ->check(CLI::IsMember({"light", "dark", "contrast"}));
    app.add_option("path", window.path, "the repository to open in the window")
        ->type_name(value_name::kFolder);
    addForecast();
    addCollisions();
    addMerge();
    addAudit();
    addMergeFile();
    addResolve();
    addSetupGit();
    addDemo();
}

bool CommandTree::isCalled(const char* command) const
{
    return app.get_subcommand(command)->parsed();
}

CLI::App* CommandTree::add(const char* name, const char* purpose)
{
    CLI::App* const command = app.add_subcommand(name, purpose);
    command->footer(footerOf(name));
    return command;
}

void CommandTree::addRepository(CLI::App& command, std::string& folder)
{
    command.add_option("--repo", folder, "the repository; else the current folder")
        ->type_name(value_name::kFolder);
}

void CommandTree::addForecast()
{
    CLI::App* const command =
        add("forecast", "show what merging THEIRS into OURS would give; changes nothing");
    addRepository(*command, forecast.folder);
    command->add_flag("--json", forecast.asJson, "print JSON");
    command->add_flag(
        "--write-tree", forecast.writesTree, "write the merged tree when it is clean");
    command->add_option("ours", forecast.ours, "branch or commit")
        ->required()
        ->type_name(value_name::kBranch);
    command->add_option("theirs", forecast.theirs, "branches or commits")
        ->required()
        ->type_name(value_name::kBranch);
    command->add_flag("--allow-programs",
                      forecast.allowsPrograms,
                      "run filters and merge programs that the repository itself names");
    command->add_flag(
        "--unrelated", forecast.joinsUnrelated, "merge histories without a common commit");
}

void CommandTree::addCollisions()
{
    CLI::App* const command = add(
        "collisions", "show what merging each branch with each other would give; changes nothing");
    addRepository(*command, collisions.folder);
    command->add_flag("--json", collisions.asJson, "print JSON");
    command
        ->add_option(
            "branches", collisions.branches, "branches or commits; else all shared branches")
        ->type_name(value_name::kBranch);
}

void CommandTree::addMerge()
{
    CLI::App* const command =
        add("merge", "merge THEIRS into the current branch and record it, if there is no conflict");
    addRepository(*command, join.folder);
    command->alias("join");
    command->add_option("-m", join.message, "the commit message; else a proposed one")
        ->type_name("MESSAGE")
        ->check([](const std::string& message) {
            return message.find_first_not_of(" \t\n") == std::string::npos
                       ? std::string("The message is empty.")
                       : std::string();
        });
    command->add_flag("--commit",
                      join.commitsFastForward,
                      "record a commit even where the branch could just move on");
    command->add_flag("--allow-programs",
                      join.allowsPrograms,
                      "run merge programs that the repository itself names");
    command->add_flag(
        "--unrelated", join.joinsUnrelated, "merge histories without a common commit");
    command->add_option("theirs", join.theirs, "branch or commit")
        ->required()
        ->type_name(value_name::kBranch);
}

void CommandTree::addAudit()
{
    CLI::App* const command =
        add("audit", "read recorded merges again and show what neither side explains");
    addRepository(*command, audit.folder);
    command->add_flag("--json", audit.asJson, "print JSON, with how each region was decided");
    command->add_option("range", audit.range, "A..B, or a branch or commit; else HEAD's history")
        ->type_name(value_name::kBranch);
}

void CommandTree::addMergeFile()
{
    CLI::App* const command =
        add("merge-file", "merge three files; prints the result, with markers where they conflict");
    command->add_flag("--json", mergeFile.asJson, "print JSON with regions and candidates");
    command->add_option("-o", mergeFile.output, "write the result to this file instead")
        ->type_name(value_name::kFile);
    command->add_option("--labels", mergeFile.labels, "what stands behind the markers")
        ->expected(3)
        ->type_name("BASE OURS THEIRS");
    command->add_option("--marker-size", mergeFile.markerSize, "how long markers are")
        ->type_name("LETTERS")
        ->check(CLI::Range(1, 1000));
    const std::pair<const char*, std::string*> files[] = {
        {"base", &mergeFile.base}, {"ours", &mergeFile.ours}, {"theirs", &mergeFile.theirs}};
    for (const auto& [name, file] : files) {
        command->add_option(name, *file)->required()->type_name(value_name::kFile);
    }
}

void CommandTree::addResolve()
{
    CLI::App* const command =
        add("resolve", "open a window on one file; exits with 0 once RESULT was saved decided");
    command->add_option("--labels", resolve.labels, "what base, ours and theirs are called")
        ->expected(3)
        ->type_name("BASE OURS THEIRS");
    command->add_option("base", resolve.base, "empty or missing: both sides have added the file")
        ->required()
        ->type_name(value_name::kFile);
    command->add_option("ours", resolve.ours)->required()->type_name(value_name::kFile);
    command->add_option("theirs", resolve.theirs)->required()->type_name(value_name::kFile);
    command->add_option("result", resolve.result, "where the result is saved")
        ->required()
        ->type_name(value_name::kFile);
}

void CommandTree::addSetupGit()
{
    CLI::App* const command = add(
        "setup-git", "let git call this program for files that clash, and show what is written");
    command->add_flag("--global", setupGit.isGlobal, "for all repositories of yours");
    command->add_flag("--local", setupGit.isLocal, "for this repository alone, as without either");
    command->add_flag(
        "--driver", setupGit.hasDriver, "let git use merge-file for every file it merges");
    command->add_flag("--undo", setupGit.undoes, "remove what was written");
}

void CommandTree::addDemo()
{
    CLI::App* const command = add(
        "demo", "make repositories of a made-up team to try it with, and open the window on them");
    command->add_flag("--no-window", demoStaysClosed, "only make them");
    command->add_option("folder", demo.folder, "where; else a new folder among your data")
        ->type_name(value_name::kFolder);
}
}  // namespace rope
