// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/object_id.h"

#include "core/base/hex.h"

namespace rope {
std::optional<ObjectId> ObjectId::fromHex(std::string_view hex)
{
    if (hex.size() != 2 * kSha1Bytes && hex.size() != 2 * kSha256Bytes) {
        return std::nullopt;
    }
    ObjectId id;
    id.m_size = static_cast<std::uint8_t>(hex.size() / 2);
    for (std::size_t i = 0; i < id.m_size; ++i) {
        const int high = hexValue(hex[2 * i]);
        const int low = hexValue(hex[2 * i + 1]);
        if (high < 0 || low < 0) {
            return std::nullopt;
        }
        id.m_bytes[i] = static_cast<std::uint8_t>(high * 16 + low);
    }
    return id;
}

std::string ObjectId::hex() const
{
    return hexDigits({reinterpret_cast<const char*>(m_bytes.data()), m_size});
}
}  // namespace rope
