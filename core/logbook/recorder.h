// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/logbook/journal.h"
#include "core/system/place.h"

namespace rope {
/// Keeps the commits that a splice joins, the one that it takes the place of, and the uncommitted work
/// that it looks after, alive for as long as the journal knows it.
[[nodiscard]] Status keepAlive(Place& place, const Journal& journal, const SplicePlan& plan);
/// And the files of the begun join that it finishes: what was put there by hand stands nowhere else.
[[nodiscard]] Status keepFoundAlive(Place& place,
                                    const Journal& journal,
                                    const SplicePlan& plan,
                                    const BegunFiles& files);

/// What was recorded.
struct Recorded
{
    Commit commit;
    std::string hookOutput;  ///< What the place's own hooks printed, in order.
    /// Of a rebase: each commit and what it was written anew as, in order.
    std::vector<std::pair<Commit, Commit>> rewritten{};
};

/// Records a plan for a splice of the journal, with the place's WriterLock held and every step
/// journalled before it is taken. On a refusal or failure everything goes back and the splice is open
/// again, its decisions untouched. What was kept alive for it stays so, for the logbook.
/// Errors: those of Recording::record(); `busy` (Reason::recordingElsewhere).
[[nodiscard]] Result<Recorded> recordSplice(Place& place,
                                            Journal& journal,
                                            const std::string& splice,
                                            const RecordingPlan& plan,
                                            const ProgressSink& progress = {},
                                            const std::stop_token& stop = {});

/// As recordSplice(), for what is begun and recorded in one go: nobody goes on with it when it is
/// refused. `progress` may be empty. Errors: as recordSplice(), and those of the journal.
[[nodiscard]] Result<Recorded> recordAtOnce(Place& place,
                                            Journal& journal,
                                            const JournalEntry& entry,
                                            const std::vector<LegSnapshots>& legs,
                                            const RecordingPlan& plan,
                                            const std::stop_token& stop = {},
                                            const ProgressSink& progress = {});

/// Writes what was decided into the files of the begun join that a splice finishes, and puts the
/// splice away: whoever began it goes on. Errors: those of Recording::handBack(); then all is as before.
[[nodiscard]] Status
handBack(Place& place, Journal& journal, const std::string& splice, const HandBack& work);

/// What became of a recording that a crash had interrupted.
struct Recovery
{
    SplicePlan plan;
    bool isFinished = false;  ///< The commit is on the branch; otherwise all is as before Record.
    ObjectId commit;          ///< Null unless finished.
};

/// Something that is kept alive here.
struct KeptThing
{
    std::string name;  ///< As Recording::keptAlive() has it.
    std::string part;  ///< What it is: "work" is uncommitted work that was saved.
};

/// What is kept alive here and no splice of this journal has: of another working tree, or of a journal
/// that is gone. Nothing of it is ever let go unasked.
[[nodiscard]] Result<std::vector<KeptThing>> keptByOthers(Place& place, Journal& journal);

/// Finishes or undoes the recordings that the journal says were interrupted, and tidies up what was
/// left: splices that a command began and did not end, and those that ended long ago, with what was
/// kept alive for them. Work that was set aside and has not come back is never forgotten, and what
/// another journal keeps alive is left alone. Safe to repeat.
/// Errors: `refused` (Reason::begunElsewhere) where this person's state does not know the journal,
/// nothing touched; `busy` (Reason::recordingElsewhere) while one is being made, with the process as
/// subject; `stale` (Reason::changedSince) when the working tree holds changes that are neither ours
/// nor the result's, with the file as subject; those of the place and the journal.
[[nodiscard]] Result<std::optional<Recovery>> recoverRecording(Place& place, Journal& journal);
}  // namespace rope
