// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>
#include <functional>
#include <string>

namespace rope {
/// How far a long task is: what it does now, in a few words, and how much of it. `total` 0: unknown.
struct Progress
{
    std::string step;
    std::uint64_t done = 0;
    std::uint64_t total = 0;
};

/// Takes progress. Called on the thread that works; may be empty.
using ProgressSink = std::function<void(const Progress&)>;
}  // namespace rope
