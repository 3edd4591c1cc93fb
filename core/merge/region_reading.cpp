// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_marked_lines.cpp.
#include "core/merge/region_reading.h"

#include <algorithm>

namespace rope {
namespace {
using Kind = MarkedLine::Kind;

SideReading reading(std::string_view other, std::string_view text)
{
    SideReading side;
    const auto otherLines = splitLines(other);
    std::vector<std::string> gone;
    bool isSeen = false;
    bool isBlank = false;
    for (MarkedLine& marked : markLines(other, text)) {
        const bool isBlanksOnly = marked.kind == Kind::edited && marked.words.empty();
        isBlank = isBlank || isBlanksOnly;
        isSeen = isSeen || (marked.kind != Kind::kept && !isBlanksOnly);
        if (marked.kind == Kind::removed) {
            gone.emplace_back(otherLines[marked.line]);
        } else {
            side.lines.push_back({marked.kind, false, std::move(marked.words), std::move(gone)});
            gone.clear();
        }
    }
    side.goneAtEnd = std::move(gone);
    side.onlyBlanksDiffer = isBlank && !isSeen;
    return side;
}

/// Marks the lines that both brought alike.
void markShared(const RegionTexts& texts, RegionReading& region)
{
    for (const MarkedLine& marked : markLines(texts.ours, texts.theirs)) {
        if (marked.kind != Kind::kept) {
            continue;
        }
        SideLine& inTheirs = region.theirs.lines[marked.line];
        SideLine& inOurs = region.ours.lines[marked.other];
        if (inTheirs.kind != Kind::kept && inOurs.kind != Kind::kept) {
            inTheirs.isShared = true;
            inOurs.isShared = true;
        }
    }
}

void tellFates(std::string_view base,
               std::string_view side,
               std::vector<BaseLine>& lines,
               Fate BaseLine::*fate)
{
    for (const MarkedLine& marked : markLines(base, side)) {
        if (marked.kind == Kind::removed) {
            lines[marked.line].*fate = Fate::removed;
        } else if (marked.kind == Kind::edited) {
            lines[marked.other].*fate = Fate::edited;
        }
    }
}

std::vector<BaseLine> fatesOf(const RegionTexts& texts)
{
    std::vector<BaseLine> lines(splitLines(texts.base).size());
    tellFates(texts.base, texts.ours, lines, &BaseLine::byOurs);
    tellFates(texts.base, texts.theirs, lines, &BaseLine::byTheirs);
    return lines;
}
}  // namespace

bool SideReading::isUnchanged() const
{
    return goneAtEnd.empty() && std::all_of(lines.begin(), lines.end(), [](const SideLine& line) {
               return line.kind == Kind::kept && line.goneBefore.empty();
           });
}

RegionReading readAgainstBase(const RegionTexts& texts)
{
    RegionReading region{
        reading(texts.base, texts.theirs), reading(texts.base, texts.ours), fatesOf(texts)};
    markShared(texts, region);
    return region;
}

RegionReading readAgainstEachOther(const RegionTexts& texts)
{
    return {reading(texts.ours, texts.theirs), reading(texts.theirs, texts.ours), fatesOf(texts)};
}

LinesAround
linesAround(const TextJoin& join, std::size_t region, LineNumber before, LineNumber after)
{
    const Chunk& chunk = join.region(region);
    const auto sameAt = [&](LineNumber base, LineNumber ours, LineNumber theirs) {
        const std::string_view line = join.base().line(base);
        return join.ours().line(ours) == line && join.theirs().line(theirs) == line;
    };
    LinesAround around;
    for (LineNumber i = 1; i <= before && i <= chunk.base.begin && i <= chunk.ours.begin
                           && i <= chunk.theirs.begin
                           && sameAt(chunk.base.begin - i, chunk.ours.begin - i, chunk.theirs.begin - i);
         ++i) {
        around.before.insert(around.before.begin(), join.base().line(chunk.base.begin - i));
    }
    for (LineNumber i = 0; i < after && chunk.base.end + i < join.base().lineCount()
                           && chunk.ours.end + i < join.ours().lineCount()
                           && chunk.theirs.end + i < join.theirs().lineCount()
                           && sameAt(chunk.base.end + i, chunk.ours.end + i, chunk.theirs.end + i);
         ++i) {
        around.after.push_back(join.base().line(chunk.base.end + i));
    }
    return around;
}

bool areBetterReadAgainstEachOther(const RegionTexts& texts)
{
    if (texts.base.empty()) {
        return !texts.ours.empty() && !texts.theirs.empty();
    }
    const auto isWhole = [](const MarkedLine& line) {
        return line.kind == Kind::added || line.kind == Kind::removed;
    };
    const auto each = markLines(texts.ours, texts.theirs);
    const auto added = markLines(texts.base, texts.theirs);
    return std::none_of(each.begin(), each.end(), isWhole)
           && 2 * static_cast<std::size_t>(std::count_if(added.begin(), added.end(), isWhole))
                  > added.size();
}
}  // namespace rope
