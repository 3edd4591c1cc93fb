// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_recorder.cpp, tst_begun_join.cpp.
#include "core/system/git/git_index.h"

#include "core/base/whole_file.h"
#include "core/system/git/git_errors.h"
#include "core/system/git/git_parsers.h"
#include "core/system/git/git_writers.h"
#include "core/system/tree_difference.h"
#include "core/text/text.h"

#include <algorithm>
#include <cerrno>
#include <chrono>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <sys/stat.h>
#include <thread>
#include <unistd.h>

namespace rope {
std::string nulSeparated(const std::vector<RepoPath>& paths)
{
    std::string list;
    for (const RepoPath& path : paths) {
        list.append(path).append(1, '\0');
    }
    return list;
}

Result<ObjectId> GitIndex::tree()
{
    TRY_ASSIGN(const GitOutput written, m_place.git().run({"write-tree"}));
    const auto id = ObjectId::fromHex(withoutNewline(written.out));
    if (written.exitCode != 0 || !id) {
        return writingError("write-tree", written.err);
    }
    return *id;
}

Result<std::vector<RepoPath>> GitIndex::stage(const ObjectId& tree)
{
    std::vector<RepoPath> paths;
    const auto staged = this->tree();
    if (!staged) {
        return paths;  // something else is half-done in the index, and not by us
    }
    TRY_ASSIGN(const auto others, treeDifference(m_place, tree, *staged));
    const std::string nobody(tree.hex().size(), '0');
    std::string request;
    for (const FileChange& change : others) {
        paths.push_back(change.path);
        request += change.before
                       ? std::string(modeOf(change.before->kind)) + " " + change.before->id.hex()
                       : "0 " + nobody;
        request.append(1, '\t').append(change.path).append(1, '\0');
    }
    if (!request.empty()) {
        TRY(update(request));
        TRY(refresh());
    }
    return paths;
}

Status GitIndex::unstage(const std::vector<FileChange>& changes)
{
    std::string request;
    for (const FileChange& change : changes) {
        if (change.before) {
            request += std::string(modeOf(change.before->kind)) + " " + change.before->id.hex();
            request.append(1, '\t').append(change.path).append(1, '\0');
        }
    }
    if (!request.empty()) {
        TRY(update(request));
        TRY(refresh());
    }
    return ok();
}

Status GitIndex::intend(const std::vector<RepoPath>& paths)
{
    if (paths.empty()) {
        return ok();
    }
    GitRunOptions options;
    options.purpose = RunFor::acting;
    const std::string list = nulSeparated(paths);
    options.input = list;
    TRY_ASSIGN(
        const GitOutput taken,
        m_place.git().runOnIndex({"update-index", "--force-remove", "-z", "--stdin"}, options));
    if (taken.exitCode != 0) {
        return writingError("update-index", taken.err);
    }
    options.environment = {{"GIT_LITERAL_PATHSPECS", "1"}};
    TRY_ASSIGN(
        const GitOutput added,
        m_place.git().runOnIndex(
            {"add", "--force", "--intent-to-add", "--pathspec-from-file=-", "--pathspec-file-nul"},
            options));
    return added.exitCode == 0 ? ok() : writingError("add", added.err);
}

/// The entries of the index as git lists them, "mode id stage" by path. Empty: there is no index.
Result<std::map<RepoPath, std::string>> GitIndex::entries() const
{
    std::map<RepoPath, std::string> entries;
    TRY_ASSIGN(const std::string listed, m_place.git().output({"ls-files", "-s", "-z"}));
    for (std::size_t from = 0; from < listed.size();) {
        const std::size_t end = std::min(listed.find('\0', from), listed.size());
        const std::size_t tab = listed.find('\t', from);
        entries[listed.substr(tab + 1, end - tab - 1)] = listed.substr(from, tab - from);
        from = end + 1;
    }
    return entries;
}

/// Sets the touched entries that differ and leaves all others with their marks as they are.
Status GitIndex::write(const TouchedPaths& paths, const ObjectId& target)
{
    GitRunOptions options;
    options.purpose = RunFor::acting;
    TRY_ASSIGN(const auto entries, this->entries());
    if (entries.empty() && target != m_place.idOfTree({})) {  // gone: with all entries
        TRY_ASSIGN(const GitOutput read,
                   m_place.git().runOnIndex({"read-tree", target.hex()}, options));
        if (read.exitCode != 0) {
            return writingError("read-tree", read.err);
        }
        return ok();
    }
    const std::string removal = "0 " + std::string(target.hex().size(), '0');
    std::string gone;
    std::string there;
    for (const TouchedPath& path : paths) {
        const auto present = entries.find(path.path);
        const std::string wanted =
            path.target ? std::string(modeOf(path.target->kind)) + " " + path.target->id.hex()
                        : std::string();
        if (present == entries.end() ? wanted.empty() : present->second == wanted + " 0") {
            continue;
        }
        std::string& lines = path.target ? there : gone;
        lines.append(path.target ? wanted : removal).append("\t").append(path.path).push_back('\0');
    }
    const std::string request = gone + there;  // what is gone makes room for what is there
    if (request.empty()) {
        return ok();
    }
    return update(request);
}

Status GitIndex::update(const std::string& request)
{
    GitRunOptions options;
    options.input = request;
    options.purpose = RunFor::acting;
    TRY_ASSIGN(
        const GitOutput updated,
        m_place.git().runOnIndex(
            {"update-index", "--add", "--remove", "--replace", "-z", "--index-info"}, options));
    return updated.exitCode == 0 ? ok() : writingError("update-index", updated.err);
}

Status GitIndex::refresh()
{
    GitRunOptions options;
    options.purpose = RunFor::acting;
    TRY_ASSIGN(const GitOutput refreshed,
               m_place.git().runOnIndex({"update-index", "-q", "--refresh"}, options));
    (void)refreshed;
    return ok();
}

Status GitIndex::restoreMarks(const PathsBefore& before)
{
    const std::pair<const char*, const std::vector<RepoPath>*> marks[] = {
        {"--skip-worktree", &before.skipped}, {"--assume-unchanged", &before.assumed}};
    for (const auto& [mark, paths] : marks) {
        if (paths->empty()) {
            continue;
        }
        const std::string list = nulSeparated(*paths);
        GitRunOptions options;
        options.input = list;
        TRY_ASSIGN(const GitOutput marked,
                   m_place.git().runOnIndex({"update-index", mark, "-z", "--stdin"}, options));
        if (marked.exitCode != 0) {
            return writingError("update-index", marked.err);
        }
    }
    return ok();
}

std::string GitIndex::keptFile() const
{
    return m_place.gitFolder() + "/rope-splice/begun-index";
}

Status GitIndex::keep()
{
    TRY(m_place.privateFolder());
    TRY_ASSIGN(const std::string bytes, readWholeFile(m_place.gitFolder() + "/index"));
    return writeWholeFile(keptFile(), bytes);
}

/// As git itself writes an index: a new file with the lock's name, which then takes the index's place
/// (git's api-lockfile).
Status GitIndex::putBack()
{
    constexpr int kMostTries = 20;
    constexpr auto kPause = std::chrono::milliseconds(50);
    TRY_ASSIGN(const std::string bytes, readWholeFile(keptFile()));
    const std::string lock = m_place.gitFolder() + "/index.lock";
    int file = -1;
    for (int i = 0; i < kMostTries && file < 0; ++i) {
        file = ::open(lock.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
        if (file < 0 && errno != EEXIST) {
            return Error{ErrorCode::io, lock, std::strerror(errno)};
        }
        if (file < 0) {
            std::this_thread::sleep_for(kPause);
        }
    }
    if (file < 0) {
        return Error{ErrorCode::busy, lock, {}};
    }
    const bool isWritten =
        ::write(file, bytes.data(), bytes.size()) == static_cast<ssize_t>(bytes.size())
        && ::fsync(file) == 0;
    const int problem = errno;
    ::close(file);
    if (!isWritten || ::rename(lock.c_str(), (m_place.gitFolder() + "/index").c_str()) != 0) {
        ::unlink(lock.c_str());
        return Error{ErrorCode::io, lock, std::strerror(isWritten ? errno : problem)};
    }
    return refresh();
}

void GitIndex::forgetKept()
{
    ::unlink(keptFile().c_str());
}

Status GitIndex::settle(const std::vector<RepoPath>& paths, const ObjectId& tree)
{
    TRY_ASSIGN(const auto held, treeDifference(m_place, {}, tree));
    std::map<RepoPath, FileVersion> versions;
    for (const FileChange& file : held) {
        versions[file.path] = *file.after;
    }
    const std::string nobody(tree.hex().size(), '0');
    std::string request;
    for (const RepoPath& path : paths) {
        const auto version = versions.find(path);
        request += version == versions.end()
                       ? "0 " + nobody
                       : std::string(modeOf(version->second.kind)) + " " + version->second.id.hex();
        request.append(1, '\t').append(path).append(1, '\0');
    }
    return request.empty() ? ok() : update(request);
}

void GitIndex::removeLeftLock(std::int64_t since)
{
    const std::string lock = m_place.gitFolder() + "/index.lock";
    struct stat info
    {
    };
    if (::lstat(lock.c_str(), &info) != 0 || info.st_mtime + 1 < since) {
        return;
    }
    std::error_code error;
    const std::string root = std::filesystem::canonical(m_place.root(), error).string();
    const std::string gitFolder = std::filesystem::canonical(m_place.gitFolder(), error).string();
    if (!error && !gitWritesIn(root, gitFolder)) {
        ::unlink(lock.c_str());
    }
}
}  // namespace rope
