// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"
#include "core/system/types.h"

#include <cstddef>
#include <span>
#include <stop_token>
#include <string>
#include <vector>

namespace rope {
/// What somebody has left beside a commit.
struct FoundNote
{
    std::string text;  ///< Bytes that nobody has checked.
    std::string from;  ///< The remote that it came from; empty: it is one's own.
};

/// Part of the port: notes of ours beside commits. They are written with the commit, see
/// PlannedCommit::note, and change nothing about it. What remotes have of them comes with Remotes::fetch().
class Notes
{
public:
    virtual ~Notes() = default;

    /// All notes on each of these commits, one's own first.
    virtual Result<std::vector<std::vector<FoundNote>>>
    notesOn(std::span<const ObjectId> commits) = 0;
    /// Sends own notes of commits that a remote has, as far as is known here, to it; notes that others have
    /// sent there stay. Returns how many went. Errors: as Remotes::send().
    virtual Result<std::size_t> sendNotes(const std::string& remote,
                                          const std::stop_token& stop) = 0;
};
}  // namespace rope
