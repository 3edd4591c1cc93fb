// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <string>

namespace rope {
// Which journals this person's own state knows, and where: a list in
// `$XDG_STATE_HOME/rope-splice/journals`, on each line an id, a blank, and the folder (percent-encoded). A
// journal that is not in it was begun elsewhere, by somebody else or by an earlier version, or was moved
// or handed back, and nothing that it says is done unasked. Any thread, any process.

/// False as well where there is no such list, or it cannot be read.
[[nodiscard]] bool isKnownJournal(const std::string& id, const std::string& folder);
/// Errors: `io`.
Status rememberJournal(const std::string& id, const std::string& folder);
}  // namespace rope
