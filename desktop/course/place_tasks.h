// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/logbook/recorder.h"
#include "core/system/factory/open_place.h"
#include "desktop/facts/recent_place.h"
#include "desktop/facts/survey_view.h"

namespace rope {
// What the place session runs beside the interface: plain functions of values, each opening the
// place for itself or given one that it has alone, so that none shares anything with another. Any thread.

/// Which place, and what may be done there.
struct PlaceAddress
{
    std::string folder;
    PlacePermissions permissions;
    Asking asking{};     ///< How remotes' questions reach the person.
    std::string into{};  ///< Full name of the branch to join into; empty: the one checked out.
    /// By full name of an own branch, the one that the person has set to be brought into it always.
    std::map<std::string, std::string> always{};
};

/// A place as it was found when it was opened.
struct FoundPlace
{
    std::shared_ptr<const SurveyFacts> facts;
    std::string privateFolder;  ///< Empty where no splice can be kept: bare, or not writable.
    std::vector<std::string>
        watched;  ///< Folders in which a change means that one should look again.
    std::optional<Signature> identity;
    MessageConventions conventions;
    CheckSettings checkSettings;
    std::optional<Recovery> recovery;  ///< A recording that had been interrupted.
    std::optional<Error> trouble;      ///< What kept splices from being looked after.
    std::string journalSetAsideAs;     ///< Not empty: the journal could not be read.
};

/// The journal of a place. Errors: `io` where none can be kept; those of Journal::open(); `refused`
/// (Reason::begunElsewhere) for one that this person's state does not know.
[[nodiscard]] Result<std::unique_ptr<Journal>> journalOf(Place& place);

/// The commits of a list, at most kMostListedCommits.
[[nodiscard]] Result<std::vector<Commit>> readListed(Place& place,
                                                     const std::vector<CommitLink>& links);

enum class Recovering { no, yes };

/// Reads where a place stands; first finishes or undoes an interrupted recording, if told to.
[[nodiscard]] Result<FoundPlace> findPlace(const PlaceAddress& address, Recovering recovering);

[[nodiscard]] Result<std::shared_ptr<const SurveyForecast>>
surveyForecast(Place& place,
               const PlaceAddress& address,
               const ObjectId& ours,
               const ObjectId& theirs,
               const ProgressSink& progress,
               const std::stop_token& stop);

/// What a rebase of the same would mean. `branches`: of the place.
[[nodiscard]] Result<std::shared_ptr<const SurveyRebase>>
surveyRebase(Place& place,
             const PlaceAddress& address,
             const Forecast& forecast,
             const std::vector<Branch>& branches,
             const std::stop_token& stop);

/// Those of the lines, by full name, whose commit lies in the history of `tip`.
[[nodiscard]] Result<std::set<std::string>>
arrivedLines(Place& place,
             const ObjectId& tip,
             const std::vector<std::pair<std::string, ObjectId>>& lines,
             const std::stop_token& stop);

/// Where a place stands and what was left in it, for the start page. Asks no remote.
[[nodiscard]] Result<RecentPlace> recentPlace(const PlaceAddress& address,
                                              const std::stop_token& stop);

/// What a fetch brought.
struct Fetched
{
    std::vector<std::string> remotes;  ///< Those that answered.
    std::vector<Arrival> arrivals;     ///< By branch, those that changed.
};
[[nodiscard]] Result<Fetched>
fetchPlace(const PlaceAddress& address, const ProgressSink& progress, const std::stop_token& stop);
}  // namespace rope
