// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_findings.cpp.
#include "core/findings/includes.h"

#include "core/text/text.h"

#include <algorithm>
#include <array>
#include <map>

namespace rope {
namespace {
constexpr std::size_t kLeastWord = 4;  // letters: shorter names stand for too many things

/// The path in `#include "path"` or `#include <path>`; empty for any other line.
std::string_view includedPath(std::string_view line)
{
    line = trimmed(line);
    if (!line.starts_with('#')) {
        return {};
    }
    line = trimmed(line.substr(1));
    if (!line.starts_with("include")) {
        return {};
    }
    line = trimmed(line.substr(7));
    if (line.empty() || (line.front() != '"' && line.front() != '<')) {
        return {};
    }
    const std::size_t end = line.find(line.front() == '"' ? '"' : '>', 1);
    return end == std::string_view::npos ? std::string_view() : line.substr(1, end - 1);
}

/// Paths that a version includes, each with its line.
std::map<std::string_view, LineNumber> includesOf(const VersionView& version)
{
    std::map<std::string_view, LineNumber> includes;
    for (LineNumber line = 0; line < version.lines().size(); ++line) {
        if (const std::string_view path = includedPath(version.lines()[line]); !path.empty()) {
            includes.try_emplace(path, line);
        }
    }
    return includes;
}

/// The only header that an include may mean; null: none, or several.
const KnownHeader* meantBy(std::string_view included, std::span<const KnownHeader> headers)
{
    while (included.starts_with("../") || included.starts_with("./")) {
        included.remove_prefix(included.find('/') + 1);
    }
    const KnownHeader* meant = nullptr;
    for (const KnownHeader& header : headers) {
        const std::string_view path = header.path;
        const bool isMeant =
            path.ends_with(included)
            && (path.size() == included.size() || path[path.size() - included.size() - 1] == '/');
        if (isMeant && meant != nullptr) {
            return nullptr;
        }
        meant = isMeant ? &header : meant;
    }
    return meant;
}

bool usesAny(const VersionView& version, const std::set<std::string>& names)
{
    return std::any_of(names.begin(), names.end(), [&](const std::string& name) {
        return version.countOf(name) > 0;
    });
}

/// Functions that a header declares: a name before a parenthesis and behind a type. (Ctags tells of those
/// only that have a body.)
void addDeclaredFunctions(const VersionView& text, std::set<std::string>& names)
{
    constexpr std::array<std::string_view, 8> kNoTypes{
        "return", "else", "new", "throw", "case", "goto", "do", "define"};
    const std::string_view bytes = text.text();
    const CodeWord* before = nullptr;
    for (const CodeWord& word : text.scan().words) {
        const std::size_t end = word.position + word.text.size();
        const std::size_t next = std::min(bytes.find_first_not_of(" \t", end), bytes.size());
        const std::size_t typeEnd = before == nullptr ? 0 : before->position + before->text.size();
        const bool isBehindType =
            before != nullptr && !word.isInString
            && bytes.substr(typeEnd, word.position - typeEnd).find_first_not_of(" \t*&>")
                   == std::string_view::npos
            && std::find(kNoTypes.begin(), kNoTypes.end(), before->text) == kNoTypes.end();
        if (isBehindType && next < bytes.size() && bytes[next] == '('
            && word.text.size() >= kLeastWord) {
            names.emplace(word.text);
        }
        before = &word;
    }
}

/// Whether another header that is still included brings it along.
bool isBroughtAlong(std::string_view included,
                    const std::map<std::string_view, LineNumber>& inResult,
                    std::span<const KnownHeader> headers)
{
    return std::any_of(inResult.begin(), inResult.end(), [&](const auto& include) {
        const KnownHeader* const header = meantBy(include.first, headers);
        return header != nullptr && header->includedPaths.contains(std::string(included));
    });
}

/// The first new line of a side that uses a name of the header.
const CodeWord* newUseOf(const KnownHeader& header, const FileView& file, FindingSide side)
{
    for (const CodeWord& word : file.joined.scan().words) {
        const std::string name(word.text);
        if (!word.isInString && header.names.contains(name) && file.mayBeOf(word.line, side)
            && file.sides.side(side).countOf(word.text) > file.sides.base.countOf(word.text)) {
            return &word;
        }
    }
    return nullptr;
}
}  // namespace

bool isHeader(const RepoPath& path)
{
    constexpr std::array<std::string_view, 4> kEndings{".h", ".hh", ".hpp", ".hxx"};
    return std::any_of(kEndings.begin(), kEndings.end(), [&path](std::string_view ending) {
        return path.ends_with(ending);
    });
}

KnownHeader
knownHeader(const RepoPath& path, const VersionView& text, DefinitionReader& definitions)
{
    constexpr std::array<std::string_view, 5> kInner{
        "member", "enumerator", "local", "parameter", "header"};
    KnownHeader header{path, {}, {}};
    for (const auto& [included, line] : includesOf(text)) {
        header.includedPaths.emplace(included);
    }
    addDeclaredFunctions(text, header.names);
    const Definitions all = definitions.read(path, text.text());
    for (const Definition& one : all ? *all : std::vector<Definition>()) {
        const bool isInner = std::find(kInner.begin(), kInner.end(), one.kind) != kInner.end();
        if (!isInner && one.name.size() >= kLeastWord) {
            header.names.insert(one.name);
        }
    }
    return header;
}

void findIncludesGone(const FileView& file,
                      std::span<const KnownHeader> headers,
                      std::vector<Finding>& found)
{
    if (headers.empty() || file.sides.language != Language::c || !file.sides.ours.exists()
        || !file.sides.theirs.exists()) {
        return;
    }
    const auto inBase = includesOf(file.sides.base);
    const auto inResult = includesOf(file.joined);
    for (const auto& [included, line] : inBase) {
        const KnownHeader* const header = meantBy(included, headers);
        if (header == nullptr || inResult.contains(included)
            || isBroughtAlong(included, inResult, headers)) {
            continue;
        }
        for (const FindingSide side : kBothSides) {
            const VersionView& remover = file.sides.side(side);
            const CodeWord* const use =
                includesOf(remover).contains(included) || usesAny(remover, header->names)
                    ? nullptr
                    : newUseOf(*header, file, otherSide(side));
            if (use == nullptr) {
                continue;
            }
            Finding finding =
                file.findingAt(FindingKind::importGone, {use->line, use->line + 1}, side);
            finding.name = use->text;
            finding.otherPath = file.file.basePath;
            finding.otherLine = line;
            const std::string_view include = file.sides.base.lines()[line];
            finding.other = trimmed(include);
            const auto first =
                std::min_element(inResult.begin(),
                                 inResult.end(),
                                 [](const auto& a, const auto& b) { return a.second < b.second; });
            const LineNumber at = first == inResult.end() ? 0 : first->second;
            finding.mend = Mend{file.positionOf(at),
                                0,
                                std::string(include) + (include.ends_with('\n') ? "" : "\n")};
            found.push_back(std::move(finding));
        }
    }
}
}  // namespace rope
