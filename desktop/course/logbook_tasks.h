// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/course/place_tasks.h"
#include "desktop/facts/logbook_view.h"

namespace rope {
// What the logbook session runs beside the interface. As place_tasks.h.

/// Lets go what is kept and no splice has, and keeps it again.
Status letGoKept(const PlaceAddress& address, const KeptWork& kept);
Status keepAgain(const PlaceAddress& address, const KeptWork& kept);

/// The splices of a place, newest first, and where each stands. Asks no remote: what was sent is told
/// as of when remotes were asked last.
[[nodiscard]] Result<LogbookFacts> readLogbook(const PlaceAddress& address,
                                               const std::stop_token& stop);

/// What was decided in a splice, and what had been offered: it is joined again.
[[nodiscard]] Result<LoggedDetails>
readLogged(const PlaceAddress& address, const JournalEntry& entry, const std::stop_token& stop);
}  // namespace rope
