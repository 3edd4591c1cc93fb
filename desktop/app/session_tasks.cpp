// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/session_tasks.h"

#include "core/repository/git/git_repository.h"
#include "core/snapshot/equal_changes.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/relative_time.h"

#include <QDateTime>
#include <QDir>

#include <algorithm>

namespace rope {
namespace {
constexpr std::uint64_t kMostShownBytes =
    20'000'000;  // of a version that is asked about as a whole

Result<std::shared_ptr<const SurveyFacts>> readFacts(GitRepository& repository)
{
    SurveyFacts facts;
    facts.repositoryName = QDir(QString::fromStdString(repository.root())).dirName();
    TRY_ASSIGN(facts.standing, repository.standing());
    TRY_ASSIGN(facts.branches, repository.branches());
    TRY_ASSIGN(facts.lastAsked, repository.lastAsked());
    if (facts.standing.hasWorkingTree) {
        TRY_ASSIGN(facts.uncommitted, repository.uncommittedFiles());
        TRY_ASSIGN(facts.unfinished, repository.unfinishedWork());
    }
    facts.readAt = QDateTime::currentSecsSinceEpoch();
    return std::make_shared<const SurveyFacts>(std::move(facts));
}

Result<std::vector<Commit>> readListed(Repository& repository, const std::vector<CommitLink>& links)
{
    std::vector<ObjectId> ids;
    for (const CommitLink& link : links) {
        if (ids.size() < kMostListedCommits) {
            ids.push_back(link.id);
        }
    }
    return repository.readCommits(ids);
}

/// A version's bytes; a submodule has none here, and of a very large file only its size is told.
Result<std::optional<std::string>> readVersion(Repository& repository,
                                               const std::optional<FileVersion>& version)
{
    if (!version) {
        return std::optional<std::string>{};
    }
    if (version->kind == EntryKind::submodule) {
        return std::optional("commit " + version->id.hex() + "\n");
    }
    const ObjectId ids[] = {version->id};
    const auto sizes = repository.blobSizes(ids);
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
    TRY_ASSIGN(const auto blobs, repository.readBlobs(ids, kAnySize));
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
            QStringLiteral("%1 %2").arg(shown(commit->id.brief()), shown(commit->subject()))};
}
}  // namespace

Result<OpenedRepository> openRepository(const std::string& folder, bool recovers)
{
    TRY_ASSIGN(auto repository, GitRepository::open(folder));
    OpenedRepository opened;
    TRY_ASSIGN(const Standing standing, repository->standing());
    if (standing.hasWorkingTree) {
        TRY_ASSIGN(opened.privateFolder, repository->privateFolder());
        if (recovers) {
            TRY_ASSIGN(auto journal, Journal::open(opened.privateFolder));
            auto recovery = recoverRecording(*repository, *journal);
            if (recovery) {
                opened.recovery = *recovery;
            } else {
                opened.recoveryFailure = recovery.error();
            }
        }
        TRY_ASSIGN(opened.identity, repository->identity());
    }
    TRY_ASSIGN(opened.facts, readFacts(*repository));
    return opened;
}

Result<std::shared_ptr<const SurveyForecast>> surveyForecast(const std::string& folder,
                                                             const ObjectId& ours,
                                                             const ObjectId& theirs,
                                                             const ProgressSink& progress,
                                                             const std::stop_token& stop)
{
    TRY_ASSIGN(auto repository, GitRepository::open(folder));
    auto survey = std::make_shared<SurveyForecast>();
    TRY_ASSIGN(survey->forecast, forecastJoin(*repository, ours, theirs, {}, progress, stop));
    TRY_ASSIGN(survey->oursCommits, readListed(*repository, survey->forecast.divergence.oursOnly));
    TRY_ASSIGN(survey->theirsCommits,
               readListed(*repository, survey->forecast.divergence.theirsOnly));
    // A remark and no more: where it cannot be made, the forecast stands all the same.
    if (auto equal = equalChanges(*repository,
                                  survey->forecast.divergence.oursOnly,
                                  survey->forecast.divergence.theirsOnly,
                                  stop)) {
        survey->equalInOurs = std::move(equal).value();
    }
    return std::shared_ptr<const SurveyForecast>(std::move(survey));
}

Status prepareSplice(const std::string& folder, const SplicePlan& plan)
{
    TRY_ASSIGN(auto repository, GitRepository::open(folder));
    TRY_ASSIGN(const Standing standing, repository->standing());
    if (standing.ref != plan.oursRef || standing.tip != plan.ours) {
        return Error{ErrorCode::stale, plan.oursName, "now at " + standing.tip.hex()};
    }
    TRY(repository->keepAlive(plan.id + "/ours", plan.ours));
    return repository->keepAlive(plan.id + "/theirs", plan.theirs);
}

Status releaseSplice(const std::string& folder, const std::string& splice)
{
    TRY_ASSIGN(auto repository, GitRepository::open(folder));
    TRY(repository->keepAlive(splice + "/ours", {}));
    return repository->keepAlive(splice + "/theirs", {});
}

Result<FileFacts> fileFacts(const std::string& folder,
                            const std::shared_ptr<const Forecast>& forecast,
                            const FileOutcome& file,
                            std::int64_t now,
                            const std::stop_token& stop)
{
    TRY_ASSIGN(auto repository, GitRepository::open(folder));
    FileFacts facts;
    TRY_ASSIGN(const auto regions, findRegionAuthors(*repository, *forecast, file, stop));
    for (const RegionAuthors& authors : regions) {
        facts.regions.push_back({inWords(authors.ours, now), inWords(authors.theirs, now)});
    }
    if (file.question) {
        TRY_ASSIGN(const RegionAuthors whole, findFileAuthors(*repository, *forecast, file, stop));
        facts.whole = {inWords(whole.ours, now), inWords(whole.theirs, now)};
        TRY_ASSIGN(facts.versions.base, readVersion(*repository, file.base));
        TRY_ASSIGN(facts.versions.ours, readVersion(*repository, file.ours));
        TRY_ASSIGN(facts.versions.theirs, readVersion(*repository, file.theirs));
    }
    return facts;
}

Result<Recorded> recordInBackground(const std::string& folder,
                                    const std::string& privateFolder,
                                    const RecordRequest& request,
                                    const std::optional<Signature>& newIdentity,
                                    const ProgressSink& progress)
{
    TRY_ASSIGN(auto repository, GitRepository::open(folder));
    TRY_ASSIGN(auto journal, Journal::open(privateFolder));
    if (newIdentity) {
        TRY(repository->setIdentity(newIdentity->name, newIdentity->email));
    }
    return recordSplice(*repository, *journal, request, progress);
}

Status fetchRepository(const std::string& folder,
                       const ProgressSink& progress,
                       const std::stop_token& stop)
{
    TRY_ASSIGN(auto repository, GitRepository::open(folder));
    return repository->fetch(progress, stop);
}
}  // namespace rope
