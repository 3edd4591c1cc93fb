// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_begun_rebase.cpp, tst_window.cpp and tst_logbook_round.cpp.
#include "desktop/course/prepared_splice.h"

#include "core/plan/begun_splice.h"

#include <algorithm>

namespace rope {
Result<std::shared_ptr<const SurveyForecast>> spliceForecast(const PlaceAddress& address,
                                                             const SplicePlan& plan,
                                                             const ProgressSink& progress,
                                                             const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    if (plan.kind != SpliceKind::revert && plan.kind != SpliceKind::pick) {
        return surveyForecast(*place, address, plan.ours, plan.theirs, progress, stop);
    }
    place->setAsking(address.asking);
    place->setMissingBytes({address.permissions.fetchesMissing, progress, stop});
    auto survey = std::make_shared<SurveyForecast>();
    const auto forecast = plan.kind == SpliceKind::pick ? forecastPick : forecastRevert;
    TRY_ASSIGN(survey->forecast, forecast(*place, plan.ours, plan.theirs, progress, stop));
    TRY_ASSIGN(survey->oursCommits, readListed(*place, survey->forecast.divergence.oursOnly));
    return std::shared_ptr<const SurveyForecast>(std::move(survey));
}

namespace {
Error lineMoved(const std::string& name, const ObjectId& now)
{
    return {ErrorCode::stale, name, "now at " + now.hex(), Reason::lineMoved};
}

/// Whether the line still stands where the plan was made for it.
Status checkLine(Place& place, const SplicePlan& plan)
{
    TRY_ASSIGN(const Standing standing, place.standing());
    if (plan.workChoice == WorkChoice::filesStay) {
        TRY_ASSIGN(const ObjectId tip, place.resolveCommit(plan.oursRef));
        return standing.ref == plan.oursRef || tip != plan.expected()
                   ? Status(lineMoved(plan.oursName, tip))
                   : ok();
    }
    return standing.ref != plan.oursRef || standing.tip != plan.expected()
               ? Status(lineMoved(plan.oursName, standing.tip))
               : ok();
}

/// Work that was set aside comes back to files that nothing else was changed in.
Status checkFilesAreFree(Place& place, const SplicePlan& plan)
{
    TRY_ASSIGN(const auto files, place.uncommittedFiles());
    const bool isInTheWay = std::any_of(
        files.begin(), files.end(), [](const UncommittedFile& file) { return !file.isUntracked; });
    return isInTheWay ? Status(Error{ErrorCode::stale, plan.oursName, {}, Reason::workInTheWay})
                      : ok();
}

Error begunChanged()
{
    return {ErrorCode::stale, {}, {}, Reason::begunChanged};
}

/// The begun join of a plan that finishes one; nothing where it is not there any more.
Result<std::optional<BegunJoin>> begunJoinOf(Place& place, const SplicePlan& plan)
{
    if (plan.begun.empty()) {
        return std::optional<BegunJoin>();
    }
    TRY_ASSIGN(auto begun, place.begunJoin());
    return begun && isToFinish(plan, *begun) ? std::move(begun) : std::optional<BegunJoin>();
}

/// What the journal knows of other splices. It must live as long as what is returned.
Result<SpliceMemory> memoryIn(Journal& journal, const std::string& splice)
{
    TRY_ASSIGN(const auto entries, journal.splices(SpliceState::recorded));
    SpliceMemory memory;
    for (const JournalEntry& entry : entries) {
        memory.recorded.push_back({entry.plan, entry.recorded});
    }
    memory.decidedBefore =
        [&journal, splice](const std::string& key,
                           const std::string& loose) -> Result<std::optional<SpliceMemory::Text>> {
        TRY_ASSIGN(auto known, journal.decidedBefore(key, loose, splice));
        return known ? std::optional(
                   SpliceMemory::Text{std::move(known->text), std::move(known->source)})
                     : std::nullopt;
    };
    return memory;
}
}  // namespace

Result<PreparedSplice> prepareSplice(const PlaceAddress& address,
                                     const SpliceStart& start,
                                     const ProgressSink& progress,
                                     const std::stop_token& stop)
{
    const SplicePlan& plan = start.plan;
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const auto journal, journalOf(*place));
    TRY_ASSIGN(const SpliceMemory memory, memoryIn(*journal, plan.id));
    SpliceBuilder builder(*place, plan, start.forecast, memory, progress, stop);
    if (!plan.begun.empty()) {
        TRY_ASSIGN(auto begun, begunJoinOf(*place, plan));
        if (!begun) {
            return begunChanged();
        }
        TRY(keepAlive(*place, *journal, plan));
        TRY_ASSIGN(BegunFiles files, place->begunFiles());
        if (files.stamp != plan.begun) {
            return begunChanged();
        }
        TRY(keepFoundAlive(*place, *journal, plan, files));
        return builder.begun({std::move(*begun), std::move(files)}, start.earlier);
    }
    TRY(checkLine(*place, plan));
    if (plan.kind == SpliceKind::bringBack) {
        TRY(checkFilesAreFree(*place, plan));
    }
    TRY(keepAlive(*place, *journal, plan));
    return start.decidedIn.isNull() ? builder.fresh(start.earlier)
                                    : builder.finished(start.decidedIn);
}

Result<PreparedSplice> prepareToGoOn(const PlaceAddress& address,
                                     const SpliceStart& start,
                                     const ProgressSink& progress,
                                     const std::stop_token& stop)
{
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const auto journal, journalOf(*place));
    TRY_ASSIGN(const SpliceMemory memory, memoryIn(*journal, start.plan.id));
    TRY_ASSIGN(const auto begun, begunJoinOf(*place, start.plan));
    return SpliceBuilder(*place, start.plan, start.forecast, memory, progress, stop)
        .fresh(start.earlier, begun ? &*begun : nullptr);
}

Result<BegunWork> begunWork(const PlaceAddress& address)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(auto begun, place->begunJoin());
    if (!begun || begun->obstacle != BegunObstacle::none) {
        return begunChanged();
    }
    TRY_ASSIGN(BegunFiles files, place->begunFiles());
    return BegunWork{std::move(*begun), std::move(files)};
}
}  // namespace rope
