// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>

namespace rope {
struct MergeFileRequest
{
    std::string base;
    std::string ours;
    std::string theirs;
    std::string output;  ///< Empty: standard output.
    bool asJson = false;
};

/// Joins three files and returns the exit code (docs/command-line.md).
int runMergeFile(const MergeFileRequest& request);
}  // namespace rope
