// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_recorder.cpp.
#include "core/system/git/paths_on_disk.h"

#include "core/system/git/git_errors.h"
#include "core/text/text.h"

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <set>
#include <sys/stat.h>

namespace rope {
namespace {
namespace fs = std::filesystem;

/// A path as git's line-based commands take it, whatever bytes are in it (git-config "core.quotePath").
std::string quotedPath(const RepoPath& path)
{
    std::string quoted = "\"";
    for (const char c : path) {
        const auto byte = static_cast<unsigned char>(c);
        if (c == '"' || c == '\\') {
            quoted.append(1, '\\').append(1, c);
        } else if (byte < ' ' || byte >= 0x7f) {
            constexpr std::string_view kDigits = "01234567";
            quoted.append(1, '\\')
                .append(1, kDigits[byte >> 6U])
                .append(1, kDigits[(byte >> 3U) & 7U])
                .append(1, kDigits[byte & 7U]);
        } else {
            quoted.append(1, c);
        }
    }
    return quoted + "\"";
}
}  // namespace

RepoPath parentOf(const RepoPath& path)
{
    const std::size_t slash = path.rfind('/');
    return slash == RepoPath::npos ? RepoPath() : path.substr(0, slash);
}

std::string PathsOnDisk::fullPath(const RepoPath& path) const
{
    return m_place.root() + "/" + path;
}

OnDisk PathsOnDisk::look(const RepoPath& path) const
{
    struct stat info
    {
    };
    for (std::size_t slash = path.find('/'); slash != RepoPath::npos;
         slash = path.find('/', slash + 1)) {
        if (::lstat(fullPath(path.substr(0, slash)).c_str(), &info) != 0
            || !S_ISDIR(info.st_mode)) {
            return {};
        }
    }
    if (::lstat(fullPath(path).c_str(), &info) != 0) {
        return {};
    }
    OnDisk present;
    present.shape = S_ISREG(info.st_mode)   ? OnDisk::Shape::file
                    : S_ISLNK(info.st_mode) ? OnDisk::Shape::symlink
                    : S_ISDIR(info.st_mode) ? OnDisk::Shape::folder
                                            : OnDisk::Shape::other;
    present.isExecutable = (info.st_mode & S_IXUSR) != 0;
    present.size = static_cast<std::uint64_t>(info.st_size);
    return present;
}

std::string PathsOnDisk::bytesAt(const RepoPath& path, const OnDisk& present) const
{
    if (present.shape == OnDisk::Shape::symlink) {
        std::error_code error;
        return fs::read_symlink(fullPath(path), error).string();
    }
    std::ifstream file(fullPath(path), std::ios::binary);
    return {std::istreambuf_iterator<char>(file), std::istreambuf_iterator<char>()};
}

/// Reads what stands there. Bytes that are none of the known ones as they are may still be so once
/// git's own conversions have been taken off them.
Status PathsOnDisk::identify(TouchedPaths& paths)
{
    std::string names;
    std::vector<TouchedPath*> converted;
    for (TouchedPath& path : paths) {
        if (path.present.shape != OnDisk::Shape::file
            && path.present.shape != OnDisk::Shape::symlink) {
            continue;
        }
        path.raw = m_place.idOfBlob(bytesAt(path.path, path.present));
        const auto isRaw = [&path](const std::optional<FileVersion>& version) {
            return version && version->id == path.raw;
        };
        if (path.present.shape == OnDisk::Shape::file && !isRaw(path.ours) && !isRaw(path.result)
            && !isRaw(path.target)) {
            names.append(quotedPath(path.path)).append(1, '\n');
            converted.push_back(&path);
        }
    }
    if (converted.empty()) {
        return ok();
    }
    GitRunOptions options;
    options.input = names;
    options.purpose = RunFor::acting;
    TRY_ASSIGN(const GitOutput hashed,
               m_place.git().run({"hash-object", "--stdin-paths"}, options));
    // Where a filter fails, the files after it stay unknown, and unknown is somebody's work.
    const auto lines = splitLines(hashed.out);
    for (std::size_t i = 0; i < std::min(lines.size(), converted.size()); ++i) {
        converted[i]->cleaned =
            ObjectId::fromHex(withoutNewline(std::string(lines[i]))).value_or(ObjectId{});
    }
    return ok();
}

bool PathsOnDisk::holds(const TouchedPath& path, const std::optional<FileVersion>& version)
{
    if (!version) {
        return path.present.shape == OnDisk::Shape::missing;
    }
    switch (version->kind) {
    case EntryKind::submodule:
        return path.present.shape
               == OnDisk::Shape::folder;  // what is checked out in it is not ours to judge
    case EntryKind::symlink:
        return path.present.shape == OnDisk::Shape::symlink && path.raw == version->id;
    default:
        return path.present.shape == OnDisk::Shape::file
               && (path.raw == version->id
                   || (!path.cleaned.isNull() && path.cleaned == version->id));
    }
}

/// Whether the file is what is left of writing a version: nothing yet, or a beginning.
bool PathsOnDisk::isCutOff(const TouchedPath& path, const std::optional<FileVersion>& version)
{
    if (path.present.shape != OnDisk::Shape::file || !version || !isRegular(version->kind)) {
        return false;
    }
    if (path.present.size == 0) {
        return true;
    }
    const std::string present = bytesAt(path.path, path.present);
    const ObjectId ids[] = {version->id};
    const auto stored = m_place.readBlobs(ids, kAnySize);
    if (stored && stored->front()->starts_with(present)) {
        return true;
    }
    GitRunOptions options;
    options.purpose = RunFor::acting;
    const auto converted = m_place.git().output(
        {"cat-file", "--filters", "--path=" + path.path, version->id.hex()}, options);
    return converted && converted->starts_with(present);
}

bool PathsOnDisk::hasForeignFiles(const RepoPath& folder, const TouchedPaths& paths) const
{
    std::set<RepoPath> known;
    for (const TouchedPath& path : paths) {
        if (path.ours || path.result) {
            known.insert(path.path);
        }
    }
    std::error_code error;
    const std::string root = fullPath(folder);
    for (const auto& entry : fs::recursive_directory_iterator(root, error)) {
        const bool isFolder = entry.is_directory(error) && !entry.is_symlink(error);
        const RepoPath path = folder + entry.path().string().substr(root.size());
        if (!isFolder && !known.contains(path)) {
            return true;
        }
    }
    return static_cast<bool>(error);
}

Status PathsOnDisk::findStrangers(TouchedPaths& paths)
{
    TRY(identify(paths));
    for (TouchedPath& path : paths) {
        const bool isKnown = path.present.shape == OnDisk::Shape::missing || holds(path, path.ours)
                             || holds(path, path.result) || holds(path, path.target);
        if (isKnown) {
            continue;
        }
        if (path.present.shape == OnDisk::Shape::folder) {
            path.isStranger = hasForeignFiles(path.path, paths);
        } else {
            path.isStranger = !isCutOff(path, path.ours) && !isCutOff(path, path.result)
                              && !isCutOff(path, path.target);
        }
    }
    return ok();
}
}  // namespace rope
