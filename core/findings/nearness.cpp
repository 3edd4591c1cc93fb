// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_findings.cpp.
#include "core/findings/nearness.h"

#include <algorithm>

namespace rope {
namespace {
constexpr LineNumber kLeastBlock = 3;  // lines of a moved block that say something

bool isInRegion(const FileView& file, LineNumber line)
{
    return std::any_of(
        file.result.regions.begin(), file.result.regions.end(), [line](const LineRange& region) {
            return line >= region.begin && line < region.end;
        });
}

Finding nearAt(const FileView& file, FindingKind kind, LineRange lines)
{
    return file.findingAt(kind, lines, FindingSide::both);
}
}  // namespace

void findNearEdits(const FileView& file, std::vector<Finding>& found)
{
    LineNumber last = 0;                       // line of one side alone
    LineOrigin lastOrigin = LineOrigin::base;  // of it; base: there is none
    std::optional<Finding> current;
    for (LineNumber line = 0; line < file.joined.lines().size(); ++line) {
        const LineOrigin origin = file.originOf(line);
        if (isInRegion(file, line) || origin == LineOrigin::both || origin == LineOrigin::hand) {
            lastOrigin = LineOrigin::base;
            continue;
        }
        if (origin == LineOrigin::base) {
            continue;
        }
        const bool isNear = lastOrigin != LineOrigin::base && origin != lastOrigin
                            && line - last - 1 <= kMostBetween;
        if (isNear && current && current->lines.end > last) {
            current->lines.end = line + 1;
        } else if (isNear) {
            if (current) {
                found.push_back(std::move(*current));
            }
            current = nearAt(file, FindingKind::nearEdits, {last, line + 1});
            current->count = static_cast<int>(line - last - 1);
        }
        last = line;
        lastOrigin = origin;
    }
    if (current) {
        found.push_back(std::move(*current));
    }
}

void findSameFunctions(const FileView& file,
                       DefinitionReader& definitions,
                       std::vector<Finding>& found)
{
    const auto has = [&](LineOrigin wanted, LineRange lines) {
        for (LineNumber line = lines.begin; line < lines.end; ++line) {
            if (file.originOf(line) == wanted && !isInRegion(file, line)) {
                return true;
            }
        }
        return false;
    };
    const LineRange all{0, static_cast<LineNumber>(file.joined.lines().size())};
    if (!isProgram(file.sides.language) || !has(LineOrigin::ours, all)
        || !has(LineOrigin::theirs, all)) {
        return;
    }
    const Definitions here = definitions.read(file.file.path, file.joined.text());
    if (!here) {
        return;
    }
    for (const Definition& definition : *here) {
        const bool isFunction = definition.kind == "function" || definition.kind == "method"
                                || definition.kind == "member";
        if (!isFunction || !definition.end || *definition.end <= definition.line) {
            continue;
        }
        const LineRange lines{definition.line, std::min(*definition.end + 1, all.end)};
        if (has(LineOrigin::ours, lines) && has(LineOrigin::theirs, lines)) {
            Finding finding = nearAt(file, FindingKind::sameFunction, lines);
            finding.name = definition.name;
            found.push_back(std::move(finding));
        }
    }
}

namespace {
/// How many lines of a version say something.
LineNumber sayingLines(const VersionView& version, LineRange range)
{
    LineNumber count = 0;
    for (LineNumber line = range.begin; line < range.end; ++line) {
        count += hasLetters(version.lines()[line], 3) ? 1U : 0U;
    }
    return count;
}

/// Where lines of the base that a side took out were put in again, all of them in a row.
std::optional<LineRange> movedTo(const LineHunks& lines, LineRange taken)
{
    for (const Hunk& hunk : lines.hunks) {
        const auto begin = lines.side.begin() + hunk.after.begin;
        const auto end = lines.side.begin() + hunk.after.end;
        const auto place = std::search(
            begin, end, lines.base.begin() + taken.begin, lines.base.begin() + taken.end);
        if (place != end && hunk.before != taken) {
            const auto first = static_cast<LineNumber>(place - lines.side.begin());
            return LineRange{first, first + taken.size()};
        }
    }
    return std::nullopt;
}
}  // namespace

void findMovedBlocks(const FileView& file, std::vector<Finding>& found)
{
    const VersionView& base = file.sides.base;
    if (!base.exists() || !file.sides.ours.exists() || !file.sides.theirs.exists()) {
        return;
    }
    const auto& joined = file.joined.lines();
    for (const FindingSide mover : kBothSides) {
        const LineHunks& moving = file.sides.hunksOf(mover);
        const LineHunks& editing = file.sides.hunksOf(otherSide(mover));
        for (const Hunk& hunk : moving.hunks) {
            if (sayingLines(base, hunk.before) < kLeastBlock || !movedTo(moving, hunk.before)) {
                continue;
            }
            const bool isEdited =
                std::any_of(editing.hunks.begin(), editing.hunks.end(), [&](const Hunk& edit) {
                    return edit.before.begin < hunk.before.end
                           && edit.before.end > hunk.before.begin;
                });
            if (!isEdited) {
                continue;
            }
            const auto place = std::search(joined.begin(),
                                           joined.end(),
                                           base.lines().begin() + hunk.before.begin,
                                           base.lines().begin() + hunk.before.end);
            if (place != joined.end()) {
                const auto first = static_cast<LineNumber>(place - joined.begin());
                Finding finding =
                    nearAt(file, FindingKind::movedBlock, {first, first + hunk.before.size()});
                finding.side = mover;
                finding.otherPath = file.file.basePath;
                finding.otherLine = hunk.before.begin;
                finding.count = static_cast<int>(hunk.before.size());
                found.push_back(std::move(finding));
            }
        }
    }
}
}  // namespace rope
