// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/course/splice_tasks.h"

#include "core/history/divergence.h"
#include "core/join/since_when.h"
#include "core/plan/carried_work.h"
#include "core/plan/recording_plan.h"
#include "core/system/edited_tree.h"
#include "core/system/tree_difference.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"

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

Status handBackInPlace(const PlaceAddress& address, const std::string& splice, const HandBack& work)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(auto journal, journalOf(*place));
    return handBack(*place, *journal, splice, work);
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
                               const LegStanding& laid,
                               const FileOutcome& file,
                               std::int64_t now,
                               const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    Overlay snapshots(*place, *leg->held);
    FileFacts facts;
    if (file.text) {
        TRY_ASSIGN(const auto chunks, findLegAuthors(*place, *forecast, *leg, laid, file, stop));
        for (const PlaceAuthors& authors : chunks) {
            facts.chunks.push_back({inWords(authors.ours, now), inWords(authors.theirs, now)});
        }
    }
    if (file.question) {
        TRY_ASSIGN(const PlaceAuthors whole,
                   findLegFileAuthors(*place, *forecast, laid, file, stop));
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
                   {tr("the result"), tr("as it will be recorded"), {}, tr("the merged commit")}};
    if (file.text) {
        facts.chunks.assign(file.text->chunks().size(), facts.whole);
    }
    if (file.question) {
        TRY(addVersions(*place, snapshots, file, 0, stop, facts.versions));
    }
    return facts;
}

Result<QString> sinceWords(const PlaceAddress& address,
                           SinceOf whose,
                           const std::shared_ptr<const Forecast>& forecast,
                           const FileOutcome& file,
                           std::size_t region,
                           std::int64_t now,
                           const std::stop_token& stop)
{
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    SinceWhen since;
    if (whose == SinceOf::ground) {
        TRY_ASSIGN(since.theirs, findSinceWhenLaid(*place, *forecast, file, region, stop));
    } else {
        TRY_ASSIGN(since, findSinceWhen(*place, *forecast, file, region, stop));
    }
    const auto tr = [](const char* text) {
        return QCoreApplication::translate("Since", text);
    };
    QStringList lines;
    for (const auto& [side, commit] :
         {std::pair(tr("theirs"), since.theirs), std::pair(tr("ours"), since.ours)}) {
        if (commit) {
            const SideFacts facts = inWords(commit, now);
            lines << (lines.isEmpty() ? tr("The conflict started with %1 (%2, %3)")
                                      : tr("and with %1 (%2, %3)"))
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

Result<std::optional<JoinedWork>> joinWork(const PlaceAddress& address,
                                           const SplicePlan& plan,
                                           const WorkGround& ground,
                                           const std::optional<ObjectId>& known,
                                           const std::stop_token& stop)
{
    const auto& result = ground.decided->get();
    if (!result) {
        return std::optional<JoinedWork>();
    }
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
            return std::optional(JoinedWork{*known, nullptr});
        }
    }
    if (joined.work.isNull()) {
        return std::optional(std::move(joined));
    }
    TRY_ASSIGN(const auto journal, journalOf(*place));
    TRY(place->keepAlive(journal->keptName(plan.id, "work"), joined.work));
    TRY_ASSIGN(Join join, joinCarriedWork(*place, joined.work, *result, stop, ground.held));
    joined.join = std::make_shared<const Join>(std::move(join));
    return std::optional(std::move(joined));
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
    const std::string& splice = request.splice->plan().id;
    TRY_ASSIGN(RecordingPlan plan,
               recordingPlanOf(*request.splice, request.message, request.wishes));
    TRY_ASSIGN(auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const std::string folder, place->privateFolder());
    TRY_ASSIGN(auto journal, Journal::open(folder));
    if (request.newIdentity) {
        TRY(place->setIdentity(request.newIdentity->name, request.newIdentity->email));
    }
    if (request.mustChange && plan.commits.size() == 1) {
        TRY_ASSIGN(const auto below, place->readCommits({&plan.expected, 1}));
        TRY_ASSIGN(const ObjectId tree, idOfResult(*place, plan.commits.front().result));
        if (tree == below.front().tree) {
            return Error{ErrorCode::invalidInput, plan.lineName, {}, Reason::changesNothing};
        }
    }
    if (request.setsWorkAside) {
        TRY_ASSIGN(plan.work, place->saveWork(kWorkMessage));
        TRY(journal->setWork(splice, WorkChoice::setAside, plan.work));
    }
    return recordSplice(*place, *journal, splice, plan, progress, stop);
}
}  // namespace rope
