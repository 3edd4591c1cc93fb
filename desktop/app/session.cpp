// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/session.h"

#include "desktop/app/background.h"
#include "desktop/app/log.h"
#include "desktop/wording/merge_words.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QPointer>
#include <QUuid>

#include <algorithm>

namespace rope {
namespace {
constexpr qint64 kProgressEveryMs = 60;
}

Session::Session(QObject* parent)
    : QObject(parent)
{
    m_pool.setMaxThreadCount(2);
}

Session::~Session()
{
    cancel();
    m_stop.request_stop();
    m_pool.waitForDone();
}

void Session::report(const Error& error)
{
    if (error.code != ErrorCode::cancelled) {
        logError(error);
        emit failed(error);
    }
}

ProgressSink Session::progressSink()
{
    // Called on a worker: at most some twenty times a second, and as a value to this thread.
    auto last = std::make_shared<qint64>(0);
    return [self = QPointer<Session>(this), last](const Progress& progress) {
        const qint64 now = QDateTime::currentMSecsSinceEpoch();
        if (now - *last < kProgressEveryMs) {
            return;
        }
        *last = now;
        QString text = shown(progress.step);
        if (progress.total > 0) {
            text += QStringLiteral(" · %1 of %2").arg(progress.done + 1).arg(progress.total);
        }
        QMetaObject::invokeMethod(
            QCoreApplication::instance(),
            [self, text] {
                if (self) {
                    emit self->progressed(text);
                }
            },
            Qt::QueuedConnection);
    };
}

void Session::open(const QString& folder)
{
    m_stop.request_stop();
    m_stop = {};
    const int generation = ++m_generation;
    runInBackground(
        this,
        m_pool,
        [path = folder.toStdString()] { return openRepository(path, true); },
        [this, folder, generation](Result<OpenedRepository> opened) {
            if (generation != m_generation) {
                return;
            }
            if (!opened) {
                logError(opened.error());
                emit openFailed(opened.error());
                return;
            }
            m_splice.reset();
            m_survey.reset();
            m_journal.reset();
            m_folder = folder;
            onOpened(std::move(opened).value());
        });
}

void Session::onOpened(OpenedRepository found)
{
    m_privateFolder = found.privateFolder;
    m_facts = found.facts;
    emit opened();
    emit identityKnown(found.identity);
    if (found.recoveryFailure) {
        report(*found.recoveryFailure);
    } else if (found.recovery) {
        const QString branch = shown(found.recovery->plan.oursName);
        emit noticed(found.recovery->isFinished
                         ? tr("A recording on %1 had been interrupted after its commit %2 was "
                              "made. It is finished now.")
                               .arg(branch, shown(found.recovery->commit.brief()))
                         : tr("A recording on %1 had been interrupted. It was undone: everything "
                              "is as before, your decisions are kept.")
                               .arg(branch));
    }
    if (!m_privateFolder.empty()) {
        auto journal = Journal::open(m_privateFolder);
        if (!journal) {
            report(journal.error());
            return;
        }
        m_journal = std::move(journal).value();
        const auto entries = m_journal->splices(SpliceState::open);
        if (!entries) {
            report(entries.error());
        } else if (!entries->empty()) {
            resume(entries->front());
        }
    }
    m_forecastQueue.clear();
    for (const Branch& branch : m_facts->branches) {
        if (branch.ref != m_facts->standing.ref) {
            m_forecastQueue.push_back(branch.ref);
        }
    }
    std::reverse(m_forecastQueue.begin(), m_forecastQueue.end());
    requestForecast(m_facts->proposedTheirs());
}

void Session::refresh()
{
    const int generation = ++m_generation;
    runInBackground(
        this,
        m_pool,
        [path = m_folder.toStdString()] { return openRepository(path, false); },
        [this, generation](Result<OpenedRepository> found) {
            if (generation != m_generation) {
                return;
            }
            if (!found) {
                report(found.error());
                return;
            }
            m_facts = found->facts;
            emit factsChanged();
            emit identityKnown(found->identity);
            m_forecastQueue.clear();
            for (const Branch& branch : m_facts->branches) {
                if (branch.ref != m_facts->standing.ref) {
                    m_forecastQueue.insert(m_forecastQueue.begin(), branch.ref);
                }
            }
            requestForecast(m_facts->proposedTheirs());
        });
}

void Session::requestForecast(const std::string& theirsRef)
{
    if (m_facts == nullptr || m_facts->branch(theirsRef) == nullptr
        || m_facts->standing.tip.isNull()) {
        return;
    }
    std::erase(m_forecastQueue, theirsRef);
    m_forecastQueue.push_back(theirsRef);
    forecastNext();
}

void Session::forecastNext()
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
    const int generation = m_generation;
    runInBackground(
        this,
        m_pool,
        [path = m_folder.toStdString(),
         ours = m_facts->standing.tip,
         theirs = branch->tip,
         progress = progressSink(),
         stop = m_stop.get_token()] { return surveyForecast(path, ours, theirs, progress, stop); },
        [this, ref, generation](Result<std::shared_ptr<const SurveyForecast>> forecast) {
            m_isForecasting = false;
            if (generation == m_generation) {
                if (forecast) {
                    emit forecastReady(ref, *forecast);
                } else if (forecast.error().code != ErrorCode::cancelled) {
                    logError(forecast.error());
                    emit forecastFailed(ref, forecast.error());
                }
            }
            forecastNext();
        });
}

std::size_t Session::carryDecisions(Splice& splice, const SplicePlan& plan)
{
    const auto earlier = m_journal->splices(SpliceState::abandoned);
    if (!earlier) {
        return 0;
    }
    for (const JournalEntry& entry : *earlier) {
        if (entry.plan.oursRef == plan.oursRef && entry.plan.theirsName == plan.theirsName) {
            const auto decisions = m_journal->decisions(entry.plan.id);
            return decisions ? splice.restore(*decisions) : 0;
        }
    }
    return 0;
}

void Session::startSplice(const std::string& theirsRef,
                          std::shared_ptr<const SurveyForecast> survey)
{
    const Branch* theirs = m_facts ? m_facts->branch(theirsRef) : nullptr;
    if (m_journal == nullptr || theirs == nullptr || survey == nullptr || m_splice) {
        return;
    }
    SplicePlan plan;
    plan.id = QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
    plan.oursRef = m_facts->standing.ref;
    plan.oursName = m_facts->standing.name;
    plan.ours = survey->forecast.ours.id;
    plan.theirsName = theirs->name;
    plan.theirs = survey->forecast.theirs.id;
    runInBackground(
        this,
        m_pool,
        [path = m_folder.toStdString(), plan] { return prepareSplice(path, plan); },
        [this, plan, survey](const Status& prepared) {
            if (!prepared) {
                report(prepared.error());
                return;
            }
            JournalEntry entry;
            entry.plan = plan;
            entry.startedAt = QDateTime::currentSecsSinceEpoch();
            if (const auto begun = m_journal->begin(plan, entry.startedAt); !begun) {
                report(begun.error());
                return;
            }
            m_survey = survey;
            auto splice = std::make_unique<Splice>(
                plan, std::shared_ptr<const Forecast>(survey, &survey->forecast));
            const std::size_t carried = carryDecisions(*splice, plan);
            if (carried > 0) {
                std::vector<Decision> decisions;
                for (const SpliceFile& file : splice->files()) {
                    decisions.push_back(
                        {file.outcome->path, std::string(kQuestionSlot), file.answer});
                    for (std::size_t slot = 0; file.text && slot < file.text->slotCount(); ++slot) {
                        decisions.push_back(
                            {file.outcome->path, file.text->key(slot), file.text->state(slot)});
                    }
                }
                if (const auto stored = m_journal->storeDecisions(plan.id, decisions); !stored) {
                    report(stored.error());
                }
                emit noticed(tr("%1 from an earlier try were carried over.")
                                 .arg(countOf(carried, "decision", "decisions")));
            }
            takeUp(std::move(splice));
            emit spliceStarted(entry);
        });
}

void Session::takeUp(std::unique_ptr<Splice> splice)
{
    m_splice = std::move(splice);
    m_splice->setDecisionSink([this](const std::vector<Decision>& decisions) {
        if (const auto stored = m_journal->storeDecisions(m_splice->plan().id, decisions);
            !stored) {
            report(stored.error());
        }
    });
}

void Session::resume(const JournalEntry& entry)
{
    if (entry.plan.ours != m_facts->standing.tip || entry.plan.oursRef != m_facts->standing.ref) {
        // What was decided is carried over when the branches are joined again from where they stand now.
        if (const auto stored = m_journal->setState(entry.plan.id, SpliceState::abandoned);
            !stored) {
            report(stored.error());
        }
        emit noticed(tr("A splice of %1 into %2 was left when the branch stood elsewhere. Its "
                        "decisions carry over when you join them again.")
                         .arg(shown(entry.plan.theirsName), shown(entry.plan.oursName)));
        return;
    }
    const int generation = m_generation;
    runInBackground(
        this,
        m_pool,
        [path = m_folder.toStdString(),
         plan = entry.plan,
         progress = progressSink(),
         stop = m_stop.get_token()] {
            return surveyForecast(path, plan.ours, plan.theirs, progress, stop);
        },
        [this, entry, generation](Result<std::shared_ptr<const SurveyForecast>> survey) {
            if (generation != m_generation || m_splice) {
                return;
            }
            const auto decisions = m_journal->decisions(entry.plan.id);
            if (!survey || !decisions) {
                report(survey ? decisions.error() : survey.error());
                return;
            }
            m_survey = *survey;
            auto splice = std::make_unique<Splice>(
                entry.plan, std::shared_ptr<const Forecast>(m_survey, &m_survey->forecast));
            (void)splice->restore(*decisions);
            takeUp(std::move(splice));
            emit spliceStarted(entry);
        });
}

void Session::abandonSplice()
{
    if (!m_splice || m_isRecording) {
        return;
    }
    m_abandonedId = m_splice->plan().id;
    if (const auto stored = m_journal->setState(m_abandonedId, SpliceState::abandoned); !stored) {
        report(stored.error());
        return;
    }
    m_splice.reset();
    m_survey.reset();
    emit spliceEnded(true);
}

void Session::bringBackAbandoned()
{
    if (m_splice || m_abandonedId.empty()) {
        return;
    }
    const auto entries = m_journal->splices(SpliceState::abandoned);
    if (!entries) {
        report(entries.error());
        return;
    }
    for (const JournalEntry& entry : *entries) {
        if (entry.plan.id == m_abandonedId) {
            if (const auto stored = m_journal->setState(m_abandonedId, SpliceState::open);
                !stored) {
                report(stored.error());
                return;
            }
            resume(entry);
        }
    }
}

void Session::setNewIdentity(const QString& name, const QString& email)
{
    m_newIdentity = Signature{name.toStdString(), email.toStdString(), 0};
}

void Session::record(const QString& message)
{
    if (!m_splice || m_isRecording || m_splice->openCount() > 0) {
        return;
    }
    m_isRecording = true;
    RecordRequest request{m_splice->plan(), m_splice->result(), message.toStdString()};
    emit progressed(tr("Recording…"));
    runInBackground(
        this,
        m_pool,
        [path = m_folder.toStdString(),
         folder = m_privateFolder,
         request = std::move(request),
         identity = m_newIdentity,
         progress = progressSink()] {
            return recordInBackground(path, folder, request, identity, progress);
        },
        [this](Result<Recorded> result) {
            m_isRecording = false;
            emit progressed({});
            if (!result) {
                report(result.error());
                if (result.error().code == ErrorCode::noIdentity) {
                    emit identityKnown(std::nullopt);
                }
                return;
            }
            m_newIdentity.reset();
            m_splice.reset();
            m_survey.reset();
            logNote("recorded " + result->commit.id.hex());
            emit recorded(*result);
            emit spliceEnded(false);
            refresh();
        });
}

void Session::requestFileFacts(std::size_t file)
{
    if (!m_splice) {
        return;
    }
    const std::shared_ptr<const Forecast> forecast(m_survey, &m_survey->forecast);
    const FileOutcome* outcome = m_splice->files()[file].outcome;
    runInBackground(
        this,
        m_pool,
        [path = m_folder.toStdString(),
         forecast,
         outcome,
         now = m_facts->readAt,
         stop = m_stop.get_token()] { return fileFacts(path, forecast, *outcome, now, stop); },
        [this, file, survey = m_survey](const Result<FileFacts>& facts) {
            if (survey != m_survey) {
                return;
            }
            if (facts) {
                emit fileFactsReady(file, *facts);
            } else if (facts.error().code != ErrorCode::cancelled) {
                logError(facts.error());  // the region can be decided without it
            }
        });
}

void Session::storeMessage(const QString& message)
{
    if (m_splice) {
        if (const auto stored = m_journal->storeMessage(m_splice->plan().id, message.toStdString());
            !stored) {
            report(stored.error());
        }
    }
}

void Session::storePlace(const std::string& station, const std::string& place)
{
    if (m_splice) {
        if (const auto stored = m_journal->storePlace(m_splice->plan().id, station, place);
            !stored) {
            report(stored.error());
        }
    }
}

void Session::fetch()
{
    if (m_isFetching || m_folder.isEmpty()) {
        return;
    }
    m_isFetching = true;
    m_fetchStop = {};
    emit progressed(tr("Asking the remote…"));
    runInBackground(
        this,
        m_pool,
        [path = m_folder.toStdString(), progress = progressSink(), stop = m_fetchStop.get_token()] {
            return fetchRepository(path, progress, stop);
        },
        [this](const Status& fetched) {
            m_isFetching = false;
            emit progressed({});
            if (!fetched) {
                report(fetched.error());
            }
            refresh();
        });
}

void Session::cancel()
{
    m_fetchStop.request_stop();
}
}  // namespace rope
