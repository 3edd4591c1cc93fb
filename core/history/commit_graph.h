// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/repository/repository.h"

#include <unordered_map>

namespace rope {
/// The part of the commit graph that was asked for so far. Reads a stream of commits, newest first,
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

private:
    std::unique_ptr<CommitStream> m_stream;
    std::unordered_map<ObjectId, CommitLink> m_commits;
};
}  // namespace rope
