// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "core/system/factory/lay_out_demo.h"

#include "core/system/git/git_demo.h"

#include <cstdlib>
#include <filesystem>

namespace rope {
Status layOutDemo(const std::string& folder, const std::string& materials)
{
    return layOutGitDemo(folder, materials);
}

std::string demoMaterials()
{
    std::error_code error;
    const std::filesystem::path own = std::filesystem::read_symlink("/proc/self/exe", error);
    // From bin and from libexec alike, and from the folder that it was built in.
    return (own.parent_path().parent_path() / "share/rope-splice/demo").string();
}

std::string freshDemoFolder()
{
    const char* const set = std::getenv("XDG_DATA_HOME");
    const char* const home = std::getenv("HOME");
    const std::filesystem::path data =
        set != nullptr && *set != '\0' ? std::filesystem::path(set)
                                       : std::filesystem::path(home == nullptr ? "." : home)
                                             / ".local/share";
    const std::filesystem::path first = data / "rope-splice/demo";
    std::filesystem::path folder = first;
    std::error_code error;
    for (int number = 2; std::filesystem::exists(folder, error); ++number) {
        folder = first.string() + "-" + std::to_string(number);
    }
    return folder.string();
}
}  // namespace rope
