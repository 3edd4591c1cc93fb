// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"

namespace rope {
/// Joins uncommitted work to what is about to be recorded: base is the commit that the work stands
/// on, ours the work, theirs the new commit's files, which are only held: nothing of them is stored.
/// `work`: as Checkout::saveWork() gave it; `held`: what the result is made of and is stored nowhere;
/// null: nothing of the kind. Errors: those of reading; `cancelled`.
[[nodiscard]] Result<Join> joinCarriedWork(Place& place,
                                           const ObjectId& work,
                                           const ResultSnapshot& result,
                                           const std::stop_token& stop = {},
                                           const std::shared_ptr<const HeldObjects>& held = {});
}  // namespace rope
