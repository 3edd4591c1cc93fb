// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/progress.h"

#include <QString>

namespace rope {
/// What a long task does just now and how far it is, in one line.
[[nodiscard]] QString inWords(const Progress& progress);
}  // namespace rope
