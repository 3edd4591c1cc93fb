// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/forecast.h"

namespace rope {
/// The first commit of either side after which a region exists; nothing where that is not known.
struct SinceWhen
{
    std::optional<Commit> ours;
    std::optional<Commit> theirs;
};

/// Joins what one side had at earlier commits with what the other has in the end, and finds by halving the
/// commit with which the region came. A side's commits are followed by their first parents; where a region
/// came and went several times, one such commit is found.
/// Errors: those of reading; `cancelled`. REQUIRES: the file has that region
[[nodiscard]] Result<SinceWhen> findSinceWhen(Place& place,
                                              const Forecast& forecast,
                                              const FileOutcome& file,
                                              std::size_t region,
                                              const std::stop_token& stop = {});

/// The same for a commit of the line's own that is laid on theirs: the commit of theirs with which the region
/// came. Nothing where what was laid before it has changed the file as well.
[[nodiscard]] Result<std::optional<Commit>> findSinceWhenLaid(Place& place,
                                                              const Forecast& forecast,
                                                              const FileOutcome& file,
                                                              std::size_t region,
                                                              const std::stop_token& stop = {});
}  // namespace rope
