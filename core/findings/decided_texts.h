// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/file_view.h"

namespace rope {
/// Finds conflict markers that no version has.
void findMarkersLeft(const FileView& file, std::vector<Finding>& found);

/// Finds stretches outside of regions that no side has: written there by hand.
void findForeignText(const FileView& file, std::vector<Finding>& found);

/// Finds files in which decisions left nothing of what one side changed.
void findDroppedChange(const FileView& file, std::vector<Finding>& found);
}  // namespace rope
