// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/types.h"

#include <cstddef>
#include <functional>
#include <string_view>
#include <vector>

namespace rope {
/// A place in a file that a line of output names.
struct OutputLink
{
    std::size_t begin = 0;  ///< In the line, in bytes.
    std::size_t length = 0;
    RepoPath path;
    std::size_t line = 0;  ///< From 1.
};

/// Finds places in files in a line of output: `path:12`, `path:12:5`, `path(12)`, `"path", line 12`,
/// where `isFile` says that the result has such a path. Absolute paths are taken off `folder`, in which
/// the command ran; of a path that is no file as it stands, its longest end that is one counts.
[[nodiscard]] std::vector<OutputLink>
findOutputLinks(std::string_view line,
                std::string_view folder,
                const std::function<bool(const RepoPath&)>& isFile);
}  // namespace rope
