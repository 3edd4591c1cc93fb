// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/tree_join.h"
#include "core/system/result_snapshot.h"

#include <map>
#include <unordered_set>

namespace rope {
/// Collects what is put into a joined tree and what leaves it, against ours' tree. What is put
/// somewhere wins over what leaves that place. A file that cannot stand where it belongs, because a
/// decision puts another file there, below it or above it, gets the name that the join has ready for
/// it (TreeJoin::asides). No file of either side is lost on the way: that is checked at the end.
/// The join must outlive it. One thread.
class ResultEdits
{
public:
    /// Begins with what needs no decision. Errors: as put().
    static Result<ResultEdits> of(const TreeJoin& join);

    void leave(const RepoPath& path);
    /// Puts other bytes where a side's version has been put, or stands: somebody has said so.
    void replace(const RepoPath& path, const std::optional<FileVersion>& version, BlobBytes bytes);
    /// Somebody has said what becomes of this path.
    void allow(const RepoPath& path) { m_replaced.insert(path); }
    /// Errors: `invalidInput` (Reason::pathTwice) with the path, where another file is put there too and
    /// there is no name ready for one of them.
    Status put(const RepoPath& path, const FileVersion& version, BlobBytes bytes);
    /// All of it, by path. Errors: as put(); `invalidInput` (Reason::pathLost) with the path of a file
    /// that a side has, that no question is about and that would be gone.
    Result<std::vector<ResultEdit>> finish();

private:
    explicit ResultEdits(const TreeJoin& join);
    Status makeRoom();
    Status moveAside(const RepoPath& path, const RepoPath& aside);
    [[nodiscard]] bool holdsFilesBelow(const RepoPath& folder) const;
    /// What ours put at a path and no edit has touched yet; null: nothing of the kind.
    [[nodiscard]] const FileVersion* oursStandingAt(const RepoPath& path) const;
    [[nodiscard]] Status checkOurs() const;
    [[nodiscard]] Status checkTheirs() const;
    [[nodiscard]] bool stands(const RepoPath& path, const FileVersion& version) const;

    const TreeJoin* m_join;
    std::map<RepoPath, ResultEdit> m_edits;
    std::unordered_set<RepoPath> m_asked;  ///< Paths of the files that outcomes are about.
    std::unordered_set<RepoPath> m_replaced;
};
}  // namespace rope
