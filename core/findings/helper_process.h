// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <sys/types.h>
#include <vector>

namespace rope {
/// A program that is asked and answers line by line. It may be used from several threads, one at a time.
class HelperProcess
{
public:
    /// Starts a program that is looked for in PATH; what it says of errors goes nowhere. Null: it cannot be
    /// started.
    static std::unique_ptr<HelperProcess> start(const std::vector<std::string>& arguments);
    /// Ends it at once.
    ~HelperProcess();
    HelperProcess(const HelperProcess&) = delete;
    HelperProcess& operator=(const HelperProcess&) = delete;

    /// Gives it bytes; false where it is gone or does not take them in time.
    [[nodiscard]] bool write(std::string_view bytes, int mostMs);
    /// The next line that it says, without its end; nothing where it is gone or says none in time.
    [[nodiscard]] std::optional<std::string> readLine(int mostMs);

private:
    HelperProcess(pid_t process, int channel)
        : m_process(process)
        , m_channel(channel)
    {
    }
    bool readSome();

    pid_t m_process;
    int m_channel;       ///< A socket: writing to one whose other end is gone raises no signal.
    std::string m_said;  ///< Not asked for yet.
};
}  // namespace rope
