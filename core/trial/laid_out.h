// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/trial/copy_files.h"

#include <optional>
#include <vector>

namespace rope {
/// A file of a copy: what it was written from, and how it stood then.
struct LaidOutFile
{
    RepoPath path;
    FileVersion version;
    FileStamp stamp;
};

/// What was put into a copy; kept beside it, so that only differences are written the next time.
struct LaidOut
{
    ObjectId tree;
    std::string conversions;         ///< What else than the tree decided how files were written.
    std::vector<LaidOutFile> files;  ///< By path, as bytes.
};

/// Nothing where there is none, or it cannot be read: then nothing is known of the copy.
[[nodiscard]] std::optional<LaidOut> readLaidOut(const std::string& file);
/// Puts it there whole or not at all. Errors: `io`.
[[nodiscard]] Status writeLaidOut(const std::string& file, const LaidOut& laidOut);

/// Notes paths that are about to change, before any does; none: all is as the list says.
/// Errors: `io`.
[[nodiscard]] Status writeChanging(const std::string& file, const std::vector<RepoPath>& paths);
/// The paths of which nothing is known, because a change of them was cut off.
[[nodiscard]] std::vector<RepoPath> readChanging(const std::string& file);
}  // namespace rope
