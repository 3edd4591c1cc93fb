// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_decision_note.cpp, tst_git_parsers.cpp.
#include "core/base/hex.h"

#include <array>
#include <cstdint>

namespace rope {
namespace {
constexpr std::string_view kHexDigits = "0123456789abcdef";

constexpr std::array<std::int8_t, 256> digitValues()
{
    std::array<std::int8_t, 256> values{};
    for (std::int8_t& value : values) {
        value = -1;
    }
    for (std::int8_t digit = 0; digit < 16; ++digit) {
        values[static_cast<unsigned char>(kHexDigits[static_cast<std::size_t>(digit)])] = digit;
        values[static_cast<unsigned char>("0123456789ABCDEF"[digit])] = digit;
    }
    return values;
}
}  // namespace

int hexValue(char digit)
{
    static constexpr auto kValues = digitValues();
    return kValues[static_cast<unsigned char>(digit)];
}

std::string hexDigits(std::string_view bytes)
{
    std::string digits;
    digits.reserve(2 * bytes.size());
    for (const char byte : bytes) {
        const auto value = static_cast<unsigned char>(byte);
        digits += kHexDigits[value >> 4U];
        digits += kHexDigits[value & 15U];
    }
    return digits;
}

std::optional<std::string> bytesOfHex(std::string_view digits)
{
    if (digits.size() % 2 != 0) {
        return std::nullopt;
    }
    std::string bytes;
    for (std::size_t i = 0; i < digits.size(); i += 2) {
        const int high = hexValue(digits[i]);
        const int low = hexValue(digits[i + 1]);
        if (high < 0 || low < 0) {
            return std::nullopt;
        }
        bytes += static_cast<char>(high * 16 + low);
    }
    return bytes;
}
}  // namespace rope
