// SPDX-License-Identifier: GPL-3.0-or-later
// Rare lines tell best where two texts belong together. For a block of both texts:
//   1. count how often each line occurs in the first text's part;
//   2. walk the second text's part; every line that also stands in the first part is grown in both
//      directions into a common run; a run is as rare as its rarest line;
//   3. keep the run that is rarer than the best so far, or longer;
//   4. that run is common; do the same with what is before it and what is after it.
// Example: before "{ a } { b }", after "{ a } { c } { b }": `a` and `b` occur once and anchor the
// runs "{ a } {" and "{ b }"; the braces, which occur everywhere, never lead.
// What cannot be told apart is folded first (folded_tokens.h): the block's size is what it costs, and
// thousands of small edits in a large text make thousands of blocks.
// Against it: where every line is frequent there is no anchor; then Myers' algorithm takes over.
// Tested by tst_diff_tokens.cpp.
#include "core/diff/histogram.h"

#include "core/diff/folded_tokens.h"
#include "core/diff/myers.h"

#include <algorithm>
#include <cstdlib>

namespace rope {
namespace {
constexpr std::uint32_t kMostOccurrences = 64;   // beyond this a line does not lead
constexpr std::uint64_t kWorkPerToken = 256;     // lines looked at for each line given, in all
constexpr std::uint64_t kLeastWork = 1'000'000;  // so that small hostile blocks stay exact
constexpr LineNumber kLargeBlock = 4'000;        // lines from which balance matters more than order
constexpr LineNumber kNone = ~LineNumber{0};

/// Numbers count folded tokens, but for those that are handed to Myers and set as flags.
class HistogramMarker
{
public:
    HistogramMarker(Tokens before,
                    Tokens after,
                    TokenId idCount,
                    ChangeFlags& flags,
                    const std::stop_token& stop)
        : m_wholeBefore(before)
        , m_wholeAfter(after)
        , m_folded(foldTokens(before, after, idCount))
        , m_before(m_folded.first.tokens)
        , m_after(m_folded.second.tokens)
        , m_flags(flags)
        , m_stop(stop)
        , m_first(idCount, kNone)
        , m_count(idCount, 0)
        , m_next(m_before.size(), kNone)
        , m_workLeft(kLeastWork + kWorkPerToken * (before.size() + after.size()))
    {
    }

    void mark()
    {
        std::vector<TokenBlock> todo{{{0, m_folded.first.count()}, {0, m_folded.second.count()}}};
        while (!todo.empty() && !m_stop.stop_requested()) {
            const TokenBlock block = todo.back();
            todo.pop_back();
            if (block.before.isEmpty() || block.after.isEmpty()) {
                markWhole(block);
                continue;
            }
            split(block, todo);
        }
    }

private:
    [[nodiscard]] LineRange linesBefore(LineRange range) const
    {
        return m_folded.first.unfolded(range);
    }
    [[nodiscard]] TokenBlock unfolded(const TokenBlock& block) const
    {
        return {linesBefore(block.before), m_folded.second.unfolded(block.after)};
    }

    void markWhole(const TokenBlock& block)
    {
        const auto set = [](std::vector<std::uint8_t>& flags, LineRange range) {
            std::fill(flags.begin() + range.begin, flags.begin() + range.end, 1);
        };
        const TokenBlock lines = unfolded(block);
        set(m_flags.before, lines.before);
        set(m_flags.after, lines.after);
    }

    void markShortest(const TokenBlock& block)
    {
        markByMyers(m_wholeBefore, m_wholeAfter, unfolded(block), m_flags, m_stop);
    }

    void split(const TokenBlock& block, std::vector<TokenBlock>& todo)
    {
        const std::uint64_t size = std::uint64_t{block.before.size()} + block.after.size();
        if (size > m_workLeft) {
            markShortest(block);
            return;
        }
        m_workLeft -= size;
        count(block.before);
        m_rarity = kMostOccurrences + 1;
        m_hasCommon = false;
        m_best = {};
        for (LineNumber at = block.after.begin; at < block.after.end;) {
            at = growFrom(at, block);
        }
        uncount(block.before);
        if (m_hasCommon && m_rarity > kMostOccurrences) {
            markShortest(block);
        } else if (m_best.before.isEmpty()) {
            markWhole(block);
        } else {
            todo.push_back(
                {{m_best.before.end, block.before.end}, {m_best.after.end, block.after.end}});
            todo.push_back({{block.before.begin, m_best.before.begin},
                            {block.after.begin, m_best.after.begin}});
        }
    }

    void count(LineRange range)
    {
        for (LineNumber i = range.end; i-- > range.begin;) {
            const TokenId token = m_before[i];
            m_next[i] = m_first[token];
            m_first[token] = i;
            ++m_count[token];
        }
    }

    void uncount(LineRange range)
    {
        for (LineNumber i = range.begin; i < range.end; ++i) {
            m_first[m_before[i]] = kNone;
            m_count[m_before[i]] = 0;
        }
    }

    /// Tries every common run through token `at` of the second text; returns where to go on.
    LineNumber growFrom(LineNumber at, const TokenBlock& block)
    {
        const TokenId token = m_after[at];
        LineNumber goOn = at + 1;
        if (m_first[token] == kNone) {
            return goOn;
        }
        m_hasCommon = true;
        // (A rarer line of the same run leads to that run by itself.)
        if (m_count[token] > std::min(m_rarity, kMostOccurrences)) {
            return goOn;
        }
        for (LineNumber place = m_first[token]; place != kNone;) {
            std::uint32_t rarity = m_count[token];
            const TokenBlock run = grow(place, at, block, rarity);
            goOn = std::max(goOn, run.after.end);
            if (isBetter(run, rarity, block)) {
                m_best = run;
                m_rarity = rarity;
            }
            do {
                place = m_next[place];
            } while (place != kNone && place < run.before.end);
        }
        return goOn;
    }

    /// Rarer or longer wins; a single line never wins by length alone. Of equals the first wins, but in
    /// a large block the one nearer to the middle: the halves stay balanced there, which keeps
    /// thousands of equal runs from costing their square.
    [[nodiscard]] bool
    isBetter(const TokenBlock& run, std::uint32_t rarity, const TokenBlock& block) const
    {
        const LineRange lines = linesBefore(run.before);
        const LineRange bestLines = linesBefore(m_best.before);
        const LineRange blockLines = linesBefore(block.before);
        const LineNumber extra = lines.size() - 1;
        const LineNumber bestExtra = bestLines.isEmpty() ? 0 : bestLines.size() - 1;
        if (extra > bestExtra || rarity < m_rarity) {
            return true;
        }
        if (blockLines.size() < kLargeBlock || bestLines.isEmpty() || extra < bestExtra
            || rarity > m_rarity) {
            return false;
        }
        const auto offCentre = [&blockLines](LineRange range) {
            return std::abs(std::int64_t{range.begin} + range.end - blockLines.begin
                            - blockLines.end);
        };
        return offCentre(lines) < offCentre(bestLines);
    }

    TokenBlock grow(LineNumber place, LineNumber at, const TokenBlock& block, std::uint32_t& rarity)
    {
        TokenBlock run{{place, place + 1}, {at, at + 1}};
        const auto meet = [&](TokenId token) {
            rarity = std::min(rarity, m_count[token]);
        };
        const LineNumber start = place;
        while (run.before.begin > block.before.begin && run.after.begin > block.after.begin
               && m_before[run.before.begin - 1] == m_after[run.after.begin - 1]) {
            --run.before.begin;
            --run.after.begin;
            meet(m_before[run.before.begin]);
        }
        while (run.before.end < block.before.end && run.after.end < block.after.end
               && m_before[run.before.end] == m_after[run.after.end]) {
            meet(m_before[run.before.end]);
            ++run.before.end;
            ++run.after.end;
        }
        // Growing is work too: frequent short runs would make it quadratic unseen.
        const std::uint64_t grown = run.before.end - start;
        m_workLeft -= std::min(m_workLeft, grown / 16);
        return run;
    }

    const Tokens m_wholeBefore;
    const Tokens m_wholeAfter;
    const std::pair<FoldedTokens, FoldedTokens> m_folded;
    const Tokens m_before;
    const Tokens m_after;
    ChangeFlags& m_flags;
    const std::stop_token& m_stop;
    std::vector<LineNumber> m_first;     ///< By token: its first place in the block's first text.
    std::vector<std::uint32_t> m_count;  ///< By token: its places in the block's first text.
    std::vector<LineNumber> m_next;  ///< By place in the first text: the next place of that token.
    std::uint64_t m_workLeft;
    TokenBlock m_best;  ///< The common run to split at.
    std::uint32_t m_rarity = 0;
    bool m_hasCommon = false;
};
}  // namespace

void markByHistogram(
    Tokens before, Tokens after, TokenId idCount, ChangeFlags& flags, const std::stop_token& stop)
{
    HistogramMarker(before, after, idCount, flags, stop).mark();
}
}  // namespace rope
