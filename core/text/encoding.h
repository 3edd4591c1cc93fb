// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>

namespace rope {
/// Returns whether the bytes are well-formed UTF-8 (Unicode 15, table 3-7: no surrogates, no overlong forms).
[[nodiscard]] bool isUtf8(std::string_view bytes);

/// Returns whether no byte is above 127.
[[nodiscard]] bool isAscii(std::string_view bytes);

/// Returns the bytes, each read as one ISO 8859-1 character, written as UTF-8. Loses nothing:
/// latin1FromUtf8() gives the same bytes back.
[[nodiscard]] std::string utf8FromLatin1(std::string_view bytes);

/// Returns one byte for each character below U+0100; a character above it stays as its UTF-8 bytes.
[[nodiscard]] std::string latin1FromUtf8(std::string_view utf8);
}  // namespace rope
