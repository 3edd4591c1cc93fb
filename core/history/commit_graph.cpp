// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/history/commit_graph.h"

namespace rope {
Result<const CommitLink*> CommitGraph::commit(const ObjectId& id, const std::stop_token& stop)
{
    auto found = m_commits.find(id);
    while (found == m_commits.end()) {
        if (stop.stop_requested()) {
            return Error{ErrorCode::cancelled, {}, {}};
        }
        TRY_ASSIGN(std::optional<CommitLink> next, m_stream->next());
        if (!next) {
            return Error{ErrorCode::corrupt, id.hex(), "history ends before this commit"};
        }
        const ObjectId read = next->id;
        m_positions.try_emplace(read, m_positions.size());
        const auto at = m_commits.insert_or_assign(read, std::move(*next)).first;
        if (read == id) {
            found = at;
        }
    }
    return static_cast<const CommitLink*>(&found->second);
}
}  // namespace rope
