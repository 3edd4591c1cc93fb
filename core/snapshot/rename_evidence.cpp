// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_renames.cpp.
#include "core/snapshot/rename_evidence.h"

#include "core/snapshot/repo_paths.h"

namespace rope {
namespace {
/// Calls visit(old folder, new folder) for the folders of both paths, and on upwards for as long as
/// the folders that are left behind have the same name. Stops when visit returns false.
template <typename Visit>
void visitFolders(const RepoPath& from, const RepoPath& to, Visit visit)
{
    RepoPath before = folderOfPath(from);
    RepoPath after = folderOfPath(to);
    while (before != after && visit(before, after) && !before.empty() && !after.empty()
           && nameOfPath(before) == nameOfPath(after)) {
        before = folderOfPath(before);
        after = folderOfPath(after);
    }
}

int equalParts(std::string_view a, std::string_view b)
{
    int count = 0;
    while (!a.empty() && !b.empty() && nameOfPath(a) == nameOfPath(b)) {
        ++count;
        a = a.substr(0, a.size() - std::min(a.size(), nameOfPath(a).size() + 1));
        b = b.substr(0, b.size() - std::min(b.size(), nameOfPath(b).size() + 1));
    }
    return count;
}
}  // namespace

void RenameEvidence::note(const Rename& rename)
{
    visitFolders(rename.from, rename.to, [this](const RepoPath& before, const RepoPath& after) {
        ++m_moved[{before, after}];
        return true;
    });
}

int RenameEvidence::movedFiles(const RepoPath& from, const RepoPath& to) const
{
    const auto found = m_moved.find({from, to});
    return found == m_moved.end() ? 0 : found->second;
}

Evidence RenameEvidence::of(const RepoPath& from, const RepoPath& to) const
{
    Evidence evidence;
    evidence.folder = movedFiles(folderOfPath(from), folderOfPath(to));
    evidence.ending = equalParts(from, to);
    visitFolders(from, to, [&](const RepoPath& before, const RepoPath& after) {
        evidence.above = movedFiles(before, after);
        return evidence.above == 0;
    });
    evidence.others = m_interest.isAddedByOther && m_interest.isAddedByOther(to) ? 1 : 0;
    return evidence;
}
}  // namespace rope
