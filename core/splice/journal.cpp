// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_journal.cpp.
#include "core/splice/journal.h"

#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QUuid>
#include <QVariant>

#include <array>

namespace rope {
namespace {
constexpr int kVersion = 1;

constexpr std::array kTables{
    "CREATE TABLE IF NOT EXISTS splice (id TEXT PRIMARY KEY, state TEXT NOT NULL, started_at "
    "INTEGER NOT NULL,"
    " ours_ref BLOB NOT NULL, ours_name BLOB NOT NULL, theirs_name BLOB NOT NULL, ours TEXT NOT "
    "NULL,"
    " theirs TEXT NOT NULL, message BLOB NOT NULL DEFAULT x'', station TEXT NOT NULL DEFAULT '',"
    " place BLOB NOT NULL DEFAULT x'', recorded TEXT NOT NULL DEFAULT '')",
    "CREATE TABLE IF NOT EXISTS decision (splice TEXT NOT NULL REFERENCES splice(id), path BLOB "
    "NOT NULL,"
    " slot TEXT NOT NULL, is_decided INTEGER NOT NULL, choice TEXT NOT NULL, text BLOB,"
    " PRIMARY KEY (splice, path, slot)) WITHOUT ROWID",
    "CREATE TABLE IF NOT EXISTS recording (splice TEXT PRIMARY KEY REFERENCES splice(id), step "
    "TEXT NOT NULL,"
    " ours_tree TEXT NOT NULL, result_tree TEXT NOT NULL, commit_id TEXT NOT NULL DEFAULT '')",
};

constexpr std::array<const char*, 4> kStateNames{"open", "recording", "recorded", "abandoned"};
constexpr std::array<const char*, 5> kStepNames{
    "bringing-working-tree", "committing", "moving-branch", "finishing", "undoing"};

template <typename Enum, std::size_t count>
QString nameIn(const std::array<const char*, count>& names, Enum value)
{
    return QLatin1String(names[static_cast<std::size_t>(value)]);
}

template <typename Enum, std::size_t count>
std::optional<Enum> valueIn(const std::array<const char*, count>& names, const QString& name)
{
    for (std::size_t i = 0; i < count; ++i) {
        if (name == QLatin1String(names[i])) {
            return static_cast<Enum>(i);
        }
    }
    return std::nullopt;
}

/// Paths, names and texts are bytes: stored as blobs, so that nothing is taken for an encoding.
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
ObjectId idOf(const QVariant& value)
{
    return ObjectId::fromHex(value.toString().toStdString()).value_or(ObjectId{});
}

/// A prepared statement with its values; false when it failed.
bool runQuery(QSqlQuery& query, const char* sql, const std::vector<QVariant>& values = {})
{
    if (!query.prepare(QLatin1String(sql))) {
        return false;
    }
    for (const QVariant& value : values) {
        query.addBindValue(value);
    }
    return query.exec();
}
}  // namespace

Error Journal::failure(const QString& detail) const
{
    return {ErrorCode::io, m_file, detail.toStdString()};
}

Result<std::unique_ptr<Journal>> Journal::open(const std::string& folder)
{
    const std::string file = folder + "/journal.sqlite";
    const QString connection = QUuid::createUuid().toString();
    std::unique_ptr<Journal> journal(new Journal(connection, file));
    TRY(journal->connectTo(file));
    TRY(journal->prepareTables());
    return journal;
}

Status Journal::connectTo(const std::string& file)
{
    QSqlDatabase database = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), m_connection);
    database.setDatabaseName(QString::fromStdString(file));
    database.setConnectOptions(QStringLiteral("QSQLITE_BUSY_TIMEOUT=5000"));
    if (!database.open()) {
        return failure(database.lastError().text());
    }
    return ok();
}

Journal::~Journal()
{
    QSqlDatabase::database(m_connection, false).close();
    QSqlDatabase::removeDatabase(m_connection);
}

Status Journal::prepareTables()
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    // NORMAL: with a write-ahead log every commit outlives this process; see noteRecording for power.
    for (const char* pragma :
         {"PRAGMA journal_mode=WAL", "PRAGMA synchronous=NORMAL", "PRAGMA foreign_keys=ON"}) {
        if (!runQuery(query, pragma)) {
            return Error{ErrorCode::corrupt, m_file, query.lastError().text().toStdString()};
        }
    }
    if (!runQuery(query, "PRAGMA user_version") || !query.next()) {
        return Error{ErrorCode::corrupt, m_file, query.lastError().text().toStdString()};
    }
    const int version = query.value(0).toInt();
    if (version > kVersion) {
        return Error{ErrorCode::corrupt, m_file, "written by a newer version"};
    }
    if (version == kVersion) {
        return ok();
    }
    QSqlDatabase database = QSqlDatabase::database(m_connection);
    bool isMade = database.transaction();
    for (const char* table : kTables) {
        isMade = isMade && runQuery(query, table);
    }
    isMade = isMade && runQuery(query, "PRAGMA user_version=1");
    if (!isMade || !database.commit()) {
        return failure(query.lastError().text());
    }
    return ok();
}

Status Journal::begin(const SplicePlan& plan, std::int64_t startedAt)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    const bool isStored = runQuery(
        query,
        "INSERT INTO splice (id, state, started_at, ours_ref, ours_name, theirs_name, ours, theirs)"
        " VALUES (?, 'open', ?, ?, ?, ?, ?, ?)",
        {text(plan.id),
         QVariant::fromValue<qlonglong>(startedAt),
         blob(plan.oursRef),
         blob(plan.oursName),
         blob(plan.theirsName),
         text(plan.ours.hex()),
         text(plan.theirs.hex())});
    return isStored ? ok() : failure(query.lastError().text());
}

Result<std::vector<JournalEntry>> Journal::splices(SpliceState state)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    if (!runQuery(query,
                  "SELECT id, started_at, ours_ref, ours_name, theirs_name, ours, theirs, message, "
                  "station, place, recorded"
                  " FROM splice WHERE state = ? ORDER BY started_at DESC, rowid DESC",
                  {nameIn(kStateNames, state)})) {
        return failure(query.lastError().text());
    }
    std::vector<JournalEntry> entries;
    while (query.next()) {
        JournalEntry entry;
        entry.plan.id = query.value(0).toString().toStdString();
        entry.startedAt = query.value(1).toLongLong();
        entry.plan.oursRef = bytesOf(query.value(2));
        entry.plan.oursName = bytesOf(query.value(3));
        entry.plan.theirsName = bytesOf(query.value(4));
        entry.plan.ours = idOf(query.value(5));
        entry.plan.theirs = idOf(query.value(6));
        entry.message = bytesOf(query.value(7));
        entry.station = query.value(8).toString().toStdString();
        entry.place = bytesOf(query.value(9));
        entry.recorded = idOf(query.value(10));
        entry.state = state;
        entries.push_back(std::move(entry));
    }
    return entries;
}

Status Journal::setState(const std::string& splice, SpliceState state, const ObjectId& recorded)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    const bool isStored =
        runQuery(query,
                 "UPDATE splice SET state = ?, recorded = ? WHERE id = ?",
                 {nameIn(kStateNames, state), text(recorded.hex()), text(splice)});
    return isStored ? ok() : failure(query.lastError().text());
}

Status Journal::storeDecisions(const std::string& splice, const std::vector<Decision>& decisions)
{
    QSqlDatabase database = QSqlDatabase::database(m_connection);
    QSqlQuery query(database);
    bool isStored = database.transaction();
    for (const Decision& decision : decisions) {
        if (!isStored) {
            break;
        }
        if (decision.state == SlotState{}) {
            isStored = runQuery(query,
                                "DELETE FROM decision WHERE splice = ? AND path = ? AND slot = ?",
                                {text(splice), blob(decision.path), text(decision.slot)});
            continue;
        }
        isStored = runQuery(
            query,
            "INSERT OR REPLACE INTO decision (splice, path, slot, is_decided, choice, text)"
            " VALUES (?, ?, ?, ?, ?, ?)",
            {text(splice),
             blob(decision.path),
             text(decision.slot),
             decision.state.isDecided ? 1 : 0,
             text(decision.state.choice),
             decision.state.text ? blob(*decision.state.text)
                                 : QVariant(QMetaType(QMetaType::QByteArray))});
    }
    const QString problem = query.lastError().text();
    if (!isStored || !database.commit()) {
        database.rollback();
        return failure(problem);
    }
    return ok();
}

Result<std::vector<Decision>> Journal::decisions(const std::string& splice)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    if (!runQuery(query,
                  "SELECT path, slot, is_decided, choice, text FROM decision WHERE splice = ?",
                  {text(splice)})) {
        return failure(query.lastError().text());
    }
    std::vector<Decision> decisions;
    while (query.next()) {
        Decision decision;
        decision.path = bytesOf(query.value(0));
        decision.slot = query.value(1).toString().toStdString();
        decision.state.isDecided = query.value(2).toInt() != 0;
        decision.state.choice = query.value(3).toString().toStdString();
        if (!query.value(4).isNull()) {
            decision.state.text = bytesOf(query.value(4));
        }
        decisions.push_back(std::move(decision));
    }
    return decisions;
}

Status Journal::storeMessage(const std::string& splice, const std::string& message)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    const bool isStored = runQuery(
        query, "UPDATE splice SET message = ? WHERE id = ?", {blob(message), text(splice)});
    return isStored ? ok() : failure(query.lastError().text());
}

Status
Journal::storePlace(const std::string& splice, const std::string& station, const std::string& place)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    const bool isStored = runQuery(query,
                                   "UPDATE splice SET station = ?, place = ? WHERE id = ?",
                                   {text(station), blob(place), text(splice)});
    return isStored ? ok() : failure(query.lastError().text());
}

Status Journal::noteRecording(const std::string& splice, const RecordingNote& note)
{
    QSqlDatabase database = QSqlDatabase::database(m_connection);
    QSqlQuery query(database);
    bool isStored = runQuery(query, "PRAGMA synchronous=FULL") && database.transaction();
    isStored =
        isStored
        && runQuery(
            query,
            "INSERT OR REPLACE INTO recording (splice, step, ours_tree, result_tree, commit_id)"
            " VALUES (?, ?, ?, ?, ?)",
            {text(splice),
             nameIn(kStepNames, note.step),
             text(note.oursTree.hex()),
             text(note.resultTree.hex()),
             text(note.commit.hex())})
        && runQuery(query, "UPDATE splice SET state = 'recording' WHERE id = ?", {text(splice)});
    const QString problem = query.lastError().text();
    if (!isStored || !database.commit()) {
        database.rollback();
        return failure(problem);
    }
    (void)runQuery(query,
                   "PRAGMA synchronous=NORMAL");  // stays FULL if this fails: slower, not worse
    return ok();
}

Result<std::optional<RecordingNote>> Journal::recordingNote(const std::string& splice)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    if (!runQuery(query,
                  "SELECT step, ours_tree, result_tree, commit_id FROM recording WHERE splice = ?",
                  {text(splice)})) {
        return failure(query.lastError().text());
    }
    if (!query.next()) {
        return std::optional<RecordingNote>{};
    }
    const auto step = valueIn<RecordStep>(kStepNames, query.value(0).toString());
    if (!step) {
        return Error{ErrorCode::corrupt, m_file, query.value(0).toString().toStdString()};
    }
    return std::optional(
        RecordingNote{*step, idOf(query.value(1)), idOf(query.value(2)), idOf(query.value(3))});
}

Status Journal::endRecording(const std::string& splice, SpliceState state, const ObjectId& recorded)
{
    QSqlDatabase database = QSqlDatabase::database(m_connection);
    QSqlQuery query(database);
    const bool isStored =
        database.transaction()
        && runQuery(query, "DELETE FROM recording WHERE splice = ?", {text(splice)})
        && runQuery(query,
                    "UPDATE splice SET state = ?, recorded = ? WHERE id = ?",
                    {nameIn(kStateNames, state), text(recorded.hex()), text(splice)});
    const QString problem = query.lastError().text();
    if (!isStored || !database.commit()) {
        database.rollback();
        return failure(problem);
    }
    return ok();
}
}  // namespace rope
