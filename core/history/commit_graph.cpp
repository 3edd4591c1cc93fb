// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_divergence.cpp.
#include "core/history/commit_graph.h"

namespace rope {
std::size_t CommitGraph::slotOf(const ObjectId& id) const
{
    const std::size_t mask = m_slots.size() - 1;
    std::size_t slot = std::hash<ObjectId>()(id) & mask;
    while (m_slots[slot] != 0 && m_commits[m_slots[slot] - 1].id != id) {
        slot = (slot + 1) & mask;
    }
    return slot;
}

void CommitGraph::growSlots()
{
    m_slots.assign(2 * m_slots.size(), 0);
    for (std::uint32_t index = 0; index < m_commits.size(); ++index) {
        m_slots[slotOf(m_commits[index].id)] = index + 1;
    }
}

Result<CommitGraph::Index> CommitGraph::find(const ObjectId& id, const std::stop_token& stop)
{
    if (const std::uint32_t known = m_slots[slotOf(id)]; known != 0) {
        return Index{known - 1};
    }
    while (true) {
        if (stop.stop_requested()) {
            return Error{ErrorCode::cancelled, {}, {}};
        }
        TRY_ASSIGN(std::optional<CommitLink> next, m_stream->next());
        if (!next) {
            return Error{ErrorCode::corrupt, id.hex(), "history ends before this commit"};
        }
        std::size_t slot = slotOf(next->id);
        if (m_slots[slot] != 0) {
            continue;  // told twice; the one that is looked for was not known
        }
        const bool isWanted = next->id == id;
        m_commits.push_back(std::move(*next));
        m_slots[slot] = static_cast<std::uint32_t>(m_commits.size());
        if (2 * m_commits.size() > m_slots.size()) {
            growSlots();
        }
        if (isWanted) {
            return m_commits.size() - 1;
        }
    }
}
}  // namespace rope
