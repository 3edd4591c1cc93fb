// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <csignal>
#include <sys/resource.h>

namespace rope::test {
/// While it lives no file may grow over a megabyte: writes fail as on a full disk, in this process and in
/// all that it starts.
class FullDisk
{
public:
    FullDisk()
        : m_previous(::signal(SIGXFSZ, SIG_IGN))
    {
        (void)::getrlimit(RLIMIT_FSIZE, &m_limit);
        const rlimit full{1'000'000, m_limit.rlim_max};
        (void)::setrlimit(RLIMIT_FSIZE, &full);
    }
    ~FullDisk()
    {
        (void)::setrlimit(RLIMIT_FSIZE, &m_limit);
        (void)::signal(SIGXFSZ, m_previous);
    }
    FullDisk(const FullDisk&) = delete;
    FullDisk& operator=(const FullDisk&) = delete;

private:
    void (*m_previous)(int);
    rlimit m_limit{};
};
}  // namespace rope::test
