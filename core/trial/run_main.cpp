// SPDX-License-Identifier: GPL-3.0-or-later
// rope-splice-run PROGRAM [ARGUMENT…]: runs a program and answers for all that it starts. What the
// program leaves behind when it ends, and everything when the standard input of this one ends (whoever
// started it asks for that, or is gone), is ended, at any depth and in any process group: orphans
// become children of this one (prctl(2), PR_SET_CHILD_SUBREAPER). The program's output and errors go to
// the standard output; how it ended is told on standard error, a word and a number a line:
//   missing ERRNO   it could not be started
//   exit STATUS     it ended by itself
//   signal NUMBER   a signal ended it
//   left COUNT      processes that it left behind, and that were ended
//   stopped 0       everything was ended before the program had
// Tested by tst_trial.cpp.
#include "core/base/process_tree.h"

#include <array>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <fcntl.h>
#include <poll.h>
#include <sys/prctl.h>
#include <sys/signalfd.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

namespace {
using namespace std::chrono_literals;
constexpr auto kToEndByItself = 300ms;  // what a program has just let go
constexpr auto kGrace = 2s;             // after being asked to end
constexpr auto kMostWait = 8s;          // for what cannot be ended, as in a hanging file system

/// Becomes the program; only returns to tell why it could not.
int become(char** arguments, const sigset_t& signals)
{
    ::sigprocmask(SIG_SETMASK, &signals, nullptr);
    ::setsid();
    ::prctl(PR_SET_PDEATHSIG, SIGKILL);
    const int nothing = ::open("/dev/null", O_RDONLY);
    ::dup2(nothing, STDIN_FILENO);
    ::dup2(STDOUT_FILENO, STDERR_FILENO);
    if (nothing > STDERR_FILENO) {
        ::close(nothing);
    }
    ::execvp(arguments[0], arguments);
    return errno;
}

/// The program and all that is left of it.
class Family
{
public:
    explicit Family(pid_t program)
        : m_program(program)
    {
    }

    /// Takes note of everything that has ended; false when nobody is left.
    bool reap()
    {
        int status = 0;
        pid_t ended = 0;
        while ((ended = ::waitpid(-1, &status, WNOHANG)) > 0) {
            if (ended == m_program) {
                m_status = status;
                m_hasEnded = true;
            }
        }
        return ended == 0;
    }

    /// Waits until nobody is left; false where somebody is, after that time.
    bool waitFor(std::chrono::milliseconds most)
    {
        const auto end = std::chrono::steady_clock::now() + most;
        while (reap()) {
            if (std::chrono::steady_clock::now() >= end) {
                return false;
            }
            std::this_thread::sleep_for(10ms);
        }
        return true;
    }

    /// Ends everybody, and whoever is started meanwhile. Gives how many there were.
    std::size_t end()
    {
        const std::size_t count = signalAll(SIGTERM);
        if (!waitFor(kGrace)) {
            const auto last = std::chrono::steady_clock::now() + kMostWait;
            do {
                signalAll(SIGKILL);
            } while (!waitFor(50ms) && std::chrono::steady_clock::now() < last);
        }
        return count;
    }

    [[nodiscard]] bool hasEnded() const { return m_hasEnded; }
    void tellStatus() const
    {
        if (WIFEXITED(m_status)) {
            std::fprintf(stderr, "exit %d\n", WEXITSTATUS(m_status));
        } else {
            std::fprintf(stderr, "signal %d\n", WTERMSIG(m_status));
        }
    }

private:
    static std::size_t signalAll(int signal)
    {
        auto all = rope::withDescendants(::getpid());
        all.erase(all.begin());
        for (const pid_t process : all) {
            ::kill(process, signal);
            ::kill(process, SIGCONT);  // one that was stopped hears nothing else
        }
        return all.size();
    }

    pid_t m_program;
    int m_status = 0;
    bool m_hasEnded = false;
};

/// Waits for the program to end; false when it is to be ended.
bool waitForProgram(Family& family, int signals)
{
    std::array<pollfd, 2> channels{{{STDIN_FILENO, POLLIN, 0}, {signals, POLLIN, 0}}};
    while (!family.hasEnded()) {
        if (::poll(channels.data(), channels.size(), -1) < 0 && errno != EINTR) {
            return false;
        }
        signalfd_siginfo told{};
        char word = 0;
        const bool isAsked = channels[0].revents != 0 && ::read(STDIN_FILENO, &word, 1) <= 0;
        if (channels[1].revents != 0 && ::read(signals, &told, sizeof told) == sizeof told
            && told.ssi_signo != SIGCHLD) {
            return false;
        }
        family.reap();
        if (isAsked && !family.hasEnded()) {
            return false;
        }
    }
    return true;
}

/// Starts the program; gives why it could not be, or 0.
int start(char** arguments, const sigset_t& signals, pid_t& program)
{
    std::array<int, 2> problems{};
    if (::pipe2(problems.data(), O_CLOEXEC) != 0) {
        return errno;
    }
    program = ::fork();
    if (program == 0) {
        const int problem = become(arguments, signals);
        const bool isTold = ::write(problems[1], &problem, sizeof problem) == sizeof problem;
        ::_exit(isTold ? 127 : 126);
    }
    ::close(problems[1]);
    int problem = program < 0 ? errno : 0;
    if (::read(problems[0], &problem, sizeof problem) < 0) {
        problem = errno;
    }
    ::close(problems[0]);
    return problem;
}
}  // namespace

int main(int argc, char** argv)
{
    if (argc < 2) {
        std::fputs("usage: rope-splice-run PROGRAM [ARGUMENT...]\n", stderr);
        return 2;
    }
    ::setsid();
    ::prctl(PR_SET_CHILD_SUBREAPER, 1);
    sigset_t heard{};
    sigset_t before{};
    ::sigemptyset(&heard);
    for (const int signal : {SIGCHLD, SIGTERM, SIGINT, SIGHUP}) {
        ::sigaddset(&heard, signal);
    }
    ::sigprocmask(SIG_BLOCK, &heard, &before);
    const int signals = ::signalfd(-1, &heard, SFD_CLOEXEC | SFD_NONBLOCK);
    // Whatever else was open here is not the program's.
    ::close_range(3, static_cast<unsigned>(signals) - 1, CLOSE_RANGE_CLOEXEC);
    ::close_range(static_cast<unsigned>(signals) + 1, ~0U, CLOSE_RANGE_CLOEXEC);
    pid_t program = 0;
    if (const int problem = start(argv + 1, before, program); problem != 0) {
        std::fprintf(stderr, "missing %d\n", problem);
        return 0;
    }
    // The output ends when the last of them has ended.
    ::close(STDOUT_FILENO);
    Family family(program);
    if (!waitForProgram(family, signals)) {
        family.end();
        std::fputs("stopped 0\n", stderr);
        return 0;
    }
    family.tellStatus();
    if (!family.waitFor(kToEndByItself)) {
        std::fprintf(stderr, "left %zu\n", family.end());
    }
    return 0;
}
