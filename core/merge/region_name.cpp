// SPDX-License-Identifier: GPL-3.0-or-later
// What encloses a line is found as a reader finds it: upwards, at the first line that is indented less and begins
// something. Tested by tst_region_name.cpp.
#include "core/merge/region_name.h"

#include "core/text/words.h"

#include <algorithm>
#include <array>
#include <optional>

namespace rope {
namespace {
constexpr std::size_t kLongestName = 60;
/// What encloses a region is looked for in so many lines above it.
constexpr LineNumber kMostLinesAbove = 400;

template <std::size_t count>
bool isOneOf(const std::array<std::string_view, count>& words, std::string_view word)
{
    return std::find(words.begin(), words.end(), word) != words.end();
}

constexpr std::array<std::string_view, 16> kDefinitionWords{"def",
                                                            "class",
                                                            "function",
                                                            "func",
                                                            "fn",
                                                            "sub",
                                                            "module",
                                                            "struct",
                                                            "enum",
                                                            "union",
                                                            "interface",
                                                            "namespace",
                                                            "impl",
                                                            "trait",
                                                            "type",
                                                            "package"};
constexpr std::array<std::string_view, 20> kModifiers{
    "public",   "private", "protected", "internal",  "static", "final",  "abstract",
    "virtual",  "inline",  "const",     "constexpr", "async",  "export", "default",
    "override", "pub",     "open",      "sealed",    "extern", "partial"};
constexpr std::array<std::string_view, 18> kControlWords{"if",
                                                         "for",
                                                         "while",
                                                         "switch",
                                                         "catch",
                                                         "else",
                                                         "elif",
                                                         "with",
                                                         "match",
                                                         "try",
                                                         "return",
                                                         "do",
                                                         "case",
                                                         "when",
                                                         "until",
                                                         "except",
                                                         "finally",
                                                         "foreach"};
constexpr std::array<std::string_view, 7> kImportWords{
    "import", "from", "include", "use", "using", "require", "require_relative"};

std::size_t blanksBefore(std::string_view line)
{
    return std::min(line.find_first_not_of(" \t"), line.size());
}

bool endsIn(std::string_view path, std::string_view ending)
{
    return path.ends_with(ending);
}

bool isProse(std::string_view path)
{
    return endsIn(path, ".md") || endsIn(path, ".markdown") || endsIn(path, ".txt")
           || endsIn(path, ".rst") || endsIn(path, ".adoc");
}

/// A name that fits into a list.
std::string_view shortened(std::string_view name)
{
    return name.substr(0, kLongestName);
}

/// The words of a line, blanks left out.
std::vector<std::string_view> solidWords(std::string_view line)
{
    std::vector<std::string_view> words;
    for (const std::string_view word : splitWords(line)) {
        if (word.find_first_not_of(" \t\r\n") != std::string_view::npos) {
            words.push_back(word);
        }
    }
    return words;
}

bool isImport(std::string_view line)
{
    const auto words = solidWords(line);
    const std::size_t first = !words.empty() && words.front() == "#" ? 1 : 0;
    return words.size() > first + 1 && isOneOf(kImportWords, words[first])
           && words[first + 1] != "(" && words[first + 1] != "=";
}

/// Whether all lines of a text that hold anything import something.
bool areImports(std::string_view text)
{
    bool isAny = false;
    for (const std::string_view line : splitLines(text)) {
        if (trimmed(line).empty()) {
            continue;
        }
        if (!isImport(line)) {
            return false;
        }
        isAny = true;
    }
    return isAny;
}

/// The key of "key = value", "key: value" or "\"key\": value"; empty where the line is none.
std::string_view keyOf(std::string_view line)
{
    const std::string_view content = trimmed(line);
    const std::size_t sign = content.find_first_of(":=");
    if (sign == std::string_view::npos || sign == 0 || sign + 1 == content.size()
        || content[sign + 1] == '=' || content[sign + 1] == ':') {
        return {};
    }
    std::string_view key = trimmed(content.substr(0, sign));
    if (key.starts_with("- ")) {
        key.remove_prefix(2);
    }
    if (key.size() > 2 && (key.front() == '"' || key.front() == '\'')
        && key.back() == key.front()) {
        key = key.substr(1, key.size() - 2);
    }
    const bool isPlain = !key.empty() && std::all_of(key.begin(), key.end(), [](char c) {
        return c == '_' || c == '-' || c == '.' || c == '/' || (c >= '0' && c <= '9')
               || (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z');
    });
    return isPlain ? key : std::string_view{};
}

/// What a line of code begins, by one of the words for that, or as a function by its brackets.
std::string_view definitionIn(std::string_view line)
{
    const auto words = solidWords(line);
    std::size_t at = 0;
    while (at < words.size() && isOneOf(kModifiers, words[at])) {
        ++at;
    }
    if (at == words.size() || isOneOf(kControlWords, words[at]) || words[at] == "}") {
        return {};
    }
    if (isOneOf(kDefinitionWords, words[at])) {
        ++at;
        if (at < words.size() && words[at] == "(") {  // Go names the receiver first
            at =
                static_cast<std::size_t>(std::find(words.begin(), words.end(), ")") - words.begin())
                + 1;
        }
        return at < words.size() && isName(words[at]) ? words[at] : std::string_view{};
    }
    const std::string_view content = trimmed(line);
    const auto bracket = std::find(words.begin(), words.end(), "(");
    const auto assigned = std::find(words.begin(), words.end(), "=");
    const bool opens = content.ends_with('{') || content.ends_with('(') || content.ends_with("=>");
    if (assigned < bracket && opens && assigned != words.begin() && isName(*(assigned - 1))) {
        return *(assigned - 1);  // const name = (…) => {
    }
    const bool isHead = opens || content.ends_with(')') || content.ends_with(',');
    const bool isAtTop = blanksBefore(line) == 0;
    const bool hasType = bracket - words.begin() > 1;  // a call by itself is no head of a function
    if (bracket != words.end() && bracket != words.begin() && assigned > bracket
        && isName(*(bracket - 1)) && isHead && (opens || (isAtTop && hasType))) {
        return *(bracket - 1);
    }
    const std::string_view head = trimmed(content.substr(0, content.size() - 1));
    const bool isBlock = content.ends_with('{') && bracket == words.end() && !head.empty();
    return isBlock && !head.ends_with(':') ? head
                                           : std::string_view{};  // a rule, a block of a name
}

std::optional<RegionName> headingIn(std::string_view line, bool isText)
{
    const std::string_view content = trimmed(line);
    if (isText && content.starts_with('#')) {
        const std::size_t words = content.find_first_not_of("# ");
        return words == std::string_view::npos
                   ? std::nullopt
                   : std::optional(RegionName{RegionName::Kind::heading,
                                              std::string(shortened(content.substr(words)))});
    }
    if (!isText && blanksBefore(line) == 0 && content.size() > 2 && content.starts_with('[')
        && content.ends_with(']') && content.find_first_of("\",'(") == std::string_view::npos) {
        const std::size_t begin = content.find_first_not_of('[');
        const std::size_t end = content.find_last_not_of(']');
        return RegionName{RegionName::Kind::heading,
                          std::string(shortened(content.substr(begin, end - begin + 1)))};
    }
    return std::nullopt;
}

/// What a line begins for the lines below it.
RegionName beginningIn(std::string_view line, bool isText)
{
    if (isText) {
        return {};
    }
    if (const std::string_view name = definitionIn(line); !name.empty()) {
        return {RegionName::Kind::definition, std::string(shortened(name))};
    }
    const std::string_view content = trimmed(line);
    // What opens a value is a key of which only the value is missing: "jobs:", "\"deps\": {".
    const std::string_view opened =
        trimmed(content.substr(0, content.find_last_not_of("{[| ") + 1));
    const std::string key(keyOf(std::string(opened) + "0"));
    if ((opened.ends_with(':') || opened.ends_with('=')) && !key.empty()
        && !isOneOf(kControlWords, key)) {
        return {RegionName::Kind::key, std::string(shortened(key))};
    }
    return {};
}

std::string_view firstLine(std::string_view text)
{
    for (const std::string_view line : splitLines(text)) {
        if (!trimmed(line).empty()) {
            return line;
        }
    }
    return {};
}

/// The key whose value all three have there.
std::string_view commonKey(const RegionTexts& texts)
{
    const std::string_view key = keyOf(firstLine(texts.base));
    return !key.empty() && keyOf(firstLine(texts.ours)) == key
                   && keyOf(firstLine(texts.theirs)) == key
               ? key
               : std::string_view{};
}

/// What encloses the lines from `begin` on, which are indented by `indent`.
RegionName enclosing(const Text& base, LineNumber begin, std::size_t indent, bool isText)
{
    const LineNumber last = begin - std::min(begin, kMostLinesAbove);
    for (LineNumber i = begin; i-- > last;) {
        const std::string_view line = base.line(i);
        const std::string_view content = trimmed(line);
        if (content.empty()) {
            continue;
        }
        if (const auto found = headingIn(line, isText)) {
            return *found;
        }
        const bool isOnlyBrackets = content.find_first_not_of("{}[]();,") == std::string_view::npos;
        const bool isComment = content.starts_with("//") || content.starts_with('#')
                               || content.starts_with('*') || content.starts_with("/*");
        if (blanksBefore(line) >= indent || isOnlyBrackets || isComment) {
            continue;
        }
        if (RegionName name = beginningIn(line, isText); name.kind != RegionName::Kind::none) {
            return name;
        }
        indent = std::max<std::size_t>(blanksBefore(line), 1);
    }
    return {};
}
}  // namespace

RegionName regionName(const TextJoin& join, std::size_t region, std::string_view path)
{
    const RegionTexts texts = join.regionTexts(region);
    const bool isText = isProse(path);
    if (!isText && (areImports(texts.base) || (texts.base.empty() && areImports(texts.ours)))
        && areImports(texts.ours) && areImports(texts.theirs)) {
        return {RegionName::Kind::imports, {}};
    }
    const std::string_view first = firstLine(texts.base.empty() ? texts.ours : texts.base);
    if (!isText) {
        const std::string_view own = definitionIn(firstLine(texts.base));
        if (!own.empty() && definitionIn(firstLine(texts.ours)) == own
            && definitionIn(firstLine(texts.theirs)) == own) {
            return {RegionName::Kind::definition, std::string(shortened(own))};
        }
    }
    // A file that both added has no base: what encloses the region must then be theirs, too.
    const bool isNew = join.base().bytes().empty();
    RegionName around =
        isNew ? enclosing(join.ours(), join.region(region).ours.begin, blanksBefore(first), isText)
              : enclosing(join.base(), join.region(region).base.begin, blanksBefore(first), isText);
    if (isNew && join.theirs().bytes().find(around.name) == std::string::npos) {
        around = {};
    }
    const std::string_view key = isText ? std::string_view{} : commonKey(texts);
    const bool isCode = around.kind == RegionName::Kind::definition;
    if (around.kind == RegionName::Kind::none && key.empty()) {
        const std::string_view line = trimmed(firstLine(texts.base));
        return line.empty() ? around
                            : RegionName{RegionName::Kind::base, std::string(shortened(line))};
    }
    if (key.empty() || isCode) {
        return around;
    }
    return {RegionName::Kind::key,
            around.name.empty()
                ? std::string(shortened(key))
                : std::string(shortened(around.name)) + "." + std::string(shortened(key))};
}
}  // namespace rope
