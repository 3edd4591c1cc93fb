// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string_view>

namespace rope {
/// How the text of a file is read: what is a comment, a string, a block. By the file's name alone.
enum class Language {
    prose,   ///< Nothing is known of it, or people's sentences.
    c,       ///< `//`, `/* */`, braces: C, C++, Java, C#, Kotlin, Swift, Scala, Dart, Zig, …
    script,  ///< The same with strings in single quotes: JavaScript, TypeScript, PHP.
    go,
    rust,
    python,
    hash,   ///< `#` begins a comment: Perl, Ruby, R, CMake, make, …
    shell,  ///< As `hash`; quotes run over lines.
    sql,    ///< `--`, `/* */`.
    lua,
    css,
    json,
    toml,
    yaml,
    ini,
    markup,  ///< XML and what looks like it.
    html,
};

[[nodiscard]] Language languageOf(std::string_view path);

/// Whether names that one of them defines may be used in the other.
[[nodiscard]] bool sharesNames(Language a, Language b);

/// Whether it is a program, in which names are defined and used.
[[nodiscard]] bool isProgram(Language language);
}  // namespace rope
