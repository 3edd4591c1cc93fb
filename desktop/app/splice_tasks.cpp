// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/splice_tasks.h"

#include "core/history/divergence.h"
#include "core/splice/begun_decisions.h"
#include "core/splice/begun_splice.h"
#include "core/splice/carried_commits.h"
#include "core/splice/carried_work.h"
#include "core/splice/recording_plan.h"
#include "core/splice/since_when.h"
#include "core/system/tree_difference.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/relative_time.h"

#include <QCoreApplication>

#include <algorithm>

namespace rope {
namespace {
constexpr std::uint64_t kMostShownBytes =
    20'000'000;  // of a version that is asked about as a whole

/// A version's bytes; a submodule has none here, and of a very large file only its size is told.
Result<std::optional<std::string>> readVersion(Snapshots& snapshots,
                                               const std::optional<FileVersion>& version)
{
    if (!version) {
        return std::optional<std::string>{};
    }
    if (version->kind == EntryKind::submodule) {
        return std::optional<std::string>{};
    }
    const ObjectId ids[] = {version->id};
    const auto sizes = snapshots.blobSizes(ids);
    if (!sizes && sizes.error().code == ErrorCode::notFound) {
        return std::optional<std::string>{};  // of a base that was joined from several, in memory
    }
    if (!sizes) {
        return sizes.error();
    }
    if (sizes->front() > kMostShownBytes) {
        return std::optional("(" + std::to_string(sizes->front())
                             + " bytes: too large to be shown here)\n");
    }
    TRY_ASSIGN(const auto blobs, snapshots.readBlobs(ids, kAnySize));
    return std::optional(*blobs.front());
}

SideFacts inWords(const std::optional<Commit>& commit, std::int64_t now)
{
    if (!commit) {
        return {};
    }
    const QString name = shown(commit->author.name);
    return {name,
            QStringLiteral("%1 · %2").arg(name, relativeTime(commit->author.time, now)),
            exactTime(commit->author.time),
            QStringLiteral("%1 %2").arg(shown(commit->id.brief()), shownSubject(*commit))};
}
/// A commit of a submodule; its id alone where its history is not here.
QString
submoduleCommit(Place* submodule, const std::optional<FileVersion>& version, std::int64_t now)
{
    if (!version || version->kind != EntryKind::submodule) {
        return {};
    }
    const ObjectId ids[] = {version->id};
    if (submodule != nullptr) {
        if (const auto commits = submodule->readCommits(ids)) {
            const SideFacts facts = inWords(commits->front(), now);
            return QStringLiteral("%1\n%2").arg(facts.commit, facts.who);
        }
    }
    return QCoreApplication::translate("Submodule", "%1, which is not here")
        .arg(shown(version->id.brief()));
}

QString submoduleRelation(Place& submodule, const FileOutcome& file, const std::stop_token& stop)
{
    const auto tr = [](const char* text) {
        return QCoreApplication::translate("Submodule", text);
    };
    const auto found = findDivergence(submodule, file.ours->id, file.theirs->id, stop);
    if (!found) {
        return tr("How the two commits lie to each other is not known: the submodule's own history "
                  "is not complete here.");
    }
    switch (found->relation) {
    case Relation::same:
        return tr("Both name the same commit.");
    case Relation::oursAhead:
        return tr("Ours contains theirs, and %1 more.")
            .arg(countOf(found->oursOnly.size(), "commit", "commits"));
    case Relation::theirsAhead:
        return tr("Theirs contains ours, and %1 more.")
            .arg(countOf(found->theirsOnly.size(), "commit", "commits"));
    case Relation::diverged:
        return tr("Neither contains the other: ours has %1 of its own, theirs %2.")
            .arg(countOf(found->oursOnly.size(), "commit", "commits"))
            .arg(found->theirsOnly.size());
    case Relation::unrelated:
        break;
    }
    return tr("The two have no commit in common.");
}

/// What can be said of a submodule that both sides moved.
void addSubmodule(Place& place,
                  const FileOutcome& file,
                  std::int64_t now,
                  const std::stop_token& stop,
                  FileVersions& versions)
{
    const auto submodule = place.openSubmodule(file.oursPath);
    Place* const own = submodule ? submodule->get() : nullptr;
    versions.baseCommit = submoduleCommit(own, file.base, now);
    versions.oursCommit = submoduleCommit(own, file.ours, now);
    versions.theirsCommit = submoduleCommit(own, file.theirs, now);
    if (own != nullptr && file.ours && file.theirs) {
        versions.relation = submoduleRelation(*own, file, stop);
    }
}
}  // namespace

Status prepareSplice(const PlaceAddress& address, const SplicePlan& plan)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const Standing standing, place->standing());
    if (!plan.begun.empty()) {
        TRY_ASSIGN(const auto begun, place->begunJoin());
        return begun && isToFinish(plan, *begun)
                   ? keepAlive(*place, plan)
                   : Status(Error{ErrorCode::stale, {}, {}, Reason::begunChanged});
    }
    if (plan.workChoice == WorkChoice::filesStay) {
        TRY_ASSIGN(const ObjectId tip, place->resolveCommit(plan.oursRef));
        if (standing.ref == plan.oursRef || tip != plan.expected()) {
            return Error{ErrorCode::stale, plan.oursName, "now at " + tip.hex(), Reason::lineMoved};
        }
        return keepAlive(*place, plan);
    }
    if (standing.ref != plan.oursRef || standing.tip != plan.expected()) {
        return Error{
            ErrorCode::stale, plan.oursName, "now at " + standing.tip.hex(), Reason::lineMoved};
    }
    if (plan.kind == SpliceKind::bringBack) {
        TRY_ASSIGN(const auto files, place->uncommittedFiles());
        if (std::any_of(files.begin(), files.end(), [](const UncommittedFile& file) {
                return !file.isUntracked;
            })) {
            return Error{ErrorCode::stale, standing.name, {}, Reason::workInTheWay};
        }
    }
    return keepAlive(*place, plan);
}

Result<std::shared_ptr<const SurveyForecast>> spliceForecast(const PlaceAddress& address,
                                                             const SplicePlan& plan,
                                                             const ProgressSink& progress,
                                                             const std::stop_token& stop)
{
    if (plan.kind != SpliceKind::revert && plan.kind != SpliceKind::pick) {
        return surveyForecast(address, plan.ours, plan.theirs, progress, stop);
    }
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    place->setAsking(address.asking);
    place->setMissingBytes({address.permissions.fetchesMissing, progress, stop});
    auto survey = std::make_shared<SurveyForecast>();
    const auto forecast = plan.kind == SpliceKind::pick ? forecastPick : forecastRevert;
    TRY_ASSIGN(survey->forecast, forecast(*place, plan.ours, plan.theirs, progress, stop));
    TRY_ASSIGN(survey->oursCommits, readListed(*place, survey->forecast.divergence.oursOnly));
    return std::shared_ptr<const SurveyForecast>(std::move(survey));
}

namespace {
/// Whether commits are laid upon a join, rather than upon theirs.
bool laysUponJoin(const SplicePlan& plan, const RebaseScope& scope)
{
    return !scope.commits.empty() && plan.kind != SpliceKind::rebase;
}

/// What a plan lays anew; empty: nothing.
Result<RebaseScope>
scopeOf(Place& place, const SplicePlan& plan, const Forecast& forecast, const std::stop_token& stop)
{
    if (!plan.begun.empty()) {
        TRY_ASSIGN(const auto begun, place.begunJoin());
        if (begun && isToFinish(plan, *begun)) {
            return scopeOfBegun(place, *begun);
        }
    }
    RebaseScope scope;
    if (plan.kind == SpliceKind::rebase) {
        TRY_ASSIGN(scope, rebaseScope(place, forecast.divergence, plan.theirs, stop));
    }
    TRY(addCarriedCommits(place, plan, scope, stop));
    return scope;
}

/// Commits may have another leg now than they had when something was decided in them.
void moveToLegs(std::vector<Decision>& decisions,
                const std::vector<JournalLeg>& before,
                const SplicePlan& plan,
                const RebaseScope& scope)
{
    const std::size_t first = laysUponJoin(plan, scope) ? 1 : 0;
    const auto placeOf = [&](std::size_t leg) {
        if (leg >= before.size()) {
            return first + scope.commits.size();  // carried work
        }
        if (leg < first) {
            return leg;
        }
        const auto now = std::find_if(
            scope.commits.begin(), scope.commits.end(), [&](const CommitToRewrite& rewritten) {
                return rewritten.commit.id.brief() == before[leg].ours.label;
            });
        return now == scope.commits.end()
                   ? ~std::size_t{0}
                   : first + static_cast<std::size_t>(now - scope.commits.begin());
    };
    for (Decision& decision : decisions) {
        decision.leg = placeOf(decision.leg);
    }
    // Those of commits that are not written anew any more have no place.
    std::erase_if(decisions, [](const auto& decision) { return decision.leg == ~std::size_t{0}; });
}

/// Lays what stands upon a commit that is recorded anew on what its join and the decisions make.
Status layUponJoin(Place& place,
                   const SplicePlan& plan,
                   const std::shared_ptr<const Forecast>& forecast,
                   const ProgressSink& progress,
                   const std::stop_token& stop,
                   PreparedSplice& prepared)
{
    if (!laysUponJoin(plan, prepared.scope)) {
        return ok();
    }
    const Leg join(forecast, &forecast->join);
    TRY_ASSIGN(prepared.laid,
               layCommits(place,
                          {prepared.scope, prepared.decisions, {}, join, prepared.oneSided},
                          progress,
                          stop));
    return ok();
}
}  // namespace

namespace {
/// What was decided for regions like those of a join: in splices that were left, and in the history.
Result<std::vector<OfferedText>>
decidedBefore(Place& place, const SplicePlan& plan, const Forecast& forecast)
{
    TRY_ASSIGN(auto journal, journalOf(place));
    // The places are those of a splice; this one is thrown away.
    const Splice splice(plan, std::shared_ptr<const Forecast>(std::shared_ptr<void>(), &forecast));
    std::vector<OfferedText> offered;
    for (std::size_t i = 0; i < splice.files().size(); ++i) {
        const auto& text = splice.files()[i].text;
        for (std::size_t region = 0; text && region < text->join().regionCount(); ++region) {
            TRY_ASSIGN(auto known,
                       journal->decidedBefore(text->join().regionKey(region),
                                              text->join().looseRegionKey(region),
                                              plan.id));
            if (known) {
                offered.push_back({{i, text->slotOfRegion(region)},
                                   std::move(known->text),
                                   std::move(known->source)});
            }
        }
    }
    return offered;
}
}  // namespace

namespace {
/// Lays the commits of a rebase on what is decided so far. Files that only one side changed are taken up in
/// the first of them.
Result<PreparedSplice> layRebase(Place& place,
                                 PreparedSplice prepared,
                                 const ProgressSink& progress,
                                 const std::stop_token& stop)
{
    LayRequest request{prepared.scope, prepared.decisions, {}, {}, prepared.oneSided};
    TRY_ASSIGN(prepared.laid, layCommits(place, request, progress, stop));
    const Join& first = *prepared.laid.front().leg;
    std::vector<Decision> ofFirst;
    for (const Decision& decision : prepared.decisions) {
        if (decision.leg == 0) {
            ofFirst.push_back(decision);
        }
    }
    Overlay snapshots(place, *first.held);
    TRY_ASSIGN(prepared.oneSided, oneSidedOutcomesOf(snapshots, first, ofFirst));
    if (prepared.oneSided.size() != request.oneSided.size()) {
        request.oneSided = prepared.oneSided;
        for (const LaidCommit& laid : prepared.laid) {
            request.known.push_back(laid.leg);
        }
        TRY_ASSIGN(prepared.laid, layCommits(place, request, progress, stop));
    }
    return prepared;
}
}  // namespace

Result<PreparedSplice> readForSplice(const PlaceAddress& address,
                                     const SplicePlan& plan,
                                     const std::shared_ptr<const Forecast>& forecast,
                                     EarlierDecisions earlier,
                                     const ProgressSink& progress,
                                     const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    PreparedSplice prepared;
    prepared.decisions = std::move(earlier.decisions);
    TRY_ASSIGN(prepared.scope, scopeOf(*place, plan, *forecast, stop));
    if (!prepared.scope.commits.empty()) {
        moveToLegs(prepared.decisions, earlier.legs, plan, prepared.scope);
    }
    if (plan.kind != SpliceKind::rebase) {
        Overlay snapshots(*place, *forecast->join.held);
        TRY_ASSIGN(prepared.oneSided,
                   oneSidedOutcomesOf(snapshots, forecast->join, prepared.decisions));
        TRY_ASSIGN(prepared.offered, decidedBefore(*place, plan, *forecast));
        TRY(layUponJoin(*place, plan, forecast, progress, stop, prepared));
        return prepared;
    }
    if (prepared.scope.commits.empty()) {
        return Error{
            ErrorCode::invalidInput, plan.oursName, plan.theirsName, Reason::nothingToRewrite};
    }
    return layRebase(*place, std::move(prepared), progress, stop);
}

Result<BegunWork> begunWork(const PlaceAddress& address)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const auto begun, place->begunJoin());
    if (!begun || begun->obstacle != BegunObstacle::none) {
        return Error{ErrorCode::stale, {}, {}, Reason::begunChanged};
    }
    TRY_ASSIGN(const BegunFiles files, place->begunFiles());
    return BegunWork{*begun, files.stamp};
}

namespace {
std::string inCommas(const std::vector<RepoPath>& paths)
{
    std::string list;
    for (const RepoPath& path : paths) {
        list += (list.empty() ? "" : ", ") + path;
    }
    return list;
}

/// What a splice that is thrown away says is decided.
void takeFrom(const Splice& splice, PreparedSplice& prepared)
{
    prepared.decisions = splice.decisions();
    prepared.oneSided.clear();
    for (const SpliceFile& file : splice.files()) {
        if (file.own) {
            prepared.oneSided.push_back(file.own);
        }
    }
}
}  // namespace

Result<PreparedSplice> readBegun(const PlaceAddress& address,
                                 const SplicePlan& plan,
                                 const std::shared_ptr<const Forecast>& forecast,
                                 const EarlierDecisions& earlier,
                                 const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const BegunFiles files, place->begunFiles());
    if (files.stamp != plan.begun) {
        return Error{ErrorCode::stale, {}, {}, Reason::begunChanged};
    }
    PreparedSplice prepared;
    TRY_ASSIGN(prepared.scope, scopeOf(*place, plan, *forecast, stop));
    Leg first(forecast, &forecast->join);
    if (plan.kind == SpliceKind::rebase) {
        LayRequest request{prepared.scope, {}, {}, {}, {}};
        request.scope.commits.resize(1);
        TRY_ASSIGN(const auto laid, layCommits(*place, request, {}, stop));
        first = laid.front().leg;
    }
    Overlay snapshots(*place, *first->held);
    TRY_ASSIGN(prepared.oneSided, oneSidedOutcomesOf(snapshots, *first, earlier.decisions));
    // In a splice of its own, which is thrown away: the one that a person works on is made of what it says.
    const auto splice = std::make_unique<Splice>(plan, forecast, std::vector<Leg>{first});
    for (const OwnedOutcome& outcome : prepared.oneSided) {
        splice->takeUp(outcome);
    }
    TRY_ASSIGN(BegunDecisions begun, putBegun(*splice, snapshots, files, stop));
    if (!begun.more.empty()) {
        return Error{ErrorCode::unsupported, inCommas(begun.more), {}, Reason::begunHasMore};
    }
    for (const SlotChange& change : carryOver(earlier.decisions, *splice).placed) {
        if (!splice->state(change.place).isDecided) {
            splice->put({change});
        }
    }
    takeFrom(*splice, prepared);
    prepared.offered = std::move(begun.offered);
    if (plan.kind == SpliceKind::rebase) {
        return layRebase(*place, std::move(prepared), {}, stop);
    }
    TRY(layUponJoin(*place, plan, forecast, {}, stop, prepared));
    return prepared;
}

Result<FinishedMerge> finishedMerge(const PlaceAddress& address,
                                    const ObjectId& merge,
                                    const std::string& line,
                                    const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const auto commits, place->readCommits({&merge, 1}));
    if (commits.front().parents.size() != 2) {
        return Error{ErrorCode::invalidInput, merge.brief(), {}};
    }
    TRY_ASSIGN(const ObjectId tip, place->resolveCommit(line));
    FinishedMerge found{commits.front(), false, {}};
    if (tip != merge) {
        TRY_ASSIGN(const Divergence since, findDivergence(*place, tip, merge, stop));
        if (since.relation != Relation::oursAhead) {
            return Error{ErrorCode::stale, line, "now at " + tip.hex(), Reason::lineMoved};
        }
        found.above = tip;
        found.staysThere = holdsMerge(since.oursOnly);
    }
    TRY_ASSIGN(const auto branches, place->branches());
    for (const Branch& branch : branches) {
        if (branch.isShared && !found.staysThere) {
            TRY_ASSIGN(const Divergence apart, findDivergence(*place, branch.tip, merge, stop));
            found.staysThere =
                apart.relation == Relation::same || apart.relation == Relation::oursAhead;
        }
    }
    return found;
}

Result<PreparedSplice> readFinished(const PlaceAddress& address,
                                    const SplicePlan& plan,
                                    const std::shared_ptr<const Forecast>& forecast,
                                    const ObjectId& tree,
                                    const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    Overlay snapshots(*place, *forecast->join.held);
    PreparedSplice prepared;
    const auto splice = makeSplice(plan, forecast, prepared);
    BegunFiles files;
    files.tree = tree;
    TRY_ASSIGN(const auto changes, treeDifference(*place, forecast->ours.tree, tree));
    for (const FileChange& change : changes) {
        files.settled.push_back(change.path);
    }
    TRY_ASSIGN(const BegunDecisions read, putBegun(*splice, snapshots, files, stop));
    if (!read.more.empty()) {
        return Error{ErrorCode::unsupported, inCommas(read.more), {}, Reason::begunHasMore};
    }
    takeFrom(*splice, prepared);
    TRY(addCarriedCommits(*place, plan, prepared.scope, stop));
    TRY(layUponJoin(*place, plan, forecast, {}, stop, prepared));
    return prepared;
}

Status handBackInPlace(const PlaceAddress& address, const std::string& splice, const HandBack& work)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(auto journal, journalOf(*place));
    return handBack(*place, *journal, splice, work);
}

std::unique_ptr<Splice> makeSplice(const SplicePlan& plan,
                                   const std::shared_ptr<const Forecast>& forecast,
                                   const PreparedSplice& prepared)
{
    std::vector<Leg> legs;
    std::vector<LegStanding> standings;
    for (const LaidCommit& laid : prepared.laid) {
        legs.push_back(laid.leg);
        standings.push_back(laid.standing);
    }
    auto splice =
        legs.empty()
            ? std::make_unique<Splice>(plan, forecast)
            : std::make_unique<Splice>(plan, forecast, std::move(legs), std::move(standings));
    for (const OwnedOutcome& outcome : prepared.oneSided) {
        splice->takeUp(outcome);
    }
    return splice;
}

namespace {
/// What is asked about a file as a whole: its versions, and what is known of them.
Status addVersions(Place& place,
                   Snapshots& snapshots,
                   const FileOutcome& file,
                   std::int64_t now,
                   const std::stop_token& stop,
                   FileVersions& versions)
{
    TRY_ASSIGN(versions.base, readVersion(snapshots, file.base));
    TRY_ASSIGN(versions.ours, readVersion(snapshots, file.ours));
    TRY_ASSIGN(versions.theirs, readVersion(snapshots, file.theirs));
    if (file.question->kind == QuestionKind::submodule) {
        addSubmodule(place, file, now, stop, versions);
    }
    return ok();
}
}  // namespace

Result<FileFacts> fileFacts(const PlaceAddress& address,
                            const std::shared_ptr<const Forecast>& forecast,
                            const FileOutcome& file,
                            std::int64_t now,
                            const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    Overlay snapshots(*place, *forecast->join.held);
    FileFacts facts;
    if (file.text) {
        TRY_ASSIGN(const auto chunks, findChunkAuthors(*place, *forecast, file, stop));
        for (const PlaceAuthors& authors : chunks) {
            facts.chunks.push_back({inWords(authors.ours, now), inWords(authors.theirs, now)});
        }
    }
    if (file.question) {
        TRY_ASSIGN(const PlaceAuthors whole, findFileAuthors(*place, *forecast, file, stop));
        facts.whole = {inWords(whole.ours, now), inWords(whole.theirs, now)};
        TRY(addVersions(*place, snapshots, file, now, stop, facts.versions));
    }
    return facts;
}

Result<FileFacts> legFileFacts(const PlaceAddress& address,
                               const std::shared_ptr<const Forecast>& forecast,
                               const Leg& leg,
                               const Commit& rewritten,
                               const FileOutcome& file,
                               std::int64_t now,
                               const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    Overlay snapshots(*place, *leg->held);
    FileFacts facts;
    if (file.text) {
        TRY_ASSIGN(const auto chunks,
                   findLegAuthors(*place, *forecast, *leg, rewritten, file, stop));
        for (const PlaceAuthors& authors : chunks) {
            facts.chunks.push_back({inWords(authors.ours, now), inWords(authors.theirs, now)});
        }
    }
    if (file.question) {
        TRY_ASSIGN(const PlaceAuthors whole,
                   findLegFileAuthors(*place, *forecast, rewritten, file, stop));
        facts.whole = {inWords(whole.ours, now), inWords(whole.theirs, now)};
        TRY(addVersions(*place, snapshots, file, now, stop, facts.versions));
    }
    return facts;
}

Result<FileFacts> workFileFacts(const PlaceAddress& address,
                                const Leg& leg,
                                const FileOutcome& file,
                                const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    Overlay snapshots(*place, *leg->held);
    const auto tr = [](const char* text) {
        return QCoreApplication::translate("Work", text);
    };
    FileFacts facts;
    facts.whole = {{tr("you"), tr("you, not committed yet"), {}, tr("in your files")},
                   {tr("the result"), tr("as it will be recorded"), {}, tr("the joined commit")}};
    if (file.text) {
        facts.chunks.assign(file.text->chunks().size(), facts.whole);
    }
    if (file.question) {
        TRY(addVersions(*place, snapshots, file, 0, stop, facts.versions));
    }
    return facts;
}

Result<QString> sinceWords(const PlaceAddress& address,
                           const std::shared_ptr<const Forecast>& forecast,
                           const FileOutcome& file,
                           std::size_t region,
                           std::int64_t now,
                           const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const SinceWhen since, findSinceWhen(*place, *forecast, file, region, stop));
    const auto tr = [](const char* text) {
        return QCoreApplication::translate("Since", text);
    };
    QStringList lines;
    for (const auto& [side, commit] :
         {std::pair(tr("theirs"), since.theirs), std::pair(tr("ours"), since.ours)}) {
        if (commit) {
            const SideFacts facts = inWords(commit, now);
            lines << (lines.isEmpty() ? tr("It would have joined before %1 (%2, %3)")
                                      : tr("and before %1 (%2, %3)"))
                         .arg(facts.commit, side, facts.who);
        }
    }
    return lines.join(QLatin1Char('\n'));
}

namespace {
constexpr const char* kWorkMessage = "Rope Splice: uncommitted work";

/// The tree of a commit.
Result<ObjectId> treeOf(Place& place, const ObjectId& commit)
{
    const ObjectId ids[] = {commit};
    TRY_ASSIGN(const auto commits, place.readCommits(ids));
    return commits.front().tree;
}
}  // namespace

Result<JoinedWork> joinWork(const PlaceAddress& address,
                            const SplicePlan& plan,
                            const ResultSnapshot& result,
                            const std::optional<ObjectId>& known,
                            const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    JoinedWork joined;
    TRY_ASSIGN(joined.work, place->saveWork(kWorkMessage));
    if (known && !known->isNull() && !joined.work.isNull()) {
        // Saved anew it has another name; what counts is what it holds.
        const ObjectId ids[] = {*known, joined.work};
        TRY_ASSIGN(const auto both, place->readCommits(ids));
        TRY_ASSIGN(const ObjectId stagedBefore, treeOf(*place, both[0].parents.back()));
        TRY_ASSIGN(const ObjectId stagedNow, treeOf(*place, both[1].parents.back()));
        if (both[0].tree == both[1].tree && stagedBefore == stagedNow) {
            return JoinedWork{*known, nullptr};
        }
    }
    if (joined.work.isNull()) {
        return joined;
    }
    TRY(place->keepAlive(plan.id + "/work", joined.work));
    TRY_ASSIGN(Join join, joinCarriedWork(*place, joined.work, result, stop));
    joined.join = std::make_shared<const Join>(std::move(join));
    return joined;
}

namespace {
bool looksAfterWork(const SplicePlan& plan)
{
    return plan.workChoice == WorkChoice::carry || plan.workChoice == WorkChoice::setAside;
}

/// What the files hold after they went over to a tree, with uncommitted work carried across; nothing:
/// that tree. Errors: `stale` with Reason::workClashes.
Result<std::optional<ResultSnapshot>> carriedOnto(Place& place,
                                                  const SplicePlan& plan,
                                                  const ObjectId& commit,
                                                  const std::stop_token& stop)
{
    if (plan.workChoice != WorkChoice::carry || plan.work.isNull()) {
        return std::optional<ResultSnapshot>{};
    }
    TRY_ASSIGN(const ObjectId tree, treeOf(place, commit));
    TRY_ASSIGN(const Join join, joinCarriedWork(place, plan.work, {tree, {}}, stop));
    if (!join.isClean()) {
        std::string files;
        for (const FileOutcome& file : join.files) {
            if (file.needsDecision()) {
                files += (files.empty() ? "" : ", ") + file.path;
            }
        }
        return Error{ErrorCode::stale, files, {}, Reason::workClashes};
    }
    TRY_ASSIGN(ResultSnapshot after, resultTree(join, {}));
    return std::optional(std::move(after));
}
}  // namespace

Result<Recorded> moveLine(const PlaceAddress& address,
                          JournalEntry entry,
                          const ProgressSink& progress,
                          const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(auto journal, journalOf(*place));
    if (looksAfterWork(entry.plan)) {
        TRY_ASSIGN(entry.plan.work, place->saveWork(kWorkMessage));
    }
    TRY_ASSIGN(const auto after, carriedOnto(*place, entry.plan, entry.plan.theirs, stop));
    return recordAtOnce(*place, *journal, entry, {}, movePlan(entry.plan, after), stop, progress);
}

Result<Recorded> goToLine(const PlaceAddress& address,
                          JournalEntry entry,
                          JournalEntry forward,
                          const ProgressSink& progress,
                          const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(auto journal, journalOf(*place));
    TRY_ASSIGN(entry.plan.work, place->saveWork(kWorkMessage));
    TRY_ASSIGN(const auto after, carriedOnto(*place, entry.plan, entry.plan.theirs, stop));
    TRY_ASSIGN(Recorded recorded,
               recordAtOnce(*place,
                            *journal,
                            entry,
                            {},
                            switchPlan(entry.plan, forward.plan.oursRef, after),
                            stop,
                            progress));
    if (forward.plan.theirs.isNull()) {
        return recorded;
    }
    // What was known when this was asked for may be older than what has been fetched since.
    TRY_ASSIGN(const auto branches, place->branches());
    for (const Branch& branch : branches) {
        if (branch.name == forward.plan.theirsName) {
            forward.plan.theirs = branch.tip;
        }
    }
    TRY_ASSIGN(const Divergence apart,
               findDivergence(*place, forward.plan.ours, forward.plan.theirs, stop));
    if (apart.relation != Relation::theirsAhead) {
        return recorded;
    }
    // One is there already; where it cannot be moved on, that can be done from Survey.
    auto moved = moveLine(address, std::move(forward), progress, stop);
    return moved || moved.error().reason == Reason::workNotBack ? std::move(moved)
                                                                : Result(std::move(recorded));
}

Result<ResultReading> uncommittedWork(const PlaceAddress& address, const std::stop_token& stop)
{
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const Standing standing, place->standing());
    TRY_ASSIGN(const ObjectId work, place->saveWork(kWorkMessage));
    if (work.isNull()) {
        return ResultReading{};
    }
    TRY_ASSIGN(const ObjectId before, treeOf(*place, standing.tip));
    TRY_ASSIGN(const ObjectId after, treeOf(*place, work));
    return readDifference(*place, before, after, 0, stop);
}

namespace {
/// What a commit makes of a file of which all or some changes were chosen.
Result<ResultEdit> editOf(Place& place, const FileChange& change, const ChosenFile& file)
{
    if (!file.changes || !change.before || !change.after) {
        return ResultEdit{change.path, change.after, nullptr};
    }
    const ObjectId ids[] = {change.before->id};
    TRY_ASSIGN(const auto before, place.readBlobs(ids, kAnySize));
    const auto bytes =
        std::make_shared<const std::string>(withExcerpts(Text(*before.front()), *file.changes));
    return ResultEdit{change.path, FileVersion{change.after->kind, place.idOfBlob(*bytes)}, bytes};
}
}  // namespace

Result<Recorded> commitFiles(const PlaceAddress& address,
                             JournalEntry entry,
                             const std::vector<ChosenFile>& files,
                             const std::string& message,
                             const std::optional<Signature>& newIdentity,
                             const ProgressSink& progress,
                             const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(auto journal, journalOf(*place));
    if (newIdentity) {
        TRY(place->setIdentity(newIdentity->name, newIdentity->email));
    }
    TRY_ASSIGN(entry.plan.work, place->saveWork(kWorkMessage));
    if (entry.plan.work.isNull()) {
        return Error{ErrorCode::stale, {}, {}, Reason::workChanged};
    }
    TRY_ASSIGN(const ObjectId workTree, treeOf(*place, entry.plan.work));
    TRY_ASSIGN(const ObjectId oursTree, treeOf(*place, entry.plan.ours));
    TRY_ASSIGN(const auto changes, treeDifference(*place, oursTree, workTree));
    ResultSnapshot chosen{oursTree, {}};
    for (const FileChange& change : changes) {
        const auto file = std::find_if(files.begin(), files.end(), [&](const ChosenFile& wanted) {
            return wanted.path == change.path;
        });
        if (file != files.end()) {
            TRY_ASSIGN(ResultEdit edit, editOf(*place, change, *file));
            chosen.edits.push_back(std::move(edit));
        }
    }
    TRY_ASSIGN(const RecordingPlan plan,
               ownCommitPlan(entry.plan, workTree, std::move(chosen), message));
    return recordAtOnce(*place, *journal, entry, {}, plan, stop, progress);
}

Result<Recorded> recordInPlace(const PlaceAddress& address,
                               const RecordRequest& request,
                               const ProgressSink& progress,
                               const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const std::string folder, place->privateFolder());
    TRY_ASSIGN(auto journal, Journal::open(folder));
    if (request.newIdentity) {
        TRY(place->setIdentity(request.newIdentity->name, request.newIdentity->email));
    }
    RecordingPlan plan = request.plan;
    if (request.setsWorkAside) {
        TRY_ASSIGN(plan.work, place->saveWork(kWorkMessage));
        TRY(journal->setWork(request.splice, WorkChoice::setAside, plan.work));
    }
    return recordSplice(*place, *journal, request.splice, plan, progress, stop);
}
}  // namespace rope
