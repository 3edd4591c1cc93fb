// SPDX-License-Identifier: GPL-3.0-or-later
// Divide and conquer: find a point in the middle of a shortest edit path by walking from both ends
// at once, split there, go on with both halves. Only two arrays of furthest points are kept.
// Tokens that do not occur on the other side at all are set aside first: they cannot be common.
// Tested by tst_diff_tokens.cpp.
#include "core/diff/myers.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

namespace rope {
namespace {
using Position = std::int64_t;
constexpr Position kLeastCutOff = 256;  // edits searched exactly before the cut-off may act

/// The tokens of one side that occur on the other as well, with their places.
struct Sequence
{
    std::vector<TokenId> tokens;
    std::vector<LineNumber> places;
};

/// Which tokens stand in some range of a text.
class KnownTokens
{
public:
    explicit KnownTokens(Tokens tokens)
    {
        constexpr TokenId kIdsPerToken = 64;  // so that a small block of a large text stays cheap
        const TokenId count = tokens.empty() ? 0 : *std::ranges::max_element(tokens) + 1;
        if (count / kIdsPerToken <= tokens.size()) {
            m_isKnown.resize(count);
            for (const TokenId token : tokens) {
                m_isKnown[token] = true;
            }
        } else {
            m_sorted.assign(tokens.begin(), tokens.end());
            std::sort(m_sorted.begin(), m_sorted.end());
        }
    }
    [[nodiscard]] bool contains(TokenId token) const
    {
        return m_sorted.empty() ? token < m_isKnown.size() && m_isKnown[token]
                                : std::binary_search(m_sorted.begin(), m_sorted.end(), token);
    }

private:
    std::vector<bool> m_isKnown;  ///< By id.
    std::vector<TokenId> m_sorted;
};

Sequence commonPart(Tokens own,
                    LineRange range,
                    Tokens other,
                    LineRange otherRange,
                    std::vector<std::uint8_t>& flags)
{
    const KnownTokens known(other.subspan(otherRange.begin, otherRange.size()));
    Sequence sequence;
    for (LineNumber i = range.begin; i < range.end; ++i) {
        if (known.contains(own[i])) {
            sequence.tokens.push_back(own[i]);
            sequence.places.push_back(i);
        } else {
            flags[i] = 1;
        }
    }
    return sequence;
}

struct Box
{
    Position left = 0;  ///< In the first sequence.
    Position right = 0;
    Position top = 0;  ///< In the second sequence.
    Position bottom = 0;
};

struct Point
{
    Position x = 0;
    Position y = 0;
};

class MyersMarker
{
public:
    MyersMarker(const Sequence& before,
                const Sequence& after,
                ChangeFlags& flags,
                const std::stop_token& stop)
        : m_a(before)
        , m_b(after)
        , m_flags(flags)
        , m_stop(stop)
        , m_offset(static_cast<Position>(after.tokens.size()) + 1)
        , m_forward(before.tokens.size() + after.tokens.size() + 3)
        , m_backward(m_forward.size())
        , m_cutOff(
              std::max(kLeastCutOff,
                       static_cast<Position>(std::sqrt(static_cast<double>(m_forward.size())))))
    {
    }

    void mark()
    {
        std::vector<Box> todo{{0, sizeOf(m_a), 0, sizeOf(m_b)}};
        while (!todo.empty() && !m_stop.stop_requested()) {
            Box box = todo.back();
            todo.pop_back();
            trim(box);
            if (box.left == box.right || box.top == box.bottom) {
                markWhole(box);
                continue;
            }
            const Point middle = split(box);
            todo.push_back({middle.x, box.right, middle.y, box.bottom});
            todo.push_back({box.left, middle.x, box.top, middle.y});
        }
    }

private:
    static Position sizeOf(const Sequence& s) { return static_cast<Position>(s.tokens.size()); }
    [[nodiscard]] bool equal(Position x, Position y) const
    {
        return m_a.tokens[static_cast<std::size_t>(x)] == m_b.tokens[static_cast<std::size_t>(y)];
    }
    Position& forward(Position diagonal)
    {
        return m_forward[static_cast<std::size_t>(diagonal + m_offset)];
    }
    Position& backward(Position diagonal)
    {
        return m_backward[static_cast<std::size_t>(diagonal + m_offset)];
    }

    void trim(Box& box) const
    {
        while (box.left < box.right && box.top < box.bottom && equal(box.left, box.top)) {
            ++box.left;
            ++box.top;
        }
        while (box.left < box.right && box.top < box.bottom
               && equal(box.right - 1, box.bottom - 1)) {
            --box.right;
            --box.bottom;
        }
    }

    void markWhole(const Box& box)
    {
        for (Position x = box.left; x < box.right; ++x) {
            m_flags.before[m_a.places[static_cast<std::size_t>(x)]] = 1;
        }
        for (Position y = box.top; y < box.bottom; ++y) {
            m_flags.after[m_b.places[static_cast<std::size_t>(y)]] = 1;
        }
    }

    /// A point that some shortest path through the box touches (or a good one, past the cut-off).
    /// REQUIRES: the box is trimmed and neither side is empty.
    Point split(const Box& box)
    {
        const Position delta = (box.right - box.left) - (box.bottom - box.top);
        const Position lowest = box.left - box.bottom;
        const Position highest = box.right - box.top;
        const Position forwardMiddle = box.left - box.top;
        const Position backwardMiddle = box.right - box.bottom;
        const bool isOdd = (delta & 1) != 0;
        forward(forwardMiddle) = box.left;
        backward(backwardMiddle) = box.right;
        for (Position cost = 1;; ++cost) {
            for (Position k = forwardMiddle - cost; k <= forwardMiddle + cost; k += 2) {
                if (k < lowest || k > highest) {
                    continue;
                }
                const Position reached = stepForward(box, k, forwardMiddle, cost);
                const Position distance = std::abs(k - backwardMiddle);
                if (isOdd && distance < cost && backward(k) <= reached) {
                    return {reached, reached - k};
                }
            }
            for (Position k = backwardMiddle - cost; k <= backwardMiddle + cost; k += 2) {
                if (k < lowest || k > highest) {
                    continue;
                }
                const Position reached = stepBackward(box, k, backwardMiddle, cost);
                const Position distance = std::abs(k - forwardMiddle);
                if (!isOdd && distance <= cost && reached <= forward(k)) {
                    return {reached, reached - k};
                }
            }
            if (cost >= m_cutOff || m_stop.stop_requested()) {
                return furthest(box, forwardMiddle, cost);
            }
        }
    }

    Position stepForward(const Box& box, Position k, Position middle, Position cost)
    {
        const bool hasBelow = k > middle - cost && k - 1 >= box.left - box.bottom;
        const bool hasAbove = k < middle + cost && k + 1 <= box.right - box.top;
        Position x = -1;
        if (hasBelow) {
            x = std::min(forward(k - 1) + 1, box.right);
        }
        if (hasAbove) {
            x = std::max(x, forward(k + 1));
        }
        x = std::clamp(x, std::max(box.left, box.top + k), std::min(box.right, box.bottom + k));
        while (x < box.right && x - k < box.bottom && equal(x, x - k)) {
            ++x;
        }
        return forward(k) = x;
    }

    Position stepBackward(const Box& box, Position k, Position middle, Position cost)
    {
        const bool hasBelow = k > middle - cost && k - 1 >= box.left - box.bottom;
        const bool hasAbove = k < middle + cost && k + 1 <= box.right - box.top;
        Position x = box.right + 1;
        if (hasAbove) {
            x = backward(k + 1) - 1;
        }
        if (hasBelow) {
            x = std::min(x, backward(k - 1));
        }
        x = std::clamp(x, std::max(box.left, box.top + k), std::min(box.right, box.bottom + k));
        while (x > box.left && x - k > box.top && equal(x - 1, x - k - 1)) {
            --x;
        }
        return backward(k) = x;
    }

    Point furthest(const Box& box, Position middle, Position cost)
    {
        Point best{box.left, box.top};
        for (Position k = middle - cost; k <= middle + cost; k += 2) {
            if (k < box.left - box.bottom || k > box.right - box.top) {
                continue;
            }
            const Position x = forward(k);
            if (2 * x - k > best.x + best.y) {
                best = {x, x - k};
            }
        }
        return best;
    }

    const Sequence& m_a;
    const Sequence& m_b;
    ChangeFlags& m_flags;
    const std::stop_token& m_stop;
    Position m_offset;
    std::vector<Position> m_forward;   ///< By diagonal x - y: furthest x reached from the start.
    std::vector<Position> m_backward;  ///< By diagonal: furthest x reached from the end.
    Position m_cutOff;
};
}  // namespace

void markByMyers(Tokens before,
                 Tokens after,
                 const TokenBlock& block,
                 ChangeFlags& flags,
                 const std::stop_token& stop)
{
    TokenBlock inner = block;
    while (!inner.before.isEmpty() && !inner.after.isEmpty()
           && before[inner.before.begin] == after[inner.after.begin]) {
        ++inner.before.begin;
        ++inner.after.begin;
    }
    while (!inner.before.isEmpty() && !inner.after.isEmpty()
           && before[inner.before.end - 1] == after[inner.after.end - 1]) {
        --inner.before.end;
        --inner.after.end;
    }
    const Sequence a = commonPart(before, inner.before, after, inner.after, flags.before);
    const Sequence b = commonPart(after, inner.after, before, inner.before, flags.after);
    MyersMarker(a, b, flags, stop).mark();
}
}  // namespace rope
