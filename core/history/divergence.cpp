// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_divergence.cpp.
#include "core/history/divergence.h"

#include <queue>

#include <algorithm>
#include <iterator>
#include <limits>
#include <utility>

namespace rope {
namespace {
using Paint = std::uint8_t;
constexpr Paint kOurs = 1;
constexpr Paint kTheirs = 2;
constexpr Paint kCommon = kOurs | kTheirs;
constexpr Paint kStale = 4;  // below a commit that is common already
constexpr std::int64_t kHour = 60 * 60;
constexpr std::int64_t kMostSlack = 24 * kHour;  // a clock that disagrees by more is wrong
/// How many common commits are read on below the answer, to see whether the clocks were right there.
constexpr std::size_t kMostReadOn = 1024;

using Index = CommitGraph::Index;

struct Queued
{
    std::int64_t rank = 0;  ///< Higher ones first: the clock, or how early it stands in the stream.
    std::uint64_t order = 0;  ///< So that equal ranks keep a fixed order.
    Index commit = 0;
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
    Result<Index> paint(const ObjectId& id, Paint paint)
    {
        TRY_ASSIGN(const Index commit, m_graph.find(id, m_stop));
        if (m_nodes.size() < m_graph.readCount()) {
            m_nodes.resize(m_graph.readCount());
        }
        Node& node = m_nodes[commit];
        if ((node.paint & paint) == paint) {
            return commit;
        }
        const bool wasLive = node.isQueued && (node.paint & kStale) == 0;
        node.paint |= paint;
        const bool isLive = (node.paint & kStale) == 0;
        if (node.isQueued) {
            m_liveCount -= wasLive && !isLive ? 1 : 0;
            return commit;
        }
        m_queue.push({rankOf(commit), m_order++, commit});
        node.isQueued = true;
        m_liveCount += isLive ? 1 : 0;
        return commit;
    }

    Status run()
    {
        while (!m_queue.empty() && (m_liveCount > 0 || !isCertain())) {
            m_readOn += m_liveCount == 0 ? 1 : 0;
            const Index commit = m_queue.top().commit;
            m_queue.pop();
            Node& node = m_nodes[commit];
            node.isQueued = false;
            Paint present = node.paint;
            m_liveCount -= (present & kStale) == 0 ? 1 : 0;
            if (present == kCommon) {
                m_commonTops.push_back(commit);
                present |= kStale;
            }
            if (!std::exchange(node.isSeen, true)) {
                m_inOrder.push_back(commit);
            }
            const CommitLink& link = m_graph.at(commit);
            if ((present & kStale) == 0) {
                m_oldestExclusive = std::min(m_oldestExclusive, link.time);
            }
            for (const ObjectId& parent : link.parents) {
                TRY_ASSIGN(const Index older, paint(parent, present));
                m_worstClock = std::max(m_worstClock, m_graph.at(older).time - link.time);
            }
        }
        return ok();
    }

    /// REQUIRES: the commit was reached
    Result<bool> isPainted(const ObjectId& id, Paint paint)
    {
        TRY_ASSIGN(const Index commit, m_graph.find(id, m_stop));
        return (m_nodes[commit].paint & paint) == paint;
    }

    [[nodiscard]] std::vector<ObjectId> commonTops() const
    {
        std::vector<ObjectId> tops;
        for (const Index commit : m_commonTops) {
            // One that became stale after it was found lies below another.
            const ObjectId& id = m_graph.at(commit).id;
            if ((m_nodes[commit].paint & kStale) == 0
                && std::find(tops.begin(), tops.end(), id) == tops.end()) {
                tops.push_back(id);
            }
        }
        return tops;
    }

    [[nodiscard]] std::vector<CommitLink> paintedOnly(Paint paint) const
    {
        std::vector<Index> commits;
        std::copy_if(m_inOrder.begin(),
                     m_inOrder.end(),
                     std::back_inserter(commits),
                     [&](Index commit) { return m_nodes[commit].paint == paint; });
        if (m_graph.isTopological()) {
            std::stable_sort(commits.begin(), commits.end(), [this](Index a, Index b) {
                return m_graph.at(a).time > m_graph.at(b).time;
            });
        }
        std::vector<CommitLink> links;
        links.reserve(commits.size());
        std::transform(commits.begin(),
                       commits.end(),
                       std::back_inserter(links),
                       [this](Index commit) { return m_graph.at(commit); });
        return links;
    }

private:
    struct Node
    {
        Paint paint = 0;
        bool isQueued = false;
        bool isSeen = false;
    };

    [[nodiscard]] std::int64_t rankOf(Index commit) const
    {
        return m_graph.isTopological() ? -static_cast<std::int64_t>(commit)
                                       : m_graph.at(commit).time;
    }

    /// Whether no commit can get more paint that matters, once only stale ones are left to look at.
    /// Where children come before parents, each had all its paint when it was looked at. Where the
    /// clocks decide the order, a child with a wrong clock may still wait behind its parent: common
    /// history is read on until it is older than all that was taken for one side's own, by ten times what
    /// clocks were seen to disagree, and far enough to see that; where one was wrong, to the end.
    [[nodiscard]] bool isCertain() const
    {
        const std::int64_t slack = std::clamp(10 * m_worstClock, kHour, kMostSlack);
        return m_graph.isTopological()
               || (m_worstClock <= kMostSlack && m_readOn >= kMostReadOn
                   && m_queue.top().rank < m_oldestExclusive - slack);
    }

    CommitGraph& m_graph;
    const std::stop_token& m_stop;
    std::vector<Node> m_nodes;  ///< By index in the graph.
    std::priority_queue<Queued> m_queue;
    std::uint64_t m_order = 0;
    std::uint64_t m_liveCount = 0;  ///< Queued commits that are not stale.
    std::size_t m_readOn = 0;       ///< Commits looked at after the last one that was not stale.
    std::int64_t m_worstClock = 0;  ///< By how much a parent is younger than its child, in seconds.
    std::int64_t m_oldestExclusive = std::numeric_limits<std::int64_t>::max() / 2;
    std::vector<Index> m_commonTops;
    std::vector<Index> m_inOrder;
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
    divergence.oursOnly = painter.paintedOnly(kOurs);
    divergence.theirsOnly = painter.paintedOnly(kTheirs);
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
        TRY_ASSIGN(const Index commit, graph.find(base, stop));
        byTime.emplace_back(graph.at(commit).time, base);
    }
    std::sort(byTime.begin(), byTime.end());
    std::transform(byTime.begin(), byTime.end(), bases.begin(), [](const auto& timed) {
        return timed.second;
    });
    return bases;
}
}  // namespace rope
