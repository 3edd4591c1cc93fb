// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/course/place_session.h"

#include "core/plan/begun_splice.h"
#include "desktop/course/log.h"
#include "desktop/course/prepared_splice.h"
#include "desktop/course/progress_text.h"

#include <QSettings>

#include <algorithm>

namespace rope {
namespace {
/// What a person has said of a place is kept with the person, not in the repository, which could say it
/// itself.
QString keyInSettings(const char* group, const QString& folder)
{
    return QLatin1String(group)
           + QString::fromLatin1(folder.toUtf8().toBase64(QByteArray::Base64UrlEncoding));
}

/// What is set to be brought in always, by own branch. Names are bytes.
std::map<std::string, std::string> storedAlways(const QString& folder)
{
    std::map<std::string, std::string> always;
    const QVariantMap stored = QSettings().value(keyInSettings("always/", folder)).toMap();
    for (auto entry = stored.begin(); entry != stored.end(); ++entry) {
        always[QByteArray::fromHex(entry.key().toLatin1()).toStdString()] =
            entry.value().toByteArray().toStdString();
    }
    return always;
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
    change.isStanding = before.standing.ref != now.standing.ref
                        || before.standing.tip != now.standing.tip
                        || before.into.ref != now.into.ref || before.into.tip != now.into.tip;
    change.isBranches = !sameBranches(before.branches, now.branches);
    change.isOther = !sameFiles(before.uncommitted, now.uncommitted) || before.begun != now.begun
                     || before.lastAsked != now.lastAsked || before.remotes != now.remotes
                     || before.putAway != now.putAway || before.setAside != now.setAside
                     || before.programsLeftOut != now.programsLeftOut || before.always != now.always
                     || before.hasNews != now.hasNews;
    return change;
}
}  // namespace

PlaceSession::PlaceSession(QObject* parent)
    : QObject(parent)
    , m_watcher(this)
    , m_looks(1, this)
    , m_forecasts(1, this)
    , m_rebases(1, this)
    , m_efforts(1, this)
    , m_arrivals(1, this)
    , m_begun(1, this)
    , m_pairs(this)
    , m_fetches(1, this)
    , m_readings(1, this)
{
    m_keptTimer.setSingleShot(true);
    m_keptTimer.setInterval(KeptPlaces::kLongest);
    connect(&m_keptTimer, &QTimer::timeout, this, [this] { m_kept->letGo(); });
    connect(&m_watcher, &PlaceWatcher::mayHaveChanged, this, &PlaceSession::look);
    connect(&m_pairs, &PairForecasts::known, this, &PlaceSession::takeBranchForecasts);
    connect(&m_pairs, &PairForecasts::done, this, [](const Status& status) {
        if (!status && status.error().code != ErrorCode::cancelled) {
            logError(status.error());  // the branch that is looked at says it aloud
        }
    });
}

PlacePermissions PlaceSession::storedPermissions(const QString& folder) const
{
    PlacePermissions permissions;
    for (const QString& command :
         QSettings().value(keyInSettings("allowedPrograms/", folder)).toStringList()) {
        permissions.allowedPrograms.insert(command.toStdString());
    }
    return permissions;
}

void PlaceSession::open(const QString& folder)
{
    m_kept->letGo();
    m_looks.supersede();
    m_isLooking = true;
    m_looksAgain = false;
    const PlaceAddress address{
        folder.toStdString(), storedPermissions(folder), m_asking, {}, storedAlways(folder)};
    m_looks.run([address](const std::stop_token&) { return findPlace(address, Recovering::yes); },
                [this, folder, address](const Result<FoundPlace>& found) {
                    m_isLooking = false;
                    if (!found) {
                        logError(found.error());
                        emit openFailed(found.error());
                        return;
                    }
                    if (m_isPaused) {  // recording began while it was read: that is seen to its end
                        emit openingPutOff(folder);
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
                    m_pairs.stop();
                    m_areBranchesWanted = true;
                    requestForecast(m_facts->proposedTheirs());
                    forecastBegun();
                    goOnWithBranches();
                });
}

void PlaceSession::useJournal(bool isOurs)
{
    m_looks.run(
        [address = m_address, isOurs](const std::stop_token&) -> Status {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            TRY_ASSIGN(const std::string folder, place->privateFolder());
            if (!isOurs) {
                TRY(Journal::setAside(folder));
                return ok();
            }
            TRY_ASSIGN(const auto journal, Journal::open(folder));
            return journal->adopt();
        },
        [this](const Status& used) {
            if (used) {
                open(m_folder);
            } else {
                logError(used.error());
                emit failed(used.error());
            }
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

std::shared_ptr<KeptPlaces> PlaceSession::keptPlaces()
{
    m_keptTimer.start();
    return m_kept;
}

void PlaceSession::look()
{
    m_kept->letGo();
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
                    const bool isLast = !m_looksAgain;
                    if (m_looksAgain) {
                        m_looksAgain = false;
                        look();
                    }
                    takeLook(found);
                    if (isLast && m_isCatchingUp && !m_isPaused) {
                        m_isCatchingUp = false;
                        emit catchingUp(false);
                    }
                });
}

void PlaceSession::takeLook(const Result<FoundPlace>& found)
{
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
        m_pairs.stop();
        m_areBranchesWanted = true;
    }
    emit factsChanged(change);  // asks for the one that is looked at
    forecastBegun();
    goOnWithBranches();
}

void PlaceSession::setPaused(bool isPaused)
{
    m_isPaused = isPaused;
    if (!isPaused && !m_folder.isEmpty()) {
        m_isCatchingUp = true;
        emit catchingUp(true);
        look();
    }
}

void PlaceSession::setInto(const std::string& ref)
{
    if (ref != m_address.into) {
        m_address.into = ref;
        look();
    }
}

void PlaceSession::forecastBegun()
{
    m_begun.supersede();
    if (!m_facts->canTakeBegun()) {
        return;
    }
    m_begun.run(
        [address = m_address, plan = planToFinish(*m_facts->begun, {})](
            const std::stop_token& stop) { return spliceForecast(address, plan, {}, stop); },
        [this](const Result<std::shared_ptr<const SurveyForecast>>& forecast) {
            if (forecast) {
                emit begunForecastReady(*forecast);
            } else if (forecast.error().code != ErrorCode::cancelled) {
                logError(forecast.error());  // it can be taken over all the same
            }
        });
}

/// Once the branch that is looked at has its forecast: it must not wait for the others.
void PlaceSession::goOnWithBranches()
{
    if (m_areBranchesWanted && !m_isForecasting) {
        m_areBranchesWanted = false;
        forecastBranches();
    }
}

/// In the order of the list; what was worked out another day is known at once.
void PlaceSession::forecastBranches()
{
    m_forecastRefs.clear();
    std::vector<CommitPair> pairs;
    if (!m_facts->into.tip.isNull()) {
        for (const Branch& branch : m_facts->branches) {
            if (branch.ref != m_facts->into.ref) {
                m_forecastRefs.push_back(branch.ref);
                pairs.push_back({m_facts->into.tip, branch.tip});
            }
        }
    }
    m_pairs.start(m_address, std::move(pairs));
    lookWhatHasArrived();
}

bool PlaceSession::hasArrived(const Branch& branch) const
{
    const auto seen = m_arrived.find(branch.ref);
    const Branch* const main = m_facts ? m_facts->branch(m_facts->teamsMain({})) : nullptr;
    return seen != m_arrived.end() && seen->second == branch.tip && main != nullptr
           && main->tip == m_arrivedIn;
}

/// In the team's main: such branches have done their work.
void PlaceSession::lookWhatHasArrived()
{
    m_arrivals.supersede();
    const Branch* const main = m_facts->branch(m_facts->teamsMain({}));
    if (main == nullptr) {
        emit arrivedKnown({}, {});
        return;
    }
    std::vector<std::pair<std::string, ObjectId>> asked;
    for (const Branch& branch : m_facts->branches) {
        if (branch.ref != main->ref && branch.upstreamRef != main->ref) {
            asked.emplace_back(branch.ref, branch.tip);
        }
    }
    m_arrivals.run(
        [kept = keptPlaces(), address = m_address, tip = main->tip, asked](
            const std::stop_token& stop) {
            return kept->use(address.folder, address.permissions, [&](Place& place) {
                return arrivedLines(place, tip, asked, stop);
            });
        },
        [this, ref = main->ref, tip = main->tip, asked](
            const Result<std::set<std::string>>& arrived) {
            if (arrived) {
                m_arrivedIn = tip;
                m_arrived.clear();
                for (const auto& [line, commit] : asked) {
                    if (arrived->contains(line)) {
                        m_arrived[line] = commit;
                    }
                }
                emit arrivedKnown(*arrived, ref);
            } else if (arrived.error().code != ErrorCode::cancelled) {
                logError(arrived.error());  // a remark, and no more
            }
        });
}

void PlaceSession::takeBranchForecasts(const PairForecasts::Known& outcomes)
{
    std::vector<std::pair<std::string, PairOutcome>> named;
    for (const auto& [pair, outcome] : outcomes) {
        named.emplace_back(m_forecastRefs[pair], outcome);
    }
    emit branchesForecast(named);
}

void PlaceSession::requestReading(const ObjectId& commit)
{
    m_readings.supersede();
    m_readings.run(
        [kept = keptPlaces(), address = m_address, commit](const std::stop_token& stop) {
            return kept->use(address.folder, address.permissions, [&](Place& place) {
                place.setMissingBytes({true, {}, stop});
                return readCommit(place, commit, stop);
            });
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
        [kept = keptPlaces(), address = m_address, forecast = std::move(forecast), file](
            const std::stop_token& stop) {
            const auto readBoth = [&](Place& place) -> Result<BothReadings> {
                place.setMissingBytes({true, {}, stop});
                const Join& join = forecast->forecast.join;
                const FileOutcome& outcome = join.files[file];
                Overlay snapshots(place, *join.held);
                TRY_ASSIGN(
                    FileReading ours,
                    readChange(snapshots, {outcome.oursPath, outcome.base, outcome.ours}, stop));
                TRY_ASSIGN(FileReading theirs,
                           readChange(snapshots,
                                      {outcome.theirsPath, outcome.base, outcome.theirs},
                                      stop));
                return BothReadings(std::move(ours), std::move(theirs));
            };
            return kept->use(address.folder, address.permissions, readBoth);
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
    const Branch* branch = m_facts == nullptr ? nullptr : m_facts->branch(theirsRef);
    if (branch == nullptr || m_facts->into.tip.isNull()) {
        return;
    }
    m_lookedAt = theirsRef;
    m_forecasts.supersede();
    m_rebases.supersede();
    m_efforts.supersede();
    m_isForecasting = true;
    PlaceAddress address = m_address;
    address.permissions.fetchesMissing = true;
    m_forecasts.run(
        [kept = keptPlaces(),
         address,
         ours = m_facts->into.tip,
         theirs = branch->tip,
         progress = progressTo(this,
                               ProgressPace::calm,
                               [this, ref = theirsRef](const QString& text) {
                                   if (ref == m_lookedAt) {
                                       emit forecastProgressed(ref, text);
                                   }
                               })](const std::stop_token& stop) {
            return kept->use(address.folder, address.permissions, [&](Place& place) {
                return surveyForecast(place, address, ours, theirs, progress, stop);
            });
        },
        [this, ref = theirsRef](const Result<std::shared_ptr<const SurveyForecast>>& forecast) {
            m_isForecasting = false;
            goOnWithBranches();
            if (forecast) {
                emit forecastReady(ref, *forecast);
            } else if (forecast.error().code != ErrorCode::cancelled) {
                logError(forecast.error());
                emit forecastFailed(ref, forecast.error());
            }
        });
}

void PlaceSession::requestEffort(const std::string& theirsRef,
                                 const std::shared_ptr<const SurveyForecast>& forecast)
{
    m_efforts.supersede();
    const Leg join(forecast, &forecast->forecast.join);
    m_efforts.run(
        [join](const std::stop_token& stop) -> std::shared_ptr<const Effort> {
            auto effort = effortOf(join, stop);
            return effort ? std::make_shared<const Effort>(std::move(*effort)) : nullptr;
        },
        [this, theirsRef](std::shared_ptr<const Effort> effort) {
            if (effort) {
                emit effortReady(theirsRef, std::move(effort));
            }
        });
}

void PlaceSession::requestRebase(const std::string& theirsRef,
                                 std::shared_ptr<const SurveyForecast> forecast)
{
    m_rebases.supersede();
    PlaceAddress address = m_address;
    address.permissions.fetchesMissing = true;
    m_rebases.run(
        [kept = keptPlaces(),
         address,
         forecast = std::move(forecast),
         branches = m_facts->branches](const std::stop_token& stop) {
            return kept->use(address.folder, address.permissions, [&](Place& place) {
                return surveyRebase(place, address, forecast->forecast, branches, stop);
            });
        },
        [this, theirsRef](const Result<std::shared_ptr<const SurveyRebase>>& rebase) {
            if (rebase) {
                emit rebaseReady(theirsRef, *rebase);
            } else if (rebase.error().code != ErrorCode::cancelled) {
                logError(rebase.error());
                emit rebaseFailed(theirsRef, rebase.error());
            }
        });
}

void PlaceSession::setAlways(const std::string& theirsRef)
{
    if (theirsRef.empty()) {
        m_address.always.erase(m_facts->into.ref);
    } else {
        m_address.always[m_facts->into.ref] = theirsRef;
    }
    QVariantMap stored;
    for (const auto& [ours, theirs] : m_address.always) {
        stored[QString::fromLatin1(QByteArray::fromStdString(ours).toHex())] =
            QByteArray::fromStdString(theirs);
    }
    QSettings().setValue(keyInSettings("always/", m_folder), stored);
    look();
}

void PlaceSession::allowPrograms(const std::vector<std::string>& commands)
{
    QSettings settings;
    QStringList allowed =
        settings.value(keyInSettings("allowedPrograms/", m_folder)).toStringList();
    for (const std::string& command : commands) {
        allowed << QString::fromStdString(command);
        m_address.permissions.allowedPrograms.insert(command);
    }
    allowed.removeDuplicates();
    settings.setValue(keyInSettings("allowedPrograms/", m_folder), allowed);
    m_areBranchesWanted = true;
    requestForecast(m_lookedAt);
    goOnWithBranches();
    look();
}

void PlaceSession::fetch(std::function<void()> then)
{
    if (m_folder.isEmpty()) {
        return;
    }
    m_afterFetch = std::move(then);
    if (m_isFetching) {
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
            const auto afterwards = std::exchange(m_afterFetch, {});
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
            if (afterwards) {
                afterwards();
            }
        },
        m_fetchStop.get_token());
}
}  // namespace rope
