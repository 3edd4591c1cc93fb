// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/place.h"

#include <set>
#include <stop_token>

namespace rope {
/// How many of a person's commits are looked into.
inline constexpr std::size_t kMostOwnCommits = 200;

/// Returns the files that a person's own commits changed, merge commits aside; told by their address.
/// `commits`: newest first. Errors: those of reading; `cancelled`.
[[nodiscard]] Result<std::set<RepoPath>> ownFiles(Place& place,
                                                  std::span<const Commit> commits,
                                                  const std::string& email,
                                                  const std::stop_token& stop = {});
}  // namespace rope
