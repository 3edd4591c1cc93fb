// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/remotes.h"

namespace rope {
/// Whether something can be an address at all: not empty, no option, no control characters.
[[nodiscard]] bool canBeAddress(const std::string& address);

/// Asks an address for its branches. Errors: `invalidInput` (Reason::invalidAddress); those of Remotes.
[[nodiscard]] Result<RemoteLines>
askGitAddress(const std::string& address, const Asking& asking, const std::stop_token& stop);

/// Copies a repository with its history into a folder that is not there yet, or empty. It is made
/// beside its place and put there whole: a failure or a stop leaves nothing.
/// Errors: `invalidInput` (::invalidAddress, ::targetExists); `io`; those of Remotes.
[[nodiscard]] Status cloneGit(const CopyRequest& request,
                              const Asking& asking,
                              const ProgressSink& progress,
                              const std::stop_token& stop);
}  // namespace rope
