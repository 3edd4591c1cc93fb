// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_forecast_cache.cpp.
#include "core/logbook/forecast_cache.h"

#include "core/base/digest.h"

#include <QDataStream>
#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QUuid>
#include <QVariant>

namespace rope {
namespace {
/// Part of every key: an engine that decides differently asks under other keys.
constexpr const char* kEngine = "engine 1";

QByteArray bytesOf(const PairOutcome& outcome)
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

/// `notYet` for what bytesOf() did not write.
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

ForecastCache::ForecastCache(QString connection, std::string file, std::string rules)
    : m_connection(std::move(connection))
    , m_file(std::move(file))
    , m_rules(std::move(rules))
{
}

ForecastCache::~ForecastCache()
{
    QSqlDatabase::database(m_connection, false).close();
    QSqlDatabase::removeDatabase(m_connection);
}

Error ForecastCache::failure(const QString& detail) const
{
    return {ErrorCode::io, m_file, detail.toStdString()};
}

Result<std::unique_ptr<ForecastCache>> ForecastCache::open(const std::string& file,
                                                           const std::string& rules)
{
    const QString name = QString::fromStdString(file);
    QDir().mkpath(QFileInfo(name).path());
    const auto make = [&] {
        return std::unique_ptr<ForecastCache>(
            new ForecastCache(QUuid::createUuid().toString(), file, rules));
    };
    auto cache = make();
    if (cache->connect()) {
        return cache;
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
    QSqlDatabase database = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), m_connection);
    database.setDatabaseName(QString::fromStdString(m_file));
    database.setConnectOptions(QStringLiteral("QSQLITE_BUSY_TIMEOUT=5000"));
    if (!database.open()) {
        return failure(database.lastError().text());
    }
    for (const char* statement :
         {"PRAGMA journal_mode=WAL",
          "PRAGMA synchronous=NORMAL",
          "CREATE TABLE IF NOT EXISTS pairs (key TEXT PRIMARY KEY, outcome BLOB NOT NULL, "
          "asked_at INTEGER NOT NULL) WITHOUT ROWID"}) {
        QSqlQuery query(database);
        if (!query.exec(QLatin1String(statement))) {
            return failure(query.lastError().text());
        }
    }
    return ok();
}

std::string ForecastCache::keyOf(const CommitPair& pair) const
{
    return digestOfParts({kEngine, m_rules, pair.first.hex(), pair.second.hex()});
}

Result<std::vector<PairOutcome>> ForecastCache::find(std::span<const CommitPair> pairs)
{
    QSqlDatabase database = QSqlDatabase::database(m_connection);
    std::vector<PairOutcome> known(pairs.size());
    QSqlQuery look(database);
    QSqlQuery touch(database);
    const bool isReady =
        look.prepare(QStringLiteral("SELECT outcome FROM pairs WHERE key = ?"))
        && touch.prepare(QStringLiteral("UPDATE pairs SET asked_at = ? WHERE key = ?"))
        && database.transaction();
    const qint64 now = QDateTime::currentSecsSinceEpoch();
    for (std::size_t i = 0; isReady && i < pairs.size(); ++i) {
        const QString key = QString::fromStdString(keyOf(pairs[i]));
        look.bindValue(0, key);
        if (!look.exec()) {
            database.rollback();
            return failure(look.lastError().text());
        }
        if (look.next()) {
            known[i] = outcomeIn(look.value(0).toByteArray());
            touch.bindValue(0, now);
            touch.bindValue(1, key);
            touch.exec();
        }
    }
    if (!isReady || !database.commit()) {
        database.rollback();
        return failure(database.lastError().text());
    }
    return known;
}

Status ForecastCache::store(std::span<const std::pair<CommitPair, PairOutcome>> outcomes)
{
    QSqlDatabase database = QSqlDatabase::database(m_connection);
    QSqlQuery put(database);
    bool isStored = database.transaction()
                    && put.prepare(QStringLiteral("INSERT OR REPLACE INTO pairs VALUES (?, ?, ?)"));
    const qint64 now = QDateTime::currentSecsSinceEpoch();
    for (const auto& [pair, outcome] : outcomes) {
        if (outcome.kind == PairOutcome::Kind::unknown
            || outcome.kind == PairOutcome::Kind::notYet) {
            continue;
        }
        put.bindValue(0, QString::fromStdString(keyOf(pair)));
        put.bindValue(1, bytesOf(outcome));
        put.bindValue(2, now);
        isStored = isStored && put.exec();
    }
    QSqlQuery bound(database);
    isStored = isStored
               && bound.exec(QStringLiteral("DELETE FROM pairs WHERE key IN (SELECT key FROM pairs "
                                            "ORDER BY asked_at DESC LIMIT -1 OFFSET %1)")
                                 .arg(kMostPairs))
               && database.commit();
    if (!isStored) {
        const Error error = failure(database.lastError().text());
        database.rollback();
        return error;
    }
    return ok();
}
}  // namespace rope
