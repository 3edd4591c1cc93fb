// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/splice/splice.h"

#include <string>

namespace rope {
/// Returns the message a merge commit is offered with: what was joined into what, and by file what
/// had to be decided. Ends in a line end.
[[nodiscard]] std::string proposedMessage(const Splice& splice);
}  // namespace rope
