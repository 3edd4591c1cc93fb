// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/history.h"

#include <deque>
#include <stop_token>
#include <vector>

namespace rope {
/// The part of the commit graph that was asked for so far. Reads a stream of commits
/// only as far as needed to answer; what was read is kept. One thread.
class CommitGraph
{
public:
    /// Which commit, by the order in which they were read: 0 is the first.
    using Index = std::size_t;

    explicit CommitGraph(std::unique_ptr<CommitStream> stream)
        : m_stream(std::move(stream))
    {
    }

    /// Where a commit stands in the graph.
    /// Errors: `corrupt` when history ends before it; those of the stream; `cancelled`.
    Result<Index> find(const ObjectId& id, const std::stop_token& stop);
    /// The commit with its parents. The reference stays valid as long as the graph.
    [[nodiscard]] const CommitLink& at(Index index) const { return m_commits[index]; }

    [[nodiscard]] std::size_t readCount() const { return m_commits.size(); }
    /// Whether a commit that was read came after all of its children; see CommitStream.
    [[nodiscard]] bool isTopological() const { return m_stream->isTopological(); }

private:
    /// The slot that holds the id, or the free one that it would get.
    [[nodiscard]] std::size_t slotOf(const ObjectId& id) const;
    void growSlots();

    std::unique_ptr<CommitStream> m_stream;
    std::deque<CommitLink> m_commits;  ///< In the order read.
    /// Open addressing: index + 1, 0 is free. Size is a power of two.
    std::vector<std::uint32_t> m_slots = std::vector<std::uint32_t>(64);
};
}  // namespace rope
