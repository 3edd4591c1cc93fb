// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/git/stored_graph.h"
#include "core/system/history.h"

#include <queue>

#include <functional>
#include <span>

namespace rope {
/// Commits from some tips on as git has stored their places: children before parents. The few that are newer
/// than the stored graph are read first.
class StoredGraphStream final : public CommitStream
{
public:
    using Reader = std::function<Result<std::vector<Commit>>(std::span<const ObjectId> ids)>;

    /// Null where too many commits are not in the graph for reading them one generation after the other.
    /// Errors: those of `read`.
    static Result<std::unique_ptr<CommitStream>> begin(std::shared_ptr<const StoredGraph> graph,
                                                       std::span<const ObjectId> tips,
                                                       const Reader& read);

    /// Errors: `corrupt` where the stored graph contradicts itself.
    Result<std::optional<CommitLink>> next() override;
    [[nodiscard]] bool isTopological() const override { return true; }

private:
    explicit StoredGraphStream(std::shared_ptr<const StoredGraph> graph)
        : m_graph(std::move(graph))
        , m_isSeen(m_graph->count())
    {
    }
    void enter(StoredGraph::Position position);

    std::shared_ptr<const StoredGraph> m_graph;
    std::vector<CommitLink> m_newer;  ///< Not in the graph; children before parents.
    std::size_t m_nextNewer = 0;
    std::vector<bool> m_isSeen;  ///< By position.
    std::priority_queue<std::pair<StoredGraph::Rank, StoredGraph::Position>> m_queue;
};
}  // namespace rope
