// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/text/line_range.h"

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace rope {
/// Bytes cut into lines. A line ends at LF and holds it (and a CR before it); the last line may
/// lack one. An empty text has no lines. No encoding is assumed and no byte is ever changed.
/// Values are constant after construction and may be read from any thread.
class Text
{
public:
    /// More bytes than this are not treated as text (line starts are 32-bit).
    static constexpr std::size_t kMaxBytes = 2'000'000'000;

    Text() = default;
    /// REQUIRES: bytes.size() <= kMaxBytes
    explicit Text(std::string bytes);

    [[nodiscard]] const std::string& bytes() const { return m_bytes; }
    [[nodiscard]] LineNumber lineCount() const
    {
        return static_cast<LineNumber>(m_starts.size() - 1);
    }
    /// The line with its end. REQUIRES: number < lineCount()
    [[nodiscard]] std::string_view line(LineNumber number) const;
    /// The bytes of some lines that follow each other. REQUIRES: range.end <= lineCount()
    [[nodiscard]] std::string_view lines(LineRange range) const;

private:
    std::string m_bytes;
    std::vector<std::uint32_t> m_starts{0};  ///< Where each line begins, and the end of the last.
};

/// Returns the lines of `bytes`, each with its end, as Text would cut them.
[[nodiscard]] std::vector<std::string_view> splitLines(std::string_view bytes);

/// A line without what ends it, LF or CR LF, however often.
[[nodiscard]] std::string_view withoutLineEnd(std::string_view line);
/// A line without the blanks at both of its ends, its line end among them.
[[nodiscard]] std::string_view trimmed(std::string_view line);

/// Returns whether the bytes look like anything but text: a NUL in the first 8,000 of them, as git
/// judges, or more of them than a Text can hold.
[[nodiscard]] bool isBinary(std::string_view bytes);
}  // namespace rope
