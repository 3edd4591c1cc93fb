// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/object_id.h"

namespace rope {
namespace {
constexpr std::array<std::int8_t, 256> digitValues()
{
    std::array<std::int8_t, 256> values{};
    for (std::int8_t& value : values) {
        value = -1;
    }
    for (std::int8_t digit = 0; digit < 16; ++digit) {
        values[static_cast<unsigned char>("0123456789abcdef"[digit])] = digit;
        values[static_cast<unsigned char>("0123456789ABCDEF"[digit])] = digit;
    }
    return values;
}

int digitValue(char c)
{
    static constexpr auto kValues = digitValues();
    return kValues[static_cast<unsigned char>(c)];
}
}  // namespace

std::optional<ObjectId> ObjectId::fromHex(std::string_view hex)
{
    if (hex.size() != 2 * kSha1Bytes && hex.size() != 2 * kSha256Bytes) {
        return std::nullopt;
    }
    ObjectId id;
    id.m_size = static_cast<std::uint8_t>(hex.size() / 2);
    for (std::size_t i = 0; i < id.m_size; ++i) {
        const int high = digitValue(hex[2 * i]);
        const int low = digitValue(hex[2 * i + 1]);
        if (high < 0 || low < 0) {
            return std::nullopt;
        }
        id.m_bytes[i] = static_cast<std::uint8_t>(high * 16 + low);
    }
    return id;
}

std::string ObjectId::hex() const
{
    static constexpr char kDigits[] = "0123456789abcdef";
    std::string text(2 * static_cast<std::size_t>(m_size), '0');
    for (std::size_t i = 0; i < m_size; ++i) {
        text[2 * i] = kDigits[m_bytes[i] >> 4];
        text[2 * i + 1] = kDigits[m_bytes[i] & 15];
    }
    return text;
}
}  // namespace rope
