// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_text_join.cpp.
#include "core/merge/marked_text.h"

#include "core/diff/diff_tokens.h"

namespace rope {
namespace {
class MarkedWriter
{
public:
    MarkedWriter(const TextJoin& join, std::size_t markerLength)
        : m_join(join)
        , m_lineEnd(lineEndOf(join.ours().bytes()) == LineEnd::crlf ? "\r\n" : "\n")
        , m_markerLength(markerLength)
    {
        // A guess that seldom has to grow: what theirs brings, base in the regions, the markers.
        const std::size_t added = join.theirs().bytes().size() / 4;
        m_out.text.reserve(join.ours().bytes().size() + added);
    }

    void marker(char sign, std::string_view label)
    {
        endOpenLine();
        m_out.text.append(m_markerLength, sign);
        if (!label.empty()) {
            m_out.text.append(" ").append(label);
        }
        endLine();
    }
    void append(const Text& text, LineRange range)
    {
        const std::string_view bytes = text.lines(range);
        m_out.text += bytes;
        m_line += range.size();
        if (!bytes.empty() && bytes.back() != '\n') {
            --m_line;  // not ended yet
        }
    }
    void appendJoined(const Chunk& chunk)
    {
        if (chunk.kind == ChunkKind::theirs) {
            append(m_join.theirs(), chunk.theirs);
        } else {
            append(m_join.ours(), chunk.ours);
        }
    }
    /// Ends the last line, if it has no end.
    void endOpenLine()
    {
        if (!m_out.text.empty() && m_out.text.back() != '\n') {
            endLine();
        }
    }
    void region() { m_out.regionLines.push_back(m_line); }
    MarkedText take() { return std::move(m_out); }

private:
    void endLine()
    {
        m_out.text += m_lineEnd;
        ++m_line;
    }
    const TextJoin& m_join;
    std::string_view m_lineEnd;
    std::size_t m_markerLength;
    MarkedText m_out;
    LineNumber m_line = 0;
};

/// The hunks between the two sides of a region; those that are near each other as one.
std::vector<Hunk> hunksOfSides(const Text& ours, const Text& theirs, const Chunk& region)
{
    constexpr LineNumber kNearLines = 3;
    LineInterner interner;
    std::vector<TokenId> sides[2];
    for (LineNumber i = region.ours.begin; i < region.ours.end; ++i) {
        sides[0].push_back(interner.intern(ours.line(i)));
    }
    for (LineNumber i = region.theirs.begin; i < region.theirs.end; ++i) {
        sides[1].push_back(interner.intern(theirs.line(i)));
    }
    std::vector<Hunk> merged;
    const std::vector<Hunk> hunks =
        diffTokens(sides[0], sides[1], interner.idCount()).value();  // nothing can cancel it
    for (const Hunk& hunk : hunks) {
        if (!merged.empty() && hunk.before.begin - merged.back().before.end <= kNearLines) {
            merged.back().before.end = hunk.before.end;
            merged.back().after.end = hunk.after.end;
        } else {
            merged.push_back(hunk);
        }
    }
    return merged;
}
}  // namespace

MarkedText markedText(const TextJoin& join, const MarkerStyle& style)
{
    MarkedWriter writer(join, style.length);
    for (const Chunk& chunk : join.chunks()) {
        if (chunk.kind != ChunkKind::region) {
            writer.appendJoined(chunk);
            continue;
        }
        writer.region();
        writer.marker('<', style.ours);
        writer.append(join.ours(), chunk.ours);
        writer.marker('|', style.base);
        writer.append(join.base(), chunk.base);
        writer.marker('=', {});
        writer.append(join.theirs(), chunk.theirs);
        writer.marker('>', style.theirs);
    }
    return writer.take();
}

std::string clashText(const TextJoin& join, const MarkerStyle& style)
{
    MarkedWriter writer(join, style.length);
    for (const Chunk& chunk : join.chunks()) {
        if (chunk.kind != ChunkKind::region) {
            writer.appendJoined(chunk);
            continue;
        }
        LineNumber shared = chunk.ours.begin;
        for (const Hunk& hunk : hunksOfSides(join.ours(), join.theirs(), chunk)) {
            const LineNumber begin = chunk.ours.begin + hunk.before.begin;
            const LineNumber end = chunk.ours.begin + hunk.before.end;
            const LineRange theirs{chunk.theirs.begin + hunk.after.begin,
                                   chunk.theirs.begin + hunk.after.end};
            writer.append(join.ours(), {shared, begin});
            writer.marker('<', style.ours);
            writer.append(join.ours(), {begin, end});
            writer.marker('=', {});
            writer.append(join.theirs(), theirs);
            writer.marker('>', style.theirs);
            shared = end;
        }
        writer.append(join.ours(), {shared, chunk.ours.end});
    }
    return writer.take().text;
}

std::string unionText(const TextJoin& join)
{
    MarkedWriter writer(join, 0);
    for (const Chunk& chunk : join.chunks()) {
        if (chunk.kind == ChunkKind::region) {
            writer.append(join.ours(), chunk.ours);
            writer.endOpenLine();
            writer.append(join.theirs(), chunk.theirs);
        } else {
            writer.appendJoined(chunk);
        }
    }
    return writer.take().text;
}

bool looksLikeMarker(std::string_view line)
{
    constexpr std::size_t kShortest = 7;
    if (line.empty() || std::string_view("<|>").find(line.front()) == std::string_view::npos) {
        return false;
    }
    const std::size_t end = line.find_first_not_of(line.front());
    return end != std::string_view::npos && end >= kShortest && line[end] == ' ';
}
}  // namespace rope
