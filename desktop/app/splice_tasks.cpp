// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/splice_tasks.h"

#include "desktop/wording/merge_words.h"
#include "desktop/wording/relative_time.h"

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
        return std::optional("commit " + version->id.hex() + "\n");
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
    return {QStringLiteral("%1 · %2").arg(shown(commit->author.name),
                                          relativeTime(commit->author.time, now)),
            exactTime(commit->author.time),
            QStringLiteral("%1 %2").arg(shown(commit->id.brief()), shownSubject(*commit))};
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
    TRY_ASSIGN(const auto regions, findRegionAuthors(*place, *forecast, file, stop));
    for (const RegionAuthors& authors : regions) {
        facts.regions.push_back({inWords(authors.ours, now), inWords(authors.theirs, now)});
    }
    if (file.question) {
        TRY_ASSIGN(const RegionAuthors whole, findFileAuthors(*place, *forecast, file, stop));
        facts.whole = {inWords(whole.ours, now), inWords(whole.theirs, now)};
        TRY_ASSIGN(facts.versions.base, readVersion(snapshots, file.base));
        TRY_ASSIGN(facts.versions.ours, readVersion(snapshots, file.ours));
        TRY_ASSIGN(facts.versions.theirs, readVersion(snapshots, file.theirs));
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
