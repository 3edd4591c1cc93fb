// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>
#include <initializer_list>
#include <string>
#include <string_view>

namespace rope {
/// Returns a 64-bit digest of some bytes (XXH3). Stable between runs, not meant against forgery.
[[nodiscard]] std::uint64_t digest64(std::string_view bytes);

/// Returns 32 hexadecimal digits (XXH3-128) that tell these parts, in this order and with these
/// borders, from any others. Stable between runs, so it may be stored.
[[nodiscard]] std::string digestOfParts(std::initializer_list<std::string_view> parts);
}  // namespace rope
