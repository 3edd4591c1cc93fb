// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/place_session.h"

#include "desktop/app/log.h"
#include "desktop/app/progress_text.h"
#include "desktop/wording/merge_words.h"

#include <QSettings>

#include <algorithm>

namespace rope {
namespace {
/// Allowed commands are kept with the person, not in the repository, which could allow itself.
QString settingsKeyOf(const QString& folder)
{
    return QStringLiteral("allowedPrograms/")
           + QString::fromLatin1(folder.toUtf8().toBase64(QByteArray::Base64UrlEncoding));
}

bool sameBranches(const std::vector<Branch>& a, const std::vector<Branch>& b)
{
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const auto& x, const auto& y) {
        return x.ref == y.ref && x.tip == y.tip && x.upstreamRef == y.upstreamRef;
    });
}

bool sameFiles(const std::vector<UncommittedFile>& a, const std::vector<UncommittedFile>& b)
{
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const auto& x, const auto& y) {
        return x.path == y.path && x.isUntracked == y.isUntracked;
    });
}

FactsChange changeBetween(const SurveyFacts& before, const SurveyFacts& now)
{
    FactsChange change;
    change.isStanding =
        before.standing.ref != now.standing.ref || before.standing.tip != now.standing.tip;
    change.isBranches = !sameBranches(before.branches, now.branches);
    change.isOther = !sameFiles(before.uncommitted, now.uncommitted)
                     || before.unfinished != now.unfinished || before.lastAsked != now.lastAsked
                     || before.remotes != now.remotes || before.putAway != now.putAway
                     || before.setAside != now.setAside
                     || before.programsLeftOut != now.programsLeftOut;
    return change;
}
}  // namespace

PlaceSession::PlaceSession(QObject* parent)
    : QObject(parent)
    , m_watcher(this)
    , m_looks(1, this)
    , m_forecasts(1, this)
    , m_fetches(1, this)
    , m_readings(1, this)
{
    connect(&m_watcher, &PlaceWatcher::mayHaveChanged, this, &PlaceSession::look);
}

PlacePermissions PlaceSession::storedPermissions(const QString& folder) const
{
    PlacePermissions permissions;
    for (const QString& command : QSettings().value(settingsKeyOf(folder)).toStringList()) {
        permissions.allowedPrograms.insert(command.toStdString());
    }
    return permissions;
}

void PlaceSession::open(const QString& folder)
{
    m_looks.supersede();
    m_isLooking = true;
    m_looksAgain = false;
    const PlaceAddress address{folder.toStdString(), storedPermissions(folder), m_asking};
    m_looks.run([address](const std::stop_token&) { return findPlace(address, Recovering::yes); },
                [this, folder, address](const Result<FoundPlace>& found) {
                    m_isLooking = false;
                    if (!found) {
                        logError(found.error());
                        emit openFailed(found.error());
                        return;
                    }
                    m_fetchStop.request_stop();
                    m_forecasts.supersede();
                    m_isForecasting = false;
                    m_folder = folder;
                    m_address = address;
                    m_lookedAt.clear();
                    m_facts = found->facts;
                    m_privateFolder = found->privateFolder;
                    takeFacts(*found);
                    emit opened(*found);
                    queueForecasts();
                    requestForecast(m_facts->proposedTheirs());
                });
}

void PlaceSession::takeFacts(const FoundPlace& found)
{
    QStringList folders;
    for (const std::string& watched : found.watched) {
        folders << QString::fromStdString(watched);
    }
    m_watcher.watch(folders);
    emit identityKnown(found.identity);
}

void PlaceSession::look()
{
    if (m_folder.isEmpty() || m_isPaused) {
        return;
    }
    if (m_isLooking) {
        m_looksAgain = true;
        return;
    }
    m_isLooking = true;
    m_looks.run([address = m_address](
                    const std::stop_token&) { return findPlace(address, Recovering::no); },
                [this](const Result<FoundPlace>& found) {
                    m_isLooking = false;
                    if (m_looksAgain) {
                        m_looksAgain = false;
                        look();
                    }
                    if (!found) {
                        logError(found.error());  // it may be there again at the next look
                        return;
                    }
                    if (m_isPaused) {
                        return;
                    }
                    const FactsChange change = changeBetween(*m_facts, *found->facts);
                    m_facts = found->facts;
                    if (m_privateFolder.empty()) {
                        m_privateFolder = found->privateFolder;
                    }
                    takeFacts(*found);
                    if (!change.isStanding && !change.isBranches && !change.isOther) {
                        return;
                    }
                    if (change.isStanding || change.isBranches) {
                        m_forecasts.supersede();
                        m_isForecasting = false;
                        queueForecasts();
                    }
                    emit factsChanged(change);
                });
}

void PlaceSession::setPaused(bool isPaused)
{
    m_isPaused = isPaused;
    if (!isPaused) {
        look();
    }
}

void PlaceSession::queueForecasts()
{
    m_forecastQueue.clear();
    for (const Branch& branch : m_facts->branches) {
        if (branch.ref != m_facts->standing.ref) {
            m_forecastQueue.push_back(branch.ref);
        }
    }
    std::reverse(m_forecastQueue.begin(), m_forecastQueue.end());
}

void PlaceSession::requestReading(const ObjectId& commit)
{
    m_readings.supersede();
    m_readings.run(
        [address = m_address, commit](const std::stop_token& stop) -> Result<CommitReading> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            place->setMissingBytes({true, {}, stop});
            return readCommit(*place, commit, stop);
        },
        [this](const Result<CommitReading>& reading) {
            if (reading) {
                emit readingReady(*reading);
            } else if (reading.error().code != ErrorCode::cancelled) {
                logError(reading.error());
                emit failed(reading.error());
            }
        });
}

void PlaceSession::requestChanges(std::shared_ptr<const SurveyForecast> forecast, std::size_t file)
{
    using BothReadings = std::pair<FileReading, FileReading>;
    m_readings.supersede();
    m_readings.run(
        [address = m_address, forecast = std::move(forecast), file](
            const std::stop_token& stop) -> Result<BothReadings> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            place->setMissingBytes({true, {}, stop});
            const Join& join = forecast->forecast.join;
            const FileOutcome& outcome = join.files[file];
            Overlay snapshots(*place, *join.held);
            TRY_ASSIGN(FileReading ours,
                       readChange(snapshots, {outcome.oursPath, outcome.base, outcome.ours}, stop));
            TRY_ASSIGN(
                FileReading theirs,
                readChange(snapshots, {outcome.theirsPath, outcome.base, outcome.theirs}, stop));
            return BothReadings(std::move(ours), std::move(theirs));
        },
        [this](const Result<BothReadings>& both) {
            if (both) {
                emit changesReady(both->first, both->second);
            } else if (both.error().code != ErrorCode::cancelled) {
                logError(both.error());
                emit failed(both.error());
            }
        });
}

void PlaceSession::requestForecast(const std::string& theirsRef)
{
    if (m_facts == nullptr || m_facts->branch(theirsRef) == nullptr
        || m_facts->standing.tip.isNull()) {
        return;
    }
    m_lookedAt = theirsRef;
    if (m_isForecasting && m_forecasting != theirsRef) {
        m_forecasts.supersede();
        m_isForecasting = false;
        m_forecastQueue.insert(m_forecastQueue.begin(), m_forecasting);
    }
    std::erase(m_forecastQueue, theirsRef);
    m_forecastQueue.push_back(theirsRef);
    forecastNext();
}

void PlaceSession::forecastNext()
{
    if (m_isForecasting || m_forecastQueue.empty()) {
        return;
    }
    const std::string ref = m_forecastQueue.back();
    m_forecastQueue.pop_back();
    const Branch* branch = m_facts->branch(ref);
    if (branch == nullptr) {
        forecastNext();
        return;
    }
    m_isForecasting = true;
    m_forecasting = ref;
    PlaceAddress address = m_address;
    address.permissions.fetchesMissing = ref == m_lookedAt;
    m_forecasts.run(
        [address,
         ours = m_facts->standing.tip,
         theirs = branch->tip,
         progress = progressTo(this,
                               ProgressPace::calm,
                               [this, ref](const QString& text) {
                                   if (m_isForecasting && ref == m_forecasting) {
                                       emit forecastProgressed(ref, text);
                                   }
                               })](const std::stop_token& stop) {
            return surveyForecast(address, ours, theirs, progress, stop);
        },
        [this, ref](const Result<std::shared_ptr<const SurveyForecast>>& forecast) {
            m_isForecasting = false;
            if (forecast) {
                emit forecastReady(ref, *forecast);
            } else if (forecast.error().code != ErrorCode::cancelled) {
                logError(forecast.error());
                emit forecastFailed(ref, forecast.error());
            }
            forecastNext();
        });
}

void PlaceSession::allowPrograms(const std::vector<std::string>& commands)
{
    QSettings settings;
    QStringList allowed = settings.value(settingsKeyOf(m_folder)).toStringList();
    for (const std::string& command : commands) {
        allowed << QString::fromStdString(command);
        m_address.permissions.allowedPrograms.insert(command);
    }
    allowed.removeDuplicates();
    settings.setValue(settingsKeyOf(m_folder), allowed);
    m_forecasts.supersede();
    m_isForecasting = false;
    queueForecasts();
    requestForecast(m_lookedAt);
    look();
}

void PlaceSession::fetch()
{
    if (m_isFetching || m_folder.isEmpty()) {
        return;
    }
    m_isFetching = true;
    m_fetchStop = {};
    emit fetchProgressed(tr("Asking the remote…"));
    m_fetches.runToTheEnd(
        [address = m_address,
         progress = progressTo(this,
                               ProgressPace::calm,
                               [this](const QString& text) { emit fetchProgressed(text); })](
            const std::stop_token& stop) { return fetchPlace(address, progress, stop); },
        [this, folder = m_folder](const Result<Fetched>& answer) {
            m_isFetching = false;
            emit fetchProgressed({});
            if (folder != m_folder) {
                return;  // another place was opened meanwhile
            }
            if (answer) {
                emit fetched(*answer);
            } else if (answer.error().code != ErrorCode::cancelled) {
                logError(answer.error());
                emit failed(answer.error());
            }
            look();
        },
        m_fetchStop.get_token());
}
}  // namespace rope
