// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>

class QsciLexer;
class QObject;

namespace rope {
/// Returns a lexer for a file by its name, coloured by the theme, or null for plain text.
[[nodiscard]] QsciLexer* makeLexer(const QString& fileName, QObject* parent);

/// Gives a lexer the colours of the look and the font of code, as they are now.
void dressLexer(QsciLexer& lexer);

/// What makes the rest of a line a comment in the language of a file; empty where nothing does.
[[nodiscard]] QString commentMarkOf(const QString& fileName);
}  // namespace rope
