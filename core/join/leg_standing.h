// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/join.h"

namespace rope {
/// How a commit is laid on the ground that those before it made.
enum class LaidAs {
    rewritten,  ///< It is ours, written anew; the ground is theirs.
    picked,     ///< It is theirs, made anew upon ours: the ground.
    reverted,  ///< What it changed is taken out of ours, the ground: it is the base, and theirs what it was made on.
};

/// The three snapshots that a leg joins.
struct LegSnapshots
{
    Snapshot base;
    Snapshot ours;
    Snapshot theirs;
};

/// What is to be known of a leg that writes a commit anew. Where commits are carried along, the join that
/// they are laid on has one too: of the commit whose place it takes.
struct LegStanding
{
    Commit commit;  ///< The one that is written anew.
    /// Something is open in an earlier leg: this one is reckoned on what is offered first there.
    bool isAbout = false;
    bool isEmptied = false;  ///< All that the commit changed is there already.
    bool isCarried = false;  ///< It stood upon what is recorded anew, and is carried along.
    LaidAs as = LaidAs::rewritten;
};
}  // namespace rope
