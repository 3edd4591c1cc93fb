// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/remotes.h"

namespace rope {
/// Asks an address that nothing is known of here for its lines of work.
/// Errors: `invalidInput` (Reason::invalidAddress); those of asking a remote, see Remotes.
[[nodiscard]] Result<RemoteLines>
askAddress(const std::string& address, const Asking& asking, const std::stop_token& stop);

/// Copies a repository into a folder that is not there yet, or empty; a failure leaves nothing.
/// Errors: as askAddress(); `invalidInput` (Reason::targetExists); `io`; `cancelled`.
[[nodiscard]] Status copyPlace(const CopyRequest& request,
                               const Asking& asking,
                               const ProgressSink& progress,
                               const std::stop_token& stop);
}  // namespace rope
