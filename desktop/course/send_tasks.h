// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/course/place_tasks.h"
#include "desktop/facts/send_view.h"

namespace rope {
// What the send session runs beside the interface. As place_tasks.h.

/// What there is to send from the branch that is checked out. Asks no remote.
[[nodiscard]] Result<SendFacts> sendFacts(const PlaceAddress& address, const std::stop_token& stop);

/// Sends, and asks the remote afterwards what it has. Errors: those of Remotes::send() and ask().
/// `replaces`: what the remote has goes, if it still has that.
[[nodiscard]] Result<Proof> sendAndAsk(const PlaceAddress& address,
                                       const SendFacts& facts,
                                       bool replaces,
                                       const ProgressSink& progress,
                                       const std::stop_token& stop);

/// A refusal with what came to the remote meanwhile, which is fetched, and the ways to join it.
/// Where that fails, the refusal stands alone.
[[nodiscard]] Refusal lookIntoRefusal(const PlaceAddress& address,
                                      const SendFacts& facts,
                                      const Error& error,
                                      const ProgressSink& progress,
                                      const std::stop_token& stop);

/// What can be done now that all was sent: the branch that the last splice brought in can go, if what
/// was sent contains it and it is neither what was sent to nor what all start from.
[[nodiscard]] AfterPush
afterPush(const PlaceAddress& address, const SendFacts& facts, const std::stop_token& stop);

/// Takes an own branch away. Errors: those of Recording::removeOwnLine().
[[nodiscard]] Status removeHere(const PlaceAddress& address, const Branch& branch);

/// Takes a branch away from its remote. Errors: those of Remotes::removeLine().
[[nodiscard]] Status removeFromRemote(const PlaceAddress& address,
                                      const MergedBranch& branch,
                                      const std::stop_token& stop);
}  // namespace rope
