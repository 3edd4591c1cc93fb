// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_piped_process.cpp, tst_recorder.cpp and tst_trial.cpp.
#include "core/base/process_tree.h"

#include <algorithm>
#include <cctype>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <filesystem>
#include <fstream>
#include <thread>
#include <vector>

namespace rope {
namespace {
enum class Life { running, ended, notTold };

/// `/proc/ID/stat`: id, name in parentheses, state, parent. A zombie has ended.
Life readStat(const std::filesystem::path& folder, RunningProcess& process)
{
    std::ifstream file(folder / "stat");
    std::string line;
    if (!std::getline(file, line)) {
        return Life::notTold;
    }
    const std::size_t open = line.find('(');
    const std::size_t close = line.rfind(')');
    if (open == std::string::npos || close == std::string::npos || close + 4 >= line.size()) {
        return Life::notTold;
    }
    process.name = line.substr(open + 1, close - open - 1);
    process.parent = static_cast<pid_t>(std::strtol(line.c_str() + close + 4, nullptr, 10));
    return line[close + 2] == 'Z' || line[close + 2] == 'X' ? Life::ended : Life::running;
}
}  // namespace

bool isRunning(pid_t id)
{
    if (id <= 0 || (::kill(id, 0) != 0 && errno == ESRCH)) {
        return false;
    }
    RunningProcess process;
    return readStat(std::filesystem::path("/proc") / std::to_string(id), process) != Life::ended;
}

std::vector<RunningProcess> runningProcesses()
{
    std::vector<RunningProcess> processes;
    std::error_code error;
    for (const auto& entry : std::filesystem::directory_iterator("/proc", error)) {
        const std::string name = entry.path().filename().string();
        RunningProcess process;
        if (std::all_of(name.begin(), name.end(), [](unsigned char c) { return std::isdigit(c); })
            && readStat(entry.path(), process) == Life::running) {
            process.id = static_cast<pid_t>(std::strtol(name.c_str(), nullptr, 10));
            processes.push_back(std::move(process));
        }
    }
    return processes;
}

std::vector<pid_t> withDescendants(pid_t root)
{
    const auto processes = runningProcesses();
    std::vector<pid_t> found{root};
    for (std::size_t i = 0; i < found.size(); ++i) {
        for (const RunningProcess& process : processes) {
            if (process.parent == found[i]) {
                found.push_back(process.id);
            }
        }
    }
    return found;
}

void endProcessTree(pid_t root, int graceMs)
{
    const std::vector<pid_t> all = withDescendants(root);
    for (const pid_t id : all) {
        ::kill(id, SIGTERM);
    }
    using Clock = std::chrono::steady_clock;
    const auto end = Clock::now() + std::chrono::milliseconds(graceMs);
    while (Clock::now() < end && std::any_of(all.begin(), all.end(), isRunning)) {
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
    }
    for (const pid_t id : all) {
        if (isRunning(id)) {
            for (const pid_t left : withDescendants(id)) {
                ::kill(left, SIGKILL);
            }
        }
    }
}
}  // namespace rope
