// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <string>

namespace rope {
/// Starts the log: a rotating file in the user's state folder (XDG_STATE_HOME/rope-splice). Without
/// a place to write it, nothing is logged and nothing fails.
void startLog();
void logNote(const std::string& text);
/// Logs an error as it reached the user. File contents are never logged.
void logError(const Error& error);
}  // namespace rope
