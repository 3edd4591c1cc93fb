// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_layout.cpp.
#include "core/trial/copy_files.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <sys/stat.h>
#include <unistd.h>
#include <utility>

namespace rope {
namespace {
constexpr int kFolderFlags = O_RDONLY | O_DIRECTORY | O_NOFOLLOW | O_CLOEXEC;

Error failure(const std::string& subject)
{
    const int problem = errno;
    return {ErrorCode::io,
            subject,
            std::strerror(problem),
            problem == ENOSPC || problem == EDQUOT ? Reason::diskFull : Reason::none};
}

std::string_view nameOf(const RepoPath& path)
{
    return std::string_view(path).substr(path.rfind('/') + 1);
}

std::int64_t inNs(const timespec& time)
{
    return std::int64_t{time.tv_sec} * 1'000'000'000 + time.tv_nsec;
}

FileStamp stampFrom(const struct stat& status)
{
    return {status.st_size, inNs(status.st_mtim), inNs(status.st_ctim), status.st_ino};
}

/// A folder below another one; whatever else has its name gives way.
int openOrMake(int parent, const std::string& name)
{
    int folder = ::openat(parent, name.c_str(), kFolderFlags);
    if (folder < 0 && (errno == ENOTDIR || errno == ELOOP)) {
        ::unlinkat(parent, name.c_str(), 0);
        errno = ENOENT;
    }
    if (folder < 0 && errno == ENOENT && ::mkdirat(parent, name.c_str(), 0777) == 0) {
        folder = ::openat(parent, name.c_str(), kFolderFlags);
    }
    return folder;
}

bool writeAll(int file, std::string_view bytes)
{
    while (!bytes.empty()) {
        const ssize_t count = ::write(file, bytes.data(), bytes.size());
        if (count < 0 && errno != EINTR) {
            return false;
        }
        bytes.remove_prefix(count > 0 ? static_cast<std::size_t>(count) : 0);
    }
    return true;
}

/// Makes a file that was not there; false with errno EEXIST where something was.
bool makeFile(int folder, const char* name, EntryKind kind, std::string_view bytes)
{
    if (kind == EntryKind::symlink) {
        return ::symlinkat(std::string(bytes).c_str(), folder, name) == 0;
    }
    const mode_t mode = kind == EntryKind::executable ? 0777 : 0666;
    const int file =
        ::openat(folder, name, O_WRONLY | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, mode);
    if (file < 0) {
        return false;
    }
    const bool isWritten = writeAll(file, bytes);
    const int problem = errno;
    ::close(file);
    errno = problem;
    return isWritten;
}
}  // namespace

Result<CopyFiles> CopyFiles::open(const std::string& folder)
{
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    const int root = ::open(folder.c_str(), kFolderFlags);
    if (root < 0) {
        return failure(folder);
    }
    return CopyFiles(folder, root);
}

CopyFiles::CopyFiles(CopyFiles&& other) noexcept
    : m_folder(std::move(other.m_folder))
    , m_root(std::exchange(other.m_root, -1))
    , m_last(std::exchange(other.m_last, -1))
    , m_lastName(std::move(other.m_lastName))
{
}

CopyFiles::~CopyFiles()
{
    for (const int descriptor : {m_root, m_last}) {
        if (descriptor >= 0) {
            ::close(descriptor);
        }
    }
}

FileStamp CopyFiles::stampOf(const RepoPath& path) const
{
    struct stat status
    {
    };
    if (::fstatat(m_root, path.c_str(), &status, AT_SYMLINK_NOFOLLOW) != 0
        || S_ISDIR(status.st_mode)) {
        return {};
    }
    return stampFrom(status);
}

/// The folder that a path lies in, made on the way. It stays open until the next one is asked for.
Result<int> CopyFiles::folderOf(const RepoPath& path)
{
    const std::size_t end = path.rfind('/');
    if (end == RepoPath::npos) {
        return m_root;
    }
    if (m_last >= 0 && path.compare(0, end, m_lastName) == 0) {
        return m_last;
    }
    int folder = m_root;
    for (std::size_t from = 0; from < end;) {
        const std::size_t slash = path.find('/', from);
        const int next = openOrMake(folder, path.substr(from, slash - from));
        const int problem = errno;
        if (folder != m_root) {
            ::close(folder);
        }
        if (next < 0) {
            errno = problem;
            return failure(path);
        }
        folder = next;
        from = slash + 1;
    }
    if (m_last >= 0) {
        ::close(m_last);
    }
    m_last = folder;
    m_lastName = path.substr(0, end);
    return folder;
}

Result<FileStamp> CopyFiles::write(const RepoPath& path, EntryKind kind, std::string_view bytes)
{
    TRY_ASSIGN(int folder, folderOf(path));
    const std::string name(nameOf(path));
    bool isMade = makeFile(folder, name.c_str(), kind, bytes);
    if (!isMade && errno == EEXIST) {
        // Never written into: it may be a link, or have another name elsewhere.
        if (::unlinkat(folder, name.c_str(), 0) != 0) {
            removeFolder(path);
            TRY_ASSIGN(folder, folderOf(path));  // the one that was open is closed now
        }
        isMade = makeFile(folder, name.c_str(), kind, bytes);
    }
    struct stat status
    {
    };
    if (!isMade || ::fstatat(folder, name.c_str(), &status, AT_SYMLINK_NOFOLLOW) != 0) {
        const Error error = failure(path);
        ::unlinkat(folder, name.c_str(), 0);
        return error;
    }
    return stampFrom(status);
}

Status CopyFiles::makeFolder(const RepoPath& path)
{
    TRY_ASSIGN(const int parent, folderOf(path));
    const int folder = openOrMake(parent, std::string(nameOf(path)));
    if (folder < 0) {
        return failure(path);
    }
    ::close(folder);
    return ok();
}

Status CopyFiles::makeFolderOf(const RepoPath& path)
{
    TRY_ASSIGN(const int folder, folderOf(path));
    (void)folder;
    return ok();
}

void CopyFiles::remove(const RepoPath& path)
{
    struct stat status
    {
    };
    RepoPath left = path;
    // The way there is walked without making anything: what is not there needs no removing.
    if (::fstatat(m_root, path.c_str(), &status, AT_SYMLINK_NOFOLLOW) != 0) {
        return;
    }
    const auto folder = folderOf(path);
    if (!folder || ::unlinkat(*folder, std::string(nameOf(path)).c_str(), 0) != 0) {
        return;
    }
    while (left.find('/') != RepoPath::npos) {
        left.erase(left.rfind('/'));
        if (::unlinkat(m_root, left.c_str(), AT_REMOVEDIR) != 0) {
            return;
        }
        if (m_last >= 0) {
            ::close(std::exchange(m_last, -1));
        }
    }
}

void CopyFiles::removeFolder(const RepoPath& path)
{
    if (!folderOf(path)) {  // from now on no link is on the way
        return;
    }
    if (m_last >= 0) {
        ::close(std::exchange(m_last, -1));
    }
    std::error_code error;
    std::filesystem::remove_all(std::filesystem::path(m_folder) / path, error);
}
}  // namespace rope
