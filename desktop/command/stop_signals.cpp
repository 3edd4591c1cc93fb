// SPDX-License-Identifier: GPL-3.0-or-later
// What a terminal sends to all that was started in it (Ctrl+C, hanging up) is blocked, here and in the
// programs that are started from here: these must not be ended in the midst of taking things back. A
// thread waits for it, however often it comes. SIGTERM is for this process alone and has a handler, which
// may do next to nothing, so it wakes a thread by a byte in a pipe.
// Tested by tst_command_line.cpp.
#include "desktop/command/stop_signals.h"

#include <array>
#include <csignal>
#include <fcntl.h>
#include <thread>
#include <unistd.h>

namespace rope {
namespace {
int wakingEnd = -1;

extern "C" void wake(int /*signal*/)
{
    const char byte = 0;
    const auto written = ::write(wakingEnd, &byte, 1);
    (void)written;  // a full pipe has woken it already
}
}  // namespace

std::stop_token stopOnSignals()
{
    static std::stop_source source;
    std::array<int, 2> ends{};
    if (::pipe2(ends.data(), O_CLOEXEC) != 0) {
        return source.get_token();  // then signals end this process, and the next start recovers
    }
    sigset_t fromTerminal;
    ::sigemptyset(&fromTerminal);
    ::sigaddset(&fromTerminal, SIGINT);
    ::sigaddset(&fromTerminal, SIGHUP);
    ::pthread_sigmask(
        SIG_BLOCK, &fromTerminal, nullptr);  // before any thread or program is started
    std::thread([fromTerminal] {
        for (int number = 0; ::sigwait(&fromTerminal, &number) == 0;) {
            source.request_stop();
        }
    }).detach();
    wakingEnd = ends[1];
    std::thread([end = ends[0]] {
        char byte = 0;
        if (::read(end, &byte, 1) == 1) {
            source.request_stop();
        }
    }).detach();
    struct sigaction action
    {
    };
    action.sa_handler = &wake;
    action.sa_flags = SA_RESTART;
    ::sigaction(SIGTERM, &action, nullptr);
    return source.get_token();
}
}  // namespace rope
