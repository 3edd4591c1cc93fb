// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_text_join.cpp.
#include "core/merge/marked_text.h"

#include "core/diff/diff_tokens.h"

#include <utility>

namespace rope {
namespace {
class MarkedWriter
{
public:
    MarkedWriter(const TextJoin& join, std::size_t markerLength, const PieceSink& write)
        : m_join(join)
        , m_lineEnd(lineEndOf(join.ours().bytes()) == LineEnd::crlf ? "\r\n" : "\n")
        , m_markerLength(markerLength)
        , m_write(write)
    {
    }

    void marker(char sign, std::string_view label)
    {
        endOpenLine();
        std::string line(m_markerLength, sign);
        if (!label.empty()) {
            line.append(" ").append(label);
        }
        write(line);
        endLine();
    }
    void append(const Text& text, LineRange range)
    {
        write(text.lines(range));
        m_line += range.size();
        if (!range.isEmpty() && m_isLineOpen) {
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
        if (m_isLineOpen) {
            endLine();
        }
    }
    [[nodiscard]] LineNumber line() const { return m_line; }

private:
    void write(std::string_view piece)
    {
        if (!piece.empty()) {
            m_write(piece);
            m_isLineOpen = piece.back() != '\n';
        }
    }
    void endLine()
    {
        write(m_lineEnd);
        ++m_line;
    }
    const TextJoin& m_join;
    std::string_view m_lineEnd;
    std::size_t m_markerLength;
    const PieceSink& m_write;
    bool m_isLineOpen = false;
    LineNumber m_line = 0;
};

/// A text that is put together from pieces, with room for what it will most likely hold: what theirs
/// brings, base in the regions, the markers.
class TextOfPieces
{
public:
    explicit TextOfPieces(const TextJoin& join)
    {
        m_text.reserve(join.ours().bytes().size() + join.theirs().bytes().size() / 4);
    }
    [[nodiscard]] PieceSink sink()
    {
        return [this](std::string_view piece) {
            m_text += piece;
        };
    }
    std::string take() { return std::move(m_text); }

private:
    std::string m_text;
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

std::vector<LineNumber>
writeMarkedText(const TextJoin& join, const MarkerStyle& style, const PieceSink& write)
{
    std::vector<LineNumber> regionLines;
    regionLines.reserve(join.regionCount());
    MarkedWriter writer(join, style.length, write);
    for (const Chunk& chunk : join.chunks()) {
        if (chunk.kind != ChunkKind::region) {
            writer.appendJoined(chunk);
            continue;
        }
        regionLines.push_back(writer.line());
        writer.marker('<', style.ours);
        writer.append(join.ours(), chunk.ours);
        writer.marker('|', style.base);
        writer.append(join.base(), chunk.base);
        writer.marker('=', {});
        writer.append(join.theirs(), chunk.theirs);
        writer.marker('>', style.theirs);
    }
    return regionLines;
}

MarkedText markedText(const TextJoin& join, const MarkerStyle& style)
{
    TextOfPieces text(join);
    auto regionLines = writeMarkedText(join, style, text.sink());
    return {text.take(), std::move(regionLines)};
}

std::string clashText(const TextJoin& join, const MarkerStyle& style)
{
    TextOfPieces text(join);
    const PieceSink sink = text.sink();
    MarkedWriter writer(join, style.length, sink);
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
    return text.take();
}

std::string unionText(const TextJoin& join)
{
    TextOfPieces text(join);
    const PieceSink sink = text.sink();
    MarkedWriter writer(join, 0, sink);
    for (const Chunk& chunk : join.chunks()) {
        if (chunk.kind == ChunkKind::region) {
            writer.append(join.ours(), chunk.ours);
            writer.endOpenLine();
            writer.append(join.theirs(), chunk.theirs);
        } else {
            writer.appendJoined(chunk);
        }
    }
    return text.take();
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
