// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/file_view.h"

#include <string_view>
#include <vector>

namespace rope {
/// Whether a line, without blanks at its ends, is an import or include and nothing else.
[[nodiscard]] bool isImport(std::string_view content, Language language);

/// The names that an import makes known in its file; none where it does not tell them.
[[nodiscard]] std::vector<std::string_view> namesOfImport(std::string_view content,
                                                          Language language);

/// Finds imports that one side removed and that new lines of the other need.
void findImportsGone(const FileView& file, std::vector<Finding>& found);
}  // namespace rope
