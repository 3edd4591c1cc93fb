// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/splice_tasks.h"

#include "core/history/divergence.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/relative_time.h"

#include <QCoreApplication>

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
    if (standing.ref != plan.oursRef || standing.tip != plan.ours) {
        return Error{
            ErrorCode::stale, plan.oursName, "now at " + standing.tip.hex(), Reason::lineMoved};
    }
    return keepAlive(*place, plan);
}

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
        TRY_ASSIGN(facts.versions.base, readVersion(snapshots, file.base));
        TRY_ASSIGN(facts.versions.ours, readVersion(snapshots, file.ours));
        TRY_ASSIGN(facts.versions.theirs, readVersion(snapshots, file.theirs));
        if (file.question->kind == QuestionKind::submodule) {
            addSubmodule(*place, file, now, stop, facts.versions);
        }
    }
    return facts;
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
    return recordSplice(*place, *journal, request.splice, request.plan, progress, stop);
}
}  // namespace rope
