// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/repository/repository.h"

#include <optional>
#include <stop_token>
#include <vector>

namespace rope {
/// What a tree holds at a path, folders aside.
struct FileVersion
{
    EntryKind kind = EntryKind::file;
    ObjectId id;
    friend bool operator==(const FileVersion&, const FileVersion&) = default;
};

/// A path that two trees hold differently. Not both versions are missing.
struct FileChange
{
    RepoPath path;
    std::optional<FileVersion> before;
    std::optional<FileVersion> after;
};

/// Returns every file, link and submodule that differs between two trees, by path (bytewise).
/// Folders with equal ids are not read. A null id is an empty tree.
/// Errors: those of Repository::readTrees; `cancelled`.
[[nodiscard]] Result<std::vector<FileChange>> treeChanges(Repository& repository,
                                                          const ObjectId& before,
                                                          const ObjectId& after,
                                                          const std::stop_token& stop = {});
}  // namespace rope
