// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/place.h"

#include <stop_token>
#include <string>

namespace rope {
/// A recorded merge that is to be opened again.
struct FinishedMerge
{
    Commit merge;
    /// Others have it, or a merge commit stands upon it: it stays, and what is decided otherwise goes on top.
    bool staysThere = false;
    ObjectId above{};  ///< Where the line stands, if that is another commit.
};

/// `line`: the full name of a branch that holds the merge.
/// Errors: `notFound`; `invalidInput` for what has not two parents; `stale` (Reason::lineMoved) where the
/// line does not hold it; those of reading.
[[nodiscard]] Result<FinishedMerge> finishedMerge(Place& place,
                                                  const ObjectId& merge,
                                                  const std::string& line,
                                                  const std::stop_token& stop = {});
}  // namespace rope
