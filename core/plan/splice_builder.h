// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/progress.h"
#include "core/decide/carry_over.h"
#include "core/plan/laid_commits.h"
#include "core/system/begun_join.h"

#include <functional>
#include <memory>
#include <optional>
#include <stop_token>

namespace rope {
/// What was decided in a splice, and the legs that it had then.
struct EarlierDecisions
{
    std::vector<Decision> decisions;
    std::vector<LegSnapshots> legs;
};

/// A splice that was recorded.
struct RecordedSplice
{
    SplicePlan plan;
    ObjectId recorded;
};

/// What is remembered of other splices, as far as a new one needs it.
struct SpliceMemory
{
    struct Text
    {
        std::string text;
        EarlierSource source;
    };
    std::vector<RecordedSplice> recorded;
    /// What was decided for a region like this one, by TextJoin::regionKey() and looseRegionKey(). Null:
    /// nothing is remembered. Errors: those of reading it.
    std::function<Result<std::optional<Text>>(const std::string& key, const std::string& looseKey)>
        decidedBefore;
};

/// The join that a splice may finish, and what its files hold.
struct BegunWork
{
    BegunJoin join;
    BegunFiles files;
};

/// What a splice is made of besides its plan and its forecast.
struct PreparedSplice
{
    RebaseScope scope;             ///< What is laid anew, if anything is.
    DecidedJoin decided;           ///< With those earlier decisions that found their place.
    std::vector<LaidCommit> laid;  ///< Where commits are laid anew: its legs, on these decisions.
    CarriedOver carried;           ///< What became of the earlier decisions.
};

/// Works out what a plan means: its legs, and what is decided in them already. For one plan, in one thread;
/// it is kept no longer than what it is given. Errors of all: those of reading; `cancelled`.
class SpliceBuilder
{
public:
    SpliceBuilder(Place& place,
                  const SplicePlan& plan,
                  std::shared_ptr<const Forecast> forecast,
                  const SpliceMemory& memory,
                  const ProgressSink& progress,
                  const std::stop_token& stop)
        : m_place(place)
        , m_plan(plan)
        , m_forecast(std::move(forecast))
        , m_memory(memory)
        , m_progress(progress)
        , m_stop(stop)
    {
    }

    /// Of a splice that begins, or goes on. `begun`: the begun join that it finishes, or null.
    /// Errors: also Reason::nothingToRewrite.
    [[nodiscard]] Result<PreparedSplice> fresh(EarlierDecisions earlier,
                                               const BegunJoin* begun = nullptr);
    /// Of one that finishes what another program began: what the files say is decided comes in; where they
    /// leave something open, what was decided for it earlier.
    [[nodiscard]] Result<PreparedSplice> begun(const BegunWork& work,
                                               const EarlierDecisions& earlier);
    /// Of a merge that is recorded; `tree` is what it holds.
    [[nodiscard]] Result<PreparedSplice> finished(const ObjectId& tree);

private:
    /// What is decided, by names.
    struct Draft
    {
        RebaseScope scope;
        std::vector<Decision> decisions;
        std::vector<OwnedOutcome>
            oneSided;  ///< Files that only one side changed and decisions are about.
        std::vector<LaidCommit> laid;
        std::vector<OfferedText> offered;
    };
    // Each is told of where it is written.
    [[nodiscard]] bool laysUponJoin(const RebaseScope& scope) const;
    [[nodiscard]] Result<RebaseScope> scopeOfRevert() const;
    [[nodiscard]] std::vector<SplicePlan> correctionsUpTo() const;
    [[nodiscard]] Status addWhatStandsUpon(RebaseScope& scope) const;
    [[nodiscard]] Result<RebaseScope> scope(const BegunJoin* begun) const;
    void moveToLegs(Draft& draft, const std::vector<LegSnapshots>& before) const;
    [[nodiscard]] Status layUponJoin(Draft& draft) const;
    [[nodiscard]] Status layRebase(Draft& draft) const;
    [[nodiscard]] Result<std::vector<OfferedText>> decidedBefore() const;
    [[nodiscard]] static Status
    putEarlier(DecidedJoin& decided, Snapshots& snapshots, const std::vector<Decision>& earlier);
    [[nodiscard]] Leg joinLeg() const { return {m_forecast, &m_forecast->join}; }
    [[nodiscard]] PreparedSplice built(Draft draft) const;

    Place& m_place;
    const SplicePlan& m_plan;
    std::shared_ptr<const Forecast> m_forecast;
    const SpliceMemory& m_memory;
    const ProgressSink& m_progress;
    const std::stop_token& m_stop;
};
}  // namespace rope
