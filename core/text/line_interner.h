// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdint>
#include <span>
#include <string_view>
#include <vector>

namespace rope {
class Text;

/// A small number that stands for one distinct run of bytes (a line or a word); counts from 0.
using TokenId = std::uint32_t;

/// Gives equal byte runs equal numbers, so that comparing texts compares integers.
/// Keeps views: every text that was interned must outlive the interner. Not for several threads at once.
class LineInterner
{
public:
    explicit LineInterner(std::size_t expectedTokens = 64);

    /// Returns one number per line of the text, line ends included. A text that is like the first one
    /// given costs little: a line is looked for where it stood there first.
    [[nodiscard]] std::vector<TokenId> internLines(const Text& text);
    [[nodiscard]] std::vector<TokenId> internAll(std::span<const std::string_view> tokens);
    [[nodiscard]] TokenId intern(std::string_view token);

    /// How many numbers were given out: all ids are below this.
    [[nodiscard]] TokenId idCount() const { return static_cast<TokenId>(m_tokens.size()); }

private:
    /// A run of bytes, which is at most as long as a Text.
    struct Entry
    {
        const char* data = nullptr;
        std::uint32_t size = 0;
        std::uint32_t hash = 0;
        [[nodiscard]] std::string_view bytes() const { return {data, size}; }
    };
    void grow();
    void remember(const std::vector<TokenId>& ids);

    std::vector<Entry> m_tokens;  ///< By id.
    std::vector<std::uint32_t>
        m_slots;                   ///< Open addressing; id + 1, 0 is free. Size is a power of two.
    std::vector<TokenId> m_first;  ///< The lines of the first text.
    std::vector<std::uint32_t> m_lastPlaces;  ///< By id: its last place in the first text.
};
}  // namespace rope
