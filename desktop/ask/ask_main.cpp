// SPDX-License-Identifier: GPL-3.0-or-later
// git and ssh start this with a question; it asks the window that started them, over a local socket,
// and prints the answer. Without an answer it fails, and git says that nobody could be asked.
// Tested by tst_ask_server.cpp.
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <string>
#include <string_view>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/un.h>
#include <unistd.h>

namespace {
bool writeAll(int file, const void* data, std::size_t size)
{
    const auto* bytes = static_cast<const char*>(data);
    while (size > 0) {
        const ssize_t written = ::write(file, bytes, size);
        if (written <= 0) {
            return false;
        }
        bytes += written;
        size -= static_cast<std::size_t>(written);
    }
    return true;
}

int connectTo(const char* path)
{
    sockaddr_un address{};
    address.sun_family = AF_UNIX;
    if (path == nullptr || std::strlen(path) >= sizeof address.sun_path) {
        return -1;
    }
    std::memcpy(address.sun_path, path, std::strlen(path));
    const int file = ::socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0);
    // NOLINTNEXTLINE(cppcoreguidelines-pro-type-reinterpret-cast): the socket interface is made so
    if (::connect(file, reinterpret_cast<const sockaddr*>(&address), sizeof address) != 0) {
        return -1;
    }
    return file;
}

/// What goes through here may be a password: no core dump keeps it, and no other process reads it.
void keepMemoryPrivate()
{
    const rlimit none{0, 0};
    ::setrlimit(RLIMIT_CORE, &none);
    ::prctl(PR_SET_DUMPABLE, 0, 0, 0, 0);
}
}  // namespace

int main(int argc, char** argv)
{
    keepMemoryPrivate();
    // NOLINTNEXTLINE(concurrency-mt-unsafe): there is one thread
    const char* const set = std::getenv("ROPE_SPLICE_ASK");
    // "path:token": what follows the last colon is the window's, so that it knows who asks.
    const std::string_view address = set == nullptr ? "" : set;
    const std::size_t colon = address.rfind(':');
    if (colon == std::string_view::npos) {
        return 1;
    }
    const std::string question =
        std::string(address.substr(colon + 1)) + "\n" + (argc > 1 ? argv[1] : "");
    const int window = connectTo(std::string(address.substr(0, colon)).c_str());
    const auto size = static_cast<std::uint32_t>(question.size());
    if (window < 0 || !writeAll(window, &size, sizeof size)
        || !writeAll(window, question.data(), question.size())) {
        return 1;
    }
    std::string answer;
    char buffer[512];
    for (ssize_t got = 0; (got = ::read(window, buffer, sizeof buffer)) > 0;) {
        answer.append(buffer, static_cast<std::size_t>(got));
    }
    // "+" and what was typed; nothing at all where it was declined.
    if (answer.empty() || answer.front() != '+') {
        return 1;
    }
    answer.erase(0, 1);
    answer += '\n';
    return writeAll(STDOUT_FILENO, answer.data(), answer.size()) ? 0 : 1;
}
