// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/history/divergence.h"
#include "core/system/place.h"
#include "core/text/line_range.h"

#include <stop_token>
#include <vector>

namespace rope {
/// The file at a path of a commit; a null id where there is none. Errors: those of reading.
[[nodiscard]] Result<ObjectId>
fileAt(Place& repository, const ObjectId& commit, const RepoPath& path);

/// Returns, for each range of lines of the file at `path` in commit `tip`, the newest of `commits`
/// that touched these lines (or, for an empty range, that removed something there); a null id where
/// none did. Changes are followed back through parents that are among `commits`; at a merge the
/// parent with the same text is followed, else the first.
/// Errors: those of reading; `cancelled`.
[[nodiscard]] Result<std::vector<ObjectId>> lastTouching(Place& repository,
                                                         const RepoPath& path,
                                                         const ObjectId& tip,
                                                         const std::vector<CommitLink>& commits,
                                                         std::vector<LineRange> ranges,
                                                         const std::stop_token& stop = {});
}  // namespace rope
