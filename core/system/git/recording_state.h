// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/system/recording.h"

#include <optional>
#include <string>
#include <vector>

namespace rope {
/// How far a recording in git has come. Each step is noted before it is taken.
enum class GitStep {
    takingOff,    ///< Uncommitted work is taken off the files.
    bringing,     ///< The working tree goes from ours to the result.
    committing,   ///< Hooks run, commits are written.
    moving,       ///< The branch goes from ours to the commit.
    finishing,    ///< The branch has moved; hooks that follow.
    carrying,     ///< Uncommitted work is put into the files.
    handingBack,  ///< Decisions are written into the files of a begun join.
    undoing,      ///< Something refused; the working tree goes back to what it was.
};

/// What was special about the touched paths before, and must be so again.
struct PathsBefore
{
    std::vector<RepoPath> alreadyThere;  ///< Not tracked, with the very bytes that the result has.
    std::vector<RepoPath> skipped;       ///< Marked skip-worktree.
    std::vector<RepoPath> assumed;       ///< Marked assume-unchanged.
};

/// All that is needed to finish or undo a recording after a crash. Kept as a note, in JSON.
struct RecordingState
{
    GitStep step = GitStep::bringing;
    std::string ref;
    ObjectId ours;  ///< Where the branch stood.
    ObjectId oursTree;
    ObjectId resultTree;
    ObjectId commit;           ///< Null before it is written.
    std::int64_t notedAt = 0;  ///< Seconds since 1970.
    PathsBefore before;
    /// What the files held, where that was not ours, and what was staged. Null: nothing uncommitted.
    ObjectId workTree;
    ObjectId stagedTree;
    std::vector<RepoPath> intended;  ///< Of the work: files that were added with intent only.
    ObjectId afterTree;       ///< What the files hold in the end, uncommitted. Null: the result.
    bool keepsFiles = false;  ///< The branch is not checked out.
    std::string nextRef;      ///< The branch that is checked out in the end; empty: the same one.
    std::string
        begun;  ///< What git keeps of the begun join that this finishes; empty: there is none.
    ObjectId
        detached;  ///< Of a begun rebase: what was checked out instead of the branch; else null.
    std::vector<RewrittenCommit> rewritten;  ///< Once they are written.
};

[[nodiscard]] RecordingNote noteOf(const RecordingState& state);
/// Nothing for what noteOf() did not write.
[[nodiscard]] std::optional<RecordingState> stateOf(const RecordingNote& note);
}  // namespace rope
