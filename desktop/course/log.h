// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

#include <string>

namespace rope {
/// Starts the log: a rotating file in the user's state folder (XDG_STATE_HOME/rope-splice), readable by
/// this user only. What ends the program by itself leaves its reason there. Without
/// a place to write it, nothing is logged and nothing fails.
void startLog();
void logNote(const std::string& text);
/// Logs an error as it reached the user. File contents and passwords in addresses are never logged.
void logError(const Error& error);
}  // namespace rope
