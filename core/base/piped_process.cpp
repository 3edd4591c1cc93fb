// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_piped_process.cpp.
#include "core/base/piped_process.h"

#include <array>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <mutex>
#include <poll.h>
#include <spawn.h>
#include <sys/mman.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

namespace rope {
namespace {
Error failure(const std::string& program, int number)
{
    return {ErrorCode::io, program, std::strerror(number)};
}

/// Why a program could not be started in a folder.
Error startFailure(const std::string& program, const std::string& folder, int number)
{
    std::error_code error;
    if (number == ENOENT && std::filesystem::is_directory(folder, error)) {
        return {ErrorCode::notFound, program, std::strerror(number), Reason::programMissing};
    }
    return failure(program, number);
}

void closeOne(int& descriptor)
{
    if (descriptor >= 0) {
        ::close(descriptor);
        descriptor = -1;
    }
}

/// A program that has ended must not end this one when it is written to.
void ignoreBrokenPipes()
{
    static std::once_flag once;
    std::call_once(once, [] { ::signal(SIGPIPE, SIG_IGN); });
}

std::vector<char*> pointersTo(const std::vector<std::string>& texts)
{
    std::vector<char*> pointers;
    pointers.reserve(texts.size() + 1);
    for (const std::string& text : texts) {
        pointers.push_back(
            const_cast<char*>(text.c_str()));  // posix_spawn(3) does not write to them
    }
    pointers.push_back(nullptr);
    return pointers;
}
}  // namespace

Result<std::unique_ptr<PipedProcess>>
PipedProcess::start(const std::string& program,
                    const std::vector<std::string>& arguments,
                    const std::vector<std::string>& environment,
                    const std::string& folder)
{
    ignoreBrokenPipes();
    std::unique_ptr<PipedProcess> process(new PipedProcess);
    std::array<int, 2> in{-1, -1};
    std::array<int, 2> out{-1, -1};
    process->m_errors = ::memfd_create("errors", MFD_CLOEXEC);
    if (process->m_errors < 0 || ::pipe2(in.data(), O_CLOEXEC) != 0) {
        return failure(program, errno);
    }
    process->m_input = in[1];
    if (::pipe2(out.data(), O_CLOEXEC) != 0) {
        const int number = errno;
        ::close(in[0]);
        return failure(program, number);
    }
    process->m_output = out[0];
    posix_spawn_file_actions_t actions{};
    posix_spawnattr_t attributes{};
    ::posix_spawn_file_actions_init(&actions);
    ::posix_spawnattr_init(&attributes);
    ::posix_spawn_file_actions_addchdir_np(&actions, folder.c_str());
    ::posix_spawn_file_actions_adddup2(&actions, in[0], STDIN_FILENO);
    ::posix_spawn_file_actions_adddup2(&actions, out[1], STDOUT_FILENO);
    ::posix_spawn_file_actions_adddup2(&actions, process->m_errors, STDERR_FILENO);
    sigset_t byDefault{};
    ::sigemptyset(&byDefault);
    ::sigaddset(&byDefault, SIGPIPE);
    ::posix_spawnattr_setsigdefault(&attributes, &byDefault);
    ::posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETSIGDEF);
    std::vector<std::string> all{program};
    all.insert(all.end(), arguments.begin(), arguments.end());
    const int number = ::posix_spawnp(&process->m_id,
                                      program.c_str(),
                                      &actions,
                                      &attributes,
                                      pointersTo(all).data(),
                                      pointersTo(environment).data());
    ::posix_spawn_file_actions_destroy(&actions);
    ::posix_spawnattr_destroy(&attributes);
    ::close(in[0]);
    ::close(out[1]);
    if (number != 0) {
        process->m_id = -1;
        return startFailure(program, folder, number);
    }
    (void)::fcntl(process->m_output, F_SETFL, O_NONBLOCK);
    return process;
}

PipedProcess::~PipedProcess()
{
    closeInput();
    closeOne(m_output);
    if (m_id > 0) {
        ::kill(m_id, SIGKILL);
        wait();
    }
    closeOne(m_errors);
}

void PipedProcess::closeInput()
{
    closeOne(m_input);
}

Status PipedProcess::write(std::string_view bytes) const
{
    while (!bytes.empty()) {
        const ssize_t written = ::write(m_input, bytes.data(), bytes.size());
        if (written >= 0) {
            bytes.remove_prefix(static_cast<std::size_t>(written));
        } else if (errno != EINTR) {
            return failure("write", errno);
        }
    }
    return ok();
}

Result<std::size_t> PipedProcess::read(std::span<char> into, int waitMs)
{
    for (;;) {
        const ssize_t got = ::read(m_output, into.data(), into.size());
        if (got >= 0) {
            return static_cast<std::size_t>(got);
        }
        if (errno == EINTR) {
            continue;
        }
        pollfd waited{m_output, POLLIN, 0};
        const int ready = errno == EAGAIN ? ::poll(&waited, 1, waitMs) : -1;
        if (ready == 0) {
            return Error{ErrorCode::io, "read", "no answer"};
        }
        if (ready < 0 && errno != EINTR) {
            return failure("read", errno);
        }
    }
}

Result<std::vector<std::size_t>> PipedProcess::waitForAny(std::span<PipedProcess* const> processes,
                                                          int waitMs)
{
    std::vector<pollfd> waited;
    waited.reserve(processes.size());
    for (const PipedProcess* const process : processes) {
        waited.push_back({process->m_output, POLLIN, 0});
    }
    int ready = -1;
    do {
        ready = ::poll(waited.data(), waited.size(), waitMs);
    } while (ready < 0 && errno == EINTR);
    if (ready <= 0) {
        return ready == 0 ? Error{ErrorCode::io, "read", "no answer"} : failure("poll", errno);
    }
    std::vector<std::size_t> having;
    for (std::size_t i = 0; i < waited.size(); ++i) {
        if (waited[i].revents != 0) {
            having.push_back(i);
        }
    }
    return having;
}

bool PipedProcess::isRunning()
{
    int status = 0;
    if (m_id > 0 && ::waitpid(m_id, &status, WNOHANG) == m_id) {
        takeEnd(status);
    }
    return m_id > 0;
}

bool PipedProcess::wasKilled()
{
    constexpr int kMostTries = 50;
    constexpr std::chrono::milliseconds kBetween{2};
    for (int tries = 0; isRunning() && tries < kMostTries; ++tries) {
        std::this_thread::sleep_for(kBetween);
    }
    return !isRunning() && m_exitCode == -1;
}

int PipedProcess::wait()
{
    int status = 0;
    while (m_id > 0) {
        if (::waitpid(m_id, &status, 0) == m_id) {
            takeEnd(status);
        } else if (errno != EINTR) {
            m_id = -1;
        }
    }
    return m_exitCode;
}

void PipedProcess::takeEnd(int status)
{
    m_exitCode = WIFEXITED(status) ? WEXITSTATUS(status) : -1;
    m_id = -1;
}

std::string PipedProcess::errorText() const
{
    std::string text;
    std::array<char, 4096> part{};
    for (off_t at = 0;;) {
        const ssize_t got = ::pread(m_errors, part.data(), part.size(), at);
        if (got <= 0) {
            return text;
        }
        text.append(part.data(), static_cast<std::size_t>(got));
        at += got;
    }
}
}  // namespace rope
