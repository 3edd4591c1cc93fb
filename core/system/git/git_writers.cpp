// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_recorder.cpp.
#include "core/system/git/git_writers.h"

#include "core/base/process_tree.h"

#include <filesystem>
#include <fstream>

namespace rope {
namespace {
/// `/proc/ID/cmdline`: arguments, each with a NUL behind it. The second one is git's command.
bool isReader(pid_t id)
{
    std::ifstream file(std::filesystem::path("/proc") / std::to_string(id) / "cmdline");
    std::string program;
    std::string command;
    std::getline(file, program, '\0');
    std::getline(file, command, '\0');
    return command == "cat-file" || command == "rev-list" || command == "mktree";
}
}  // namespace

bool gitWritesIn(const std::string& folder, const std::string& otherFolder)
{
    const auto lies = [](const std::string& path, const std::string& in) {
        return path == in || path.starts_with(in + "/");
    };
    for (const RunningProcess& process : runningProcesses()) {
        if (process.name != "git" || isReader(process.id)) {
            continue;
        }
        std::error_code error;
        const auto place = std::filesystem::read_symlink(
            std::filesystem::path("/proc") / std::to_string(process.id) / "cwd", error);
        if (!error && (lies(place.string(), folder) || lies(place.string(), otherFolder))) {
            return true;
        }
    }
    return false;
}
}  // namespace rope
