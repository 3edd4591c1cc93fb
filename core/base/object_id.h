// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <algorithm>
#include <array>
#ifndef Q_MOC_RUN  // the moc of Qt 6.4 cannot read it
#include <compare>
#endif
#include <cstddef>
#include <cstdint>
#include <cstring>
#include <functional>
#include <optional>
#include <string>
#include <string_view>

namespace rope {
/// The name of an object in a repository: 20 bytes (SHA-1) or 32 bytes (SHA-256), or nothing.
class ObjectId
{
public:
    ObjectId() = default;

    /// Returns the id written as 40 or 64 hexadecimal digits, or nothing for any other text.
    [[nodiscard]] static std::optional<ObjectId> fromHex(std::string_view hex);
    /// Returns the id of 20 or 32 raw bytes, or nothing for any other length.
    [[nodiscard]] static std::optional<ObjectId> fromRaw(std::string_view raw)
    {
        if (raw.size() != kSha1Bytes && raw.size() != kSha256Bytes) {
            return std::nullopt;
        }
        ObjectId id;
        id.m_size = static_cast<std::uint8_t>(raw.size());
        std::memcpy(id.m_bytes.data(), raw.data(), raw.size());
        return id;
    }

    [[nodiscard]] bool isNull() const { return m_size == 0; }
    [[nodiscard]] std::size_t size() const { return m_size; }
    /// Lower-case hexadecimal digits; empty for a null id.
    [[nodiscard]] std::string hex() const;
    /// The first seven digits, for people.
    [[nodiscard]] std::string brief() const { return hex().substr(0, 7); }
    /// The bytes as they are; empty for a null id.
    [[nodiscard]] std::string_view raw() const
    {
        return {reinterpret_cast<const char*>(m_bytes.data()), m_size};
    }

    // NOLINTNEXTLINE(modernize-use-nullptr): clang-tidy 14 sees a pointer in what <=> compares with
    friend auto operator<=>(const ObjectId&, const ObjectId&) = default;

private:
    static constexpr std::size_t kSha1Bytes = 20;
    static constexpr std::size_t kSha256Bytes = 32;

    std::array<std::uint8_t, kSha256Bytes> m_bytes{};
    std::uint8_t m_size = 0;
};
}  // namespace rope

template <>
struct std::hash<rope::ObjectId>
{
    std::size_t operator()(const rope::ObjectId& id) const noexcept
    {
        // Ids are digests: any of their bytes are spread evenly.
        std::size_t beginning = 0;
        const std::string_view bytes = id.raw();
        std::memcpy(&beginning, bytes.data(), std::min(bytes.size(), sizeof(beginning)));
        return beginning;
    }
};
