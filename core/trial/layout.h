// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/progress.h"
#include "core/system/place.h"

#include <stop_token>

namespace rope {
/// What is to stand in a scratch copy.
struct LayoutRequest
{
    ObjectId tree;    ///< A stored one.
    ObjectId commit;  ///< That the copy stands on, for programs that ask.
    bool withSubmodules = false;
};

/// A submodule that the copy holds as it is checked out in the working tree.
struct LaidOutSubmodule
{
    RepoPath path;
    ObjectId commit;         ///< That is checked out here; null: it is not checked out.
    bool isAsNamed = false;  ///< The result names the same commit.
};

struct LayoutOutcome
{
    std::size_t files = 0;
    std::size_t written = 0;  ///< Of them; the others stood there already.
    std::size_t removed = 0;
    std::vector<LaidOutSubmodule> submodules;  ///< Where they were asked for.
};

/// The folder in a scratch copy's folder that holds the files.
[[nodiscard]] std::string filesFolderOf(const std::string& copy);

/// Lays a tree out in the folder of a scratch copy, as the system would check it out. Only files that
/// differ from what stands there are written, whoever changed them, and files of the tree before are
/// removed; everything else (what a build made) stays. What was cut off anywhere is made good by the
/// next call. Errors: those of reading; `io` (Reason::diskFull) with the path as subject; `cancelled`.
[[nodiscard]] Result<LayoutOutcome> layOut(Place& place,
                                           const LayoutRequest& request,
                                           const std::string& copy,
                                           const ProgressSink& progress = {},
                                           const std::stop_token& stop = {});
}  // namespace rope
