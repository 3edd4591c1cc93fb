// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_findings.cpp.
#include "core/findings/names.h"

#include "core/diff/word_hunks.h"
#include "core/text/text.h"
#include "core/text/words.h"

#include <algorithm>
#include <set>
#include <unordered_map>
#include <unordered_set>

namespace rope {
namespace {
constexpr std::size_t kLeastLength = 3;  // of a name: shorter ones mean something else elsewhere
constexpr std::size_t kMostHunkBytes = 50'000;
constexpr int kLeastRewrites = 2;
constexpr std::size_t kMostPerName = 5;  // findings of one name in one file

using Counts = std::unordered_map<std::string_view, int>;

bool isWord(std::string_view name)
{
    return name.size() >= kLeastLength && std::any_of(name.begin(), name.end(), [](char c) {
               return (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z')
                      || static_cast<unsigned char>(c) > 127;
           });
}

/// Names that a side had in the files it changed, and has in none of them now.
std::unordered_set<std::string_view> vanishedNames(std::span<const CheckedSides> files,
                                                   FindingSide side)
{
    std::unordered_set<std::string_view> before;
    std::unordered_set<std::string_view> after;
    for (const CheckedSides& file : files) {
        if (!file.sides->isChangedBy(side)) {
            continue;
        }
        for (const auto& [name, count] : file.sides->base.names()) {
            before.insert(name);
        }
        for (const auto& [name, count] : file.sides->side(side).names()) {
            after.insert(name);
        }
    }
    std::erase_if(before,
                  [&](std::string_view name) { return after.contains(name) || !isWord(name); });
    return before;
}

/// Those of some names that a side uses more often than the base does.
std::set<std::string_view> newlyUsed(std::span<const CheckedSides> files,
                                     FindingSide side,
                                     const std::unordered_set<std::string_view>& names)
{
    std::set<std::string_view> used;
    for (const CheckedSides& file : files) {
        if (!file.sides->isChangedBy(side)) {
            continue;
        }
        for (const auto& [name, count] : file.sides->side(side).names()) {
            if (names.contains(name) && count > file.sides->base.countOf(name)) {
                used.insert(name);
            }
        }
    }
    return used;
}

/// Whether a word is the first of its line and something is said of it there: a key or a column.
bool isKey(const VersionView& version, const CodeWord& word, Language language)
{
    const std::string_view line = version.lines()[word.line];
    const std::size_t column =
        word.position - static_cast<std::size_t>(line.data() - version.text().data());
    const std::string_view before = trimmed(line.substr(0, column));
    if (!before.empty() && before != "\"" && before != "'" && before != "-" && before != ".") {
        return false;
    }
    const std::string_view after = trimmed(line.substr(column + word.text.size()));
    switch (language) {
    case Language::sql:
        return !after.empty() && isName(after.substr(0, 1));
    case Language::toml:
    case Language::ini:
        return after.starts_with('=') || after.starts_with("\" =");
    case Language::yaml:
        return after.starts_with(':');
    case Language::json:
        return after.starts_with("\":");
    case Language::css:
        return before == "." || after.starts_with('{');
    default:
        return false;
    }
}

std::optional<LineNumber>
keyLine(const VersionView& version, std::string_view name, Language language)
{
    for (const CodeWord& word : version.scan().words) {
        if (word.text == name && isKey(version, word, language)) {
            return word.line;
        }
    }
    return std::nullopt;
}

/// Where a text defines a name.
std::optional<LineNumber> definedAt(const RepoPath& path,
                                    const VersionView& version,
                                    Language language,
                                    std::string_view name,
                                    DefinitionReader& definitions)
{
    if (version.countOf(name) == 0) {
        return std::nullopt;
    }
    if (!isProgram(language)) {
        return keyLine(version, name, language);
    }
    const Definitions known = definitions.read(path, version.text());
    if (!known) {
        return std::nullopt;
    }
    for (const Definition& definition : *known) {
        if (definition.name == name) {
            return definition.line;
        }
    }
    return std::nullopt;
}

/// The name that a side wrote in most of the places of another, if it did so in more than half.
std::string mostlyReplacedBy(const ReplacedNames::Targets& targets)
{
    int all = 0;
    const std::pair<const std::string, int>* most = nullptr;
    for (const auto& target : targets) {
        all += target.second;
        if (most == nullptr || target.second > most->second) {
            most = &target;
        }
    }
    return most != nullptr && 2 * most->second > all ? most->first : std::string();
}

void addReplaced(const SideViews& sides,
                 FindingSide which,
                 std::map<std::string, ReplacedNames::Targets, std::less<>>& names)
{
    const auto textOf = [](const VersionView& version, LineRange range) {
        std::string_view all = version.text();
        const std::size_t begin =
            range.begin < version.lines().size()
                ? static_cast<std::size_t>(version.lines()[range.begin].data() - all.data())
                : all.size();
        const std::size_t end =
            range.end < version.lines().size()
                ? static_cast<std::size_t>(version.lines()[range.end].data() - all.data())
                : all.size();
        return all.substr(begin, end - begin);
    };
    for (const Hunk& hunk : sides.hunksOf(which).hunks) {
        const std::string_view old = textOf(sides.base, hunk.before);
        const std::string_view fresh = textOf(sides.side(which), hunk.after);
        if (old.empty() || fresh.empty() || old.size() + fresh.size() > kMostHunkBytes) {
            continue;
        }
        for (const WordHunk& word : wordHunks(old, fresh)) {
            if (word.isOneForOne && isName(word.before) && isName(word.after)) {
                ++names[std::string(word.before)][std::string(word.after)];
            }
        }
    }
}
}  // namespace

ReplacedNames replacedNames(const SideViews& sides)
{
    ReplacedNames replaced;
    if (sides.base.exists() && sides.ours.exists() && sides.isChangedBy(FindingSide::ours)) {
        addReplaced(sides, FindingSide::ours, replaced.ours);
    }
    if (sides.base.exists() && sides.theirs.exists() && sides.isChangedBy(FindingSide::theirs)) {
        addReplaced(sides, FindingSide::theirs, replaced.theirs);
    }
    return replaced;
}

bool isDefinedIn(const RepoPath& path,
                 const VersionView& version,
                 Language language,
                 std::string_view name,
                 DefinitionReader& definitions)
{
    return definedAt(path, version, language, name, definitions).has_value();
}

namespace {
/// Where the base defined a name that a side has nowhere any more, and what it wrote instead.
GoneName goneName(std::string_view name,
                  FindingSide side,
                  std::span<const CheckedSides> files,
                  DefinitionReader& definitions)
{
    GoneName gone{std::string(name), {}, side, Language::prose, {}, 0, 0};
    ReplacedNames::Targets targets;
    for (std::size_t i = 0; i < files.size(); ++i) {
        const SideViews& sides = *files[i].sides;
        if (!sides.isChangedBy(side) || sides.base.countOf(name) == 0) {
            continue;
        }
        const RepoPath& path = files[i].file->basePath;
        const auto line = gone.path.empty()
                              ? definedAt(path, sides.base, sides.language, name, definitions)
                              : std::nullopt;
        if (line) {
            gone.path = path;
            gone.line = *line;
            gone.language = sides.language;
            gone.file = i;
        }
        const ReplacedNames replaced = replacedNames(sides);
        if (const auto own = replaced.of(side).find(name); own != replaced.of(side).end()) {
            for (const auto& [target, count] : own->second) {
                targets[target] += count;
            }
        }
    }
    gone.newName = mostlyReplacedBy(targets);
    return gone;
}
}  // namespace

std::vector<GoneName> goneNames(std::span<const CheckedSides> files, DefinitionReader& definitions)
{
    std::vector<GoneName> gone;
    for (const FindingSide side : kBothSides) {
        const auto vanished = vanishedNames(files, side);
        for (const std::string_view name : newlyUsed(files, otherSide(side), vanished)) {
            GoneName one = goneName(name, side, files, definitions);
            if (!one.path.empty()) {
                gone.push_back(std::move(one));
            }
        }
    }
    return gone;
}

namespace {
/// Whether a word of the result is given a value or a meaning of its own right there.
bool isOwnThing(const FileView& file, const CodeWord& word)
{
    const std::string_view text = file.joined.text();
    const std::size_t after = text.find_first_not_of(" \t", word.position + word.text.size());
    if (after == std::string_view::npos) {
        return false;
    }
    const char sign = text[after];
    const char next = after + 1 < text.size() ? text[after + 1] : '\n';
    return (sign == '=' && next != '=') || (sign == ':' && next == '=');
}

Finding atWord(const FileView& file, FindingKind kind, const CodeWord& word, FindingSide side)
{
    Finding finding = file.findingAt(kind, {word.line, word.line + 1}, side);
    finding.name = word.text;
    return finding;
}

/// Writes another name everywhere on the word's line.
Mend withNewName(const FileView& file, const CodeWord& word, const std::string& newName)
{
    const std::string_view line = file.line(word.line);
    std::string text;
    for (const std::string_view part : splitWords(line)) {
        text += part == word.text ? std::string_view(newName) : part;
    }
    return {file.positionOf(word.line), line.size(), std::move(text)};
}
}  // namespace

void findGoneNames(const FileView& file,
                   const std::vector<GoneName>& gone,
                   DefinitionReader& definitions,
                   std::vector<Finding>& found)
{
    for (const GoneName& name : gone) {
        const FindingSide user = otherSide(name.side);
        if (!sharesNames(name.language, file.sides.language) || file.joined.countOf(name.name) == 0
            || !file.sides.isChangedBy(user)
            || file.sides.side(user).countOf(name.name) <= file.sides.base.countOf(name.name)) {
            continue;
        }
        std::vector<Finding> uses;
        bool isOwn = false;
        LineNumber lastLine = ~LineNumber{0};
        for (const CodeWord& word : file.joined.scan().words) {
            if (word.text != name.name || (word.isInString && isProgram(name.language))) {
                continue;
            }
            isOwn = isOwn || (isProgram(file.sides.language) && isOwnThing(file, word));
            if (!file.mayBeOf(word.line, user) || word.line == lastLine
                || uses.size() >= kMostPerName) {
                continue;
            }
            lastLine = word.line;
            Finding finding = atWord(file, FindingKind::nameGone, word, name.side);
            finding.other = name.newName;
            finding.otherPath = name.path;
            finding.otherLine = name.line;
            if (!name.newName.empty()) {
                finding.mend = withNewName(file, word, name.newName);
            }
            uses.push_back(std::move(finding));
        }
        if (uses.empty() || isOwn) {
            continue;
        }
        if (!isDefinedIn(
                file.file.path, file.joined, file.sides.language, name.name, definitions)) {
            std::move(uses.begin(), uses.end(), std::back_inserter(found));
        }
    }
}

void findRewritesLeft(const FileView& file,
                      const ReplacedNames& replaced,
                      std::vector<Finding>& found)
{
    for (const FindingSide side : kBothSides) {
        const FindingSide user = otherSide(side);
        for (const auto& [name, targets] : replaced.of(side)) {
            const bool isEverywhere = targets.size() == 1
                                      && targets.begin()->second >= kLeastRewrites && isWord(name)
                                      && file.sides.side(side).countOf(name) == 0;
            if (!isEverywhere
                || file.sides.side(user).countOf(name) <= file.sides.base.countOf(name)) {
                continue;
            }
            for (const CodeWord& word : file.joined.scan().words) {
                if (word.text == name && file.mayBeOf(word.line, user)) {
                    Finding finding = atWord(file, FindingKind::rewriteLeft, word, side);
                    finding.other = targets.begin()->first;
                    finding.count = targets.begin()->second;
                    finding.mend = withNewName(file, word, finding.other);
                    found.push_back(std::move(finding));
                    break;
                }
            }
        }
    }
}
}  // namespace rope
