// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_divergence.cpp.
#include "core/history/divergence.h"

#include <queue>

#include <algorithm>
#include <limits>

namespace rope {
namespace {
using Paint = std::uint8_t;
constexpr Paint kOurs = 1;
constexpr Paint kTheirs = 2;
constexpr Paint kCommon = kOurs | kTheirs;
constexpr Paint kStale = 4;  // below a commit that is common already
constexpr std::int64_t kClockSlackSeconds =
    24 * 60 * 60;  // how far clocks of committers may disagree
/// How many common commits are read on below the answer, to see whether the clocks were right there.
constexpr std::size_t kMostReadOn = 1024;

struct Queued
{
    std::int64_t rank = 0;  ///< Higher ones first: the clock, or how early it stands in the stream.
    std::uint64_t order = 0;  ///< So that equal ranks keep a fixed order.
    ObjectId id;
    bool operator<(const Queued& other) const
    {
        return rank != other.rank ? rank < other.rank : order > other.order;
    }
};

class Painter
{
public:
    Painter(CommitGraph& graph, const std::stop_token& stop)
        : m_graph(graph)
        , m_stop(stop)
    {
    }

    /// Gives a commit more paint and, if it was not painted so before, a place in the queue.
    Status paint(const ObjectId& id, Paint paint)
    {
        Paint& present = m_paint[id];
        if ((present & paint) == paint) {
            return ok();
        }
        const bool wasQueued = m_queued.contains(id);
        const bool wasLive = wasQueued && (present & kStale) == 0;
        present |= paint;
        const bool isLive = (present & kStale) == 0;
        if (wasQueued) {
            m_liveCount -= wasLive && !isLive ? 1 : 0;
            return ok();
        }
        TRY_ASSIGN(const CommitLink* const link, m_graph.commit(id, m_stop));
        m_queue.push({rankOf(*link), m_order++, id});
        m_queued.insert({id, true});
        m_liveCount += isLive ? 1 : 0;
        return ok();
    }

    Status run()
    {
        while (!m_queue.empty() && (m_liveCount > 0 || !isCertain())) {
            m_readOn += m_liveCount == 0 ? 1 : 0;
            const ObjectId id = m_queue.top().id;
            m_queue.pop();
            m_queued.erase(id);
            Paint present = m_paint[id];
            m_liveCount -= (present & kStale) == 0 ? 1 : 0;
            if (present == kCommon) {
                m_commonTops.push_back(id);
                present |= kStale;
            }
            if (m_seen.insert({id, true}).second) {
                m_inOrder.push_back(id);
            }
            TRY_ASSIGN(const CommitLink* const link, m_graph.commit(id, m_stop));
            if ((present & kStale) == 0) {
                m_oldestExclusive = std::min(m_oldestExclusive, link->time);
            }
            for (const ObjectId& parent : link->parents) {
                TRY(paint(parent, present));
                TRY_ASSIGN(const CommitLink* const older, m_graph.commit(parent, m_stop));
                m_sawWrongClock = m_sawWrongClock || older->time > link->time + kClockSlackSeconds;
            }
        }
        return ok();
    }

    [[nodiscard]] bool isPainted(const ObjectId& id, Paint paint) const
    {
        return (m_paint.at(id) & paint) == paint;
    }

    [[nodiscard]] std::vector<ObjectId> commonTops() const
    {
        std::vector<ObjectId> tops;
        for (const ObjectId& id : m_commonTops) {
            // One that became stale after it was found lies below another.
            if ((m_paint.at(id) & kStale) == 0
                && std::find(tops.begin(), tops.end(), id) == tops.end()) {
                tops.push_back(id);
            }
        }
        return tops;
    }

    Result<std::vector<CommitLink>> paintedOnly(Paint paint)
    {
        std::vector<CommitLink> links;
        for (const ObjectId& id : m_inOrder) {
            if (m_paint[id] == paint) {
                TRY_ASSIGN(const CommitLink* const link, m_graph.commit(id, m_stop));
                links.push_back(*link);
            }
        }
        if (m_graph.isTopological()) {
            std::stable_sort(links.begin(), links.end(), [](const auto& a, const auto& b) {
                return a.time > b.time;
            });
        }
        return links;
    }

private:
    [[nodiscard]] std::int64_t rankOf(const CommitLink& link) const
    {
        return m_graph.isTopological() ? -static_cast<std::int64_t>(m_graph.positionOf(link.id))
                                       : link.time;
    }

    /// Whether no commit can get more paint that matters, once only stale ones are left to look at.
    /// Where children come before parents, each had all its paint when it was looked at. Where the
    /// clocks decide the order, a child with a wrong clock may still wait behind its parent: common
    /// history is read on until it is older than all that was taken for one side's own, and further
    /// to see whether clocks are right here; where one was wrong, to the end.
    [[nodiscard]] bool isCertain() const
    {
        return m_graph.isTopological()
               || (!m_sawWrongClock && m_readOn >= kMostReadOn
                   && m_queue.top().rank < m_oldestExclusive - kClockSlackSeconds);
    }

    CommitGraph& m_graph;
    const std::stop_token& m_stop;
    std::unordered_map<ObjectId, Paint> m_paint;
    std::unordered_map<ObjectId, bool> m_queued;
    std::unordered_map<ObjectId, bool> m_seen;
    std::priority_queue<Queued> m_queue;
    std::uint64_t m_order = 0;
    std::uint64_t m_liveCount = 0;  ///< Queued commits that are not stale.
    std::size_t m_readOn = 0;       ///< Commits looked at after the last one that was not stale.
    bool m_sawWrongClock = false;
    std::int64_t m_oldestExclusive = std::numeric_limits<std::int64_t>::max() / 2;
    std::vector<ObjectId> m_commonTops;
    std::vector<ObjectId> m_inOrder;
};

/// Whether one of the others contains a candidate: painted again from it and from them, it is where
/// their paint reaches it.
Result<bool> isContained(CommitGraph& graph,
                         const ObjectId& candidate,
                         const std::vector<ObjectId>& all,
                         const std::stop_token& stop)
{
    Painter painter(graph, stop);
    for (const ObjectId& other : all) {
        TRY(painter.paint(other, other == candidate ? kOurs : kTheirs));
    }
    TRY(painter.run());
    return painter.isPainted(candidate, kTheirs);
}

/// Drops every candidate that another one contains: a wrong clock can bring such up.
Result<std::vector<ObjectId>>
onlyBest(CommitGraph& graph, const std::vector<ObjectId>& candidates, const std::stop_token& stop)
{
    std::vector<ObjectId> best;
    for (const ObjectId& candidate : candidates) {
        TRY_ASSIGN(const bool isBelow, isContained(graph, candidate, candidates, stop));
        if (!isBelow) {
            best.push_back(candidate);
        }
    }
    std::sort(best.begin(), best.end());
    return best;
}

Relation
relationOf(const ObjectId& ours, const ObjectId& theirs, const std::vector<ObjectId>& bases)
{
    if (ours == theirs) {
        return Relation::same;
    }
    if (bases.empty()) {
        return Relation::unrelated;
    }
    if (bases.size() == 1 && bases.front() == theirs) {
        return Relation::oursAhead;
    }
    return bases.size() == 1 && bases.front() == ours ? Relation::theirsAhead : Relation::diverged;
}
}  // namespace

std::string_view nameOf(Relation relation)
{
    switch (relation) {
    case Relation::same:
        return "same";
    case Relation::oursAhead:
        return "ours-ahead";
    case Relation::theirsAhead:
        return "theirs-ahead";
    case Relation::diverged:
        return "diverged";
    case Relation::unrelated:
        return "unrelated";
    }
    return "";
}

Result<Divergence> findDivergence(History& history,
                                  const ObjectId& ours,
                                  const ObjectId& theirs,
                                  const std::stop_token& stop)
{
    const ObjectId tips[] = {ours, theirs};
    TRY_ASSIGN(auto stream, history.commitsFrom(tips));
    CommitGraph graph(std::move(stream));
    return findDivergence(graph, ours, theirs, stop);
}

Result<Divergence> findDivergence(CommitGraph& graph,
                                  const ObjectId& ours,
                                  const ObjectId& theirs,
                                  const std::stop_token& stop)
{
    Divergence divergence;
    if (ours == theirs) {
        divergence.bases = {ours};
        return divergence;
    }
    Painter painter(graph, stop);
    TRY(painter.paint(ours, kOurs));
    TRY(painter.paint(theirs, kTheirs));
    TRY(painter.run());
    divergence.bases = painter.commonTops();
    if (divergence.bases.size() > 1) {
        TRY_ASSIGN(divergence.bases, onlyBest(graph, divergence.bases, stop));
    }
    divergence.relation = relationOf(ours, theirs, divergence.bases);
    TRY_ASSIGN(divergence.oursOnly, painter.paintedOnly(kOurs));
    TRY_ASSIGN(divergence.theirsOnly, painter.paintedOnly(kTheirs));
    return divergence;
}

Result<std::vector<ObjectId>> findBases(CommitGraph& graph,
                                        std::span<const ObjectId> ours,
                                        std::span<const ObjectId> theirs,
                                        const std::stop_token& stop)
{
    Painter painter(graph, stop);
    for (const ObjectId& tip : ours) {
        TRY(painter.paint(tip, kOurs));
    }
    for (const ObjectId& tip : theirs) {
        TRY(painter.paint(tip, kTheirs));
    }
    TRY(painter.run());
    std::vector<ObjectId> bases = painter.commonTops();
    if (bases.size() > 1) {
        TRY_ASSIGN(bases, onlyBest(graph, bases, stop));
    }
    std::vector<std::pair<std::int64_t, ObjectId>> byTime;
    for (const ObjectId& base : bases) {
        TRY_ASSIGN(const CommitLink* const link, graph.commit(base, stop));
        byTime.emplace_back(link->time, base);
    }
    std::sort(byTime.begin(), byTime.end());
    std::transform(byTime.begin(), byTime.end(), bases.begin(), [](const auto& timed) {
        return timed.second;
    });
    return bases;
}
}  // namespace rope
