// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_definitions.cpp.
#include "core/findings/helper_process.h"

#include <algorithm>
#include <array>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <fcntl.h>
#include <poll.h>
#include <spawn.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

extern char** environ;

namespace rope {
namespace {
class Deadline
{
public:
    explicit Deadline(int mostMs)
        : m_end(std::chrono::steady_clock::now() + std::chrono::milliseconds(mostMs))
    {
    }
    [[nodiscard]] int leftMs() const
    {
        const auto left = std::chrono::duration_cast<std::chrono::milliseconds>(
            m_end - std::chrono::steady_clock::now());
        return static_cast<int>(std::max(left.count(), std::chrono::milliseconds::rep{0}));
    }

private:
    std::chrono::steady_clock::time_point m_end;
};

/// What may be done with the channel now, of what is wanted; 0 when time is up or the other end is gone.
short waitFor(int channel, short wanted, const Deadline& deadline)
{
    pollfd waiting{channel, wanted, 0};
    int answer = 0;
    do {
        answer = ::poll(&waiting, 1, deadline.leftMs());
    } while (answer < 0 && errno == EINTR);
    return answer > 0 ? static_cast<short>(waiting.revents & (wanted | POLLHUP | POLLERR))
                      : short{0};
}
}  // namespace

std::unique_ptr<HelperProcess> HelperProcess::start(const std::vector<std::string>& arguments)
{
    std::array<int, 2> ends{};
    if (::socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, ends.data()) != 0) {
        return nullptr;
    }
    std::vector<char*> list;
    list.reserve(arguments.size() + 1);
    for (const std::string& argument : arguments) {
        list.push_back(const_cast<char*>(argument.c_str()));
    }
    list.push_back(nullptr);
    posix_spawn_file_actions_t actions{};
    ::posix_spawn_file_actions_init(&actions);
    ::posix_spawn_file_actions_adddup2(&actions, ends[1], STDIN_FILENO);
    ::posix_spawn_file_actions_adddup2(&actions, ends[1], STDOUT_FILENO);
    ::posix_spawn_file_actions_addopen(&actions, STDERR_FILENO, "/dev/null", O_WRONLY, 0);
    pid_t process = 0;
    const int failure =
        ::posix_spawnp(&process, list.front(), &actions, nullptr, list.data(), environ);
    ::posix_spawn_file_actions_destroy(&actions);
    ::close(ends[1]);
    if (failure != 0) {
        ::close(ends[0]);
        return nullptr;
    }
    ::fcntl(ends[0], F_SETFL, O_NONBLOCK);
    return std::unique_ptr<HelperProcess>(new HelperProcess(process, ends[0]));
}

HelperProcess::~HelperProcess()
{
    ::close(m_channel);
    ::kill(m_process, SIGKILL);
    while (::waitpid(m_process, nullptr, 0) < 0 && errno == EINTR) {
    }
}

/// Takes what has been said; false where the other end is gone.
bool HelperProcess::readSome()
{
    std::array<char, 65536> part{};
    const ssize_t count = ::recv(m_channel, part.data(), part.size(), 0);
    if (count > 0) {
        m_said.append(part.data(), static_cast<std::size_t>(count));
    }
    return count > 0 || (count < 0 && (errno == EAGAIN || errno == EINTR));
}

bool HelperProcess::write(std::string_view bytes, int mostMs)
{
    const Deadline deadline(mostMs);
    while (!bytes.empty()) {
        // It may be saying something meanwhile, and wait until that is taken.
        const short may = waitFor(m_channel, POLLIN | POLLOUT, deadline);
        if (may == 0 || ((may & POLLIN) != 0 && !readSome())) {
            return false;
        }
        const ssize_t count = ::send(m_channel, bytes.data(), bytes.size(), MSG_NOSIGNAL);
        if (count > 0) {
            bytes.remove_prefix(static_cast<std::size_t>(count));
        } else if (count < 0 && errno != EAGAIN && errno != EINTR) {
            return false;
        }
    }
    return true;
}

std::optional<std::string> HelperProcess::readLine(int mostMs)
{
    const Deadline deadline(mostMs);
    std::size_t searched = 0;
    while (true) {
        const std::size_t end = m_said.find('\n', searched);
        if (end != std::string::npos) {
            std::string line = m_said.substr(0, end);
            m_said.erase(0, end + 1);
            return line;
        }
        searched = m_said.size();
        if (waitFor(m_channel, POLLIN, deadline) == 0 || !readSome()) {
            return std::nullopt;
        }
    }
}
}  // namespace rope
