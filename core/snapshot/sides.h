// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/types.h"

#include <array>

namespace rope {
enum class Side { ours, theirs };
inline constexpr std::array kSides{Side::ours, Side::theirs};
[[nodiscard]] constexpr Side otherSide(Side side)
{
    return side == Side::ours ? Side::theirs : Side::ours;
}

/// A value for each side.
template <typename T>
struct PerSide
{
    T ours{};
    T theirs{};
    [[nodiscard]] T& operator[](Side side) { return side == Side::ours ? ours : theirs; }
    [[nodiscard]] const T& operator[](Side side) const
    {
        return side == Side::ours ? ours : theirs;
    }
    friend bool operator==(const PerSide&, const PerSide&) = default;
};

/// The trees of a three-way join. A null id is an empty tree.
struct ThreeTrees
{
    ObjectId base;
    PerSide<ObjectId> sides;
    friend bool operator==(const ThreeTrees&, const ThreeTrees&) = default;
};
}  // namespace rope
