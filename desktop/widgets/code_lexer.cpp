// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/code_lexer.h"

#include "desktop/widgets/theme.h"

#include <QFileInfo>
#include <Qsci/qscilexerbash.h>
#include <Qsci/qscilexercmake.h>
#include <Qsci/qscilexercpp.h>
#include <Qsci/qscilexercss.h>
#include <Qsci/qscilexerhtml.h>
#include <Qsci/qscilexerjava.h>
#include <Qsci/qscilexerjavascript.h>
#include <Qsci/qscilexerjson.h>
#include <Qsci/qscilexermakefile.h>
#include <Qsci/qscilexermarkdown.h>
#include <Qsci/qscilexerperl.h>
#include <Qsci/qscilexerproperties.h>
#include <Qsci/qscilexerpython.h>
#include <Qsci/qscilexerruby.h>
#include <Qsci/qscilexersql.h>
#include <Qsci/qscilexerxml.h>
#include <Qsci/qscilexeryaml.h>

#include <functional>
#include <map>

namespace rope {
namespace {
using Maker = std::function<QsciLexer*(QObject*)>;

template <typename Lexer>
Maker make()
{
    return [](QObject* parent) -> QsciLexer* {
        return new Lexer(parent);
    };
}

const std::map<QString, Maker>& makersBySuffix()
{
    static const std::map<QString, Maker> kMakers = [] {
        std::map<QString, Maker> makers;
        const auto add = [&makers](const char* suffixes, const Maker& maker) {
            for (const QString& suffix : QString::fromLatin1(suffixes).split(QLatin1Char(' '))) {
                makers[suffix] = maker;
            }
        };
        add("py pyi", make<QsciLexerPython>());
        add("c cc cpp cxx h hh hpp hxx", make<QsciLexerCPP>());
        add("sh bash zsh", make<QsciLexerBash>());
        add("sql", make<QsciLexerSQL>());
        add("md markdown", make<QsciLexerMarkdown>());
        add("toml ini cfg conf properties", make<QsciLexerProperties>());
        add("yaml yml", make<QsciLexerYAML>());
        add("json", make<QsciLexerJSON>());
        add("xml svg ui qrc", make<QsciLexerXML>());
        add("html htm", make<QsciLexerHTML>());
        add("css", make<QsciLexerCSS>());
        add("js mjs ts", make<QsciLexerJavaScript>());
        add("java cs kt", make<QsciLexerJava>());
        add("cmake", make<QsciLexerCMake>());
        add("mk", make<QsciLexerMakefile>());
        add("pl pm", make<QsciLexerPerl>());
        add("rb", make<QsciLexerRuby>());
        return makers;
    }();
    return kMakers;
}

QColor colourOf(const QString& description)
{
    const auto has = [&](const char* word) {
        return description.contains(QLatin1String(word), Qt::CaseInsensitive);
    };
    if (has("comment")) {
        return theme().comment;
    }
    if (has("string") || has("quoted") || has("number") || has("character") || has("value")) {
        return theme().literal;
    }
    if (has("keyword") || has("section") || has("header") || has("tag") || has("decorator")
        || has("pre-processor")) {
        return theme().keyword;
    }
    return theme().ink;
}

}  // namespace

// Few quiet colours in place of the lexer's own, so that the patterns of the sides lead the eye.
void dressLexer(QsciLexer& lexer)
{
    lexer.setDefaultFont(codeFont());
    lexer.setDefaultPaper(theme().paper);
    lexer.setDefaultColor(theme().ink);
    lexer.setFont(codeFont());
    lexer.setPaper(theme().paper);
    for (int style = 0; style < 128; ++style) {
        lexer.setColor(colourOf(lexer.description(style)), style);
    }
}

namespace {
/// The suffix that stands for a file's language.
QString languageOf(const QString& fileName)
{
    const QFileInfo file(fileName);
    if (file.fileName() == QLatin1String("CMakeLists.txt")) {
        return QStringLiteral("cmake");
    }
    return file.fileName() == QLatin1String("Makefile") ? QStringLiteral("mk")
                                                        : file.suffix().toLower();
}
}  // namespace

QsciLexer* makeLexer(const QString& fileName, QObject* parent)
{
    const auto& makers = makersBySuffix();
    const auto found = makers.find(languageOf(fileName));
    if (found == makers.end()) {
        return nullptr;
    }
    QsciLexer* lexer = found->second(parent);
    dressLexer(*lexer);
    return lexer;
}

QString commentMarkOf(const QString& fileName)
{
    static const std::map<QString, QString> kSuffixes{
        {QStringLiteral("#"),
         QStringLiteral(
             " py pyi sh bash zsh toml ini cfg conf properties yaml yml cmake mk pl pm rb ")},
        {QStringLiteral("//"),
         QStringLiteral(" c cc cpp cxx h hh hpp hxx js mjs ts java cs kt go rs swift ")},
        {QStringLiteral("--"), QStringLiteral(" sql lua hs ")}};
    const QString language = QLatin1Char(' ') + languageOf(fileName) + QLatin1Char(' ');
    for (const auto& [mark, suffixes] : kSuffixes) {
        if (language.size() > 2 && suffixes.contains(language)) {
            return mark;
        }
    }
    return {};
}
}  // namespace rope
