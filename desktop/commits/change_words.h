// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/read_changes.h"

#include <QString>

namespace rope {
/// What the excerpts of a file do not tell: "new", "deleted", "no text, 12 kB before"; may be empty.
[[nodiscard]] QString changeRemark(const FileReading& file);
/// "+3 −1", or what it is where lines do not count.
[[nodiscard]] QString changeInShort(const FileReading& file);
}  // namespace rope
