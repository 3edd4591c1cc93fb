// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_candidates.cpp.
#include "core/merge/line_splice.h"

#include "core/diff/diff_tokens.h"
#include "core/merge/hunk_overlap.h"
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
        for (std::size_t side = 0; side < 2; ++side) {
            const auto own = ids(m_sides[side]);
            m_hunks[side] = diffTokens(base, own, interner.idCount()).value();
        }
    }

    std::optional<std::string> splice()
    {
        while (m_next[0] < m_hunks[0].size() || m_next[1] < m_hunks[1].size()) {
            if (!takeNext()) {
                return std::nullopt;
            }
        }
        keepUntil(static_cast<LineNumber>(m_base.size()));
        return std::move(m_text);
    }

private:
    [[nodiscard]] const Hunk* ahead(std::size_t side) const
    {
        return m_next[side] < m_hunks[side].size() ? &m_hunks[side][m_next[side]] : nullptr;
    }

    /// Emits the next hunk, or the next two that overlap.
    bool takeNext()
    {
        const Hunk* const ours = ahead(0);
        const Hunk* const theirs = ahead(1);
        if (ours && theirs && overlap(ours->before, theirs->before)) {
            return takeOverlap();
        }
        if (ours && theirs && ours->before == theirs->before
            && bytesOf(m_sides[0], ours->after) == bytesOf(m_sides[1], theirs->after)) {
            take(0);
            skip(1);
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
        const Hunk& hunk = *ahead(side);
        keepUntil(hunk.before.begin);
        append(bytesOf(m_sides[side], hunk.after));
        m_at = std::max(m_at, hunk.before.end);
        skip(side);
    }

    void skip(std::size_t side)
    {
        const Hunk& hunk = *ahead(side);
        m_shift[side] += static_cast<std::int64_t>(hunk.after.size())
                         - static_cast<std::int64_t>(hunk.before.size());
        ++m_next[side];
    }

    /// Gathers all hunks that overlap in one another and splices their words.
    bool takeOverlap()
    {
        LineRange base = ahead(0)->before;
        base.begin = std::min(base.begin, ahead(1)->before.begin);
        keepUntil(base.begin);
        const std::int64_t before[2] = {m_shift[0], m_shift[1]};
        for (bool hasGrown = true; hasGrown;) {
            hasGrown = false;
            for (std::size_t side = 0; side < 2; ++side) {
                const Hunk* const hunk = ahead(side);
                if (hunk && (overlap(hunk->before, base) || hunk->before == base)) {
                    base.end = std::max(base.end, hunk->before.end);
                    skip(side);
                    hasGrown = true;
                }
            }
        }
        const auto rangeOf = [&](std::size_t side) {
            return LineRange{static_cast<LineNumber>(base.begin + before[side]),
                             static_cast<LineNumber>(base.end + m_shift[side])};
        };
        if (base.size() == m_base.size() && rangeOf(0).size() == m_sides[0].size()
            && rangeOf(1).size() == m_sides[1].size()) {
            return takeWords(spliceWords(m_words), base.end);
        }
        const auto words = spliceWords(RegionTexts{bytesOf(m_base, base),
                                                   bytesOf(m_sides[0], rangeOf(0)),
                                                   bytesOf(m_sides[1], rangeOf(1))});
        return takeWords(words, base.end);
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
                return m_sides[side][static_cast<std::size_t>(m_at + m_shift[side])];
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
    std::vector<Hunk> m_hunks[2];
    std::size_t m_next[2] = {0, 0};
    std::int64_t m_shift[2] = {0, 0};  ///< From a base line to the side's, after the hunks taken.
    LineNumber m_at = 0;               ///< The next base line.
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
