// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/tree_join.h"
#include "core/system/checkout.h"

namespace rope {
/// Settles submodules that both sides moved where one side's commit contains the other's, and both
/// contain the base's: the later one. Needs the submodule's own history; where that is not here, the
/// question stays. Errors: `cancelled`.
[[nodiscard]] Status
settleSubmodules(Checkout& checkout, TreeJoin& join, const std::stop_token& stop = {});
}  // namespace rope
