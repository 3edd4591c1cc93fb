// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/findings/definitions.h"
#include "core/findings/file_view.h"

#include <set>
#include <span>
#include <string_view>
#include <vector>

namespace rope {
/// A header among the files that are checked.
struct KnownHeader
{
    RepoPath path;
    std::set<std::string> names;          ///< That it defines for whoever includes it.
    std::set<std::string> includedPaths;  ///< As they stand in its own includes.
};

/// Whether a path is that of a header of C or C++.
[[nodiscard]] bool isHeader(const RepoPath& path);

/// What a header gives to whoever includes it.
[[nodiscard]] KnownHeader
knownHeader(const RepoPath& path, const VersionView& text, DefinitionReader& definitions);

/// Finds includes that one side removed, since it needs nothing of them, while new lines of the other use
/// a name of the header. Of headers that neither side changed it is not known what they define.
void findIncludesGone(const FileView& file,
                      std::span<const KnownHeader> headers,
                      std::vector<Finding>& found);
}  // namespace rope
