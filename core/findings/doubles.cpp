// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_findings.cpp.
#include "core/findings/doubles.h"

#include "core/findings/definition_lines.h"
#include "core/findings/imports.h"
#include "core/text/text.h"
#include "core/text/words.h"

#include <algorithm>
#include <map>
#include <set>
#include <tuple>

namespace rope {
namespace {
constexpr std::size_t kLeastLetters = 10;  // of a line that counts as added by both
constexpr std::size_t kLeastLines = 3;

Finding findingAt(const FileView& file, FindingKind kind, LineNumber line)
{
    return file.findingAt(kind, {line, line + 1}, FindingSide::both);
}

/// Takes a whole line of the result out.
Mend withoutLine(const FileView& file, LineNumber line)
{
    return {file.positionOf(line), file.line(line).size(), {}};
}
}  // namespace

void findImportsTwice(const FileView& file, std::vector<Finding>& found)
{
    if (!isProgram(file.sides.language)) {
        return;
    }
    std::map<std::string_view, LineNumber> first;
    const auto& lines = file.joined.lines();
    for (LineNumber line = 0; line < lines.size(); ++line) {
        const std::string_view content = trimmed(lines[line]);
        if (!isImport(content, file.sides.language)) {
            continue;
        }
        const auto [seen, isFirst] = first.try_emplace(content, line);
        if (!isFirst && file.joined.countOfLine(content) == 2
            && file.sides.ours.countOfLine(content) < 2
            && file.sides.theirs.countOfLine(content) < 2) {
            Finding finding = findingAt(file, FindingKind::importedTwice, line);
            finding.name = content;
            finding.otherPath = file.file.path;
            finding.otherLine = seen->second;
            finding.mend = withoutLine(file, line);
            found.push_back(std::move(finding));
        }
    }
}

void findRepeatedLines(const FileView& file, std::vector<Finding>& found)
{
    const auto& lines = file.joined.lines();
    const auto hasPair = [](const VersionView& version, std::string_view content) {
        const auto& own = version.lines();
        for (std::size_t i = 1; i < own.size(); ++i) {
            if (trimmed(own[i]) == content && trimmed(own[i - 1]) == content) {
                return true;
            }
        }
        return false;
    };
    for (LineNumber line = 1; line < lines.size(); ++line) {
        const std::string_view content = trimmed(lines[line]);
        if (lines[line] != lines[line - 1] || !hasLetters(content, 3)) {
            continue;
        }
        const bool isNew =
            file.originOf(line) != LineOrigin::base || file.originOf(line - 1) != LineOrigin::base;
        if (isNew && !hasPair(file.sides.ours, content) && !hasPair(file.sides.theirs, content)
            && !hasPair(file.sides.base, content)) {
            Finding finding = findingAt(file, FindingKind::lineRepeated, line);
            finding.name = content;
            finding.mend = withoutLine(file, line);
            found.push_back(std::move(finding));
        }
    }
}

void findAddedTwice(const FileView& file, std::vector<Finding>& found)
{
    const SideViews& sides = file.sides;
    std::map<std::string_view, LineNumber> first;
    std::set<std::string_view> counted;
    Finding finding;
    const auto& lines = file.joined.lines();
    for (LineNumber line = 0; line < lines.size(); ++line) {
        const std::string_view content = trimmed(lines[line]);
        if (!hasLetters(content, kLeastLetters)) {
            continue;
        }
        const int inBase = sides.base.countOfLine(content);
        const int inOurs = sides.ours.countOfLine(content);
        const int inTheirs = sides.theirs.countOfLine(content);
        if (inOurs <= inBase || inTheirs <= inBase
            || file.joined.countOfLine(content) <= std::max(inOurs, inTheirs)) {
            continue;
        }
        const auto [seen, isFirst] = first.try_emplace(content, line);
        if (isFirst || !counted.insert(content).second) {
            continue;
        }
        if (counted.size() == 1) {
            finding = findingAt(file, FindingKind::addedTwice, line);
            finding.name = content;
            finding.otherPath = file.file.path;
            finding.otherLine = seen->second;
        }
        finding.lines.end = line + 1;
    }
    if (counted.size() >= kLeastLines) {
        finding.count = static_cast<int>(counted.size());
        found.push_back(std::move(finding));
    }
}

namespace {
/// Whether enough lines stand both in what ours alone changed and in what theirs alone changed.
bool mayAddTwice(const TextJoin& join)
{
    std::set<std::string_view> byOurs;
    std::set<std::string_view> byBoth;
    const auto forEach = [](std::string_view text, const auto& take) {
        for (const std::string_view line : splitLines(text)) {
            if (hasLetters(trimmed(line), kLeastLetters)) {
                take(trimmed(line));
            }
        }
    };
    for (const Chunk& chunk : join.chunks()) {
        if (chunk.kind == ChunkKind::ours) {
            forEach(join.ours().lines(chunk.ours), [&](auto line) { byOurs.insert(line); });
        }
    }
    for (const Chunk& chunk : join.chunks()) {
        if (chunk.kind == ChunkKind::theirs) {
            forEach(join.theirs().lines(chunk.theirs), [&](auto line) {
                if (byOurs.contains(line)) {
                    byBoth.insert(line);
                }
            });
        }
    }
    return byBoth.size() >= kLeastLines;
}
}  // namespace

std::optional<Finding> addedTwiceIn(const TextJoin& join)
{
    if (!join.isClean() || !mayAddTwice(join)) {
        return std::nullopt;
    }
    const auto shared = [](std::string_view text) {
        return std::make_shared<const std::string>(text);
    };
    CheckedFile file;
    file.base = shared(join.base().bytes());
    file.ours = shared(join.ours().bytes());
    file.theirs = shared(join.theirs().bytes());
    const CheckedResult result{shared(join.cleanText()), {}, {}, false};
    const SideViews sides(file, Language::prose);
    const VersionView joined(result.text, Language::prose);
    std::vector<Finding> found;
    findAddedTwice({file, sides, result, joined}, found);
    return found.empty() ? std::nullopt : std::optional(std::move(found.front()));
}

namespace {
using DefinedName = std::tuple<std::string, std::string, std::string>;  // scope, name, signature

std::map<DefinedName, std::vector<LineNumber>> byName(const Definitions& definitions)
{
    std::map<DefinedName, std::vector<LineNumber>> names;
    for (const Definition& definition : *definitions) {
        names[{definition.scope, definition.name, definition.signature}].push_back(definition.line);
    }
    return names;
}

/// Whether lines of either side could define one name: else nobody needs to be asked.
bool mayDefineTwice(const FileView& file)
{
    std::set<std::string_view> byOurs;
    std::set<std::string_view> byTheirs;
    LineNumber last = ~LineNumber{0};
    bool isWanted = false;
    for (const CodeWord& word : file.joined.scan().words) {
        if (word.line != last) {
            last = word.line;
            isWanted = file.originOf(word.line) != LineOrigin::base
                       && mayDefine(file.line(word.line), file.sides.language);
        }
        if (!isWanted || word.isInString || word.text.size() < 2) {
            continue;
        }
        if (file.mayBeOf(word.line, FindingSide::ours)) {
            byOurs.insert(word.text);
        }
        if (file.mayBeOf(word.line, FindingSide::theirs)) {
            byTheirs.insert(word.text);
        }
    }
    return std::any_of(byOurs.begin(), byOurs.end(), [&](std::string_view name) {
        return byTheirs.contains(name)
               && file.joined.countOf(name) > std::max(file.sides.base.countOf(name), 1);
    });
}
}  // namespace

void findDefinedTwice(const FileView& file,
                      DefinitionReader& definitions,
                      std::vector<Finding>& found)
{
    if (!isProgram(file.sides.language) || !mayDefineTwice(file)) {
        return;
    }
    const Definitions joined = definitions.read(file.file.path, file.joined.text());
    if (!joined || joined->empty()) {
        return;
    }
    Definitions ours;
    Definitions theirs;
    for (const auto& [name, lines] : byName(joined)) {
        if (lines.size() != 2) {
            continue;
        }
        if (!ours) {
            ours = definitions.read(file.file.path, file.sides.ours.text());
            theirs = definitions.read(file.file.path, file.sides.theirs.text());
            if (!ours || !theirs) {
                return;
            }
        }
        const auto inOurs = byName(ours);
        const auto inTheirs = byName(theirs);
        const auto countIn = [&name = name](const auto& names) {
            const auto place = names.find(name);
            return place == names.end() ? std::size_t{0} : place->second.size();
        };
        const bool isOfBoth = file.originOf(lines[0]) != LineOrigin::base
                              && file.originOf(lines[1]) != LineOrigin::base
                              && file.originOf(lines[0]) != file.originOf(lines[1]);
        if (countIn(inOurs) <= 1 && countIn(inTheirs) <= 1 && isOfBoth) {
            Finding finding = findingAt(file, FindingKind::definedTwice, lines[1]);
            finding.name = std::get<1>(name);
            finding.otherPath = file.file.path;
            finding.otherLine = lines[0];
            found.push_back(std::move(finding));
        }
    }
}
}  // namespace rope
