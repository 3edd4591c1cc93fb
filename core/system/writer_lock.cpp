// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_recorder.cpp.
#include "core/system/writer_lock.h"

#include "core/base/process_tree.h"

#include <array>
#include <cerrno>
#include <charconv>
#include <chrono>
#include <cstring>
#include <fcntl.h>
#include <sys/file.h>
#include <thread>
#include <unistd.h>

namespace rope {
namespace {
/// Who wrote itself into the lock's file: a process number.
std::string holderIn(int descriptor)
{
    std::array<char, 32> text{};
    const ssize_t count = ::pread(descriptor, text.data(), text.size() - 1, 0);
    const std::string whole(text.data(), count > 0 ? static_cast<std::size_t>(count) : 0);
    return whole.substr(0, whole.find('\n'));
}
/// Whether the process that took the lock has ended; what it started may still be at work.
bool isGone(const std::string& holder)
{
    int process = 0;
    const auto [end, error] =
        std::from_chars(holder.data(), holder.data() + holder.size(), process);
    return error == std::errc() && process > 0 && !isRunning(process);
}

/// Takes the lock; of one whose holder has ended, its last programs are given a moment to end as well.
/// errno tells why not.
bool isTaken(int descriptor)
{
    constexpr int kMostTries = 100;
    constexpr auto kBetweenTries = std::chrono::milliseconds(20);
    for (int tries = 0;; ++tries) {
        if (::flock(descriptor, LOCK_EX | LOCK_NB) == 0) {
            return true;
        }
        const int problem = errno;
        if (problem != EWOULDBLOCK || tries == kMostTries || !isGone(holderIn(descriptor))) {
            errno = problem;
            return false;
        }
        std::this_thread::sleep_for(kBetweenTries);
    }
}
}  // namespace

Result<std::unique_ptr<WriterLock>> WriterLock::take(const std::string& folder)
{
    const std::string file = folder + "/recording.lock";
    // Not closed when a program is started: its children share the lock, see the header.
    const int descriptor = ::open(file.c_str(), O_RDWR | O_CREAT | O_NOFOLLOW, 0666);
    if (descriptor < 0) {
        return Error{ErrorCode::io, file, std::strerror(errno)};
    }
    if (!isTaken(descriptor)) {
        const int problem = errno;
        const std::string holder = holderIn(descriptor);
        ::close(descriptor);
        if (problem == EWOULDBLOCK) {
            return Error{ErrorCode::busy, holder, file, Reason::recordingElsewhere};
        }
        return Error{ErrorCode::io, file, std::strerror(problem)};
    }
    const std::string own = std::to_string(::getpid()) + "\n";
    // For people only: where it cannot be written, the lock holds all the same.
    const bool isNamed =
        ::ftruncate(descriptor, 0) == 0 && ::pwrite(descriptor, own.data(), own.size(), 0) > 0;
    (void)isNamed;
    return std::unique_ptr<WriterLock>(new WriterLock(descriptor));
}

WriterLock::~WriterLock()
{
    (void)::flock(m_descriptor, LOCK_UN);
    ::close(m_descriptor);
}
}  // namespace rope
