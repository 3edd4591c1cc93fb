// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/snapshot/file_outcome.h"
#include "core/snapshot/merge_rules.h"
#include "core/system/edited_tree.h"

#include <map>
#include <set>
#include <utility>

namespace rope {
/// Three trees joined.
struct TreeJoin
{
    std::vector<FileOutcome> files;  ///< What both sides touched or a person must decide, by path.
    std::vector<TreeEdit> theirsEdits;  ///< What theirs alone changed and ours takes over, by path.
    std::vector<FileChange> oursChanges;  ///< Base to ours, by path.
    std::vector<FileChange> theirsChanges;
    /// Folders that only one side has and that were left unread (TreeJoinOptions::newFolders): what is
    /// in them is in none of these lists.
    PerSide<std::vector<NewFolder>> newFolders;
    /// Paths at which a file may have to make room, because an answer puts something else there, below it
    /// or above it: the free name that the file then has. The names are in no tree.
    std::map<RepoPath, RepoPath> asides;
    /// Paths of a side whose change went along into a file of `files` that has another path: the other
    /// side renamed it onto that one.
    std::set<RepoPath> folded;
    [[nodiscard]] bool isClean() const;
};

/// Two names that one file of a virtual base has, because what it was joined from disagreed.
using TwinPaths = std::pair<RepoPath, RepoPath>;

struct TreeJoinOptions
{
    /// Whether new files may follow a folder that the other side renamed; see RenameRules.
    bool followsFolders = true;
    /// Whether names that theirs adds and that cannot be checked out are asked about.
    bool checksNames = true;
    std::vector<TwinPaths> twins;  ///< Of the base.
    /// What is known of how files are to be joined; grows. Nothing: it is asked for this join alone.
    std::shared_ptr<MergeRules> rules;
    /// Names of the base that were made up when it was joined from several, and what they stand for.
    std::map<RepoPath, RepoPath> madeUp = {};
    /// `leave`, where nothing but the verdict is wanted: files, questions, regions. They are the same then.
    NewFolders newFolders = NewFolders::read;
};

/// Joins three trees: walks what differs, follows renames, joins texts by lines, asks where a person
/// must decide. Symmetric in ours and theirs. Errors: those of reading; `cancelled`.
[[nodiscard]] Result<TreeJoin> joinTrees(Snapshots& repository,
                                         const ObjectId& base,
                                         const ObjectId& ours,
                                         const ObjectId& theirs,
                                         const TreeJoinOptions& options = {},
                                         const ProgressSink& progress = {},
                                         const std::stop_token& stop = {});

/// Returns how the joined tree differs from ours' tree by what needs no person and no new bytes:
/// what theirs changed, settled files, and old places that are left. Where files have a question or
/// joined text, their placements are for the caller to add, after these.
[[nodiscard]] std::vector<TreeEdit> settledEdits(const TreeJoin& join);
}  // namespace rope
