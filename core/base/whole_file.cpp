// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "core/base/whole_file.h"

#include <algorithm>
#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <memory>
#include <sys/stat.h>
#include <unistd.h>

namespace rope {
namespace {
using File = std::unique_ptr<std::FILE, int (*)(std::FILE*)>;

Error writingError(const std::string& path)
{
    return {ErrorCode::io, path, std::strerror(errno)};
}

/// Writes into what is no ordinary file (a pipe, a device), as it is.
Status writeThrough(const std::string& path, const std::string& bytes)
{
    File file(std::fopen(path.c_str(), "wb"), &std::fclose);
    const bool isWritten =
        file && std::fwrite(bytes.data(), 1, bytes.size(), file.get()) == bytes.size();
    return isWritten && std::fclose(file.release()) == 0 ? ok() : writingError(path);
}
}  // namespace

Result<std::string> readWholeFile(const std::string& path)
{
    const File file(std::fopen(path.c_str(), "rb"), &std::fclose);
    if (!file) {
        return Error{
            errno == ENOENT ? ErrorCode::notFound : ErrorCode::io, path, std::strerror(errno)};
    }
    std::string bytes;
    constexpr std::size_t kPiece = 1 << 20;
    struct stat known
    {
    };
    if (::fstat(::fileno(file.get()), &known) == 0 && known.st_size > 0) {
        // What says to be larger is taken as it comes.
        constexpr std::size_t kMostExpected = 2'000'000'000;
        bytes.reserve(std::min(static_cast<std::size_t>(known.st_size), kMostExpected) + kPiece);
    }
    // Some devices never end.
    constexpr std::size_t kMostOfDevice = 2'000'000'000;
    const bool isDevice = !S_ISREG(known.st_mode);
    for (std::size_t got = 1; got > 0;) {
        if (isDevice && bytes.size() > kMostOfDevice) {
            return Error{ErrorCode::io, path, "more than 2 GB and no end", Reason::outOfMemory};
        }
        const std::size_t before = bytes.size();
        bytes.resize(before + kPiece);
        got = std::fread(bytes.data() + before, 1, kPiece, file.get());
        bytes.resize(before + got);
    }
    if (std::ferror(file.get()) != 0) {
        return Error{ErrorCode::io, path, std::strerror(errno)};
    }
    return bytes;
}

Status writeWholeFile(const std::string& path, const std::string& bytes)
{
    std::string target = path;
    struct stat present
    {
    };
    if (::stat(path.c_str(), &present) == 0) {
        if (!S_ISREG(present.st_mode)) {
            return writeThrough(path, bytes);
        }
        std::error_code error;
        target = std::filesystem::canonical(path, error).string();
        if (error) {
            return Error{ErrorCode::io, path, error.message()};
        }
    } else if (::lstat(path.c_str(), &present) == 0) {
        return writeThrough(path, bytes);  // a link to a file that is not there yet
    } else {
        present = {};
    }
    std::string fresh = target + ".rope-splice-XXXXXX";
    const int descriptor = ::mkstemp(fresh.data());
    if (descriptor < 0) {
        return writingError(target);
    }
    File file(::fdopen(descriptor, "wb"), &std::fclose);
    const mode_t mask = ::umask(0);
    ::umask(mask);
    const bool isReplaced = present.st_mode != 0;
    if (isReplaced && ::fchown(descriptor, present.st_uid, present.st_gid) != 0) {
        errno = 0;  // only root may give a file away; its content counts
    }
    const mode_t mode = isReplaced ? present.st_mode & 07777U : 0666U & ~mask;
    bool isWritten = ::fchmod(descriptor, mode) == 0
                     && std::fwrite(bytes.data(), 1, bytes.size(), file.get()) == bytes.size();
    isWritten = std::fflush(file.get()) == 0 && ::fsync(descriptor) == 0 && isWritten;
    isWritten = std::fclose(file.release()) == 0 && isWritten;
    if (!isWritten || std::rename(fresh.c_str(), target.c_str()) != 0) {
        const Error error = writingError(target);
        std::remove(fresh.c_str());
        return error;
    }
    return ok();
}
}  // namespace rope
