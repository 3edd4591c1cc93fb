// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/text/line_interner.h"
#include "core/text/line_range.h"

#include <cstdint>
#include <span>
#include <vector>

namespace rope {
using Tokens = std::span<const TokenId>;

/// One run of tokens (lines, or words) that differs between two texts. Counts from 0, half-open.
/// An empty `before` is an insertion, an empty `after` a deletion; never are both empty.
struct Hunk
{
    LineRange before;  ///< Tokens of the first text that are replaced.
    LineRange after;   ///< Tokens of the second text that replace them.
    friend bool operator==(const Hunk&, const Hunk&) = default;
};

/// Which tokens of two texts are not in their common subsequence; one flag each.
struct ChangeFlags
{
    std::vector<std::uint8_t> before;
    std::vector<std::uint8_t> after;
};

/// A piece of two texts that are compared: tokens [before) of one, [after) of the other.
struct TokenBlock
{
    LineRange before;
    LineRange after;
};
}  // namespace rope
