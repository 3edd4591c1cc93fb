// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/text/line_interner.h"

#include "core/base/digest.h"
#include "core/text/text.h"

#include <bit>

namespace rope {
LineInterner::LineInterner(std::size_t expectedTokens)
    : m_slots(std::bit_ceil(2 * expectedTokens + 2))
{
    m_tokens.reserve(expectedTokens);
}

std::vector<TokenId> LineInterner::internLines(const Text& text)
{
    std::vector<TokenId> ids(text.lineCount());
    std::size_t expected = 0;  // where this line stands in the first text, if both go on alike
    for (LineNumber i = 0; i < text.lineCount(); ++i) {
        const std::string_view line = text.line(i);
        if (expected < m_first.size() && m_tokens[m_first[expected]].bytes() == line) {
            ids[i] = m_first[expected++];
            continue;
        }
        ids[i] = intern(line);
        expected = ids[i] < m_lastPlaces.size() ? m_lastPlaces[ids[i]] + 1 : expected + 1;
    }
    if (m_first.empty()) {
        remember(ids);
    }
    return ids;
}

void LineInterner::remember(const std::vector<TokenId>& ids)
{
    m_first = ids;
    m_lastPlaces.resize(m_tokens.size());
    for (std::uint32_t i = 0; i < ids.size(); ++i) {
        m_lastPlaces[ids[i]] = i;
    }
}

std::vector<TokenId> LineInterner::internAll(std::span<const std::string_view> tokens)
{
    std::vector<TokenId> ids;
    ids.reserve(tokens.size());
    for (const std::string_view token : tokens) {
        ids.push_back(intern(token));
    }
    return ids;
}

TokenId LineInterner::intern(std::string_view token)
{
    if (2 * (m_tokens.size() + 1) > m_slots.size()) {
        grow();
    }
    const auto hash = static_cast<std::uint32_t>(digest64(token));
    const std::size_t mask = m_slots.size() - 1;
    for (std::size_t slot = hash & mask;; slot = (slot + 1) & mask) {
        if (m_slots[slot] == 0) {
            m_tokens.push_back({token.data(), static_cast<std::uint32_t>(token.size()), hash});
            m_slots[slot] = static_cast<std::uint32_t>(m_tokens.size());
            return m_slots[slot] - 1;
        }
        const Entry& entry = m_tokens[m_slots[slot] - 1];
        if (entry.hash == hash && entry.bytes() == token) {
            return m_slots[slot] - 1;
        }
    }
}

void LineInterner::grow()
{
    m_slots.assign(2 * m_slots.size(), 0);
    const std::size_t mask = m_slots.size() - 1;
    for (std::uint32_t id = 0; id < m_tokens.size(); ++id) {
        std::size_t slot = m_tokens[id].hash & mask;
        while (m_slots[slot] != 0) {
            slot = (slot + 1) & mask;
        }
        m_slots[slot] = id + 1;
    }
}
}  // namespace rope
