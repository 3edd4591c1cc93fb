// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_journal.cpp, tst_forecast_cache.cpp.
#include "core/logbook/database.h"

#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QUuid>

namespace rope {
namespace {
// Result codes of SQLite (sqlite.org/rescode.html).
constexpr int kOtherTables = 1;  ///< The statement does not fit the tables that are there.
constexpr int kBusy = 5;
constexpr int kLocked = 6;
constexpr int kDamaged = 11;
constexpr int kNoDatabase = 26;
constexpr int kPrimaryCodes = 256;  ///< An extended code holds the primary one in its lowest byte.
}  // namespace

Database::Database(std::string file, Reason whenDamaged)
    : m_connection(QUuid::createUuid().toString())
    , m_file(std::move(file))
    , m_whenDamaged(whenDamaged)
{
}

Database::~Database()
{
    m_prepared.clear();  // Qt wants its queries gone before their connection
    QSqlDatabase::database(m_connection, false).close();
    QSqlDatabase::removeDatabase(m_connection);
}

Error Database::failure(const QSqlError& problem) const
{
    const int code = problem.nativeErrorCode().toInt() % kPrimaryCodes;
    const std::string detail = problem.text().toStdString();
    if (code == kDamaged || code == kNoDatabase || code == kOtherTables) {
        return {ErrorCode::corrupt, m_file, detail, m_whenDamaged};
    }
    const bool isBusy = code == kBusy || code == kLocked;
    return {isBusy ? ErrorCode::busy : ErrorCode::io, m_file, detail};
}

Status Database::connect(std::chrono::milliseconds patience)
{
    QSqlDatabase database = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), m_connection);
    database.setDatabaseName(QString::fromStdString(m_file));
    database.setConnectOptions(QStringLiteral("QSQLITE_BUSY_TIMEOUT=%1").arg(patience.count()));
    if (!database.open()) {
        return failure(database.lastError());
    }
    TRY(run("PRAGMA journal_mode=WAL"));
    TRY(run("PRAGMA foreign_keys=ON"));
    return setOutlivesPower(false);
}

Status Database::setOutlivesPower(bool outlives)
{
    return run(outlives ? "PRAGMA synchronous=FULL" : "PRAGMA synchronous=NORMAL");
}

Status Database::run(const std::string& sql, const Values& values)
{
    return read(sql, values, {});
}

Result<QSqlQuery*> Database::prepared(const std::string& sql)
{
    auto& query = m_prepared[sql];
    if (!query) {
        query = std::make_unique<QSqlQuery>(QSqlDatabase::database(m_connection));
        if (!query->prepare(QString::fromStdString(sql))) {
            const Error error = failure(query->lastError());
            m_prepared.erase(sql);
            return error;
        }
    }
    return query.get();
}

Status Database::read(const std::string& sql, const Values& values, const TakeRow& take)
{
    if (sql.starts_with("PRAGMA")) {
        m_prepared.erase(sql);  // SQLite may act on one while it is prepared: so each time again
    }
    TRY_ASSIGN(QSqlQuery* const query, prepared(sql));
    int position = 0;
    for (const QVariant& value : values) {
        query->bindValue(position++, value);
    }
    if (!query->exec()) {
        return failure(query->lastError());
    }
    while (take && query->next()) {
        take(*query);
    }
    query->finish();
    return ok();
}

Status Database::store(const Statements& statements)
{
    return inTransaction([&]() -> Status {
        for (const auto& [sql, values] : statements) {
            TRY(run(sql, values));
        }
        return ok();
    });
}

Status Database::inTransaction(const std::function<Status()>& work)
{
    // IMMEDIATE: who reads first and then writes would be refused where another has written meanwhile.
    TRY(run("BEGIN IMMEDIATE"));
    Status done = work();
    if (done) {
        done = run("COMMIT");
    }
    if (!done) {
        (void)run("ROLLBACK");
    }
    return done;
}

QVariant blob(const std::string& bytes)
{
    return QByteArray(bytes.data(), static_cast<qsizetype>(bytes.size()));
}

std::string bytesOf(const QVariant& value)
{
    return value.toByteArray().toStdString();
}

QVariant text(const std::string& ascii)
{
    return QString::fromStdString(ascii);
}

std::string textOf(const QVariant& value)
{
    return value.toString().toStdString();
}
}  // namespace rope
