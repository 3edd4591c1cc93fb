// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/splice/splice.h"

namespace rope {
/// Joins uncommitted work to what is about to be recorded: base is the commit that the work stands
/// on, ours the work, theirs the new commit's files, which are stored for it, named by nothing.
/// `work`: as Checkout::saveWork() gave it. Errors: those of reading and storing; `cancelled`.
[[nodiscard]] Result<Join> joinCarriedWork(Place& place,
                                           const ObjectId& work,
                                           const ResultSnapshot& result,
                                           const std::stop_token& stop = {});
}  // namespace rope
