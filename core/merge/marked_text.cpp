// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_text_join.cpp.
#include "core/merge/marked_text.h"

#include <algorithm>

namespace rope {
namespace {
constexpr std::size_t kMarkerLength = 7;

class MarkedWriter
{
public:
    explicit MarkedWriter(std::string_view lineEnd)
        : m_lineEnd(lineEnd)
    {
    }

    void marker(char sign, std::string_view label)
    {
        if (!m_out.text.empty() && m_out.text.back() != '\n') {
            endLine();
        }
        m_out.text.append(kMarkerLength, sign);
        if (!label.empty()) {
            m_out.text.append(" ").append(label);
        }
        endLine();
    }
    void append(std::string_view bytes)
    {
        m_out.text += bytes;
        m_line += static_cast<LineNumber>(std::count(bytes.begin(), bytes.end(), '\n'));
    }
    void region() { m_out.regionLines.push_back(m_line); }
    MarkedText take() { return std::move(m_out); }

private:
    void endLine()
    {
        m_out.text += m_lineEnd;
        ++m_line;
    }
    std::string_view m_lineEnd;
    MarkedText m_out;
    LineNumber m_line = 0;
};
}  // namespace

MarkedText markedText(const TextJoin& join, const MarkerLabels& labels)
{
    MarkedWriter writer(lineEndOf(join.ours().bytes()) == LineEnd::crlf ? "\r\n" : "\n");
    for (const Chunk& chunk : join.chunks()) {
        if (chunk.kind != ChunkKind::region) {
            writer.append(join.joinedText(chunk));
            continue;
        }
        writer.region();
        writer.marker('<', labels.ours);
        writer.append(join.ours().lines(chunk.ours));
        writer.marker('|', labels.base);
        writer.append(join.base().lines(chunk.base));
        writer.marker('=', {});
        writer.append(join.theirs().lines(chunk.theirs));
        writer.marker('>', labels.theirs);
    }
    return writer.take();
}
}  // namespace rope
