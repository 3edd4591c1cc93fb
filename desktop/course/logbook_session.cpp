// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_logbook_round.cpp.
#include "desktop/course/logbook_session.h"

#include "desktop/course/log.h"

#include <QCoreApplication>
#include <QPointer>
#include <QTimer>

namespace rope {
LogbookSession::LogbookSession(PlaceSession& place, QObject* parent)
    : QObject(parent)
    , m_place(place)
    , m_reader(1, this)
    , m_learner(1, this)
    , m_looks(1, this)
    , m_details(1, this)
{
    connect(&m_place, &PlaceSession::opened, this, &LogbookSession::onOpened);
    connect(&m_place, &PlaceSession::factsChanged, this, &LogbookSession::onFactsChanged);
}

/// What was decided before is learned a while after the opening: that has other things to do first.
void LogbookSession::onOpened()
{
    constexpr int kLearnAfterMs = 1500;
    m_reader.supersede();
    ++m_readings;
    m_learner.supersede();
    m_merges.clear();
    m_named.clear();
    m_progress = {};
    m_readFrom = {};
    tellMerges();
    QTimer::singleShot(kLearnAfterMs, this, [this, folder = m_place.folder()] {
        if (m_place.folder() != folder || m_place.privateFolder().empty()) {
            return;
        }
        m_learner.run([address = m_place.address()](
                          const std::stop_token& stop) { return learnFromMerges(address, stop); },
                      [](const Status& learned) {
                          if (!learned && learned.error().code != ErrorCode::cancelled) {
                              logError(learned.error());
                          }
                      });
    });
}

/// Where the checked-out line has moved, its history is another one.
void LogbookSession::onFactsChanged(const FactsChange& change)
{
    if (change.isStanding && m_place.facts()->standing.tip != m_readFrom && !m_readFrom.isNull()) {
        m_reader.supersede();
        ++m_readings;
        m_merges.clear();
        m_progress = {};
        m_readFrom = {};
        tellMerges();
    }
}

void LogbookSession::tellMerges()
{
    std::vector<ReadMergeRow> all = m_named;
    all.insert(all.end(), m_merges.begin(), m_merges.end());
    emit mergesRead(all, m_progress);
}

void LogbookSession::readMerges()
{
    const auto facts = m_place.facts();
    if (!facts || m_progress.isRunning
        || (m_readFrom == facts->standing.tip && m_progress.read >= m_progress.total)) {
        return;
    }
    m_readFrom = facts->standing.tip;
    m_progress.isRunning = true;
    const MergeSink sink = [self = QPointer<LogbookSession>(this), reading = ++m_readings](
                               std::vector<ReadMergeRow> rows, std::size_t total) {
        QMetaObject::invokeMethod(
            QCoreApplication::instance(),
            [self, reading, rows = std::move(rows), total] {
                if (self && self->m_readings == reading) {
                    self->m_merges.insert(self->m_merges.end(), rows.begin(), rows.end());
                    self->m_progress.total = total;
                    self->m_progress.read = self->m_merges.size();
                    self->tellMerges();
                }
            },
            Qt::QueuedConnection);
    };
    m_reader.run(
        [address = m_place.address(), known = m_merges.size(), sink](const std::stop_token& stop) {
            return rope::readMerges(address, known, sink, stop);
        },
        [this](const Status& read) {
            m_progress.isRunning = false;
            if (read) {  // what could not be read is not to go any more
                m_progress.total = m_merges.size();
            } else if (read.error().code != ErrorCode::cancelled) {
                logError(read.error());
            }
            tellMerges();
        });
    tellMerges();
}

void LogbookSession::toggleReading()
{
    if (m_progress.isRunning) {
        m_reader.supersede();
        ++m_readings;
        m_progress.isRunning = false;
        tellMerges();
    } else {
        readMerges();
    }
}

void LogbookSession::readNamed(const QString& name)
{
    m_details.supersede();
    m_details.run([address = m_place.address(), name = name.toStdString()](
                      const std::stop_token& stop) { return readNamedMerge(address, name, stop); },
                  [this](const Result<ReadMergeRow>& row) {
                      if (row) {
                          m_named.insert(m_named.begin(), *row);
                          tellMerges();
                      } else if (row.error().code != ErrorCode::cancelled) {
                          emit failed(row.error());
                      }
                  });
}

void LogbookSession::readMerge(const ObjectId& merge)
{
    m_details.supersede();
    m_details.run(
        [address = m_place.address(), merge, into = m_place.facts()->into](
            const std::stop_token& stop) { return readMergeDetails(address, merge, into, stop); },
        [this](const Result<LoggedDetails>& details) {
            if (details) {
                emit detailsReady(*details);
            } else if (details.error().code != ErrorCode::cancelled) {
                logError(details.error());
                emit failed(details.error());
            }
        });
}

void LogbookSession::deleteKept(const KeptWork& kept)
{
    m_details.run([address = m_place.address(),
                   kept](const std::stop_token&) { return letGoKept(address, kept); },
                  [this, kept](const Status& gone) {
                      if (gone) {
                          emit keptDeleted(kept);
                          look();
                      } else {
                          emit failed(gone.error());
                      }
                  });
}

void LogbookSession::keepAgain(const KeptWork& kept)
{
    m_details.run([address = m_place.address(),
                   kept](const std::stop_token&) { return rope::keepAgain(address, kept); },
                  [this](const Status& isKept) {
                      if (!isKept) {
                          emit failed(isKept.error());
                      }
                      look();
                  });
}

void LogbookSession::setMergeFine(const ObjectId& merge, bool isFine)
{
    m_looks.runToTheEnd(
        [folder = m_place.privateFolder(), merge, isFine](const std::stop_token&) -> Status {
            TRY_ASSIGN(const auto journal, Journal::open(folder));
            return journal->setMergeFine(merge, isFine);
        },
        [this, merge, isFine](const Status& stored) {
            if (!stored) {
                emit failed(stored.error());
                return;
            }
            for (auto* rows : {&m_named, &m_merges}) {
                for (ReadMergeRow& row : *rows) {
                    row.isFine = row.merge.id == merge ? isFine : row.isFine;
                }
            }
            tellMerges();
        },
        {});
}

void LogbookSession::look()
{
    m_looks.supersede();
    m_looks.run([address = m_place.address()](
                    const std::stop_token& stop) { return readLogbook(address, stop); },
                [this](const Result<LogbookFacts>& facts) {
                    if (facts) {
                        emit looked(*facts);
                    } else if (facts.error().code != ErrorCode::cancelled) {
                        logError(facts.error());
                        emit failed(facts.error());
                    }
                });
}

void LogbookSession::readDetails(const JournalEntry& entry)
{
    m_details.supersede();
    m_details.run([address = m_place.address(),
                   entry](const std::stop_token& stop) { return readLogged(address, entry, stop); },
                  [this](const Result<LoggedDetails>& details) {
                      if (details) {
                          emit detailsReady(*details);
                      } else if (details.error().code != ErrorCode::cancelled) {
                          logError(details.error());
                          emit failed(details.error());
                      }
                  });
}
}  // namespace rope
