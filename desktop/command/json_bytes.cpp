// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_command_line.cpp.
#include "desktop/command/json_bytes.h"

#include "core/text/encoding.h"

#include <algorithm>
#include <nlohmann/json.hpp>

namespace rope {
namespace {
constexpr std::size_t kMostKept = 1 << 16;

std::string dumped(const nlohmann::ordered_json& json)
{
    return json.dump(-1, ' ', false, nlohmann::ordered_json::error_handler_t::replace);
}

/// Whether a character of a string stands for itself (RFC 8259, section 7).
bool isPlain(char c)
{
    return static_cast<unsigned char>(c) >= 0x20 && c != '"' && c != '\\';
}
}  // namespace

std::string jsonText(const nlohmann::ordered_json& json)
{
    return dumped(json) + "\n";
}

JsonPieces& JsonPieces::raw(std::string_view json)
{
    m_kept += json;
    flushLarge();
    return *this;
}

JsonPieces& JsonPieces::string(std::string_view text)
{
    return raw("\"").inString(text).raw("\"");
}

JsonPieces& JsonPieces::inString(std::string_view text)
{
    if (!isUtf8(text)) {
        const std::string quoted = dumped(std::string(text));
        return raw(std::string_view(quoted).substr(1, quoted.size() - 2));
    }
    for (; !text.empty(); text.remove_prefix(std::min(text.size(), kMostKept))) {
        escape(text.substr(0, kMostKept));
        flushLarge();
    }
    return *this;
}

void JsonPieces::escape(std::string_view utf8)
{
    while (!utf8.empty()) {
        const auto special = std::find_if_not(utf8.begin(), utf8.end(), isPlain);
        m_kept.append(utf8.begin(), special);
        if (special == utf8.end()) {
            return;
        }
        if (*special == '\n') {
            m_kept += "\\n";
        } else {
            const std::string quoted = dumped(std::string(1, *special));
            m_kept.append(quoted, 1, quoted.size() - 2);
        }
        utf8.remove_prefix(static_cast<std::size_t>(special - utf8.begin()) + 1);
    }
}

void JsonPieces::flushLarge()
{
    if (m_kept.size() >= kMostKept) {
        flush();
    }
}

void JsonPieces::flush()
{
    if (m_file != nullptr) {
        std::fwrite(m_kept.data(), 1, m_kept.size(), m_file);
        m_kept.clear();
    }
}
}  // namespace rope
