// SPDX-License-Identifier: GPL-3.0-or-later
// Run by the build: writes the manual pages and the completions of all commands.
// Usage: rope-splice-write-papers FOLDER. Tested by tst_command_papers.cpp.
#include "desktop/command/command_tree.h"
#include "desktop/command/completion.h"
#include "desktop/command/manual_page.h"

#include <cstdio>
#include <filesystem>
#include <fstream>

namespace {
bool write(const std::filesystem::path& file, const std::string& text)
{
    std::ofstream stream(file, std::ios::binary);
    stream << text;
    stream.close();
    return stream.good();
}
}  // namespace

int main(int argc, char** argv)
{
    if (argc != 2) {
        std::fputs("usage: rope-splice-write-papers FOLDER\n", stderr);
        return 2;
    }
    const std::filesystem::path folder = argv[1];
    const rope::CommandTree tree;
    std::vector<const CLI::App*> pages{&tree.app};
    for (const CLI::App* const command : tree.app.get_subcommands({})) {
        pages.push_back(command);
    }
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    bool isWritten = !error;
    for (const CLI::App* const page : pages) {
        isWritten =
            isWritten && write(folder / (rope::manualName(*page) + ".1"), rope::manualPage(*page));
    }
    isWritten = isWritten && write(folder / "rope-splice.bash", rope::bashCompletion(tree.app))
                && write(folder / "_rope-splice", rope::zshCompletion(tree.app))
                && write(folder / "rope-splice.fish", rope::fishCompletion(tree.app));
    if (!isWritten) {
        std::fprintf(stderr, "rope-splice-write-papers: cannot write in %s\n", argv[1]);
        return 2;
    }
    return 0;
}
