// SPDX-License-Identifier: GPL-3.0-or-later
// Both diffs are walked along the base. Hunks of the two sides that overlap or touch form a group:
//   base    a b c d e f          ours changes c, theirs changes d e
//   group       [c d e]          touching, so one region: ours "C d e", theirs "c D E"
// A group with hunks of one side alone is that side's change. Where both sides' text of the group is
// equal it is one change made twice. Tested by tst_text_join.cpp.
#include "core/merge/three_way_chunks.h"

#include <algorithm>

namespace rope {
namespace {
/// One side's hunks, walked along the base.
class SideCursor
{
public:
    explicit SideCursor(std::span<const Hunk> hunks)
        : m_hunks(hunks)
    {
    }

    [[nodiscard]] bool isAtEnd() const { return m_next == m_hunks.size(); }
    [[nodiscard]] LineNumber nextBegin() const { return m_hunks[m_next].before.begin; }
    /// Takes the next hunk if it begins at or before `groupEnd` in the base, and moves that on.
    bool takeIfTouching(LineNumber& groupEnd)
    {
        if (isAtEnd() || nextBegin() > groupEnd) {
            return false;
        }
        const Hunk& hunk = m_hunks[m_next++];
        groupEnd = std::max(groupEnd, hunk.before.end);
        m_shift = static_cast<std::int64_t>(hunk.after.end) - hunk.before.end;
        return true;
    }
    /// Where a base line that this side left alone stands on this side.
    [[nodiscard]] LineNumber sidePosition(LineNumber base) const
    {
        return static_cast<LineNumber>(base + m_shift);
    }

private:
    std::span<const Hunk> m_hunks;
    std::size_t m_next = 0;
    std::int64_t m_shift = 0;  // what to add to a base line after the hunks taken so far
};

bool equalTokens(Tokens a, LineRange x, Tokens b, LineRange y)
{
    return std::equal(
        a.begin() + x.begin, a.begin() + x.end, b.begin() + y.begin, b.begin() + y.end);
}

/// Appends a region, with what both sides have in common at its ends as chunks of their own.
/// A common line counts as the base's too when it stands at that end of the base as well.
void appendTrimmed(const ThreeTokens& t, Chunk region, std::vector<Chunk>& chunks)
{
    Chunk head{ChunkKind::alike,
               {region.base.begin, region.base.begin},
               {region.ours.begin, region.ours.begin},
               {region.theirs.begin, region.theirs.begin}};
    Chunk tail{ChunkKind::alike,
               {region.base.end, region.base.end},
               {region.ours.end, region.ours.end},
               {region.theirs.end, region.theirs.end}};
    bool takesBase = true;
    while (!region.ours.isEmpty() && !region.theirs.isEmpty()
           && t.ours[region.ours.begin] == t.theirs[region.theirs.begin]) {
        takesBase = takesBase && !region.base.isEmpty()
                    && t.base[region.base.begin] == t.ours[region.ours.begin];
        region.base.begin += takesBase ? 1 : 0;
        head.base.end = region.base.begin;
        head.ours.end = ++region.ours.begin;
        head.theirs.end = ++region.theirs.begin;
    }
    takesBase = true;
    while (!region.ours.isEmpty() && !region.theirs.isEmpty()
           && t.ours[region.ours.end - 1] == t.theirs[region.theirs.end - 1]) {
        takesBase = takesBase && !region.base.isEmpty()
                    && t.base[region.base.end - 1] == t.ours[region.ours.end - 1];
        region.base.end -= takesBase ? 1 : 0;
        tail.base.begin = region.base.end;
        tail.ours.begin = --region.ours.end;
        tail.theirs.begin = --region.theirs.end;
    }
    if (!head.ours.isEmpty()) {
        chunks.push_back(head);
    }
    chunks.push_back(region);
    if (!tail.ours.isEmpty()) {
        chunks.push_back(tail);
    }
}

void appendGroup(
    const ThreeTokens& t, Chunk group, bool hasOurs, bool hasTheirs, std::vector<Chunk>& chunks)
{
    if (!hasTheirs) {
        group.kind = ChunkKind::ours;
    } else if (!hasOurs) {
        group.kind = ChunkKind::theirs;
    } else if (equalTokens(t.ours, group.ours, t.theirs, group.theirs)) {
        group.kind = ChunkKind::alike;
    } else {
        group.kind = ChunkKind::region;
        appendTrimmed(t, group, chunks);
        return;
    }
    chunks.push_back(group);
}
}  // namespace

std::vector<Chunk> joinHunks(const ThreeTokens& tokens,
                             std::span<const Hunk> oursHunks,
                             std::span<const Hunk> theirsHunks)
{
    std::vector<Chunk> chunks;
    SideCursor ours(oursHunks);
    SideCursor theirs(theirsHunks);
    const auto baseCount = static_cast<LineNumber>(tokens.base.size());
    LineNumber at = 0;
    const auto cutAt = [&](LineNumber base) {
        return Chunk{ChunkKind::unchanged,
                     {at, base},
                     {ours.sidePosition(at), ours.sidePosition(base)},
                     {theirs.sidePosition(at), theirs.sidePosition(base)}};
    };
    while (!ours.isAtEnd() || !theirs.isAtEnd()) {
        const LineNumber begin = std::min(ours.isAtEnd() ? baseCount : ours.nextBegin(),
                                          theirs.isAtEnd() ? baseCount : theirs.nextBegin());
        if (begin > at) {
            chunks.push_back(cutAt(begin));
        }
        Chunk group;
        group.ours.begin = ours.sidePosition(begin);
        group.theirs.begin = theirs.sidePosition(begin);
        LineNumber end = begin;
        bool hasOurs = false;
        bool hasTheirs = false;
        for (bool grew = true; grew;) {
            const bool tookOurs = ours.takeIfTouching(end);
            const bool tookTheirs = theirs.takeIfTouching(end);
            hasOurs = hasOurs || tookOurs;
            hasTheirs = hasTheirs || tookTheirs;
            grew = tookOurs || tookTheirs;
        }
        group.base = {begin, end};
        group.ours.end = ours.sidePosition(end);
        group.theirs.end = theirs.sidePosition(end);
        appendGroup(tokens, group, hasOurs, hasTheirs, chunks);
        at = end;
    }
    if (at < baseCount) {
        chunks.push_back(cutAt(baseCount));
    }
    return chunks;
}
}  // namespace rope
