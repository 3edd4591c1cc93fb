// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace rope {
/// How a text is written down: its encoding, and whether a byte-order mark leads it.
struct TextForm
{
    std::string encoding = "UTF-8";  ///< A name that iconv knows.
    bool hasMark = false;
    friend bool operator==(const TextForm&, const TextForm&) = default;
};

/// Returns the form a content shows by itself: UTF-16 and UTF-32 by their mark, else UTF-8, with or
/// without one. Nothing for bytes that are none of these; what they are can only be guessed.
[[nodiscard]] std::optional<TextForm> formOf(std::string_view bytes);

/// Returns a guess at the encoding of bytes that are not UTF-8, from their statistics; ISO-8859-1
/// where there is none. Source of the method: the universal charset detector (uchardet).
[[nodiscard]] TextForm guessedForm(std::string_view bytes);

/// Returns the text as UTF-8 without a mark, or nothing where encoding it again would not give the
/// same bytes.
[[nodiscard]] std::optional<std::string> decodedText(std::string_view bytes, const TextForm& form);

/// Returns the bytes of a text in a form, or nothing where the encoding lacks a character of it.
[[nodiscard]] std::optional<std::string> encodedText(std::string_view text, const TextForm& form);
}  // namespace rope
