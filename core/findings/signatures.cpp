// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_findings.cpp.
#include "core/findings/signatures.h"

#include "core/findings/definition_lines.h"
#include "core/text/text.h"

#include <algorithm>
#include <map>
#include <set>

namespace rope {
namespace {
constexpr std::size_t kMostCallBytes = 2'000;

/// Cuts at commas outside of brackets and strings; nothing where brackets do not end.
std::optional<std::vector<std::string_view>> partsOfList(std::string_view text, std::size_t open)
{
    std::vector<std::string_view> parts;
    int depth = 0;
    char quote = 0;
    std::size_t begin = open + 1;
    for (std::size_t i = open; i < text.size() && i - open < kMostCallBytes; ++i) {
        const char c = text[i];
        if (quote != 0) {
            if (c == '\\') {
                ++i;
            } else if (c == quote) {
                quote = 0;
            }
        } else if (c == '"' || c == '\'') {
            quote = c;
        } else if (c == '(' || c == '[' || c == '{') {
            ++depth;
        } else if (c == ')' || c == ']' || c == '}') {
            if (--depth == 0) {
                parts.push_back(trimmed(text.substr(begin, i - begin)));
                if (parts.back().empty()) {
                    parts.pop_back();  // nothing, or a comma at the end
                }
                return parts;
            }
        } else if (c == ',' && depth == 1) {
            parts.push_back(trimmed(text.substr(begin, i - begin)));
            begin = i + 1;
        }
    }
    return std::nullopt;
}

bool isCall(const FileView& file, const CodeWord& word)
{
    const std::string_view text = file.joined.text();
    const std::size_t after = word.position + word.text.size();
    return !word.isInString && after < text.size() && text[after] == '(';
}

/// Names that a side calls more often than the base does, in the files it changed.
std::set<std::string_view> newlyCalled(std::span<const CheckedSides> files, FindingSide side)
{
    std::set<std::string_view> names;
    for (const CheckedSides& file : files) {
        if (!file.sides->isChangedBy(side) || !isProgram(file.sides->language)) {
            continue;
        }
        const VersionView& version = file.sides->side(side);
        for (const CodeWord& word : version.scan().words) {
            const std::size_t after = word.position + word.text.size();
            if (!word.isInString && after < version.text().size() && version.text()[after] == '('
                && version.countOf(word.text) > file.sides->base.countOf(word.text)) {
                names.insert(word.text);
            }
        }
    }
    return names;
}

/// The only definition of a name that has a signature; nothing where there is none, or several.
const Definition* onlyOne(const Definitions& definitions, std::string_view name)
{
    const Definition* only = nullptr;
    for (const Definition& definition : *definitions) {
        if (definition.name == name && !definition.signature.empty()) {
            if (only != nullptr) {
                return nullptr;
            }
            only = &definition;
        }
    }
    return only;
}

/// Names that stand on lines of the base which may define something and which a side does not have.
std::set<std::string_view> onChangedLines(const SideViews& sides, FindingSide side)
{
    std::set<std::string_view> names;
    LineNumber last = ~LineNumber{0};
    bool isWanted = false;
    for (const CodeWord& word : sides.base.scan().words) {
        const std::string_view line = sides.base.lines()[word.line];
        if (word.line != last) {
            last = word.line;
            isWanted =
                mayDefine(line, sides.language) && sides.side(side).countOfLine(trimmed(line)) == 0;
        }
        if (isWanted) {
            names.insert(word.text);
        }
    }
    return names;
}
}  // namespace

Arity arityOf(std::string_view signature, Language language)
{
    Arity arity;
    const std::size_t open = signature.find('(');
    const auto parts = open == std::string_view::npos ? std::nullopt : partsOfList(signature, open);
    if (!parts) {
        return {0, kAnyNumber};
    }
    bool isFirst = true;
    for (const std::string_view part : *parts) {
        const bool isReceiver =
            isFirst && language == Language::python && (part == "self" || part == "cls");
        const bool isNothing = isReceiver || part == "void"
                               || (language == Language::python && (part == "*" || part == "/"));
        isFirst = false;
        if (isNothing) {
            continue;
        }
        const bool isMany = part.find("...") != std::string_view::npos
                            || (language == Language::python && part.starts_with('*'));
        if (isMany) {
            arity.most = kAnyNumber;
            continue;
        }
        const bool isOptional =
            part.find('=') != std::string_view::npos
            || (language == Language::script && part.find('?') != std::string_view::npos);
        arity.least += isOptional ? 0 : 1;
        arity.most = std::min(arity.most + 1, kAnyNumber);
    }
    return arity;
}

std::optional<int> argumentCount(std::string_view text, std::size_t open)
{
    const auto parts = partsOfList(text, open);
    if (!parts || std::any_of(parts->begin(), parts->end(), [](std::string_view part) {
            return part.starts_with('*') || part.starts_with("...") || part.ends_with("...");
        })) {
        return std::nullopt;
    }
    return static_cast<int>(parts->size());
}

namespace {
/// What a side made of signatures in one file, of names that the other side newly calls.
std::vector<ChangedSignature> changedIn(const CheckedSides& file,
                                        FindingSide side,
                                        const std::set<std::string_view>& called,
                                        DefinitionReader& definitions)
{
    std::vector<ChangedSignature> changed;
    const SideViews& sides = *file.sides;
    std::set<std::string_view> touched = onChangedLines(sides, side);
    std::erase_if(touched, [&](std::string_view name) { return !called.contains(name); });
    const Definitions before =
        touched.empty() ? nullptr : definitions.read(file.file->basePath, sides.base.text());
    const Definitions after =
        before ? definitions.read(file.file->path, sides.side(side).text()) : nullptr;
    for (const std::string_view name : after ? touched : std::set<std::string_view>()) {
        const Definition* const old = onlyOne(before, name);
        const Definition* const fresh = onlyOne(after, name);
        if (old == nullptr || fresh == nullptr || old->signature == fresh->signature
            || old->scope != fresh->scope) {
            continue;
        }
        const auto& lines = sides.side(side).lines();
        changed.push_back({std::string(name),
                           side,
                           sides.language,
                           old->signature,
                           fresh->signature,
                           arityOf(old->signature, sides.language),
                           arityOf(fresh->signature, sides.language),
                           file.file->path,
                           fresh->line,
                           std::string(fresh->line < lines.size() ? trimmed(lines[fresh->line])
                                                                  : std::string_view())});
    }
    return changed;
}
}  // namespace

std::vector<ChangedSignature> changedSignatures(std::span<const CheckedSides> files,
                                                DefinitionReader& definitions)
{
    std::vector<ChangedSignature> changed;
    for (const FindingSide side : kBothSides) {
        const auto called = newlyCalled(files, otherSide(side));
        std::map<std::string, std::vector<ChangedSignature>> byName;
        for (const CheckedSides& file : files) {
            const SideViews& sides = *file.sides;
            if (!called.empty() && sides.isChangedBy(side) && isProgram(sides.language)
                && sides.base.exists() && sides.side(side).exists()) {
                for (ChangedSignature& one : changedIn(file, side, called, definitions)) {
                    byName[one.name].push_back(std::move(one));
                }
            }
        }
        for (auto& [name, all] : byName) {
            // Of several of one name nobody knows which one is called.
            if (all.size() == 1 && all.front().takenBefore != all.front().takenAfter) {
                changed.push_back(std::move(all.front()));
            }
        }
    }
    return changed;
}

void findOldCalls(const FileView& file,
                  const std::vector<ChangedSignature>& changed,
                  std::vector<Finding>& found)
{
    for (const ChangedSignature& one : changed) {
        const FindingSide user = otherSide(one.side);
        if (file.sides.language != one.language || !file.sides.isChangedBy(user)
            || file.joined.countOf(one.name) == 0) {
            continue;
        }
        const bool isItsFile = file.file.path == one.path;
        if (isItsFile && file.joined.countOfLine(one.lineText) == 0) {
            continue;  // it was decided otherwise
        }
        for (const CodeWord& word : file.joined.scan().words) {
            const bool isDefinition = isItsFile && trimmed(file.line(word.line)) == one.lineText;
            if (word.text != one.name || isDefinition || !isCall(file, word)
                || !file.mayBeOf(word.line, user)) {
                continue;
            }
            const auto count = argumentCount(file.joined.text(), word.position + word.text.size());
            const auto fits = [&](const Arity& arity) {
                return *count >= arity.least && *count <= arity.most;
            };
            if (count && fits(one.takenBefore) && !fits(one.takenAfter)) {
                Finding finding = file.findingAt(
                    FindingKind::signatureChanged, {word.line, word.line + 1}, one.side);
                finding.name = one.name;
                finding.other = one.after;
                finding.otherPath = one.path;
                finding.otherLine = one.line;
                finding.count = *count;
                found.push_back(std::move(finding));
            }
        }
    }
}
}  // namespace rope
