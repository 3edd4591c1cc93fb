// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/file_outcome.h"

namespace rope {
/// Three trees joined.
struct TreeJoin
{
    std::vector<FileOutcome> files;  ///< What both sides touched or a person must decide, by path.
    std::vector<TreeEdit> theirsEdits;  ///< What theirs alone changed and ours takes over, by path.
    std::vector<FileChange> oursChanges;  ///< Base to ours, by path.
    std::vector<FileChange> theirsChanges;
    [[nodiscard]] bool isClean() const;
};

/// Joins three trees: walks what differs, joins texts by lines, asks where a person must decide.
/// Symmetric in ours and theirs. Renames are not followed: a moved file is a deletion and an addition.
/// Errors: those of reading; `cancelled`.
[[nodiscard]] Result<TreeJoin> joinTrees(Repository& repository,
                                         const ObjectId& base,
                                         const ObjectId& ours,
                                         const ObjectId& theirs,
                                         const ProgressSink& progress = {},
                                         const std::stop_token& stop = {});
}  // namespace rope
