// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/types.h"

#include <QString>

#include <string_view>

namespace rope {
/// Bytes for show: UTF-8 where they are, else read as ISO 8859-1. Never travels back.
[[nodiscard]] QString shown(std::string_view bytes);
/// As shown(), for words that come from outside (hooks, remotes): line breaks and tabs stay, all other
/// control characters become visible signs.
[[nodiscard]] QString shownWords(std::string_view bytes);
/// As shown(), in one line: control characters and line breaks become visible signs.
[[nodiscard]] QString shownPath(std::string_view path);

/// As shownPath(), of a command that is to be run: a run of hidden signs is told by their number, and a
/// long word may be broken, so that all of it can be seen.
[[nodiscard]] QString shownCommand(std::string_view command);
/// A text as it is, to be edited and given back: nothing in it is made visible.
[[nodiscard]] QString editableText(std::string_view bytes);

/// At most so many bytes of a text for show, whole characters, with an ellipsis where it is cut off.
[[nodiscard]] QString shownBeginning(std::string_view bytes, std::size_t mostBytes);
/// A commit's first line, cut off where it is longer than anyone reads.
[[nodiscard]] QString shownSubject(const Commit& commit);

/// "1 region", "7 regions".
[[nodiscard]] QString countOf(std::size_t count, const char* one, const char* many);

/// Short phrases in a row: "keeps both edits · brackets balance".
[[nodiscard]] QString inARow(const QStringList& phrases);
}  // namespace rope
