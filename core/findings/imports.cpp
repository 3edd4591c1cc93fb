// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_findings.cpp.
#include "core/findings/imports.h"

#include "core/text/text.h"
#include "core/text/words.h"

#include <algorithm>
#include <map>
#include <optional>
#include <set>

namespace rope {
namespace {
bool startsWithWord(std::string_view content, std::string_view word)
{
    return content.starts_with(word) && content.size() > word.size()
           && !isName(content.substr(word.size(), 1));
}

std::vector<std::string_view> namesIn(std::string_view text)
{
    std::vector<std::string_view> names;
    for (const std::string_view word : splitWords(text)) {
        if (isName(word)) {
            names.push_back(word);
        }
    }
    return names;
}

/// Of "a.b as c, d": c and d; of "a.b": a, what the dotted name begins with.
std::vector<std::string_view> boundNames(std::string_view list, bool bindsFirstPart)
{
    std::vector<std::string_view> bound;
    while (!list.empty()) {
        const std::size_t comma = std::min(list.find(','), list.size());
        const auto words = namesIn(list.substr(0, comma));
        list.remove_prefix(std::min(comma + 1, list.size()));
        if (words.empty()) {
            continue;
        }
        const bool isRenamed = words.size() >= 3 && words[words.size() - 2] == "as";
        bound.push_back(isRenamed || !bindsFirstPart ? words.back() : words.front());
    }
    return bound;
}

std::vector<std::string_view> ofPython(std::string_view content)
{
    if (content.starts_with("import ")) {
        return boundNames(content.substr(7), true);
    }
    const std::size_t at = content.find(" import ");
    return at == std::string_view::npos ? std::vector<std::string_view>()
                                        : boundNames(content.substr(at + 8), false);
}

std::vector<std::string_view> ofScript(std::string_view content)
{
    std::size_t from = content.rfind(" from ");
    if (content.starts_with("import ") && from != std::string_view::npos) {
        std::string_view list = content.substr(7, from - 7);
        return boundNames(list, false);
    }
    const std::size_t call = content.find("= require(");
    if (call != std::string_view::npos) {
        const std::size_t begin = content.find(' ');
        return begin < call ? boundNames(content.substr(begin, call - begin), false)
                            : std::vector<std::string_view>();
    }
    return {};
}

/// Java, Kotlin, Scala: the last part of the dotted name.
std::vector<std::string_view> ofDotted(std::string_view content)
{
    if (!content.starts_with("import ") || content.find('*') != std::string_view::npos) {
        return {};
    }
    const auto words = namesIn(content);
    return words.size() < 3 ? std::vector<std::string_view>() : std::vector{words.back()};
}
}  // namespace

bool isImport(std::string_view content, Language language)
{
    if (content.empty()) {
        return false;
    }
    switch (language) {
    case Language::python:
        return content.back() != '\\' && content.back() != '('
               && (startsWithWord(content, "import")
                   || (startsWithWord(content, "from")
                       && content.find(" import ") != std::string_view::npos));
    case Language::c:
        return content.starts_with("#include") || content.starts_with("#import")
               || (content.ends_with(';')
                   && (startsWithWord(content, "import")
                       || content.starts_with("using namespace ")))
               || (startsWithWord(content, "import")
                   && content.find_first_of("(){};=") == std::string_view::npos);
    case Language::script:
        return (startsWithWord(content, "import")
                && (content.ends_with(';') || content.ends_with('\'') || content.ends_with('"')))
               || (content.find("= require(") != std::string_view::npos
                   && content.find('=') == content.find("= require("));
    case Language::rust:
        return startsWithWord(content, "use") && content.ends_with(';');
    case Language::go:
        return startsWithWord(content, "import") && content.ends_with('"');
    default:
        return false;
    }
}

std::vector<std::string_view> namesOfImport(std::string_view content, Language language)
{
    if (!isImport(content, language)) {
        return {};
    }
    switch (language) {
    case Language::python:
        return ofPython(content);
    case Language::script:
        return ofScript(content);
    case Language::c:
        return ofDotted(content);
    case Language::rust:
        return content.find_first_of("{*") == std::string_view::npos
                   ? std::vector{namesIn(content).back()}
                   : std::vector<std::string_view>();
    default:
        return {};
    }
}

namespace {
/// What a version's imports make known, each with its line.
std::map<std::string_view, LineNumber> importedNames(const VersionView& version, Language language)
{
    std::map<std::string_view, LineNumber> names;
    for (LineNumber line = 0; line < version.lines().size(); ++line) {
        for (const std::string_view name :
             namesOfImport(trimmed(version.lines()[line]), language)) {
            names.try_emplace(name, line);
        }
    }
    return names;
}

/// Whether a name is given something in the result: then it needs no import.
bool isGivenSomething(const FileView& file, const CodeWord& word)
{
    const std::string_view text = file.joined.text();
    const std::size_t after = text.find_first_not_of(" \t", word.position + word.text.size());
    return after != std::string_view::npos && text[after] == '='
           && (after + 1 == text.size() || text[after + 1] != '=');
}

/// Whether the word before this one on its line begins a definition.
bool isDefined(const FileView& file, const CodeWord& word)
{
    const std::string_view line = file.line(word.line);
    const auto words = splitWords(trimmed(line));
    static const std::set<std::string_view> kDefining{
        "def", "class", "function", "func", "fn", "let", "const", "var", "struct", "enum", "type"};
    return std::any_of(
               words.begin(), words.end(), [](std::string_view w) { return kDefining.contains(w); })
           && line.find(word.text) > line.find_first_not_of(" \t");
}
}  // namespace

namespace {
using Imports = std::map<std::string_view, LineNumber>;

/// Names whose import a side removed, that it uses nowhere, and that the result neither imports nor defines.
std::set<std::string_view>
goneNamesOf(const FileView& file, FindingSide side, const Imports& inBase, const Imports& inResult)
{
    std::set<std::string_view> gone;
    for (const auto& [name, line] : inBase) {
        // Where the side still has the name somewhere, it may be imported over several lines.
        if (file.sides.side(side).exists() && file.sides.side(side).countOf(name) == 0
            && !inResult.contains(name)) {
            gone.insert(name);
        }
    }
    for (const CodeWord& word : file.joined.scan().words) {
        if (gone.contains(word.text) && (isGivenSomething(file, word) || isDefined(file, word))) {
            gone.erase(word.text);
        }
    }
    return gone;
}

/// Puts a line of the base before the first import of the result; nothing where that has none.
std::optional<Mend>
importPutBack(const FileView& file, const Imports& inResult, std::string_view import)
{
    if (inResult.empty()) {
        return std::nullopt;
    }
    const auto first =
        std::min_element(inResult.begin(), inResult.end(), [](const auto& a, const auto& b) {
            return a.second < b.second;
        });
    const std::string lineEnd = import.ends_with('\n') ? "" : "\n";
    return Mend{file.positionOf(first->second), 0, std::string(import) + lineEnd};
}
}  // namespace

void findImportsGone(const FileView& file, std::vector<Finding>& found)
{
    const Language language = file.sides.language;
    const Imports inBase = importedNames(file.sides.base, language);
    if (inBase.empty()) {
        return;
    }
    const Imports inResult = importedNames(file.joined, language);
    for (const FindingSide side : kBothSides) {
        auto gone = goneNamesOf(file, side, inBase, inResult);
        const FindingSide other = otherSide(side);
        for (const CodeWord& word : file.joined.scan().words) {
            const bool isNewUse =
                gone.contains(word.text) && !word.isInString && file.mayBeOf(word.line, other)
                && file.sides.side(other).countOf(word.text) > file.sides.base.countOf(word.text)
                && (word.position == 0 || file.joined.text()[word.position - 1] != '.');
            if (!isNewUse) {
                continue;
            }
            Finding finding =
                file.findingAt(FindingKind::importGone, {word.line, word.line + 1}, side);
            finding.name = word.text;
            finding.otherPath = file.file.basePath;
            finding.otherLine = inBase.find(word.text)->second;
            const std::string_view import = file.sides.base.lines()[finding.otherLine];
            finding.other = trimmed(import);
            finding.mend = importPutBack(file, inResult, import);
            found.push_back(std::move(finding));
            gone.erase(word.text);  // the first place is enough
        }
    }
}
}  // namespace rope
