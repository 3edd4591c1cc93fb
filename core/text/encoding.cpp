// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/text/encoding.h"

#include <algorithm>
#include <cstdint>
#include <cstring>

namespace rope {
namespace {
/// Bytes of the well-formed sequence that starts at `at`, or 0.
std::size_t sequenceLength(std::string_view bytes, std::size_t at)
{
    const auto byte = [&](std::size_t i) {
        return at + i < bytes.size() ? static_cast<std::uint8_t>(bytes[at + i]) : std::uint8_t{0};
    };
    const auto isTail = [&](std::size_t i) {
        return (byte(i) & 0xC0) == 0x80;
    };
    const std::uint8_t lead = byte(0);
    if (lead < 0x80) {
        return 1;
    }
    if (lead >= 0xC2 && lead <= 0xDF) {
        return isTail(1) ? 2 : 0;
    }
    if (lead >= 0xE0 && lead <= 0xEF) {
        const std::uint8_t low = lead == 0xE0 ? 0xA0 : 0x80;
        const std::uint8_t high = lead == 0xED ? 0x9F : 0xBF;
        return byte(1) >= low && byte(1) <= high && isTail(2) ? 3 : 0;
    }
    if (lead >= 0xF0 && lead <= 0xF4) {
        const std::uint8_t low = lead == 0xF0 ? 0x90 : 0x80;
        const std::uint8_t high = lead == 0xF4 ? 0x8F : 0xBF;
        return byte(1) >= low && byte(1) <= high && isTail(2) && isTail(3) ? 4 : 0;
    }
    return 0;
}
}  // namespace

namespace {
constexpr std::uint64_t kHighBits = 0x8080'8080'8080'8080;

/// How many bytes from `at` on are ASCII for sure; looks at eight at a time.
std::size_t asciiRun(std::string_view bytes, std::size_t at)
{
    const std::size_t from = at;
    for (std::uint64_t eight = 0; at + sizeof(eight) <= bytes.size(); at += sizeof(eight)) {
        std::memcpy(&eight, bytes.data() + at, sizeof(eight));
        if ((eight & kHighBits) != 0) {
            break;
        }
    }
    return at - from;
}
}  // namespace

bool isAscii(std::string_view bytes)
{
    return std::none_of(bytes.begin() + static_cast<std::ptrdiff_t>(asciiRun(bytes, 0)),
                        bytes.end(),
                        [](char c) { return static_cast<std::uint8_t>(c) > 0x7F; });
}

bool isUtf8(std::string_view bytes)
{
    for (std::size_t at = 0; at < bytes.size();) {
        at += asciiRun(bytes, at);
        if (at == bytes.size()) {
            break;
        }
        const std::size_t length = sequenceLength(bytes, at);
        if (length == 0) {
            return false;
        }
        at += length;
    }
    return true;
}

std::string utf8FromLatin1(std::string_view bytes)
{
    std::string out;
    out.reserve(bytes.size() + bytes.size() / 8);
    for (const char c : bytes) {
        const auto value = static_cast<std::uint8_t>(c);
        if (value < 0x80) {
            out += c;
        } else {
            out += static_cast<char>(0xC0 | (value >> 6));
            out += static_cast<char>(0x80 | (value & 0x3F));
        }
    }
    return out;
}

std::string latin1FromUtf8(std::string_view utf8)
{
    std::string out;
    out.reserve(utf8.size());
    for (std::size_t i = 0; i < utf8.size(); ++i) {
        const auto lead = static_cast<std::uint8_t>(utf8[i]);
        if ((lead == 0xC2 || lead == 0xC3) && i + 1 < utf8.size()) {
            out += static_cast<char>(((lead & 3) << 6)
                                     | (static_cast<std::uint8_t>(utf8[i + 1]) & 0x3F));
            ++i;
        } else {
            out += utf8[i];
        }
    }
    return out;
}
}  // namespace rope
