// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/definitions.h"
#include "core/findings/file_view.h"

namespace rope {
/// Finds where lines of ours and of theirs joined by themselves with at most kMostBetween unchanged
/// lines between them.
inline constexpr LineNumber kMostBetween = 2;
void findNearEdits(const FileView& file, std::vector<Finding>& found);

/// Finds functions in which both sides changed lines, outside of regions.
void findSameFunctions(const FileView& file,
                       DefinitionReader& definitions,
                       std::vector<Finding>& found);

/// Finds blocks that one side moved and the other edited at their old place, where the result has them
/// at the new place as they were.
void findMovedBlocks(const FileView& file, std::vector<Finding>& found);
}  // namespace rope
