// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/forecast.h"
#include "core/join/leg_standing.h"

namespace rope {
/// Who last touched some lines on either side; nothing where nobody did.
struct PlaceAuthors
{
    std::optional<Commit> ours;
    std::optional<Commit> theirs;
};

/// Returns one entry for each chunk of a file's join: regions, and what joined by itself.
/// Errors: those of reading; `cancelled`.
[[nodiscard]] Result<std::vector<PlaceAuthors>> findChunkAuthors(Place& repository,
                                                                 const Forecast& forecast,
                                                                 const FileOutcome& file,
                                                                 const std::stop_token& stop = {});

/// As findChunkAuthors(), for a leg that lays a commit on a ground: of its own side it is that commit; of
/// the other one whoever touched what the ground has there. `forecast`: of the two branches.
[[nodiscard]] Result<std::vector<PlaceAuthors>> findLegAuthors(Place& repository,
                                                               const Forecast& forecast,
                                                               const Join& leg,
                                                               const LegStanding& laid,
                                                               const FileOutcome& file,
                                                               const std::stop_token& stop = {});
/// The same of a file as a whole.
[[nodiscard]] Result<PlaceAuthors> findLegFileAuthors(Place& repository,
                                                      const Forecast& forecast,
                                                      const LegStanding& laid,
                                                      const FileOutcome& file,
                                                      const std::stop_token& stop = {});

/// Returns who last touched a file on either side, for questions about it as a whole.
[[nodiscard]] Result<PlaceAuthors> findFileAuthors(Place& repository,
                                                   const Forecast& forecast,
                                                   const FileOutcome& file,
                                                   const std::stop_token& stop = {});
}  // namespace rope
