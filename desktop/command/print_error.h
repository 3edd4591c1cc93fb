// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"

namespace rope {
/// Prints an error's sentence, and its evidence below, on standard error. Returns kExitError.
int printError(const Error& error);
}  // namespace rope
