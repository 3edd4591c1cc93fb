// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/text/text.h"

#include "core/base/assert.h"

#include <cstring>

namespace rope {
namespace {
constexpr std::size_t kBinaryProbeBytes = 8000;  // as far as git looks
}

Text::Text(std::string bytes)
    : m_bytes(std::move(bytes))
{
    ROPE_ASSERT(m_bytes.size() <= kMaxBytes, "text too large for 32-bit line starts");
    const char* const begin = m_bytes.data();
    const char* const end = begin + m_bytes.size();
    m_starts.reserve(m_bytes.size() / 32 + 2);
    for (const char* at = begin; at != end;) {
        const void* newline = std::memchr(at, '\n', static_cast<std::size_t>(end - at));
        at = newline ? static_cast<const char*>(newline) + 1 : end;
        m_starts.push_back(static_cast<std::uint32_t>(at - begin));
    }
}

std::string_view Text::line(LineNumber number) const
{
    return lines({number, number + 1});
}

std::string_view Text::lines(LineRange range) const
{
    ROPE_ASSERT(range.begin <= range.end && range.end <= lineCount(),
                "line range outside the text");
    const std::uint32_t from = m_starts[range.begin];
    return std::string_view(m_bytes).substr(from, m_starts[range.end] - from);
}

std::vector<std::string_view> splitLines(std::string_view bytes)
{
    std::vector<std::string_view> lines;
    while (!bytes.empty()) {
        const std::size_t newline = bytes.find('\n');
        const std::size_t size = newline == std::string_view::npos ? bytes.size() : newline + 1;
        lines.push_back(bytes.substr(0, size));
        bytes.remove_prefix(size);
    }
    return lines;
}

std::string_view withoutLineEnd(std::string_view line)
{
    return line.substr(0, line.find_last_not_of("\r\n") + 1);
}

std::string_view trimmed(std::string_view line)
{
    constexpr std::string_view kBlanks = " \t\r\n";
    const std::size_t begin = line.find_first_not_of(kBlanks);
    return begin == std::string_view::npos
               ? std::string_view{}
               : line.substr(begin, line.find_last_not_of(kBlanks) - begin + 1);
}

bool isBinary(std::string_view bytes)
{
    return bytes.size() > Text::kMaxBytes
           || bytes.substr(0, kBinaryProbeBytes).find('\0') != std::string_view::npos;
}
}  // namespace rope
