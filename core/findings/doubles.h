// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/definitions.h"
#include "core/findings/file_view.h"
#include "core/merge/text_join.h"

#include <optional>

namespace rope {
/// Finds imports and includes that stand once in either side and twice in the result.
void findImportsTwice(const FileView& file, std::vector<Finding>& found);

/// Finds a line that stands twice in a row where both sides meet, and so in no version.
void findRepeatedLines(const FileView& file, std::vector<Finding>& found);

/// Finds what both sides added, at two places: at least three lines of the result with ten letters that
/// stand there more often than in either side.
void findAddedTwice(const FileView& file, std::vector<Finding>& found);

/// The same of a join that needs nobody; nothing where there is none. Looks at changed lines alone unless both
/// sides have added at least three in common.
[[nodiscard]] std::optional<Finding> addedTwiceIn(const TextJoin& join);

/// Finds names that both sides define in one scope.
void findDefinedTwice(const FileView& file,
                      DefinitionReader& definitions,
                      std::vector<Finding>& found);
}  // namespace rope
