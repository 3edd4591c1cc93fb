// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/plan/laid_commits.h"
#include "core/system/begun_join.h"
#include "desktop/course/place_tasks.h"

namespace rope {
// What a splice is made of before anybody sees it: read beside the interface. As place_tasks.h.

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
/// Errors: `stale` (Reason::begunChanged).
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
/// The splice itself, with nothing decided.
[[nodiscard]] std::unique_ptr<Splice> makeSplice(const SplicePlan& plan,
                                                 const std::shared_ptr<const Forecast>& forecast,
                                                 const PreparedSplice& prepared);
}  // namespace rope
