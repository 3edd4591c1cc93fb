// SPDX-License-Identifier: GPL-3.0-or-later
// What is not in the graph has no descendant there, since the graph holds all ancestors of what it holds:
// so newer commits come first, in an order of their own, then those of the graph by falling rank.
// Tested by tst_stored_graph.cpp.
#include "core/system/git/stored_graph_stream.h"

#include <algorithm>
#include <unordered_map>
#include <unordered_set>

namespace rope {
namespace {
constexpr std::size_t kMostNewer = 64;

/// Children before parents: a commit's turn comes when all of its children have had theirs.
std::vector<CommitLink> childrenFirst(std::vector<CommitLink> links)
{
    std::unordered_map<ObjectId, std::size_t> places;
    for (std::size_t i = 0; i < links.size(); ++i) {
        places[links[i].id] = i;
    }
    std::vector<std::size_t> childCounts(links.size());
    const auto eachParent = [&](const CommitLink& link, const auto& take) {
        for (const ObjectId& parent : link.parents) {
            if (const auto place = places.find(parent); place != places.end()) {
                take(place->second);
            }
        }
    };
    for (const CommitLink& link : links) {
        eachParent(link, [&](std::size_t parent) { ++childCounts[parent]; });
    }
    std::vector<std::size_t> ready;
    for (std::size_t i = 0; i < links.size(); ++i) {
        if (childCounts[i] == 0) {
            ready.push_back(i);
        }
    }
    std::vector<CommitLink> ordered;
    while (!ready.empty()) {
        const std::size_t next = ready.back();
        ready.pop_back();
        eachParent(links[next], [&](std::size_t parent) {
            if (--childCounts[parent] == 0) {
                ready.push_back(parent);
            }
        });
        ordered.push_back(std::move(links[next]));
    }
    return ordered;
}
}  // namespace

Result<std::unique_ptr<CommitStream>> StoredGraphStream::begin(
    std::shared_ptr<const StoredGraph> graph, std::span<const ObjectId> tips, const Reader& read)
{
    std::unique_ptr<StoredGraphStream> stream(new StoredGraphStream(std::move(graph)));
    std::vector<CommitLink> newer;
    std::unordered_set<ObjectId> known;
    std::vector<ObjectId> generation(tips.begin(), tips.end());
    while (!generation.empty()) {
        std::vector<ObjectId> unknown;
        for (const ObjectId& id : generation) {
            if (const auto position = stream->m_graph->find(id)) {
                stream->enter(*position);
            } else if (known.insert(id).second) {
                unknown.push_back(id);
            }
        }
        if (known.size() > kMostNewer) {
            return std::unique_ptr<CommitStream>();
        }
        TRY_ASSIGN(auto commits, read(unknown));
        generation.clear();
        for (Commit& commit : commits) {
            generation.insert(generation.end(), commit.parents.begin(), commit.parents.end());
            newer.push_back({commit.id, commit.committer.time, std::move(commit.parents)});
        }
    }
    stream->m_newer = childrenFirst(std::move(newer));
    return std::unique_ptr<CommitStream>(std::move(stream));
}

void StoredGraphStream::enter(StoredGraph::Position position)
{
    if (!m_isSeen[position]) {
        m_isSeen[position] = true;
        m_queue.emplace(m_graph->rankAt(position), position);
    }
}

Result<std::optional<CommitLink>> StoredGraphStream::next()
{
    if (m_nextNewer < m_newer.size()) {
        return std::optional(m_newer[m_nextNewer++]);
    }
    if (m_queue.empty()) {
        return std::optional<CommitLink>{};
    }
    const auto stored = m_graph->at(m_queue.top().second);
    m_queue.pop();
    if (!stored) {
        return Error{ErrorCode::corrupt, "commit-graph", "a commit below none of its children"};
    }
    CommitLink link{stored->id, stored->rank.time, {}};
    link.parents.reserve(stored->parents.size());
    for (const StoredGraph::Position parent : stored->parents) {
        enter(parent);
        link.parents.push_back(m_graph->idAt(parent));
    }
    return std::optional(std::move(link));
}
}  // namespace rope
