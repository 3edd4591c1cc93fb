// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_code_scan.cpp.
#include "core/findings/code_scan.h"

#include "core/findings/finding.h"

#include <algorithm>
#include <array>
#include <string>

namespace rope {
namespace {
/// What single quotes mean.
enum class Single {
    none,       ///< Nothing.
    string,     ///< A string.
    character,  ///< One character, or a sign within a number or a word.
};

struct Signs
{
    std::array<std::string_view, 2> lineComments{};
    std::string_view blockOpens{};
    std::string_view blockCloses{};
    Single single = Single::none;
    bool hasDouble = true;
    bool hasBackticks = false;       ///< Strings that run over lines.
    bool hasTriple = false;          ///< Three quotes: strings that run over lines.
    bool quotesRunOn = false;        ///< A plain string may hold line ends.
    bool hasRawStrings = false;      ///< `R"x(…)x"`
    bool escapes = true;             ///< A backslash takes the next character along.
    bool tellsOpenQuotes = true;     ///< A quote without a partner on its line is a fault.
    bool commentNeedsBlank = false;  ///< A comment's sign counts only after a blank.
    bool hasBrackets = true;
    bool hasBranches = false;  ///< `#if … #else … #endif`: one of several texts is read.
};

/// What C and its relatives have in common.
Signs signsOfC()
{
    Signs signs;
    signs.lineComments = {"//"};
    signs.blockOpens = "/*";
    signs.blockCloses = "*/";
    signs.single = Single::character;
    return signs;
}

/// What languages have in common in which `#` begins a comment.
Signs signsOfHash()
{
    Signs signs;
    signs.lineComments = {"#"};
    signs.single = Single::string;
    signs.commentNeedsBlank = true;
    return signs;
}

Signs signsOfProgram(Language language)
{
    Signs signs = signsOfC();
    switch (language) {
    case Language::c:
        signs.hasBranches = true;
        signs.hasRawStrings = true;
        signs.hasTriple = true;
        return signs;
    case Language::script:
        signs.single = Single::string;
        signs.hasBackticks = true;
        signs.tellsOpenQuotes = false;  // patterns hold quotes
        return signs;
    case Language::go:
        signs.hasBackticks = true;
        return signs;
    case Language::rust:
        signs.quotesRunOn = true;
        return signs;
    default:
        break;
    }
    signs = signsOfHash();
    if (language == Language::python) {
        signs.commentNeedsBlank = false;
        signs.hasTriple = true;
    } else if (language == Language::shell) {
        signs.quotesRunOn = true;
    } else {
        signs.tellsOpenQuotes = false;
    }
    if (language == Language::lua) {
        signs.lineComments = {"--"};
        signs.commentNeedsBlank = false;
    }
    return signs;
}

/// Of texts that are no programs; brackets count in queries and styles alone.
Signs signsOfData(Language language)
{
    Signs signs;
    signs.hasBrackets = language == Language::sql || language == Language::css;
    signs.tellsOpenQuotes = language == Language::css;
    if (language == Language::sql || language == Language::css) {
        signs.blockOpens = "/*";
        signs.blockCloses = "*/";
        signs.single = Single::string;
    }
    switch (language) {
    case Language::sql:
        signs.lineComments = {"--"};
        signs.quotesRunOn = true;
        signs.escapes = false;
        break;
    case Language::toml:
    case Language::yaml:
        signs.lineComments = {"#"};
        signs.single = Single::string;
        signs.commentNeedsBlank = true;
        break;
    case Language::ini:
        signs.lineComments = {"#", ";"};
        signs.hasDouble = false;
        signs.commentNeedsBlank = true;
        break;
    case Language::markup:
    case Language::html:
        signs.blockOpens = "<!--";
        signs.blockCloses = "-->";
        signs.hasDouble = false;
        break;
    case Language::prose:
        signs.hasDouble = false;
        break;
    default:
        break;
    }
    return signs;
}

Signs signsOf(Language language)
{
    return isProgram(language) ? signsOfProgram(language) : signsOfData(language);
}

bool isWordByte(char c)
{
    const auto byte = static_cast<unsigned char>(c);
    return (byte >= '0' && byte <= '9') || (byte >= 'A' && byte <= 'Z')
           || (byte >= 'a' && byte <= 'z') || byte == '_' || byte > 127;
}

char partnerOf(char closing)
{
    return closing == ')' ? '(' : closing == ']' ? '[' : '{';
}

class Scanner
{
public:
    Scanner(std::string_view text, Language language)
        : m_text(text)
        , m_signs(signsOf(language))
        , m_tellsLines(language == Language::python)
    {
    }

    CodeScan scan()
    {
        while (m_at < m_text.size()) {
            step();
        }
        endLine();
        for (const LooseBracket& open : m_open) {
            loose(open);
        }
        return std::move(m_scan);
    }

private:
    [[nodiscard]] bool isNext(std::string_view sign) const
    {
        return !sign.empty() && m_text.substr(m_at).starts_with(sign);
    }

    void step()
    {
        const char c = m_text[m_at];
        if (c == '\n') {
            endLine();
            ++m_line;
            ++m_at;
        } else if (beginsComment()) {
            skipToLineEnd();
        } else if (isNext(m_signs.blockOpens)) {
            skipBlock();
        } else if (c == '\\' && m_at + 1 < m_text.size() && m_text[m_at + 1] == '\n') {
            m_goesOn = true;
            ++m_at;
        } else if (isWordByte(c)) {
            takeWord(false);
        } else if (!takeQuote(c)) {
            takeSign(c);
        }
    }

    [[nodiscard]] bool beginsComment() const
    {
        const bool isAfterBlank = m_at == 0 || m_text[m_at - 1] == ' ' || m_text[m_at - 1] == '\t'
                                  || m_text[m_at - 1] == '\n';
        if (m_signs.commentNeedsBlank && !isAfterBlank) {
            return false;
        }
        return isNext(m_signs.lineComments[0]) || isNext(m_signs.lineComments[1]);
    }

    void skipToLineEnd() { m_at = std::min(m_text.find('\n', m_at), m_text.size()); }

    void skipBlock()
    {
        const std::size_t end = m_text.find(m_signs.blockCloses, m_at + m_signs.blockOpens.size());
        skipTo(end == std::string_view::npos ? m_text.size() : end + m_signs.blockCloses.size());
    }

    void skipTo(std::size_t end)
    {
        for (; m_at < end; ++m_at) {
            m_line += m_text[m_at] == '\n' ? 1U : 0U;
        }
    }

    void takeWord(bool isInString)
    {
        const std::size_t begin = m_at;
        noteCode();
        while (m_at < m_text.size() && isWordByte(m_text[m_at])) {
            ++m_at;
        }
        m_scan.words.push_back({m_text.substr(begin, m_at - begin), begin, m_line, isInString});
    }

    /// Takes a string, if one begins here.
    bool takeQuote(char c)
    {
        if (c == '`' && m_signs.hasBackticks) {
            takeString("`", true, true);
            return true;
        }
        if (c == '"' && m_signs.hasDouble) {
            if (m_signs.hasRawStrings && isRaw()) {
                return true;
            }
            if (m_signs.hasTriple && isNext("\"\"\"")) {
                takeString("\"\"\"", true, true);
            } else {
                takeString("\"", m_signs.quotesRunOn, m_signs.tellsOpenQuotes);
            }
            return true;
        }
        if (c != '\'') {
            return false;
        }
        if (m_signs.single == Single::string) {
            if (m_signs.hasTriple && isNext("'''")) {
                takeString("'''", true, true);
            } else {
                takeString("'", m_signs.quotesRunOn, m_signs.tellsOpenQuotes);
            }
            return true;
        }
        if (m_signs.single == Single::character) {
            m_at += lengthOfCharacter();
            return true;
        }
        return false;
    }

    /// Takes a raw string of C++, if the quote here begins one.
    bool isRaw()
    {
        if (m_at == 0 || m_text[m_at - 1] != 'R') {
            return false;
        }
        const std::size_t open = m_text.find('(', m_at);
        if (open == std::string_view::npos || open - m_at > 17) {
            return false;
        }
        const std::string close =
            ")" + std::string(m_text.substr(m_at + 1, open - m_at - 1)) + "\"";
        const std::size_t end = m_text.find(close, open);
        skipTo(end == std::string_view::npos ? m_text.size() : end + close.size());
        noteCode();
        return true;
    }

    /// How long the character in single quotes here is; 1: the quote is a sign of its own.
    [[nodiscard]] std::size_t lengthOfCharacter() const
    {
        constexpr std::size_t kMost = 14;  // '\u{10FFFF}'
        if (m_at > 0 && isWordByte(m_text[m_at - 1])) {
            return 1;
        }
        for (std::size_t i = m_at + 1; i < m_text.size() && i - m_at < kMost; ++i) {
            if (m_text[i] == '\n') {
                break;
            }
            if (m_text[i] == '\\') {
                ++i;
            } else if (m_text[i] == '\'') {
                return i - m_at + 1;
            }
        }
        return 1;
    }

    void takeString(std::string_view quote, bool runsOn, bool isTold)
    {
        const LineNumber firstLine = m_line;
        noteCode();
        m_at += quote.size();
        while (m_at < m_text.size()) {
            const char c = m_text[m_at];
            if (c == '\\' && m_signs.escapes) {
                m_line += m_at + 1 < m_text.size() && m_text[m_at + 1] == '\n' ? 1U : 0U;
                m_at = std::min(m_at + 2, m_text.size());
            } else if (isNext(quote)) {
                m_at += quote.size();
                m_endsWithColon = false;
                return;
            } else if (c == '\n' && !runsOn) {
                break;
            } else if (c == '\n') {
                ++m_line;
                ++m_at;
            } else if (isWordByte(c)) {
                takeWord(true);
            } else {
                ++m_at;
            }
        }
        if (isTold && !m_scan.openQuote) {
            m_scan.openQuote = firstLine;
        }
    }

    /// Each branch of a conditional text begins with the brackets that were open before the first.
    void takeBranch()
    {
        const std::size_t word = m_text.find_first_not_of(" \t", m_at + 1);
        const std::string_view rest =
            word == std::string_view::npos ? std::string_view() : m_text.substr(word);
        if (rest.starts_with("if")) {
            m_beforeBranches.push_back(m_open);
        } else if (rest.starts_with("el") && !m_beforeBranches.empty()) {
            m_open = m_beforeBranches.back();
        } else if (rest.starts_with("endif") && !m_beforeBranches.empty()) {
            m_beforeBranches.pop_back();
        }
    }

    [[nodiscard]] bool isFirstOnLine() const
    {
        const std::size_t begin = m_at == 0 ? 0 : m_text.rfind('\n', m_at - 1) + 1;
        return m_text.substr(begin, m_at - begin).find_first_not_of(" \t")
               == std::string_view::npos;
    }

    void takeSign(char c)
    {
        if (c == '#' && m_signs.hasBranches && isFirstOnLine()) {
            takeBranch();
        }
        if (c != ' ' && c != '\t' && c != '\r') {
            noteCode();
            m_endsWithColon = c == ':';
        }
        if (m_signs.hasBrackets) {
            if (c == '(' || c == '[' || c == '{') {
                open(c);
            } else if (c == ')' || c == ']' || c == '}') {
                close(c);
            }
        }
        ++m_at;
    }

    void open(char c)
    {
        if (m_open.size() >= kMostNested) {
            m_scan.isTooDeep = true;
            return;
        }
        m_open.push_back({c, m_line, m_at});
    }

    void close(char c)
    {
        if (m_open.empty() || m_open.back().sign != partnerOf(c)) {
            loose({c, m_line, m_at});
        } else {
            m_open.pop_back();
        }
    }

    void loose(const LooseBracket& bracket)
    {
        if (m_scan.looseBrackets.size() < kMostLoose) {
            m_scan.looseBrackets.push_back(bracket);
        }
    }

    /// The first thing on a line that is no blank and no comment: where its block stands.
    void noteCode()
    {
        m_endsWithColon = false;
        if (!m_tellsLines || m_hasCode) {
            return;
        }
        m_hasCode = true;
        if (!m_open.empty() || m_goesOn) {
            return;
        }
        const std::size_t begin = m_at == 0 ? 0 : m_text.rfind('\n', m_at - 1) + 1;
        std::size_t indent = 0;
        for (const char c : m_text.substr(begin, m_at - begin)) {
            indent = c == '\t' ? indent / 8 * 8 + 8 : indent + 1;
        }
        m_scan.lines.push_back({m_line, indent, false});
    }

    void endLine()
    {
        if (m_tellsLines && m_hasCode && m_open.empty() && !m_scan.lines.empty()) {
            m_scan.lines.back().opensBlock = m_endsWithColon;
        }
        m_goesOn = m_goesOn && m_at > 0 && m_text[m_at - 1] == '\\';
        m_hasCode = false;
        m_endsWithColon = false;
    }

    std::string_view m_text;
    Signs m_signs;
    bool m_tellsLines;
    CodeScan m_scan;
    std::size_t m_at = 0;
    LineNumber m_line = 0;
    std::vector<LooseBracket> m_open;
    std::vector<std::vector<LooseBracket>> m_beforeBranches;
    bool m_hasCode = false;        ///< On this line.
    bool m_goesOn = false;         ///< The line before ended in a backslash.
    bool m_endsWithColon = false;  ///< The last sign of this line so far.
};
}  // namespace

CodeScan scanCode(std::string_view text, Language language)
{
    return Scanner(text, language).scan();
}
}  // namespace rope
