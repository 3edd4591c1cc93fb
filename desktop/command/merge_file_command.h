// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <vector>

namespace rope {
struct MergeFileRequest
{
    std::string base;
    std::string ours;
    std::string theirs;
    std::string output;  ///< Empty: standard output.
    bool asJson = false;
    std::vector<std::string>
        labels{};  ///< Behind the markers: of base, ours, theirs; else the paths.
    std::size_t markerSize = 7;
};

/// Joins three files and returns the exit code (docs/command-line.md).
int runMergeFile(const MergeFileRequest& request);
}  // namespace rope
