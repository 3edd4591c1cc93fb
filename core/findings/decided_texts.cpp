// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_findings.cpp.
#include "core/findings/decided_texts.h"

#include "core/merge/marked_text.h"
#include "core/text/text.h"

#include <algorithm>

namespace rope {
void findMarkersLeft(const FileView& file, std::vector<Finding>& found)
{
    for (LineNumber line = 0; line < file.joined.lines().size(); ++line) {
        const std::string_view content = trimmed(file.line(line));
        if (looksLikeMarker(file.line(line)) && file.sides.base.countOfLine(content) == 0
            && file.sides.ours.countOfLine(content) == 0
            && file.sides.theirs.countOfLine(content) == 0) {
            found.push_back(
                file.findingAt(FindingKind::markersLeft, {line, line + 1}, FindingSide::none));
            found.back().name = content;
        }
    }
}

void findForeignText(const FileView& file, std::vector<Finding>& found)
{
    std::optional<LineRange> stretch;
    const auto end = static_cast<LineNumber>(file.joined.lines().size());
    for (LineNumber line = 0; line <= end; ++line) {
        const bool isInRegion = std::any_of(
            file.result.regions.begin(), file.result.regions.end(), [&](const LineRange& region) {
                return line >= region.begin && line < region.end;
            });
        const bool isForeign = line < end && !isInRegion && file.originOf(line) == LineOrigin::hand;
        if (isForeign && stretch) {
            stretch->end = line + 1;
        } else if (isForeign) {
            stretch = LineRange{line, line + 1};
        } else if (stretch) {
            found.push_back(file.findingAt(FindingKind::foreignText, *stretch, FindingSide::none));
            found.back().name = trimmed(file.line(stretch->begin));
            stretch.reset();
        }
    }
}

void findDroppedChange(const FileView& file, std::vector<Finding>& found)
{
    if (file.result.regions.empty()) {
        return;
    }
    for (const FindingSide side : kBothSides) {
        const VersionView& dropped = file.sides.side(side);
        const VersionView& kept = file.sides.side(otherSide(side));
        if (!dropped.exists() || !kept.exists() || !file.sides.isChangedBy(side)
            || file.joined.text() != kept.text() || dropped.text() == kept.text()) {
            continue;
        }
        // What the other side has as well is not lost.
        const bool losesLine =
            std::any_of(dropped.lines().begin(), dropped.lines().end(), [&](std::string_view line) {
                const std::string_view content = trimmed(line);
                return hasLetters(content, 1) && file.sides.base.countOfLine(content) == 0
                       && file.joined.countOfLine(content) == 0;
            });
        const auto end = static_cast<LineNumber>(file.joined.lines().size());
        const LineNumber first =
            std::min(file.result.regions.front().begin, end == 0 ? 0 : end - 1);
        if (losesLine) {
            found.push_back(file.findingAt(
                FindingKind::changeDropped, {first, std::min(first + 1, end)}, side));
        }
    }
}
}  // namespace rope
