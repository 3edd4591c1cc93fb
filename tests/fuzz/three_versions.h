// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <array>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <string>

namespace rope::fuzz {
/// Cuts an input at its first two bytes 0x1E into base, ours and theirs. Letters stand for lines, so
/// that a fuzzer soon finds texts with lines in common: every byte below 0x40 but NUL, LF and CR is a
/// line of its own.
inline std::array<std::string, 3> threeVersions(const std::uint8_t* data, std::size_t size)
{
    std::array<std::string, 3> versions;
    std::size_t at = 0;
    for (std::size_t i = 0; i < size; ++i) {
        if (data[i] == 0x1E && at < 2) {
            ++at;
        } else if (data[i] >= 0x10 && data[i] < 0x40) {
            versions[at] += "line " + std::to_string(data[i]) + "\n";
        } else {
            versions[at] += static_cast<char>(data[i]);
        }
    }
    return versions;
}

/// Ends the run with a finding.
inline void require(bool condition, const char* what)
{
    if (!condition) {
        std::fprintf(stderr, "broken promise: %s\n", what);
        std::abort();
    }
}
}  // namespace rope::fuzz
