// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_code_scan.cpp.
#include "core/findings/language.h"

#include <algorithm>
#include <array>
#include <string>
#include <utility>

namespace rope {
namespace {
constexpr std::array<std::pair<std::string_view, Language>, 88> kByEnding{{
    {"c", Language::c},
    {"h", Language::c},
    {"cc", Language::c},
    {"cpp", Language::c},
    {"cxx", Language::c},
    {"hpp", Language::c},
    {"hh", Language::c},
    {"hxx", Language::c},
    {"inl", Language::c},
    {"m", Language::c},
    {"mm", Language::c},
    {"java", Language::c},
    {"cs", Language::c},
    {"kt", Language::c},
    {"kts", Language::c},
    {"swift", Language::c},
    {"scala", Language::c},
    {"dart", Language::c},
    {"zig", Language::c},
    {"proto", Language::c},
    {"d", Language::c},
    {"vala", Language::c},
    {"glsl", Language::c},
    {"y", Language::c},
    {"l", Language::c},
    {"js", Language::script},
    {"mjs", Language::script},
    {"cjs", Language::script},
    {"jsx", Language::script},
    {"ts", Language::script},
    {"tsx", Language::script},
    {"php", Language::script},
    {"groovy", Language::script},
    {"gradle", Language::script},
    {"qml", Language::script},
    {"go", Language::go},
    {"rs", Language::rust},
    {"py", Language::python},
    {"pyi", Language::python},
    {"pyx", Language::python},
    {"rb", Language::hash},
    {"pl", Language::hash},
    {"pm", Language::hash},
    {"r", Language::hash},
    {"cmake", Language::hash},
    {"mk", Language::hash},
    {"am", Language::hash},
    {"tcl", Language::hash},
    {"nix", Language::hash},
    {"ex", Language::hash},
    {"exs", Language::hash},
    {"jl", Language::hash},
    {"awk", Language::hash},
    {"tf", Language::hash},
    {"sh", Language::shell},
    {"bash", Language::shell},
    {"zsh", Language::shell},
    {"ac", Language::shell},
    {"m4", Language::shell},
    {"sql", Language::sql},
    {"hs", Language::sql},
    {"elm", Language::sql},
    {"lua", Language::lua},
    {"css", Language::css},
    {"scss", Language::css},
    {"less", Language::css},
    {"json", Language::json},
    {"toml", Language::toml},
    {"yaml", Language::yaml},
    {"yml", Language::yaml},
    {"ini", Language::ini},
    {"cfg", Language::ini},
    {"conf", Language::hash},
    {"properties", Language::hash},
    {"desktop", Language::ini},
    {"service", Language::ini},
    {"editorconfig", Language::ini},
    {"xml", Language::markup},
    {"svg", Language::markup},
    {"xsl", Language::markup},
    {"xsd", Language::markup},
    {"ui", Language::markup},
    {"qrc", Language::markup},
    {"ts.xml", Language::markup},
    {"html", Language::html},
    {"htm", Language::html},
    {"xhtml", Language::markup},
    {"vue", Language::html},
}};

std::string lower(std::string_view text)
{
    std::string result(text);
    std::transform(result.begin(), result.end(), result.begin(), [](unsigned char c) {
        return static_cast<char>(c >= 'A' && c <= 'Z' ? c - 'A' + 'a' : c);
    });
    return result;
}
}  // namespace

Language languageOf(std::string_view path)
{
    const std::string_view name = path.substr(path.rfind('/') + 1);
    if (name == "Makefile" || name == "CMakeLists.txt" || name == "Dockerfile" || name == "Rakefile"
        || name == "Gemfile" || name == "makefile" || name == "GNUmakefile" || name == "meson.build"
        || name == "SConstruct") {
        return Language::hash;
    }
    const std::size_t dot = name.rfind('.');
    if (dot == std::string_view::npos || dot == 0) {
        return Language::prose;
    }
    const std::string ending = lower(name.substr(dot + 1));
    const auto* found = std::find_if(kByEnding.begin(), kByEnding.end(), [&](const auto& known) {
        return known.first == ending;
    });
    return found == kByEnding.end() ? Language::prose : found->second;
}

bool isProgram(Language language)
{
    switch (language) {
    case Language::c:
    case Language::script:
    case Language::go:
    case Language::rust:
    case Language::python:
    case Language::hash:
    case Language::shell:
    case Language::lua:
        return true;
    case Language::prose:
    case Language::sql:
    case Language::css:
    case Language::json:
    case Language::toml:
    case Language::yaml:
    case Language::ini:
    case Language::markup:
    case Language::html:
        return false;
    }
    return false;
}

bool sharesNames(Language a, Language b)
{
    if (a == Language::prose || b == Language::prose) {
        return false;
    }
    // A column, a key or a class of a style is named in programs too.
    return a == b || !isProgram(a) || !isProgram(b);
}
}  // namespace rope
