// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_clone.cpp.
#include "core/system/git/git_clone.h"

#include "core/base/process_tree.h"
#include "core/system/git/git_progress.h"
#include "core/system/git/remote_answers.h"

#include <algorithm>
#include <cstdlib>
#include <filesystem>
#include <unistd.h>

namespace rope {
namespace {
namespace fs = std::filesystem;

GitRunOptions
optionsFor(const Asking& asking, const ProgressSink& progress, const std::stop_token& stop)
{
    GitRunOptions options;
    options.purpose = RunFor::acting;
    options.environment = environmentOf(asking);
    options.onErrorText = progressLinesTo(progress);
    options.stop = stop;
    return options;
}

/// How the folders begin in which copies for a target are made; the process follows.
std::string workshopPrefix(const fs::path& target)
{
    return "." + target.filename().string() + ".being-copied-";
}

/// Where a copy is made before it is put in its place: beside it, so that putting it there is one step.
fs::path workshopFor(const fs::path& target)
{
    return target.parent_path() / (workshopPrefix(target) + std::to_string(::getpid()));
}

/// Removes what copies for this target have left whose process was killed.
void removeLeftWorkshops(const fs::path& target)
{
    std::error_code error;
    std::vector<fs::path> left;
    const std::string prefix = workshopPrefix(target);
    for (const auto& entry : fs::directory_iterator(target.parent_path(), error)) {
        const std::string name = entry.path().filename().string();
        if (!name.starts_with(prefix)) {
            continue;
        }
        const int process = std::atoi(name.c_str() + prefix.size());
        if (process > 0 && (process == ::getpid() || !isRunning(process))) {
            left.push_back(entry.path());
        }
    }
    for (const fs::path& folder : left) {
        fs::remove_all(folder, error);
    }
}
}  // namespace

bool canBeAddress(const std::string& address)
{
    return !address.empty() && address.front() != '-'
           && std::none_of(address.begin(), address.end(), [](char c) {
                  return static_cast<unsigned char>(c) < ' ' || c == '\x7f';
              });
}

Result<RemoteLines>
askGitAddress(const std::string& address, const Asking& asking, const std::stop_token& stop)
{
    if (!canBeAddress(address)) {
        return Error{ErrorCode::invalidInput, address, {}, Reason::invalidAddress};
    }
    return askAddress(GitProcess("/"), address, optionsFor(asking, {}, stop));
}

Status cloneGit(const CopyRequest& request,
                const Asking& asking,
                const ProgressSink& progress,
                const std::stop_token& stop)
{
    if (!canBeAddress(request.address)) {
        return Error{ErrorCode::invalidInput, request.address, {}, Reason::invalidAddress};
    }
    std::error_code error;
    const fs::path target = fs::absolute(request.folder, error).lexically_normal();
    if (fs::exists(target, error)
        && !(fs::is_directory(target, error) && fs::is_empty(target, error))) {
        return Error{ErrorCode::invalidInput, target.string(), {}, Reason::targetExists};
    }
    fs::create_directories(target.parent_path(), error);
    if (error) {
        return Error{ErrorCode::io, target.parent_path().string(), error.message()};
    }
    const fs::path workshop = workshopFor(target);
    removeLeftWorkshops(target);
    std::vector<std::string> arguments{"clone", "--progress"};
    if (!request.branch.empty()) {
        arguments.insert(arguments.end(), {"--branch", request.branch});
    }
    arguments.insert(arguments.end(), {"--", request.address, workshop.string()});
    const auto cloned = GitProcess(target.parent_path().string())
                            .run(arguments, optionsFor(asking, progress, stop));
    const auto giveUp = [&](Error why) {
        fs::remove_all(workshop, error);
        return why;
    };
    if (!cloned) {
        return giveUp(cloned.error());
    }
    if (cloned->exitCode != 0) {
        return giveUp(remoteError(request.address, cloned->err));
    }
    fs::remove(target, error);  // an empty folder gives its place
    fs::rename(workshop, target, error);
    if (error) {
        return giveUp({ErrorCode::io, target.string(), error.message()});
    }
    return ok();
}
}  // namespace rope
