// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "core/system/git/git_demo.h"

#include "core/system/git/git_process.h"

#include <filesystem>
#include <fstream>
#include <fcntl.h>
#include <sstream>
#include <sys/stat.h>

namespace rope {
namespace {
/// When your clone last heard of the remote: 8 November 2026, 09:00 UTC, as the scenario tells.
constexpr std::int64_t kLastFetched = 1'794'128'400;

class DemoMaker
{
public:
    DemoMaker(std::filesystem::path folder, std::filesystem::path materials)
        : m_folder(std::move(folder))
        , m_materials(std::move(materials))
    {
    }

    Status make()
    {
        TRY(makeShared());
        TRY(makeYours());
        TRY(makeTeammate());
        std::error_code error;
        std::filesystem::copy_file(
            m_materials / "teammate-push", m_folder / "teammate-push", error);
        return error ? Status(Error{ErrorCode::io, (m_folder / "teammate-push").string(),
                                    error.message()})
                     : ok();
    }

private:
    Status git(const char* where, const std::vector<std::string>& arguments, std::string_view input = {})
    {
        GitRunOptions options;
        options.purpose = RunFor::acting;
        options.input = input;
        options.settings = {{"core.autocrlf", "false"}, {"advice.detachedHead", "false"}};
        TRY_ASSIGN(const std::string out,
                   GitProcess((m_folder / where).string()).output(arguments, options));
        return ok();
    }

    Status makeShared()
    {
        TRY_ASSIGN(const std::string stream, readStream());
        TRY(git("", {"init", "-q", "--bare", "--initial-branch=main", "shared.git"}));
        return git("shared.git", {"fast-import", "--quiet"}, stream);
    }

    Result<std::string> readStream() const
    {
        const std::filesystem::path file = m_materials / "demo.stream";
        std::ifstream in(file, std::ios::binary);
        std::ostringstream bytes;
        bytes << in.rdbuf();
        if (!in || bytes.view().empty()) {
            return Error{ErrorCode::notFound, file.string(), {}, Reason::missingPart};
        }
        return std::move(bytes).str();
    }

    /// It has not heard of the newest commit yet, and its own are not all sent.
    Status makeYours()
    {
        TRY(git("", {"clone", "-q", "--no-checkout", "shared.git", "slackwater"}));
        TRY(git("slackwater", {"config", "user.name", "Maren Voss"}));
        TRY(git("slackwater", {"config", "user.email", "maren@slackwater.example"}));
        TRY(git("slackwater",
                {"fetch", "-q", "origin", "+refs/demo/*:refs/demo/*"}));
        TRY(git("slackwater", {"update-ref", "refs/remotes/origin/main", "refs/demo/seen"}));
        TRY(git("slackwater", {"update-ref", "refs/heads/main", "refs/demo/main"}));
        TRY(git("slackwater",
                {"switch", "-q", "--no-track", "-c", "tide-windows", "refs/demo/yours"}));
        TRY(git("slackwater", {"branch", "-q", "--set-upstream-to=origin/main"}));
        TRY(git("slackwater",
                {"restore", "--source=refs/demo/uncommitted", "--worktree", "--", "."}));
        for (const char* where : {"slackwater", "shared.git"}) {
            for (const char* name : {"yours", "seen", "main", "uncommitted"}) {
                TRY(git(where, {"update-ref", "-d", std::string("refs/demo/") + name}));
            }
        }
        for (const char* trace : {".git/FETCH_HEAD", ".git/refs/remotes/origin/HEAD"}) {
            const timespec times[2] = {{kLastFetched, 0}, {kLastFetched, 0}};
            (void)::utimensat(
                AT_FDCWD, (m_folder / "slackwater" / trace).c_str(), times, 0);  // a date to show
        }
        return ok();
    }

    Status makeTeammate()
    {
        TRY(git("", {"clone", "-q", "shared.git", "teammate"}));
        TRY(git("teammate", {"config", "user.name", "Were Otieno"}));
        return git("teammate", {"config", "user.email", "were@slackwater.example"});
    }

    std::filesystem::path m_folder;
    std::filesystem::path m_materials;
};
/// Stands in the folder until all of it is made.
constexpr const char* kUnfinished = "unfinished";

/// What this program makes there, and nothing else.
void removeParts(const std::filesystem::path& folder)
{
    std::error_code error;
    for (const char* part : {"shared.git", "slackwater", "teammate", "teammate-push", kUnfinished}) {
        std::filesystem::remove_all(folder / part, error);
    }
}
}  // namespace

Status layOutGitDemo(const std::string& folder, const std::string& materials)
{
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    if (error) {
        return Error{ErrorCode::io, folder, error.message()};
    }
    const std::filesystem::path marker = std::filesystem::path(folder) / kUnfinished;
    if (std::filesystem::exists(marker, error)) {
        removeParts(folder);  // ended midway the last time
    }
    if (!std::filesystem::is_empty(folder, error) || error) {
        return Error{ErrorCode::invalidInput, folder, {}, Reason::targetExists};
    }
    std::ofstream(marker) << "The demo is being made here.\n";
    TRY(DemoMaker(folder, materials).make());
    std::filesystem::remove(marker, error);
    return error ? Status(Error{ErrorCode::io, marker.string(), error.message()}) : ok();
}
}  // namespace rope
