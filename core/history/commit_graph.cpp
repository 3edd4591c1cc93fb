// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/history/commit_graph.h"

namespace rope {
Result<CommitGraph::Index> CommitGraph::find(const ObjectId& id, const std::stop_token& stop)
{
    if (const auto known = m_indexes.find(id); known != m_indexes.end()) {
        return known->second;
    }
    while (true) {
        if (stop.stop_requested()) {
            return Error{ErrorCode::cancelled, {}, {}};
        }
        TRY_ASSIGN(std::optional<CommitLink> next, m_stream->next());
        if (!next) {
            return Error{ErrorCode::corrupt, id.hex(), "history ends before this commit"};
        }
        const auto [entry, isNew] = m_indexes.try_emplace(next->id, m_commits.size());
        if (isNew) {
            m_commits.push_back(std::move(*next));
        }
        if (entry->first == id) {
            return entry->second;
        }
    }
}
}  // namespace rope
