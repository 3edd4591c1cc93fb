// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace rope {
/// Two digits a byte, in lower case.
[[nodiscard]] std::string hexDigits(std::string_view bytes);
/// The bytes that such digits stand for, in either case; nothing for anything else.
[[nodiscard]] std::optional<std::string> bytesOfHex(std::string_view digits);
/// The value of a digit; negative where it is none.
[[nodiscard]] int hexValue(char digit);
}  // namespace rope
