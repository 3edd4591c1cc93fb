// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/collisions.h"
#include "core/snapshot/read_changes.h"

namespace rope {
/// Why two commits do not fit in a file, read to be shown. A value.
struct PairReading
{
    RepoPath path;
    FileReading first;  ///< What each made of it since they parted.
    FileReading second;
    std::optional<Commit> firstCommit;  ///< Who last touched the first place that does not fit.
    std::optional<Commit> secondCommit;

    /// The later of the two commits: since then the two do not fit. Null where neither is known.
    [[nodiscard]] const Commit* since() const;
};

/// Joins a pair in memory and reads one file of what both changed.
/// Errors: `notFound` for a file that not both changed; those of forecastJoin() and of reading.
[[nodiscard]] Result<PairReading> readPair(Place& place,
                                           const CommitPair& pair,
                                           const RepoPath& path,
                                           const std::stop_token& stop = {});
}  // namespace rope
