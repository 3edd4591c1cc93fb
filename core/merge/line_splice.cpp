// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/line_splice.h"

#include "core/diff/diff_tokens.h"
#include "core/merge/two_hunk_lists.h"
#include "core/merge/word_splice.h"

#include <deque>

namespace rope {
namespace {
using Lines = std::vector<std::string_view>;

std::string withoutBlanks(std::string_view line)
{
    std::string plain;
    for (const char c : line) {
        if (c != ' ' && c != '\t' && c != '\r' && c != '\n') {
            plain += c;
        }
    }
    return plain;
}

std::string_view bytesOf(const Lines& lines, LineRange range)
{
    if (range.begin == range.end) {
        return {};
    }
    const char* const first = lines[range.begin].data();
    const std::string_view last = lines[range.end - 1];
    return {first, static_cast<std::size_t>(last.data() + last.size() - first)};
}

class LineSplicer
{
public:
    LineSplicer(const RegionWords& words, Blanks blanks)
        : m_words(words)
        , m_base(splitLines(words.texts.base))
        , m_sides{splitLines(words.texts.ours), splitLines(words.texts.theirs)}
        , m_lineEnd(lineEndOf(words.texts))
    {
        LineInterner interner;
        std::deque<std::string> keys;
        const auto ids = [&](const Lines& lines) {
            std::vector<TokenId> list;
            for (const std::string_view line : lines) {
                list.push_back(interner.intern(
                    blanks == Blanks::count ? line : keys.emplace_back(withoutBlanks(line))));
            }
            return list;
        };
        const auto base = ids(m_base);
        const auto ours = ids(m_sides[0]);
        const auto theirs = ids(m_sides[1]);
        m_hunks = {diffTokens(base, ours, interner.idCount()).value(),
                   diffTokens(base, theirs, interner.idCount()).value()};
    }

    std::optional<std::string> splice()
    {
        while (!m_hunks.isAtEnd()) {
            if (!takeNext()) {
                return std::nullopt;
            }
        }
        keepUntil(static_cast<LineNumber>(m_base.size()));
        return std::move(m_text);
    }

private:
    /// Emits the next hunk, or the next two that overlap.
    bool takeNext()
    {
        const Hunk* const ours = m_hunks.ahead(0);
        const Hunk* const theirs = m_hunks.ahead(1);
        if (m_hunks.doOverlap()) {
            return takeOverlap();
        }
        if (ours && theirs && ours->before == theirs->before
            && bytesOf(m_sides[0], ours->after) == bytesOf(m_sides[1], theirs->after)) {
            take(0);
            m_hunks.skip(1);
            return true;
        }
        const bool isTheirsFirst =
            !ours
            || (theirs && theirs->before.begin <= ours->before.begin && !isBefore(*ours, *theirs));
        take(isTheirsFirst ? 1 : 0);
        return true;
    }

    /// At one place, what is put in stands before what is replaced; of two put in, theirs is first.
    static bool isBefore(const Hunk& ours, const Hunk& theirs)
    {
        const bool isOursPutIn = ours.before.begin == ours.before.end;
        const bool isTheirsPutIn = theirs.before.begin == theirs.before.end;
        return ours.before.begin == theirs.before.begin && isOursPutIn && !isTheirsPutIn;
    }

    void take(std::size_t side)
    {
        const Hunk& hunk = *m_hunks.ahead(side);
        keepUntil(hunk.before.begin);
        append(bytesOf(m_sides[side], hunk.after));
        m_at = std::max(m_at, hunk.before.end);
        m_hunks.skip(side);
    }

    /// Splices the words of all hunks that overlap in one another.
    bool takeOverlap()
    {
        keepUntil(std::min(m_hunks.ahead(0)->before.begin, m_hunks.ahead(1)->before.begin));
        const TwoHunkLists::Gathered all = m_hunks.gather();
        if (all.base.size() == m_base.size() && all.side[0].size() == m_sides[0].size()
            && all.side[1].size() == m_sides[1].size()) {
            return takeWords(spliceWords(m_words), all.base.end);
        }
        const auto words = spliceWords(RegionTexts{bytesOf(m_base, all.base),
                                                   bytesOf(m_sides[0], all.side[0]),
                                                   bytesOf(m_sides[1], all.side[1])});
        return takeWords(words, all.base.end);
    }

    bool takeWords(const std::optional<std::string>& words, LineNumber end)
    {
        if (words) {
            append(*words);
            m_at = end;
        }
        return words.has_value();
    }

    /// Lines that neither changed, but perhaps in their blanks: as the side has them that did.
    void keepUntil(LineNumber end)
    {
        for (; m_at < end; ++m_at) {
            const auto line = [&](std::size_t side) {
                return m_sides[side][m_hunks.placeIn(side, m_at)];
            };
            append(line(1) != m_base[m_at] ? line(1) : line(0));
        }
    }

    void append(std::string_view bytes)
    {
        if (!m_text.empty() && !bytes.empty() && m_text.back() != '\n') {
            m_text += m_lineEnd;
        }
        m_text += bytes;
    }

    const RegionWords& m_words;
    Lines m_base;
    Lines m_sides[2];
    std::string_view m_lineEnd;
    TwoHunkLists m_hunks{{}, {}};
    LineNumber m_at = 0;  ///< The next base line.
    std::string m_text;
};
}  // namespace

std::optional<std::string> spliceLines(const RegionWords& words, Blanks blanks)
{
    return LineSplicer(words, blanks).splice();
}

std::optional<std::string> spliceLines(const RegionTexts& texts, Blanks blanks)
{
    return isTooLargeForWords(texts) ? std::nullopt : spliceLines(RegionWords(texts), blanks);
}
}  // namespace rope
