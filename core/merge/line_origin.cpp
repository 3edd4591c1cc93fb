// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice.cpp.
#include "core/merge/line_origin.h"

#include "core/diff/diff_tokens.h"

namespace rope {
std::vector<LineNumber> lineUp(std::string_view from, std::string_view to)
{
    const auto a = splitLines(from);
    const auto b = splitLines(to);
    LineInterner interner(a.size() + b.size());
    const auto aIds = interner.internAll(a);
    const auto bIds = interner.internAll(b);
    const auto hunks = diffTokens(aIds, bIds, interner.idCount(), DiffMethod::myers);
    ROPE_ASSERT(hunks.hasValue(), "a diff without a stop token cannot be cancelled");
    std::vector<LineNumber> partner(b.size(), kNoLine);
    LineNumber i = 0;
    LineNumber j = 0;
    const auto pairUntil = [&](LineNumber end) {
        while (j < end) {
            partner[j++] = i++;
        }
    };
    for (const Hunk& hunk : *hunks) {
        pairUntil(hunk.after.begin);
        i = hunk.before.end;
        j = hunk.after.end;
    }
    pairUntil(static_cast<LineNumber>(b.size()));
    return partner;
}

std::vector<LineOrigin>
originsOfLines(std::string_view result, const RegionTexts& texts, LineOrigin unknown)
{
    const auto base = lineUp(texts.base, result);
    const auto ours = lineUp(texts.ours, result);
    const auto theirs = lineUp(texts.theirs, result);
    std::vector<LineOrigin> origins(base.size(), unknown);
    for (std::size_t i = 0; i < origins.size(); ++i) {
        const bool inBase = base[i] != kNoLine;
        const bool inOurs = ours[i] != kNoLine;
        const bool inTheirs = theirs[i] != kNoLine;
        if (inBase) {
            origins[i] = LineOrigin::base;
        } else if (inOurs && inTheirs) {
            origins[i] = LineOrigin::both;
        } else if (inOurs) {
            origins[i] = LineOrigin::ours;
        } else if (inTheirs) {
            origins[i] = LineOrigin::theirs;
        }
    }
    return origins;
}

std::vector<LineOrigin> originsOfChunk(const Chunk& chunk)
{
    switch (chunk.kind) {
    case ChunkKind::unchanged:
        return std::vector<LineOrigin>(chunk.ours.size(), LineOrigin::base);
    case ChunkKind::ours:
        return std::vector<LineOrigin>(chunk.ours.size(), LineOrigin::ours);
    case ChunkKind::theirs:
        return std::vector<LineOrigin>(chunk.theirs.size(), LineOrigin::theirs);
    case ChunkKind::alike:
        return std::vector<LineOrigin>(chunk.ours.size(), LineOrigin::both);
    case ChunkKind::region:
        break;
    }
    ROPE_ASSERT(false, "a region has no text by itself");
    return {};
}

std::vector<LineOrigin> originsAfterEdit(std::string_view before,
                                         const std::vector<LineOrigin>& origins,
                                         std::string_view edited)
{
    const auto partner = lineUp(before, edited);
    std::vector<LineOrigin> result(partner.size(), LineOrigin::hand);
    for (std::size_t i = 0; i < partner.size(); ++i) {
        if (partner[i] != kNoLine) {
            result[i] = origins[partner[i]];
        }
    }
    return result;
}

std::vector<LineNumber> gapsAfterEdit(std::string_view before, std::string_view edited)
{
    const auto partner = lineUp(before, edited);
    const auto lineCount = static_cast<LineNumber>(splitLines(before).size());
    std::vector<LineNumber> gaps;
    LineNumber expected = 0;
    bool isReplaced = false;  // what is new here stands in place of what is gone
    for (std::size_t i = 0; i <= partner.size(); ++i) {
        const LineNumber own = i < partner.size() ? partner[i] : lineCount;
        if (own == kNoLine) {
            isReplaced = true;
            continue;
        }
        if (own > expected && !isReplaced) {
            gaps.push_back(static_cast<LineNumber>(i));
        }
        expected = own + 1;
        isReplaced = false;
    }
    return gaps;
}
}  // namespace rope
