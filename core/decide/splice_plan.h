// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/object_id.h"
#include "core/decide/splice_kind.h"
#include "core/join/leg_standing.h"

#include <string>

namespace rope {
/// What becomes of work that is not committed yet.
enum class WorkChoice {
    none,         ///< There is none, or there must be none.
    carry,        ///< It is joined to the result and stays uncommitted.
    setAside,     ///< It is kept, and comes back when a person asks for it.
    broughtBack,  ///< It was set aside and has come back since.
    filesStay,    ///< The line is not checked out: the files have nothing to do with it.
};

/// What is joined into what. Fixed when a splice starts, but for the work that it carries.
struct SplicePlan
{
    std::string id;  ///< Names the splice in the journal and its refs: letters, digits, hyphens.
    std::string oursRef;     ///< Full name of the branch that will receive the commit.
    std::string oursName;    ///< For people.
    std::string theirsName;  ///< For people.
    ObjectId ours;
    ObjectId theirs;
    SpliceKind kind = SpliceKind::merge;
    /// The commit that the new one takes the place of (a correction: stands on), and that the line still
    /// stands at; null: none.
    ObjectId replaced{};
    /// The newest of the commits that stand upon `replaced`, where the line stands: they are carried along.
    /// Null: none do.
    ObjectId above{};
    WorkChoice workChoice = WorkChoice::none;
    ObjectId
        work{};  ///< Uncommitted work as it was saved, see Checkout::saveWork(); null: none yet.
    /// Of a rebase: commits of which nothing is left are recorded all the same.
    bool keepsEmptied = false;
    /// Stamp of the join that it finishes, which another program began; empty: none.
    std::string begun{};

    /// Whether each of the line's own commits is joined to theirs, to be written anew or to be corrected.
    [[nodiscard]] bool laysOwnCommits() const { return factsOf(kind).laysOwnCommits; }
    /// Whether a commit that is laid is not written, since nothing of it is left.
    [[nodiscard]] bool skips(const LegStanding& standing) const
    {
        return standing.isEmptied && !keepsEmptied;
    }
    /// Whether what was recorded stays, and what is decided otherwise is a commit on top.
    [[nodiscard]] bool isCorrection() const { return factsOf(kind).isCorrection; }
    /// Where the line must still stand when the splice is recorded.
    [[nodiscard]] const ObjectId& expected() const
    {
        return kind == SpliceKind::bringBack ? theirs
               : !above.isNull()             ? above
               : !replaced.isNull()          ? replaced
                                             : ours;
    }
};
}  // namespace rope
