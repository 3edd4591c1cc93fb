// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/splice/journal.h"

namespace rope {
/// What to record: taken from a splice in which nothing is open.
struct RecordRequest
{
    SplicePlan plan;
    SpliceResult result;
    std::string message;
};

/// What was recorded.
struct Recorded
{
    Commit commit;
    std::string hookOutput;  ///< What the repository's hooks printed, in order.
};

/// Records a splice as a merge commit: brings the working tree to the result, runs the hooks as git
/// does for a merge, writes the commit with both parents, moves the branch from where it was expected.
/// Every step is journalled before it is taken. On a refusal or failure the working tree is brought
/// back and the splice is open again, its decisions untouched.
/// `progress` is told each step under the name that the journal gives it, after it was journalled.
/// Errors: `stale` when the branch moved or files are uncommitted (subject: their names), `busy`,
/// `refused` by a hook or by signing, `noIdentity`, `io`, `invalidInput` for an empty message.
[[nodiscard]] Result<Recorded> recordSplice(Repository& repository,
                                            Journal& journal,
                                            const RecordRequest& request,
                                            const ProgressSink& progress = {});

/// What became of a recording that a crash had interrupted.
struct Recovery
{
    SplicePlan plan;
    bool isFinished = false;  ///< The commit is on the branch; otherwise all is as before Record.
    ObjectId commit;          ///< Null unless finished.
};

/// Finishes or undoes the recording that the journal says was interrupted, if any. Safe to repeat.
/// Errors: `stale` when the working tree holds changes that are neither ours nor the result's, with
/// the file as subject; `busy`; those of the repository and the journal.
[[nodiscard]] Result<std::optional<Recovery>> recoverRecording(Repository& repository,
                                                               Journal& journal);
}  // namespace rope
