// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/hunk_overlap.h"

#include <algorithm>
#include <cstdint>
#include <utility>
#include <vector>

namespace rope {
/// The hunks of two sides against one base, gone through together from its beginning: side 0 is ours, side 1
/// theirs. What stands ahead is looked at, taken one by one, or gathered where hunks overlap.
class TwoHunkLists
{
public:
    TwoHunkLists(std::vector<Hunk> ours, std::vector<Hunk> theirs)
        : m_hunks{std::move(ours), std::move(theirs)}
    {
    }

    /// The next hunk of a side; null: there is none.
    [[nodiscard]] const Hunk* ahead(std::size_t side) const
    {
        return m_next[side] < m_hunks[side].size() ? &m_hunks[side][m_next[side]] : nullptr;
    }
    [[nodiscard]] bool isAtEnd() const { return !ahead(0) && !ahead(1); }
    /// Whether the next hunks of both sides claim the same of the base.
    [[nodiscard]] bool doOverlap() const
    {
        return ahead(0) && ahead(1) && overlap(ahead(0)->before, ahead(1)->before);
    }
    /// Goes past the next hunk of a side. REQUIRES: ahead(side)
    void skip(std::size_t side)
    {
        const Hunk& hunk = *ahead(side);
        m_shift[side] += static_cast<std::int64_t>(hunk.after.size())
                         - static_cast<std::int64_t>(hunk.before.size());
        ++m_next[side];
    }
    /// Where a piece of the base that no hunk ahead claims stands in a side.
    [[nodiscard]] std::size_t placeIn(std::size_t side, LineNumber base) const
    {
        return static_cast<std::size_t>(base + m_shift[side]);
    }

    /// What hunks that overlap in one another claim of the base, and what stands for that on either side.
    struct Gathered
    {
        LineRange base;
        LineRange side[2];
    };
    /// Goes past the next hunks of both sides and all that overlap with them. REQUIRES: doOverlap()
    Gathered gather()
    {
        LineRange base = ahead(0)->before;
        base.begin = std::min(base.begin, ahead(1)->before.begin);
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
        return {base, {rangeOf(0), rangeOf(1)}};
    }

private:
    std::vector<Hunk> m_hunks[2];
    std::size_t m_next[2] = {0, 0};
    std::int64_t m_shift[2] = {
        0, 0};  ///< From a place in the base to the side's, after the hunks taken.
};
}  // namespace rope
