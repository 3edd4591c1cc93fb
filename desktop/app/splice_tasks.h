// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/splice/laid_commits.h"
#include "core/splice/place_authors.h"
#include "desktop/app/place_tasks.h"
#include "desktop/resolve/side_facts.h"
#include "desktop/survey/commit_first_dialog.h"

namespace rope {
// What the splice session runs beside the interface. As place_tasks.h.

/// Makes sure that a splice may start now, and keeps both its commits alive.
[[nodiscard]] Status prepareSplice(const PlaceAddress& address, const SplicePlan& plan);

/// The forecast that a plan was, or is to be, made of: of its two branches, or of what a revert takes out.
[[nodiscard]] Result<std::shared_ptr<const SurveyForecast>>
spliceForecast(const PlaceAddress& address,
               const SplicePlan& plan,
               const ProgressSink& progress,
               const std::stop_token& stop);

/// What was decided in a splice, and the legs that it had then.
struct EarlierDecisions
{
    std::vector<Decision> decisions;
    std::vector<JournalLeg> legs;
};
/// What a splice is made of besides the forecast of its plan.
struct PreparedSplice
{
    std::vector<OwnedOutcome>
        oneSided;                     ///< Files that only one side changed and decisions are about.
    RebaseScope scope;                ///< What is laid anew, if anything is.
    std::vector<LaidCommit> laid;     ///< That, laid on these decisions; empty: nothing is.
    std::vector<Decision> decisions;  ///< Those made so far, by the legs that there are now.
    /// Parts of regions that somebody has begun to edit, and what was decided for such regions before.
    std::vector<OfferedText> offered;
};
/// Errors: those of reading; Reason::nothingToRewrite.
[[nodiscard]] Result<PreparedSplice> readForSplice(const PlaceAddress& address,
                                                   const SplicePlan& plan,
                                                   const std::shared_ptr<const Forecast>& forecast,
                                                   EarlierDecisions earlier,
                                                   const ProgressSink& progress,
                                                   const std::stop_token& stop);
/// What the begun join is that a splice may finish, and what its files hold.
/// Errors: `stale` (Reason::begunChanged) where there is none that can be taken over.
struct BegunWork
{
    BegunJoin join;
    std::string stamp;
};
[[nodiscard]] Result<BegunWork> begunWork(const PlaceAddress& address);
/// As readForSplice(), for one that finishes what another program began: what the files say is decided
/// comes in; where they leave something open, what was decided for it earlier.
/// Errors: `unsupported` (Reason::begunHasMore), `stale` (Reason::begunChanged).
[[nodiscard]] Result<PreparedSplice> readBegun(const PlaceAddress& address,
                                               const SplicePlan& plan,
                                               const std::shared_ptr<const Forecast>& forecast,
                                               const EarlierDecisions& earlier,
                                               const std::stop_token& stop);
/// A recorded merge that is to be opened again.
struct FinishedMerge
{
    Commit merge;
    /// Others have it, or a merge commit stands upon it: it stays, and what is decided otherwise goes on top.
    bool staysThere = false;
    ObjectId above{};  ///< Where the line stands, if that is another commit.
};
/// Errors: `notFound`; `invalidInput` for what has not two parents; `stale` (Reason::lineMoved) where the
/// line does not hold it.
[[nodiscard]] Result<FinishedMerge> finishedMerge(const PlaceAddress& address,
                                                  const ObjectId& merge,
                                                  const std::string& line,
                                                  const std::stop_token& stop);
/// As readBegun(), of a merge that is recorded: `tree` is what it holds.
[[nodiscard]] Result<PreparedSplice> readFinished(const PlaceAddress& address,
                                                  const SplicePlan& plan,
                                                  const std::shared_ptr<const Forecast>& forecast,
                                                  const ObjectId& tree,
                                                  const std::stop_token& stop);
/// Writes what is decided into the files of a begun join and puts the splice away.
[[nodiscard]] Status
handBackInPlace(const PlaceAddress& address, const std::string& splice, const HandBack& work);

/// The splice itself, with nothing decided.
[[nodiscard]] std::unique_ptr<Splice> makeSplice(const SplicePlan& plan,
                                                 const std::shared_ptr<const Forecast>& forecast,
                                                 const PreparedSplice& prepared);

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

/// Since when either side's text of a region does not fit, in words; empty where that is not known.
[[nodiscard]] Result<QString> sinceWords(const PlaceAddress& address,
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
/// `known`: the work that was joined before; where that still stands, `join` is null as well.
[[nodiscard]] Result<JoinedWork> joinWork(const PlaceAddress& address,
                                          const SplicePlan& plan,
                                          const ResultSnapshot& result,
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
                                             const Commit& rewritten,
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
    std::string splice;
    RecordingPlan plan;
    std::optional<Signature> newIdentity;
    bool setsWorkAside = false;  ///< Uncommitted work is kept away until it is asked for.
};
[[nodiscard]] Result<Recorded> recordInPlace(const PlaceAddress& address,
                                             const RecordRequest& request,
                                             const ProgressSink& progress,
                                             const std::stop_token& stop);
}  // namespace rope
