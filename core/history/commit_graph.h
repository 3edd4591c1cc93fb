// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/history.h"

#include <stop_token>
#include <unordered_map>

namespace rope {
/// The part of the commit graph that was asked for so far. Reads a stream of commits
/// only as far as needed to answer; what was read is kept. One thread.
class CommitGraph
{
public:
    explicit CommitGraph(std::unique_ptr<CommitStream> stream)
        : m_stream(std::move(stream))
    {
    }

    /// The commit with its parents. The pointer stays valid as long as the graph.
    /// Errors: `corrupt` when history ends before it; those of the stream; `cancelled`.
    Result<const CommitLink*> commit(const ObjectId& id, const std::stop_token& stop);

    [[nodiscard]] std::size_t readCount() const { return m_commits.size(); }
    /// Whether a commit that was read came after all of its children; see CommitStream.
    [[nodiscard]] bool isTopological() const { return m_stream->isTopological(); }
    /// How many commits were read before this one. REQUIRES: it was read
    [[nodiscard]] std::uint64_t positionOf(const ObjectId& id) const { return m_positions.at(id); }

private:
    std::unordered_map<ObjectId, std::uint64_t> m_positions;
    std::unique_ptr<CommitStream> m_stream;
    std::unordered_map<ObjectId, CommitLink> m_commits;
};
}  // namespace rope
