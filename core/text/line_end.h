// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>

namespace rope {
/// How the lines of a text end.
enum class LineEnd {
    none,   ///< No line end at all.
    lf,     ///< Every line end is LF.
    crlf,   ///< Every line end is CR LF.
    mixed,  ///< Some of both; then each line end is part of its line.
};

/// Returns how the lines of a text end.
[[nodiscard]] LineEnd lineEndOf(std::string_view text);

/// Returns the text with every line end written as `style`.
/// REQUIRES: style is lf or crlf
[[nodiscard]] std::string withLineEnd(std::string_view text, LineEnd style);

/// Returns the name for people: "LF", "CRLF", "mixed line ends", "no line end".
[[nodiscard]] std::string_view nameOf(LineEnd style);
}  // namespace rope
