// SPDX-License-Identifier: GPL-3.0-or-later
// A handler may do next to nothing, so it wakes a thread by a byte in a pipe. Handlers, unlike a
// blocked mask, do not pass on to the programs that are started from here.
// Tested by tst_command_line.cpp.
#include "desktop/app/stop_signals.h"

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
    for (const int number : {SIGINT, SIGTERM, SIGHUP}) {
        ::sigaction(number, &action, nullptr);
    }
    return source.get_token();
}
}  // namespace rope
