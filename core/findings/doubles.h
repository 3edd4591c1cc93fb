// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/definitions.h"
#include "core/findings/file_view.h"

namespace rope {
/// Finds imports and includes that stand once in either side and twice in the result.
void findImportsTwice(const FileView& file, std::vector<Finding>& found);

/// Finds a line that stands twice in a row where both sides meet, and so in no version.
void findRepeatedLines(const FileView& file, std::vector<Finding>& found);

/// Finds what both sides added, at two places: at least three lines of the result with ten letters that
/// stand there more often than in either side (../shared/design/candidates.md, R7).
void findAddedTwice(const FileView& file, std::vector<Finding>& found);

/// Finds names that both sides define in one scope.
void findDefinedTwice(const FileView& file,
                      DefinitionReader& definitions,
                      std::vector<Finding>& found);
}  // namespace rope
