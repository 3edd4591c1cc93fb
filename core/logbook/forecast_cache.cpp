// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_forecast_cache.cpp.
#include "core/logbook/forecast_cache.h"

#include "core/base/digest.h"

#include <QDataStream>
#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSqlQuery>

namespace rope {
namespace {
/// Part of every key: an engine that decides differently asks under other keys.
constexpr const char* kEngine = "engine 1";

QByteArray packed(const PairOutcome& outcome)
{
    QByteArray bytes;
    QDataStream stream(&bytes, QIODevice::WriteOnly);
    stream.setVersion(QDataStream::Qt_6_0);
    stream << static_cast<quint8>(outcome.kind) << static_cast<quint8>(outcome.relation)
           << static_cast<quint64>(outcome.open) << static_cast<quint64>(outcome.firstCommits)
           << static_cast<quint64>(outcome.secondCommits)
           << static_cast<quint64>(outcome.files.size());
    for (const PairFile& file : outcome.files) {
        stream << QByteArray::fromStdString(file.path) << static_cast<quint64>(file.regions)
               << file.isQuestion;
    }
    return bytes;
}

/// `notYet` for what packed() did not write.
PairOutcome outcomeIn(const QByteArray& bytes)
{
    QDataStream stream(bytes);
    stream.setVersion(QDataStream::Qt_6_0);
    quint8 kind = 0;
    quint8 relation = 0;
    quint64 open = 0;
    quint64 first = 0;
    quint64 second = 0;
    quint64 files = 0;
    stream >> kind >> relation >> open >> first >> second >> files;
    PairOutcome outcome{static_cast<PairOutcome::Kind>(kind),
                        static_cast<Relation>(relation),
                        open,
                        {},
                        first,
                        second};
    for (quint64 i = 0; i < files && stream.status() == QDataStream::Ok; ++i) {
        QByteArray path;
        quint64 regions = 0;
        bool isQuestion = false;
        stream >> path >> regions >> isQuestion;
        outcome.files.push_back({path.toStdString(), regions, isQuestion});
    }
    const bool isRead = stream.status() == QDataStream::Ok && stream.atEnd()
                        && outcome.kind <= PairOutcome::Kind::unknown
                        && outcome.relation <= Relation::unrelated;
    return isRead ? outcome : PairOutcome{};
}
}  // namespace

ForecastCache::ForecastCache(const std::string& file, std::string rules)
    : m_database(file)
    , m_rules(std::move(rules))
{
}

Result<std::unique_ptr<ForecastCache>> ForecastCache::open(const std::string& file,
                                                           const std::string& rules)
{
    const QString name = QString::fromStdString(file);
    QDir().mkpath(QFileInfo(name).path());
    const auto make = [&] {
        return std::unique_ptr<ForecastCache>(new ForecastCache(file, rules));
    };
    auto cache = make();
    const Status connected = cache->connect();
    if (connected) {
        return cache;
    }
    if (connected.error().code == ErrorCode::busy) {
        return connected.error();
    }
    cache.reset();
    for (const char* part : {"", "-wal", "-shm"}) {
        QFile::remove(name + QLatin1String(part));
    }
    cache = make();
    TRY(cache->connect());
    return cache;
}

Status ForecastCache::connect()
{
    TRY(m_database.connect());
    return m_database.run("CREATE TABLE IF NOT EXISTS pairs (key TEXT PRIMARY KEY, outcome BLOB "
                          "NOT NULL, asked_at INTEGER NOT NULL) WITHOUT ROWID");
}

std::string ForecastCache::keyOf(const CommitPair& pair) const
{
    return digestOfParts({kEngine, m_rules, pair.first.hex(), pair.second.hex()});
}

Result<std::vector<PairOutcome>> ForecastCache::find(std::span<const CommitPair> pairs)
{
    std::vector<PairOutcome> known(pairs.size());
    const qint64 now = QDateTime::currentSecsSinceEpoch();
    const Status found = m_database.inTransaction([&]() -> Status {
        for (std::size_t i = 0; i < pairs.size(); ++i) {
            const QVariant key = text(keyOf(pairs[i]));
            bool isKnown = false;
            TRY(m_database.read(
                "SELECT outcome FROM pairs WHERE key = ?", {key}, [&](const QSqlQuery& row) {
                    known[i] = outcomeIn(row.value(0).toByteArray());
                    isKnown = true;
                }));
            if (isKnown) {
                TRY(m_database.run("UPDATE pairs SET asked_at = ? WHERE key = ?", {now, key}));
            }
        }
        return ok();
    });
    if (!found) {
        return found.error();
    }
    return known;
}

Status ForecastCache::store(std::span<const std::pair<CommitPair, PairOutcome>> outcomes)
{
    const qint64 now = QDateTime::currentSecsSinceEpoch();
    Database::Statements statements;
    for (const auto& [pair, outcome] : outcomes) {
        if (outcome.kind != PairOutcome::Kind::unknown
            && outcome.kind != PairOutcome::Kind::notYet) {
            statements.push_back({"INSERT OR REPLACE INTO pairs VALUES (?, ?, ?)",
                                  {text(keyOf(pair)), packed(outcome), now}});
        }
    }
    statements.push_back({"DELETE FROM pairs WHERE key IN (SELECT key FROM pairs ORDER BY asked_at "
                          "DESC LIMIT -1 OFFSET ?)",
                          {kMostPairs}});
    return m_database.store(statements);
}
}  // namespace rope
