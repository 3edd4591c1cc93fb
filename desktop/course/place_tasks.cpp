// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/course/place_tasks.h"

#include "core/history/arrived.h"
#include "core/join/own_files.h"
#include "core/snapshot/equal_changes.h"
#include "desktop/wording/shown_text.h"

#include <QDateTime>
#include <QDir>

#include <algorithm>

namespace rope {
namespace {
/// When each remote was last heard of: by us, or by a command.
Status readLastAsked(Place& place, Journal* journal, SurveyFacts& facts)
{
    TRY_ASSIGN(const auto remotes, place.remotes());
    TRY_ASSIGN(facts.lastAsked, place.lastAsked());
    if (journal != nullptr) {
        TRY_ASSIGN(const auto noted, journal->lastAsked());
        for (const auto& [remote, at] : noted) {
            std::int64_t& latest = facts.lastAsked[remote];
            latest = std::max(latest, at);
        }
    }
    facts.remotes = remotes;
    return ok();
}

/// Splices that a person put away and that no other one carries on.
Result<std::vector<PutAwaySplice>> putAwayIn(Journal& journal)
{
    std::vector<PutAwaySplice> splices;
    TRY_ASSIGN(const auto putAway, journal.splices(SpliceState::abandoned));
    TRY_ASSIGN(const auto carriedOn, journal.carriedOn());
    for (const JournalEntry& entry : putAway) {
        if (entry.begunBy == BegunBy::window && !carriedOn.contains(entry.plan.id)) {
            splices.push_back({entry.plan.id,
                               entry.plan.oursRef,
                               entry.plan.oursName,
                               entry.plan.theirsName,
                               entry.endedAt});
        }
    }
    return splices;
}

/// Splices whose uncommitted work was set aside and has not come back.
Result<std::vector<PutAwaySplice>> setAsideIn(Journal& journal)
{
    std::vector<PutAwaySplice> splices;
    TRY_ASSIGN(const auto recorded, journal.splices(SpliceState::recorded));
    for (const JournalEntry& entry : recorded) {
        if (entry.plan.workChoice == WorkChoice::setAside && !entry.plan.work.isNull()) {
            splices.push_back({entry.plan.id,
                               entry.plan.oursRef,
                               entry.plan.oursName,
                               entry.plan.theirsName,
                               entry.endedAt});
        }
    }
    return splices;
}

/// The branch that was picked to join into, while it is there; else the one checked out.
Standing intoOf(const SurveyFacts& facts, const std::string& picked)
{
    const Branch* branch = picked.empty() ? nullptr : facts.branch(picked);
    return branch == nullptr || branch->ref == facts.standing.ref
               ? facts.standing
               : Standing{branch->ref, branch->name, branch->tip, facts.standing.hasWorkingTree};
}

/// Whether what is joined into follows a branch with commits that it has not. Asked only where that
/// decides what is proposed.
Result<bool> hasNews(Place& place, const SurveyFacts& facts)
{
    const Branch* const own = facts.branch(facts.into.ref);
    const Branch* const followed = own == nullptr ? nullptr : facts.branch(own->upstreamRef);
    if (followed == nullptr || followed->tip == own->tip || !facts.isOwnCopy(*followed)) {
        return false;
    }
    TRY_ASSIGN(const Divergence apart, findDivergence(place, own->tip, followed->tip));
    return !apart.theirsOnly.empty();
}

Result<std::shared_ptr<const SurveyFacts>>
readFacts(Place& place, Journal* journal, const PlaceAddress& address)
{
    SurveyFacts facts;
    facts.repositoryName = shown(place.root().substr(place.root().rfind('/') + 1));
    TRY_ASSIGN(facts.standing, place.standing());
    TRY_ASSIGN(facts.branches, place.branches());
    facts.into = intoOf(facts, address.into);
    const auto always = address.always.find(facts.into.ref);
    facts.always = always == address.always.end() ? std::string() : always->second;
    TRY_ASSIGN(facts.hasNews, hasNews(place, facts));
    TRY(readLastAsked(place, journal, facts));
    if (facts.standing.hasWorkingTree) {
        TRY_ASSIGN(facts.uncommitted, place.uncommittedFiles());
        TRY_ASSIGN(facts.begun, place.begunJoin());
    }
    if (journal != nullptr) {
        TRY_ASSIGN(facts.putAway, putAwayIn(*journal));
        TRY_ASSIGN(facts.setAside, setAsideIn(*journal));
    }
    TRY_ASSIGN(facts.programsLeftOut, place.programsLeftOut());
    facts.ledTo = place.ledFrom().empty() ? std::string() : place.root();
    facts.readAt = QDateTime::currentSecsSinceEpoch();
    return std::make_shared<const SurveyFacts>(std::move(facts));
}

/// The journal, and what could be mended with it. Trouble with it is no reason not to look.
std::unique_ptr<Journal> openJournal(Place& place, FoundPlace& found, Recovering recovering)
{
    const auto folder = place.privateFolder();
    if (!folder) {
        found.trouble = folder.error();
        return nullptr;
    }
    auto journal = Journal::open(*folder);
    if (!journal) {
        found.trouble = journal.error();
        return nullptr;
    }
    if (!(*journal)->isOurs()) {
        found.trouble = Error{ErrorCode::refused, *folder, {}, Reason::begunElsewhere};
        return nullptr;
    }
    found.privateFolder = *folder;
    found.journalSetAsideAs = (*journal)->setAsideAs();
    if (recovering == Recovering::yes) {
        auto recovery = recoverRecording(place, **journal);
        if (recovery) {
            found.recovery = *recovery;
        } else {
            found.trouble = recovery.error();
        }
    }
    return std::move(*journal);
}
}  // namespace

Result<std::unique_ptr<Journal>> journalOf(Place& place)
{
    TRY_ASSIGN(const std::string folder, place.privateFolder());
    TRY_ASSIGN(auto journal, Journal::open(folder));
    if (!journal->isOurs()) {
        return Error{ErrorCode::refused, folder, {}, Reason::begunElsewhere};
    }
    return journal;
}

Result<std::vector<Commit>> readListed(Place& place, const std::vector<CommitLink>& links)
{
    std::vector<ObjectId> ids;
    for (const CommitLink& link : links) {
        if (ids.size() < kMostListedCommits) {
            ids.push_back(link.id);
        }
    }
    return place.readCommits(ids);
}

Result<FoundPlace> findPlace(const PlaceAddress& address, Recovering recovering)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    FoundPlace found;
    TRY_ASSIGN(const Standing standing, place->standing());
    std::unique_ptr<Journal> journal;
    if (standing.hasWorkingTree) {
        journal = openJournal(*place, found, recovering);
        TRY_ASSIGN(found.identity, place->identity());
        if (recovering == Recovering::yes) {
            TRY_ASSIGN(found.conventions, place->messageConventions());
            TRY_ASSIGN(found.checkSettings, place->checkSettings());
        }
    }
    TRY_ASSIGN(found.facts, readFacts(*place, journal.get(), address));
    TRY_ASSIGN(found.watched, place->watchedFolders());
    return found;
}

Result<std::set<std::string>>
arrivedLines(Place& place,
             const ObjectId& tip,
             const std::vector<std::pair<std::string, ObjectId>>& lines,
             const std::stop_token& stop)
{
    std::vector<ObjectId> tips;
    tips.reserve(lines.size());
    for (const auto& [line, commit] : lines) {
        tips.push_back(commit);
    }
    TRY_ASSIGN(const auto arrived, arrivedIn(place, tip, tips, stop));
    std::set<std::string> names;
    for (const auto& [line, commit] : lines) {
        if (arrived.contains(commit)) {
            names.insert(line);
        }
    }
    return names;
}

Result<std::shared_ptr<const SurveyForecast>> surveyForecast(Place& place,
                                                             const PlaceAddress& address,
                                                             const ObjectId& ours,
                                                             const ObjectId& theirs,
                                                             const ProgressSink& progress,
                                                             const std::stop_token& stop)
{
    place.setAsking(address.asking);
    place.setMissingBytes({address.permissions.fetchesMissing, progress, stop});
    auto survey = std::make_shared<SurveyForecast>();
    TRY_ASSIGN(survey->forecast, forecastJoin(place, ours, theirs, {}, progress, stop));
    TRY_ASSIGN(survey->oursCommits, readListed(place, survey->forecast.divergence.oursOnly));
    TRY_ASSIGN(survey->theirsCommits, readListed(place, survey->forecast.divergence.theirsOnly));
    // A remark and no more: where it cannot be made, the forecast stands all the same.
    place.setMissingBytes({});
    if (auto equal = equalChanges(place,
                                  survey->forecast.divergence.oursOnly,
                                  survey->forecast.divergence.theirsOnly,
                                  ChangeLikeness::lines,
                                  stop)) {
        survey->equalInOurs = std::move(equal).value();
    }
    const auto identity = place.identity();
    if (identity && *identity && survey->forecast.divergence.relation == Relation::diverged) {
        if (auto own = ownFiles(place, survey->oursCommits, (*identity)->email, stop)) {
            survey->ownFiles = std::move(own).value();
        }
    }
    TRY_ASSIGN(survey->programsLeftOut, place.programsLeftOut());
    return std::shared_ptr<const SurveyForecast>(std::move(survey));
}

Result<std::shared_ptr<const SurveyRebase>> surveyRebase(Place& place,
                                                         const PlaceAddress& address,
                                                         const Forecast& forecast,
                                                         const std::vector<Branch>& branches,
                                                         const std::stop_token& stop)
{
    place.setAsking(address.asking);
    place.setMissingBytes({address.permissions.fetchesMissing, {}, stop});
    auto rebase = std::make_shared<SurveyRebase>();
    TRY_ASSIGN(rebase->forecast,
               forecastRebase(place, forecast.divergence, forecast.theirs.id, {}, stop));
    TRY_ASSIGN(rebase->shared,
               sharedCommits(place, rebase->forecast.scope, forecast.ours.id, branches, stop));
    if (forecast.isClean() && rebase->forecast.openCount() == 0) {
        TRY_ASSIGN(const ResultSnapshot merged, resultTree(forecast.join, {}));
        TRY_ASSIGN(const ObjectId tree, idOfResult(place, merged));
        rebase->isAsMerge = tree == rebase->forecast.tree;
    }
    return std::shared_ptr<const SurveyRebase>(std::move(rebase));
}

namespace {
/// The longest ago of the remotes' last answers: so old is what is known of them together.
std::optional<std::int64_t> oldestAnswer(const SurveyFacts& facts)
{
    std::optional<std::int64_t> oldest;
    for (const std::string& remote : facts.remotes) {
        const auto asked = facts.lastAsked.find(remote);
        if (asked == facts.lastAsked.end()) {
            return std::nullopt;
        }
        oldest = std::min(oldest.value_or(asked->second), asked->second);
    }
    return oldest;
}

/// What the journal knows of a recent place.
Status addSplices(Journal& journal, RecentPlace& recent)
{
    for (const SpliceState state : kSpliceStates) {
        TRY_ASSIGN(const auto splices, journal.splices(state));
        recent.spliceCount += splices.size();
        if (state == SpliceState::open && !splices.empty()) {
            recent.hasOpenSplice = true;
            TRY_ASSIGN(const auto decisions, journal.decisions(splices.front().plan.id));
            recent.decided = static_cast<std::size_t>(
                std::count_if(decisions.begin(), decisions.end(), [](const Decision& decision) {
                    return decision.state.isDecided;
                }));
        }
    }
    return ok();
}
}  // namespace

Result<RecentPlace> recentPlace(const PlaceAddress& address, const std::stop_token& stop)
{
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    // Where no journal can be kept there is nothing left either.
    const auto journal = journalOf(*place);
    TRY_ASSIGN(const auto facts, readFacts(*place, journal ? journal->get() : nullptr, address));
    RecentPlace recent;
    recent.readAt = facts->readAt;
    recent.branch = facts->standing.name;
    recent.workingTree = place->workingTreeKind();
    recent.hasWorkingTree = facts->standing.hasWorkingTree;
    recent.hasCommit = !facts->standing.tip.isNull();
    recent.hasRemote = !facts->remotes.empty();
    recent.askedAt = oldestAnswer(*facts);
    recent.uncommitted = facts->uncommitted.size();
    recent.putAway = facts->putAway.size();
    if (!facts->putAway.empty()) {
        recent.putAwayTheirs = facts->putAway.front().theirsName;
        recent.putAwayAt = facts->putAway.front().putAwayAt;
    }
    const Branch* own = facts->branch(facts->standing.ref);
    const Branch* shared = own != nullptr ? facts->branch(own->upstreamRef) : nullptr;
    if (shared != nullptr) {
        recent.upstream = shared->name;
        TRY_ASSIGN(const Divergence divergence,
                   findDivergence(*place, facts->standing.tip, shared->tip, stop));
        recent.ahead = divergence.oursOnly.size();
        recent.behind = divergence.theirsOnly.size();
    }
    if (journal) {
        TRY(addSplices(**journal, recent));
    }
    return recent;
}

namespace {
/// Who sent what on one branch between two states of it.
Result<Arrival> arrivalOn(Place& place, const Branch& now, const ObjectId& before)
{
    Arrival arrival;
    arrival.branch = now.name;
    arrival.isNewBranch = before.isNull();
    if (arrival.isNewBranch) {
        return arrival;
    }
    TRY_ASSIGN(const Divergence moved, findDivergence(place, now.tip, before));
    arrival.commits = moved.oursOnly.size();
    arrival.gone = moved.theirsOnly.size();
    TRY_ASSIGN(const auto commits, readListed(place, moved.oursOnly));
    for (const Commit& commit : commits) {
        if (std::find(arrival.people.begin(), arrival.people.end(), commit.author.name)
            == arrival.people.end()) {
            arrival.people.push_back(commit.author.name);
        }
    }
    return arrival;
}

Result<std::vector<Arrival>> arrivalsSince(Place& place, const std::vector<Branch>& before)
{
    std::map<std::string, ObjectId> tips;
    for (const Branch& branch : before) {
        tips[branch.ref] = branch.tip;
    }
    std::vector<Arrival> arrivals;
    TRY_ASSIGN(const auto now, place.branches());
    for (const Branch& branch : now) {
        const ObjectId& tip = tips[branch.ref];
        if (branch.isShared && tip != branch.tip) {
            TRY_ASSIGN(Arrival arrival, arrivalOn(place, branch, tip));
            arrivals.push_back(std::move(arrival));
        }
    }
    for (const Branch& branch : before) {
        const bool isThere = std::any_of(
            now.begin(), now.end(), [&](const Branch& other) { return other.ref == branch.ref; });
        if (branch.isShared && !isThere) {
            Arrival gone;
            gone.branch = branch.name;
            gone.isGone = true;
            arrivals.push_back(std::move(gone));
        }
    }
    return arrivals;
}
}  // namespace

Result<Fetched>
fetchPlace(const PlaceAddress& address, const ProgressSink& progress, const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    place->setAsking(address.asking);
    // Where no journal can be kept, git's own traces tell when the remote answered.
    const auto journal = journalOf(*place);
    Fetched fetched;
    TRY_ASSIGN(const auto before, place->branches());
    TRY(place->fetch(
        [&](const std::string& remote) {
            fetched.remotes.push_back(remote);
            if (journal) {
                (void)(*journal)->noteAsked(remote, QDateTime::currentSecsSinceEpoch());
            }
        },
        progress,
        stop));
    TRY_ASSIGN(fetched.arrivals, arrivalsSince(*place, before));
    return fetched;
}
}  // namespace rope
