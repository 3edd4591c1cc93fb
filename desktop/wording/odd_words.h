// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/plan/merge_reading.h"

#include <QString>

namespace rope {
/// What is odd in a place of a recorded merge, without the place.
[[nodiscard]] QString oddInWords(const OddPlace& place);
}  // namespace rope
