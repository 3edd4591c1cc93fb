// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/definitions.h"
#include "core/merge/candidates.h"
#include "core/system/types.h"

#include <stop_token>

namespace rope {
/// Returns, for each text that could stand in a region, what it would do to the names and blocks of its
/// file: what the finders of the Check station find with it in the region's place and do not find with
/// either side there. Other regions stand as ours has them. Nothing for files of more than half a MB.
[[nodiscard]] std::vector<std::vector<Consequence>>
consequencesInFile(const RepoPath& path,
                   const TextJoin& join,
                   std::size_t region,
                   const std::vector<std::string>& texts,
                   DefinitionReader& definitions,
                   const std::stop_token& stop = {});
}  // namespace rope
