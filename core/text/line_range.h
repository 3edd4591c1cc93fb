// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>

namespace rope {
/// A line's place in a text, from 0.
using LineNumber = std::uint32_t;

/// Lines [begin, end) of a text; empty ranges still have a place.
struct LineRange
{
    LineNumber begin = 0;
    LineNumber end = 0;

    [[nodiscard]] LineNumber size() const { return end - begin; }
    [[nodiscard]] bool isEmpty() const { return begin == end; }
    friend bool operator==(const LineRange&, const LineRange&) = default;
};
}  // namespace rope
