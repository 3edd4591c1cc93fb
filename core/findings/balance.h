// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/file_view.h"

namespace rope {
/// Finds brackets, quotes and indented blocks that are in order in both sides and not in the result.
void findUnbalanced(const FileView& file, std::vector<Finding>& found);

/// The first line that no indented block leads to; nothing where all are in order.
[[nodiscard]] std::optional<LineNumber> firstBrokenIndent(const std::vector<IndentedLine>& lines);
}  // namespace rope
