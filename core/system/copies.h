// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"
#include "core/system/types.h"

#include <span>
#include <stop_token>

namespace rope {
/// Part of the port: what a system adds to a folder of our own that a tree is laid out in (see
/// core/trial/layout.h). Nothing of the repository itself changes. One thread at a time.
class Copies
{
public:
    virtual ~Copies() = default;

    /// Makes the folder a place of its own that lists the files of `tree` and stands on `commit`, so
    /// that what runs in it finds this one, and not another one around it. Safe to repeat.
    virtual Status
    prepareCopy(const std::string& folder, const ObjectId& tree, const ObjectId& commit) = 0;
    /// Whichever of these paths the system changes on their way into files (line ends, filters,
    /// encodings), as set up in the tree that the folder was prepared for; in the order asked.
    virtual Result<std::vector<RepoPath>> convertedPaths(const std::string& folder,
                                                         std::span<const RepoPath> paths) = 0;
    /// Writes such files. Errors: `io`; `systemFailed` where a filter failed; `cancelled`.
    virtual Status writeConverted(const std::string& folder,
                                  std::span<const RepoPath> paths,
                                  const std::stop_token& stop) = 0;
    /// What else decides how files are written, as an opaque text: while it is equal, so are they.
    virtual Result<std::string> conversionStamp() = 0;
    /// Environment variables that would lead a program to another place than the folder it runs in.
    [[nodiscard]] virtual std::vector<std::string> leadingVariables() const = 0;
};
}  // namespace rope
