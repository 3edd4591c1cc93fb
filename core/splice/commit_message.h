// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/splice/splice.h"

#include <string>

namespace rope {
/// Returns the message a merge commit is offered with: what was joined into what, and by file what
/// had to be decided. Ends in a line end.
[[nodiscard]] std::string proposedMessage(const Splice& splice);

/// Returns the message as it is stored: no blanks at line ends, no blank lines at either end or
/// twice in a row, one line end at its end. Empty when nothing is left.
[[nodiscard]] std::string tidiedMessage(const std::string& message);
}  // namespace rope
