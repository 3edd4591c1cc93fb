// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <string>

namespace rope {
// Which journals this person's own state knows: a list of ids, one a line, in
// `$XDG_STATE_HOME/rope-splice/journals`. A journal that is not in it was begun elsewhere, by somebody
// else or by an earlier version, and nothing that it says is done unasked. Any thread, any process.

/// False as well where there is no such list, or it cannot be read.
[[nodiscard]] bool isKnownJournal(const std::string& id);
/// Errors: `io`.
Status rememberJournal(const std::string& id);
}  // namespace rope
