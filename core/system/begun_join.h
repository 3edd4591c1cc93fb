// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/types.h"

#include <optional>
#include <string>
#include <vector>

namespace rope {
/// Joins that another program began in this working tree and did not finish.
enum class UnfinishedWork {
    none,
    merge,
    rebase,
    cherryPick,
    revert,
    patches,  ///< Mailed ones, applied one by one.
    unknown,  ///< Half-joined files are staged, and nothing tells what began it.
};

/// Why a begun join cannot be taken over.
enum class BegunObstacle {
    none,
    otherKind,    ///< Nothing tells what it is.
    noCommits,    ///< It applies patches, which no commit here stands for.
    otherSteps,   ///< It does something else on its way than laying commits one upon the other.
    noLine,       ///< It began on no line of work.
    manyTips,     ///< It joins more than one branch at once.
    ownWorkKept,  ///< Its program has put uncommitted work away, and will put it back itself.
    damaged,      ///< What it left does not name a commit.
};

/// A join that another program began in the working tree and has not finished. Cheap to read.
struct BegunJoin
{
    UnfinishedWork kind = UnfinishedWork::none;
    BegunObstacle obstacle = BegunObstacle::none;
    std::string line;      ///< Full name of the line that is to receive it; empty: none.
    std::string lineName;  ///< For people.
    ObjectId lineTip;      ///< Where that stands.
    ObjectId ours;         ///< What is checked out: the same; or, of a rebase, what is made so far.
    /// What is joined in; of commits that are laid one by one, the one it has stopped at. Null where it
    /// cannot be taken over.
    ObjectId theirs;
    std::vector<ObjectId> next;  ///< Those that are to follow that one, in order.
    std::string theirsName;      ///< As it was begun with; empty where that is not told.
    std::string message;         ///< What was proposed for the commit; bytes.
    std::vector<RepoPath> open;  ///< Files that are still half-joined.
    friend bool operator==(const BegunJoin&, const BegunJoin&) = default;
};

/// What the files of a begun join hold. A file belongs to it when something else is staged of it than
/// the last commit holds; any other change is a person's own uncommitted work.
struct BegunFiles
{
    ObjectId tree;  ///< As the last commit, with the files of the join as they stand on the disk.
    std::vector<RepoPath> open;     ///< Still half-joined.
    std::vector<RepoPath> settled;  ///< All others that belong to it.
    std::string stamp;              ///< Equal while nobody has gone on with it.
};
}  // namespace rope
