// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/types.h"

#include <string_view>

namespace rope {
/// The last part of a path.
[[nodiscard]] inline std::string_view nameOfPath(std::string_view path)
{
    return path.substr(path.rfind('/') + 1);
}

/// The folder a path lies in; empty for the root.
[[nodiscard]] inline RepoPath folderOfPath(std::string_view path)
{
    const std::size_t slash = path.rfind('/');
    return RepoPath(path.substr(0, slash == std::string_view::npos ? 0 : slash));
}

[[nodiscard]] inline RepoPath joinPath(std::string_view folder, std::string_view rest)
{
    return folder.empty() ? RepoPath(rest) : RepoPath(folder).append("/").append(rest);
}

/// Whether a path lies in a folder, at any depth. The root holds everything.
[[nodiscard]] inline bool liesIn(std::string_view path, std::string_view folder)
{
    return folder.empty()
           || (path.size() > folder.size() && path.starts_with(folder)
               && path[folder.size()] == '/');
}
}  // namespace rope
