// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/place_authors.h"
#include "core/plan/recording_plan.h"
#include "core/snapshot/read_changes.h"
#include "desktop/course/prepared_splice.h"
#include "desktop/facts/chosen_file.h"
#include "desktop/facts/side_facts.h"

namespace rope {
// What the splice session runs beside the interface. As place_tasks.h.

/// Writes what is decided into the files of a begun join and puts the splice away.
[[nodiscard]] Status
handBackInPlace(const PlaceAddress& address, const std::string& splice, const HandBack& work);

struct FileFacts
{
    std::vector<PlaceFacts> chunks;  ///< Of its join.
    PlaceFacts whole;
    FileVersions versions;  ///< Filled where the file is asked about as a whole.
};
/// Who touched each place of a file, in words.
[[nodiscard]] Result<FileFacts> fileFacts(const PlaceAddress& address,
                                          const std::shared_ptr<const Forecast>& forecast,
                                          const FileOutcome& file,
                                          std::int64_t now,
                                          const std::stop_token& stop);

/// Whose commits it may be since which a region is there.
enum class SinceOf {
    bothSides,
    ground,  ///< Of a commit that is laid on theirs.
};
/// Since when either side's text of a region does not fit, in words; empty where that is not known.
[[nodiscard]] Result<QString> sinceWords(const PlaceAddress& address,
                                         SinceOf whose,
                                         const std::shared_ptr<const Forecast>& forecast,
                                         const FileOutcome& file,
                                         std::size_t region,
                                         std::int64_t now,
                                         const std::stop_token& stop);

/// Uncommitted work as it stands now, saved and kept alive for a splice, joined to what that splice
/// will record.
struct JoinedWork
{
    ObjectId work;                     ///< Null: nothing is uncommitted.
    std::shared_ptr<const Join> join;  ///< Null where nothing is uncommitted.
};
/// What uncommitted work is joined to: what a splice will record, and what of it is stored nowhere yet.
struct WorkGround
{
    std::shared_ptr<const DecidedResult> decided;
    std::shared_ptr<const HeldObjects> held;
};
/// `known`: the work that was joined before; where that still stands, `join` is null as well. Nothing where
/// the ground has no result: it cannot be recorded either, and Record says why.
[[nodiscard]] Result<std::optional<JoinedWork>> joinWork(const PlaceAddress& address,
                                                         const SplicePlan& plan,
                                                         const WorkGround& ground,
                                                         const std::optional<ObjectId>& known,
                                                         const std::stop_token& stop);

/// Moves the branch to theirs, with uncommitted work looked after as the plan says.
/// Errors: those of recordAtOnce(); `stale` with Reason::workClashes and the files as subject where
/// carried work does not fit what comes in.
[[nodiscard]] Result<Recorded> moveLine(const PlaceAddress& address,
                                        JournalEntry entry,
                                        const ProgressSink& progress,
                                        const std::stop_token& stop);

/// Checks out another own branch, with uncommitted work carried across, and then moves it forward to
/// what it follows, if nothing stands against it. `entry`: of kind switchLine; its branch is theirs.
/// `forward`: what moves it on; with a null `theirs` it follows nothing. Errors: as moveLine().
[[nodiscard]] Result<Recorded> goToLine(const PlaceAddress& address,
                                        JournalEntry entry,
                                        JournalEntry forward,
                                        const ProgressSink& progress,
                                        const std::stop_token& stop);

/// What tracked files hold against the last commit, each change on its own.
[[nodiscard]] Result<ResultReading> uncommittedWork(const PlaceAddress& address,
                                                    const std::stop_token& stop);

/// Commits some of the uncommitted files as they are, or some of their changes, and leaves the rest. `entry`: of kind
/// ownCommit. Errors: those of recordAtOnce().
[[nodiscard]] Result<Recorded> commitFiles(const PlaceAddress& address,
                                           JournalEntry entry,
                                           const std::vector<ChosenFile>& files,
                                           const std::string& message,
                                           const std::optional<Signature>& newIdentity,
                                           const ProgressSink& progress,
                                           const std::stop_token& stop);

/// As fileFacts(), for a file of a leg that writes a commit anew.
[[nodiscard]] Result<FileFacts> legFileFacts(const PlaceAddress& address,
                                             const std::shared_ptr<const Forecast>& forecast,
                                             const Leg& leg,
                                             const LegStanding& laid,
                                             const FileOutcome& file,
                                             std::int64_t now,
                                             const std::stop_token& stop);

/// As fileFacts(), for a file of the leg that carries uncommitted work: no commits stand behind it.
[[nodiscard]] Result<FileFacts> workFileFacts(const PlaceAddress& address,
                                              const Leg& leg,
                                              const FileOutcome& file,
                                              const std::stop_token& stop);

/// What to record, with the name to do it under, where none was known.
struct RecordRequest
{
    std::shared_ptr<const Splice> splice;
    std::string message;
    RecordingWishes wishes;
    std::optional<Signature> newIdentity;
    bool setsWorkAside = false;  ///< Uncommitted work is kept away until it is asked for.
    bool mustChange = false;     ///< A commit that changes nothing is refused.
};
/// Errors: those of recordingPlanOf() and recordSplice(); `invalidInput` (Reason::changesNothing).
[[nodiscard]] Result<Recorded> recordInPlace(const PlaceAddress& address,
                                             const RecordRequest& request,
                                             const ProgressSink& progress,
                                             const std::stop_token& stop);
}  // namespace rope
