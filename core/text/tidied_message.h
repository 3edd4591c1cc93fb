// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace rope {
/// Returns a commit message as it is stored: no blanks at line ends, no blank lines at either end or
/// twice in a row, one line end at its end. Empty when nothing is left. Lines that begin with
/// `commentStart` are left out, unless it is empty.
[[nodiscard]] std::string tidiedMessage(const std::string& message,
                                        const std::string& commentStart = {});
}  // namespace rope
