// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/line_origin.h"
#include "core/system/types.h"

#include <memory>
#include <string>
#include <vector>

namespace rope {
using SharedText = std::shared_ptr<const std::string>;

/// A file that either side changed, in the three versions that are joined. A value; any thread.
struct CheckedFile
{
    RepoPath path;      ///< In the result; where the result has none, where it stood.
    RepoPath basePath;  ///< Where each version stands; empty: there is none.
    RepoPath oursPath;
    RepoPath theirsPath;
    SharedText base;  ///< Null where there is none, or nothing that could be read as lines.
    SharedText ours;
    SharedText theirs;
};

/// What became of a file that is checked, as it stands now. A value; any thread.
struct CheckedResult
{
    SharedText text;                  ///< Null: it is gone, or something in it is still open.
    std::vector<LineOrigin> origins;  ///< One for each line of the text.
    std::vector<LineRange> regions;   ///< Lines of the text that a person decided.
    bool isOpen = false;              ///< Something in it is not decided yet.
};
}  // namespace rope
