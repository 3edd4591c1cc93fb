// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/diff/excerpts.h"
#include "core/system/types.h"

#include <optional>
#include <vector>

namespace rope {
/// A file that is to be committed: whole, or some of its changes.
struct ChosenFile
{
    RepoPath path;
    std::optional<std::vector<Excerpt>> changes;  ///< In order; nothing: the file as it is.
};
}  // namespace rope
