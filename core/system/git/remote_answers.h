// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/git/git_process.h"
#include "core/system/remotes.h"

namespace rope {
/// The variables through which git and ssh ask a person; empty when nobody is to be asked.
[[nodiscard]] Environment environmentOf(const Asking& asking);

/// "main" as git's commands take it for a branch of a remote; a full name stays as it is.
[[nodiscard]] std::string fullNameThere(const std::string& name);

/// Asks a remote, by name or address, for its branches. Errors: as remoteError().
[[nodiscard]] Result<RemoteLines>
askAddress(const GitProcess& git, const std::string& remote, const GitRunOptions& options);

/// What `git ls-remote --symref` printed.
[[nodiscard]] RemoteLines parseRemoteLines(std::string_view out);

/// What git's complaint about asking a remote means. `said` becomes the detail, without progress.
[[nodiscard]] Error remoteError(const std::string& remote, std::string_view said);

/// What a push that failed means: `out` is what `--porcelain` printed.
[[nodiscard]] Error
pushError(const std::string& remote, std::string_view out, std::string_view said);
}  // namespace rope
