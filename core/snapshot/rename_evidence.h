// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/renames.h"

#include <compare>
#include <map>
#include <utility>

namespace rope {
/// What speaks for a file having gone to one path rather than to another with the same content. The
/// members are in the order in which they count; more is better.
struct Evidence
{
    int folder = 0;  ///< Files of its folder that are known to have gone to that folder.
    int ending = 0;  ///< Parts at the end of both paths that are the same.
    int above = 0;   ///< As folder, for the folders above that part of the paths.
    int others = 0;  ///< 1 where the other side has a new file at that path too.
    // NOLINTNEXTLINE(modernize-use-nullptr): clang-tidy 14 sees a pointer in what <=> compares with
    friend auto operator<=>(const Evidence&, const Evidence&) = default;
};

/// Where the files went whose new place is known, by folder.
class RenameEvidence
{
public:
    explicit RenameEvidence(const RenameInterest& interest)
        : m_interest(interest)
    {
    }

    void note(const Rename& rename);
    [[nodiscard]] Evidence of(const RepoPath& from, const RepoPath& to) const;

private:
    [[nodiscard]] int movedFiles(const RepoPath& from, const RepoPath& to) const;

    const RenameInterest& m_interest;
    std::map<std::pair<RepoPath, RepoPath>, int> m_moved;  ///< Old and new folder.
};
}  // namespace rope
