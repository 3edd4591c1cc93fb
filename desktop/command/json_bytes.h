// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstdio>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <string_view>

namespace rope {
/// Returns JSON as text with a line end. Bytes that are not UTF-8 become U+FFFD: JSON has no others.
[[nodiscard]] std::string jsonText(const nlohmann::ordered_json& json);

/// JSON that is written in pieces, because it is too large to be held in memory as a whole. What makes
/// it JSON is up to the caller.
class JsonPieces
{
public:
    /// Without a file all is kept until take().
    explicit JsonPieces(std::FILE* file = nullptr)
        : m_file(file)
    {
    }
    ~JsonPieces() { flush(); }
    JsonPieces(const JsonPieces&) = delete;
    JsonPieces& operator=(const JsonPieces&) = delete;

    /// Brackets, commas, keys, numbers: as they are.
    JsonPieces& raw(std::string_view json);
    /// A whole string, in quotes. Bytes that are not UTF-8 become U+FFFD.
    JsonPieces& string(std::string_view text);
    /// A part of a string whose quotes are written by raw().
    JsonPieces& inString(std::string_view text);

    [[nodiscard]] std::string take() { return std::move(m_kept); }

private:
    void flush();
    void flushLarge();
    void escape(std::string_view utf8);

    std::FILE* m_file;
    std::string m_kept;  ///< Not written yet.
};
}  // namespace rope
