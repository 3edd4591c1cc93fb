// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace rope {
/// Whether a living git process that may write works in one of the two folders, or below: any but
/// those that this program keeps open for reading, here or in another instance.
[[nodiscard]] bool gitWritesIn(const std::string& folder, const std::string& otherFolder);
}  // namespace rope
