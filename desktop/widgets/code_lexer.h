// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>

class QsciLexer;
class QObject;

namespace rope {
/// Returns a lexer for a file by its name, coloured by the theme, or null for plain text.
[[nodiscard]] QsciLexer* makeLexer(const QString& fileName, QObject* parent);
}  // namespace rope
