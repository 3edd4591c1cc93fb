// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_papers.cpp.
#include "desktop/command/command_texts.h"

#include "core/base/assert.h"

#include <algorithm>
#include <array>

namespace rope {
namespace {
CommandText ofProgram()
{
    return {"",
            {"Without a command the window opens, on the repository around the folder if one is "
             "given. The commands need no display, except resolve.",
             "The window shows where two diverged branches stand, what merging them would give and "
             "which files conflict. Conflicts are decided region by region; nothing changes in a "
             "branch, a file or a remote before you record."},
            {"0: it merges cleanly.",
             "1: something must be decided.",
             "2: an error, with a sentence on standard error."},
            {{"rope-splice ~/src/project", "opens a repository in the window"},
             {"rope-splice forecast HEAD origin/main", "would origin/main merge cleanly?"},
             {"rope-splice demo", "makes repositories to try it with"}}};
}

CommandText ofForecast()
{
    return {
        "forecast",
        {"Merges in memory and tells the outcome: nothing is checked out, and nothing changes. "
         "Several branches are forecast in one process, in the order in which they are given.",
         "Filters and merge programs that the repository's own configuration names are left out "
         "and named unless they are allowed; those of your own configuration run."},
        {"0: it merges cleanly.",
         "1: something must be decided.",
         "2: an error. With several branches the highest."},
        {{"rope-splice forecast HEAD origin/main", "what a merge would give"},
         {"rope-splice forecast main origin/login origin/search", "two branches, one by one"},
         {"rope-splice forecast --json HEAD origin/main", "the same for scripts"}}};
}

CommandText ofCollisions()
{
    return {"collisions",
            {"Merges every pair in memory and tells which conflict, most regions first. Nothing "
             "changes. Without branches all that the remotes have are taken."},
            {"0: all pairs merge cleanly.", "1: some conflict.", "2: an error."},
            {{"rope-splice collisions", "all shared branches"},
             {"rope-splice collisions origin/login origin/search", "these two"}}};
}

CommandText ofMerge()
{
    return {
        "merge",
        {"Merges into the branch that is checked out, and prints the id of the merge commit. "
         "Where something must be decided it lists what, and changes nothing; the window is for "
         "deciding. Files that are not committed stay as they are.",
         "Where the branch has no commits of its own it moves on (fast-forward) unless --commit "
         "is given. The earlier name join goes on working."},
        {"0: merged and recorded, or there was nothing to merge.",
         "1: something must be decided; nothing was changed.",
         "2: an error; nothing was changed."},
        {{"rope-splice merge origin/main", "merges it, if there is no conflict"},
         {"rope-splice merge -m 'Merge the new fees' origin/fees", "with a message of yours"}}};
}

CommandText ofAudit()
{
    return {
        "audit",
        {"Merges the parents of each merge commit again and compares: lines and files that come "
         "from neither side, changes that are gone, files taken whole from one side, conflict "
         "markers. Nothing changes."},
        {"0: every merge is explained by its sides.",
         "1: something odd was found.",
         "2: an error."},
        {{"rope-splice audit v1.0..main", "all merges since v1.0"},
         {"rope-splice audit --json", "HEAD's history, for scripts"}}};
}

CommandText ofMergeFile()
{
    return {
        "merge-file",
        {"Prints the merged text. Where both sides changed the same lines, markers stand around "
         "ours, the base and theirs. --json prints regions and their candidates instead."},
        {"0: it merges cleanly.", "1: there are conflicts.", "2: an error."},
        {{"rope-splice merge-file base.txt ours.txt theirs.txt", "prints the result"},
         {"rope-splice merge-file -o ours.txt base.txt ours.txt theirs.txt",
          "writes it over ours"}}};
}

CommandText ofResolve()
{
    return {
        "resolve",
        {"Opens a window on one file. It needs a display. An empty or missing base means that "
         "both sides have added the file."},
        {"0: the result was saved with nothing open.", "1: it was closed before.", "2: an error."},
        {{"rope-splice resolve base.txt ours.txt theirs.txt merged.txt",
          "decides the conflicts of a file"}}};
}

CommandText ofSetupGit()
{
    return {
        "setup-git",
        {"Writes the configuration by which git calls this program, and prints each line of it. "
         "For git-mergetool(1):",
         " [merge]\n"
         "     tool = rope-splice\n"
         " [mergetool \"rope-splice\"]\n"
         "     cmd = rope-splice resolve --labels base local remote -- \\\"$BASE\\\" "
         "\\\"$LOCAL\\\" \\\"$REMOTE\\\" \\\"$MERGED\\\"\n"
         "     trustExitCode = true",
         "With --driver also for every file that git merges (gitattributes(5)), with the line "
         "'* merge=rope-splice' in the file of attributes:",
         " [merge \"rope-splice\"]\n"
         "     name = Rope Splice joins the file\n"
         "     driver = rope-splice merge-file -o %A --marker-size %L --labels base ours theirs "
         "-- %O %A %B"},
        {"0: written, or removed.", "2: an error."},
        {{"rope-splice setup-git --global", "for all repositories of yours"},
         {"rope-splice setup-git --global --undo", "removes it"}}};
}

CommandText ofDemo()
{
    return {
        "demo",
        {"Makes the repositories of a made-up team, says where they are, and opens the window on "
         "yours unless there is no display. The folder must not exist, or be empty. It needs "
         "git, and no network. The program teammate-push in that folder plays a teammate who "
         "pushes meanwhile."},
        {"0: made.", "2: an error."},
        {{"rope-splice demo", "a new folder below ~/.local/share/rope-splice"},
         {"rope-splice demo --no-window ~/try-it", "only makes them, there"}}};
}
}  // namespace

const CommandText& textOf(std::string_view name)
{
    static const std::array texts{ofProgram(),
                                  ofForecast(),
                                  ofCollisions(),
                                  ofMerge(),
                                  ofAudit(),
                                  ofMergeFile(),
                                  ofResolve(),
                                  ofSetupGit(),
                                  ofDemo()};
    const auto found = std::find_if(
        texts.begin(), texts.end(), [&](const CommandText& text) { return text.name == name; });
    ROPE_ASSERT(found != texts.end(), "every command has a text");
    return *found;
}

std::string footerOf(std::string_view name)
{
    const CommandText& text = textOf(name);
    std::string footer = "\nExit codes:\n";
    for (const char* const code : text.exitCodes) {
        footer += "  " + std::string(code) + "\n";
    }
    footer += "\nExamples:\n";
    for (const CommandText::Example& example : text.examples) {
        footer += "  " + std::string(example.line) + "\n      " + example.meaning + "\n";
    }
    if (name.empty()) {
        footer += "\nrope-splice COMMAND --help tells more of a command.\n";
    }
    return footer;
}
}  // namespace rope
