// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/plan/finished_merge.h"
#include "core/plan/splice_builder.h"
#include "desktop/course/place_tasks.h"

namespace rope {
// What a splice is made of before anybody sees it: read beside the interface. As place_tasks.h.

/// The forecast that a plan was, or is to be, made of: of its two branches, or of what a revert takes out.
[[nodiscard]] Result<std::shared_ptr<const SurveyForecast>>
spliceForecast(const PlaceAddress& address,
               const SplicePlan& plan,
               const ProgressSink& progress,
               const std::stop_token& stop);

/// A splice that is to start.
struct SpliceStart
{
    SplicePlan plan;
    std::shared_ptr<const Forecast> forecast;
    EarlierDecisions earlier;  ///< Of the splice that it follows, if any.
    ObjectId decidedIn{};  ///< Of a merge that is opened again: what it holds; null: it is of none.
};
/// Makes sure that it may start now, keeps both its commits alive, and reads what it is made of.
/// Errors: those of SpliceBuilder; `stale` (Reason::lineMoved, ::begunChanged, ::workInTheWay).
[[nodiscard]] Result<PreparedSplice> prepareSplice(const PlaceAddress& address,
                                                   const SpliceStart& start,
                                                   const ProgressSink& progress,
                                                   const std::stop_token& stop);
/// As prepareSplice(), of a splice that goes on with what was decided in it.
[[nodiscard]] Result<PreparedSplice> prepareToGoOn(const PlaceAddress& address,
                                                   const SpliceStart& start,
                                                   const ProgressSink& progress,
                                                   const std::stop_token& stop);

/// What the begun join is that a splice may finish, and what its files hold.
/// Errors: `stale` (Reason::begunChanged) where there is none that can be taken over.
[[nodiscard]] Result<BegunWork> begunWork(const PlaceAddress& address);
}  // namespace rope
