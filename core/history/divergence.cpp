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
    24 * 60 * 60;                             // how far clocks of committers may disagree
constexpr std::size_t kMostCommonRead = 256;  // common commits read on for the sake of such clocks

struct Queued
{
    std::int64_t time = 0;
    std::uint64_t order = 0;  ///< So that equal times keep a fixed order.
    ObjectId id;
    bool operator<(const Queued& other) const
    {
        return time != other.time ? time < other.time : order > other.order;
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
        m_queue.push({link->time, m_order++, id});
        m_queued.insert({id, true});
        m_liveCount += isLive ? 1 : 0;
        return ok();
    }

    Status run()
    {
        std::size_t commonRead = 0;
        while (!m_queue.empty()
               && (m_liveCount > 0
                   || (m_queue.top().time >= m_oldestExclusive - kClockSlackSeconds
                       && commonRead++ < kMostCommonRead))) {
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
            }
        }
        return ok();
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
        return links;
    }

private:
    CommitGraph& m_graph;
    const std::stop_token& m_stop;
    std::unordered_map<ObjectId, Paint> m_paint;
    std::unordered_map<ObjectId, bool> m_queued;
    std::unordered_map<ObjectId, bool> m_seen;
    std::priority_queue<Queued> m_queue;
    std::uint64_t m_order = 0;
    std::uint64_t m_liveCount = 0;  ///< Queued commits that are not stale.
    /// Where a clock ran wrong, a common commit may hide below a newer one: common history is read
    /// on until it is older than all that was taken for one side's own.
    std::int64_t m_oldestExclusive = std::numeric_limits<std::int64_t>::max() / 2;
    std::vector<ObjectId> m_commonTops;
    std::vector<ObjectId> m_inOrder;
};

/// Whether `ancestor` can be reached from `from`; commits much older than it are not followed.
Result<bool> isReachable(CommitGraph& graph,
                         const ObjectId& from,
                         const ObjectId& ancestor,
                         const std::stop_token& stop)
{
    TRY_ASSIGN(const CommitLink* const goal, graph.commit(ancestor, stop));
    const std::int64_t oldest = goal->time - kClockSlackSeconds;
    std::unordered_map<ObjectId, bool> seen;
    std::vector<ObjectId> todo{from};
    while (!todo.empty()) {
        const ObjectId id = todo.back();
        todo.pop_back();
        TRY_ASSIGN(const CommitLink* const link, graph.commit(id, stop));
        for (const ObjectId& parent : link->parents) {
            if (parent == ancestor) {
                return true;
            }
            TRY_ASSIGN(const CommitLink* const next, graph.commit(parent, stop));
            if (next->time >= oldest && seen.insert({parent, true}).second) {
                todo.push_back(parent);
            }
        }
    }
    return false;
}

/// Drops every candidate that another one contains: clocks that run wrong can leave such.
Result<std::vector<ObjectId>>
onlyBest(CommitGraph& graph, std::vector<ObjectId> candidates, const std::stop_token& stop)
{
    std::vector<ObjectId> best;
    for (const ObjectId& candidate : candidates) {
        bool isContained = false;
        for (const ObjectId& other : candidates) {
            if (other != candidate && !isContained) {
                TRY_ASSIGN(isContained, isReachable(graph, other, candidate, stop));
            }
        }
        if (!isContained) {
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

Result<Divergence> findDivergence(Repository& repository,
                                  const ObjectId& ours,
                                  const ObjectId& theirs,
                                  const std::stop_token& stop)
{
    const ObjectId tips[] = {ours, theirs};
    TRY_ASSIGN(auto stream, repository.commitsFrom(tips));
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
        TRY_ASSIGN(divergence.bases, onlyBest(graph, std::move(divergence.bases), stop));
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
        TRY_ASSIGN(bases, onlyBest(graph, std::move(bases), stop));
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
