// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>

#include <string>

namespace rope {
/// The name to make a temporary folder from, for QTemporaryDir, in a place's private folder. It tells
/// which process made it.
[[nodiscard]] QString scratchTemplate(const std::string& privateFolder, const char* purpose);

/// Removes temporary folders whose process has ended without doing so itself.
void removeLeftScratch(const std::string& privateFolder);
}  // namespace rope
