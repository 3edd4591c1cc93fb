// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_journal.cpp.
#include "core/logbook/journal.h"

#include "core/logbook/journal_tables.h"
#include "core/logbook/known_journals.h"

#include <QDateTime>
#include <QFile>
#include <QFileInfo>
#include <QSaveFile>
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QUuid>
#include <QVariant>

#include <algorithm>
#include <array>
#include <cerrno>
#include <cstring>
#include <sys/stat.h>
#include <unistd.h>

namespace rope {
namespace {
constexpr std::array<const char*, 4> kStateNames{"open", "recording", "recorded", "abandoned"};
constexpr std::size_t kIdDigits = 12;               // of a journal's id, in names of what it keeps
constexpr std::size_t kStepsBetweenWeighings = 16;  // adding up their bytes reads them all
constexpr std::array<const char*, 2> kBegunByNames{"window", "command"};
constexpr std::array<const char*, 5> kWorkChoiceNames{
    "none", "carry", "set-aside", "brought-back", "files-stay"};

std::string folderOf(const std::string& file)
{
    return QFileInfo(QString::fromStdString(file)).path().toStdString();
}

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

/// A merge where no kind is called so.
SpliceKind kindNamed(const QString& name)
{
    const auto found = std::find_if(kKinds.begin(), kKinds.end(), [&](const KindFacts& kind) {
        return name == QLatin1String(kind.name);
    });
    return found == kKinds.end() ? SpliceKind::merge
                                 : static_cast<SpliceKind>(found - kKinds.begin());
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
QVariant hexOrNothing(const ObjectId& id)
{
    return id.isNull() ? QStringLiteral("") : text(id.hex());
}
ObjectId idOf(const QVariant& value)
{
    return ObjectId::fromHex(value.toString().toStdString()).value_or(ObjectId{});
}

/// Runs a statement that is prepared already; false when it failed.
bool runPrepared(QSqlQuery& query, const std::vector<QVariant>& values)
{
    int position = 0;
    for (const QVariant& value : values) {
        query.bindValue(position++, value);
    }
    return query.exec();
}

/// A statement with its values; false when it failed.
bool runQuery(QSqlQuery& query, const char* sql, const std::vector<QVariant>& values = {})
{
    return query.prepare(QLatin1String(sql)) && runPrepared(query, values);
}
}  // namespace

Error Journal::failure(const QString& detail) const
{
    return {ErrorCode::io, m_file, detail.toStdString()};
}

Result<std::unique_ptr<Journal>> Journal::openFile(const std::string& file)
{
    const QString connection = QUuid::createUuid().toString();
    std::unique_ptr<Journal> journal(new Journal(connection, file));
    TRY(journal->connectTo(file));
    TRY(journal->prepareTables());
    return journal;
}

namespace {
constexpr std::array<const char*, 3> kParts{"", "-wal", "-shm"};  // of a database on disk

/// SQLite would follow a link, and write into whatever it leads to.
Status checkFiles(const std::string& folder, const std::string& file)
{
    struct stat info
    {
    };
    const auto refuse = [](const std::string& path, const char* why) {
        return Error{ErrorCode::unsupported, path, why, Reason::journalUnreadable};
    };
    if (::lstat(folder.c_str(), &info) == 0 && !S_ISDIR(info.st_mode)) {
        return refuse(folder, "it is a link, or no folder");
    }
    for (const char* part : kParts) {
        const std::string path = file + part;
        if (::lstat(path.c_str(), &info) != 0) {
            continue;
        }
        if (!S_ISREG(info.st_mode)) {
            return refuse(path, "it is a link, or no file");
        }
        if (info.st_uid != ::geteuid()) {
            return refuse(path, "it belongs to another user");
        }
    }
    return ok();
}
}  // namespace

Result<std::string> Journal::setAside(const std::string& folder)
{
    const QString name = QString::fromStdString(folder + "/journal.sqlite");
    const QString aside =
        QStringLiteral("%1-unreadable-%2")
            .arg(name, QDateTime::currentDateTimeUtc().toString(QStringLiteral("yyyyMMdd-hhmmss")));
    for (const char* part : kParts) {
        const QString from = name + QLatin1String(part);
        if (!QFile::rename(from, aside + QLatin1String(part)) && *part == '\0') {
            return Error{ErrorCode::io, from.toStdString(), std::strerror(errno)};
        }
    }
    return aside.toStdString();
}

Result<std::unique_ptr<Journal>> Journal::open(const std::string& folder)
{
    const std::string file = folder + "/journal.sqlite";
    TRY(checkFiles(folder, file));
    auto journal = openFile(file);
    const bool isUnreadable = !journal && journal.error().code == ErrorCode::corrupt;
    const bool isSomething = isUnreadable && QFile::exists(QString::fromStdString(file));
    if (!isSomething) {
        return journal;
    }
    auto aside = setAside(folder);
    if (!aside) {
        return journal;
    }
    auto fresh = openFile(file);
    if (fresh) {
        (*fresh)->m_setAsideAs = std::move(*aside);
    }
    return fresh;
}

Status Journal::adopt()
{
    TRY(rememberJournal(m_id, folderOf(m_file)));
    m_isOurs = true;
    return ok();
}

std::string Journal::keptName(const std::string& splice, const std::string& part) const
{
    return m_id.substr(0, kIdDigits) + "/" + splice + "/" + part;
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
    const auto unreadable = [this](const QSqlQuery& query) {
        // SQLite: 11 the file is damaged, 26 it is no database. Anything else may pass.
        const QString code = query.lastError().nativeErrorCode();
        if (code == QLatin1String("11") || code == QLatin1String("26")) {
            return Error{ErrorCode::corrupt,
                         m_file,
                         query.lastError().text().toStdString(),
                         Reason::journalUnreadable};
        }
        return failure(query.lastError().text());
    };
    QSqlQuery query(QSqlDatabase::database(m_connection));
    // NORMAL: with a write-ahead log every commit outlives this process; see noteRecording for power.
    for (const char* pragma :
         {"PRAGMA journal_mode=WAL", "PRAGMA synchronous=NORMAL", "PRAGMA foreign_keys=ON"}) {
        if (!runQuery(query, pragma)) {
            return unreadable(query);
        }
    }
    if (!runQuery(query, "PRAGMA user_version") || !query.next()) {
        return unreadable(query);
    }
    const int version = query.value(0).toInt();
    query.finish();
    m_isOurs = version == 0;
    if (version > kJournalVersion) {
        return Error{ErrorCode::unsupported,
                     m_file,
                     "version " + std::to_string(version),
                     Reason::journalNewer};
    }
    if (version < kJournalVersion) {
        TRY(migrateFrom(version));
    }
    if (!runQuery(query, "SELECT id, work FROM splice LIMIT 1")) {
        return Error{ErrorCode::corrupt,
                     m_file,
                     query.lastError().text().toStdString(),
                     Reason::journalUnreadable};
    }
    query.finish();
    if (!runQuery(query, "SELECT id FROM identity") || !query.next()) {
        return unreadable(query);
    }
    m_id = query.value(0).toString().toStdString();
    writeIdBeside();
    if (m_isOurs) {
        (void)rememberJournal(
            m_id, folderOf(m_file));  // where it cannot be kept, a person is asked the next time
    } else {
        m_isOurs = isKnownJournal(m_id, folderOf(m_file));
    }
    return ok();
}

/// So that other working trees of the repository know what is this journal's to keep. Where it cannot be
/// written they list it as nobody's, and let nothing of it go.
void Journal::writeIdBeside() const
{
    const QString name = QString::fromStdString(folderOf(m_file)) + QStringLiteral("/journal-id");
    const QByteArray wanted =
        QByteArray::fromStdString(keptName({}, {}).substr(0, kIdDigits)) + '\n';
    QFile file(name);
    if (file.open(QIODevice::ReadOnly) && file.readAll() == wanted) {
        return;
    }
    file.close();
    QSaveFile fresh(name);
    if (fresh.open(QIODevice::WriteOnly)) {
        fresh.write(wanted);
        fresh.commit();
    }
}

/// One step after the other, all or none. Another instance may have been quicker.
Status Journal::migrateFrom(int version)
{
    QSqlDatabase database = QSqlDatabase::database(m_connection);
    QSqlQuery query(database);
    bool isMade = runQuery(query, "BEGIN IMMEDIATE") && runQuery(query, "PRAGMA user_version")
                  && query.next();
    const int present = isMade ? query.value(0).toInt() : version;
    query.finish();
    const auto bringTo = [&](int next, const auto& statements) {
        for (const char* statement : statements) {
            isMade = isMade && (present >= next || runQuery(query, statement));
        }
    };
    bringTo(1, kFirstTables);
    bringTo(2, kSecondTables);
    bringTo(3, kThirdTables);
    bringTo(4, kFourthTables);
    bringTo(5, kFifthTables);
    bringTo(6, kSixthTables);
    bringTo(7, kSeventhTables);
    bringTo(8, kEighthTables);
    bringTo(9, kNinthTables);
    bringTo(10, kTenthTables);
    bringTo(11, kEleventhTables);
    const QString problem = query.lastError().text();
    if (isMade && runQuery(query, "COMMIT")) {
        return ok();
    }
    (void)runQuery(query, "ROLLBACK");
    return Error{ErrorCode::corrupt, m_file, problem.toStdString(), Reason::journalUnreadable};
}

Status Journal::store(const Statements& statements)
{
    QSqlDatabase database = QSqlDatabase::database(m_connection);
    QSqlQuery query(database);
    bool isStored = database.transaction();
    std::string_view prepared;  // the same statement mostly follows itself, thousands of times
    for (const auto& [sql, values] : statements) {
        isStored = isStored
                   && (prepared == sql ? runPrepared(query, values) : runQuery(query, sql, values));
        prepared = sql;
    }
    const QString problem = query.lastError().text();
    if (!isStored || !database.commit()) {
        database.rollback();
        return failure(problem);
    }
    return ok();
}

Status Journal::begin(const JournalEntry& entry, const std::vector<LegSnapshots>& legs)
{
    const SplicePlan& plan = entry.plan;
    Statements statements{
        {"INSERT INTO splice (id, state, started_at, ours_ref, ours_name, theirs_name, ours, "
         "theirs, begun_by, round, follows, holder, kind, replaced, work_choice, work, "
         "keeps_emptied, begun, above)"
         " VALUES (?, 'open', ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
         {text(plan.id),
          QVariant::fromValue<qlonglong>(entry.startedAt),
          blob(plan.oursRef),
          blob(plan.oursName),
          blob(plan.theirsName),
          text(plan.ours.hex()),
          text(plan.theirs.hex()),
          nameIn(kBegunByNames, entry.begunBy),
          entry.round,
          text(entry.follows),
          text(entry.holder),
          QLatin1String(factsOf(plan.kind).name),
          hexOrNothing(plan.replaced),
          nameIn(kWorkChoiceNames, plan.workChoice),
          hexOrNothing(plan.work),
          plan.keepsEmptied,
          text(plan.begun),
          hexOrNothing(plan.above)}}};
    for (std::size_t i = 0; i < legs.size(); ++i) {
        statements.push_back(
            {"INSERT INTO leg (splice, number, base, base_label, ours, ours_label, theirs, "
             "theirs_label) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
             {text(plan.id),
              static_cast<int>(i),
              text(legs[i].base.tree.hex()),
              blob(legs[i].base.label),
              text(legs[i].ours.tree.hex()),
              blob(legs[i].ours.label),
              text(legs[i].theirs.tree.hex()),
              blob(legs[i].theirs.label)}});
    }
    return store(statements);
}

Result<std::vector<JournalEntry>> Journal::entriesWhere(const char* condition,
                                                        const QVariant& value)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    const std::string sql =
        std::string("SELECT id, started_at, ours_ref, ours_name, theirs_name, ours, theirs, "
                    "message, station, place, recorded, state, begun_by, ended_at, round, follows, "
                    "holder, kind, replaced, work_choice, work, keeps_emptied, begun, above, "
                    "carried FROM splice WHERE ")
        + condition + " ORDER BY started_at DESC, rowid DESC";
    if (!runQuery(query, sql.c_str(), {value})) {
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
        entry.state = valueIn<SpliceState>(kStateNames, query.value(11).toString())
                          .value_or(SpliceState::abandoned);
        entry.begunBy =
            valueIn<BegunBy>(kBegunByNames, query.value(12).toString()).value_or(BegunBy::window);
        entry.endedAt = query.value(13).toLongLong();
        entry.round = query.value(14).toInt();
        entry.follows = query.value(15).toString().toStdString();
        entry.holder = query.value(16).toString().toStdString();
        entry.plan.kind = kindNamed(query.value(17).toString());
        entry.plan.replaced = idOf(query.value(18));
        entry.plan.workChoice = valueIn<WorkChoice>(kWorkChoiceNames, query.value(19).toString())
                                    .value_or(WorkChoice::none);
        entry.plan.work = idOf(query.value(20));
        entry.plan.keepsEmptied = query.value(21).toBool();
        entry.plan.begun = query.value(22).toString().toStdString();
        entry.plan.above = idOf(query.value(23));
        entry.carried = static_cast<std::size_t>(query.value(24).toULongLong());
        entries.push_back(std::move(entry));
    }
    return entries;
}

Result<std::vector<JournalEntry>> Journal::splices(SpliceState state)
{
    return entriesWhere("state = ?", nameIn(kStateNames, state));
}

Result<std::optional<JournalEntry>> Journal::splice(const std::string& id)
{
    TRY_ASSIGN(auto entries, entriesWhere("id = ?", text(id)));
    return entries.empty() ? std::optional<JournalEntry>{} : std::optional(entries.front());
}

Status Journal::checkLineIsFree(const std::string& line,
                                const std::string& lineName,
                                const std::string& except)
{
    for (const SpliceState state : {SpliceState::open, SpliceState::recording}) {
        TRY_ASSIGN(const auto entries, splices(state));
        for (const JournalEntry& other : entries) {
            if (other.plan.oursRef == line && other.plan.id != except) {
                return Error{ErrorCode::busy, lineName, {}, Reason::spliceOpen};
            }
        }
    }
    return ok();
}

Result<std::set<std::string>> Journal::carriedOn()
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    if (!runQuery(query, "SELECT follows FROM splice WHERE follows <> ''")) {
        return failure(query.lastError().text());
    }
    std::set<std::string> ids;
    while (query.next()) {
        ids.insert(query.value(0).toString().toStdString());
    }
    return ids;
}

Result<std::vector<LegSnapshots>> Journal::legs(const std::string& splice)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    if (!runQuery(query,
                  "SELECT base, base_label, ours, ours_label, theirs, theirs_label FROM leg"
                  " WHERE splice = ? ORDER BY number",
                  {text(splice)})) {
        return failure(query.lastError().text());
    }
    std::vector<LegSnapshots> legs;
    while (query.next()) {
        const auto snapshot = [&query](int column) {
            return Snapshot{idOf(query.value(column)), bytesOf(query.value(column + 1)), {}};
        };
        legs.push_back({snapshot(0), snapshot(2), snapshot(4)});
    }
    return legs;
}

Status Journal::setState(const std::string& splice, SpliceState state)
{
    const bool hasEnded = state == SpliceState::abandoned || state == SpliceState::recorded;
    const qint64 now = QDateTime::currentSecsSinceEpoch();
    return store({{"UPDATE splice SET state = ?, ended_at = ? WHERE id = ?",
                   {nameIn(kStateNames, state), hasEnded ? now : 0, text(splice)}}});
}

Status Journal::setWork(const std::string& splice, WorkChoice choice, const ObjectId& work)
{
    return store({{"UPDATE splice SET work_choice = ?, work = ? WHERE id = ?",
                   {nameIn(kWorkChoiceNames, choice), hexOrNothing(work), text(splice)}}});
}

Status Journal::noteCarried(const std::string& splice, std::size_t count)
{
    return store({{"UPDATE splice SET carried = ? WHERE id = ?",
                   {static_cast<qulonglong>(count), text(splice)}}});
}

Status Journal::forget(const std::string& splice)
{
    const std::vector<QVariant> id{text(splice)};
    return store({{"DELETE FROM decision WHERE splice = ?", id},
                  {"DELETE FROM step WHERE splice = ?", id},
                  {"DELETE FROM leg WHERE splice = ?", id},
                  {"DELETE FROM mark WHERE splice = ?", id},
                  {"DELETE FROM reason WHERE splice = ?", id},
                  {"DELETE FROM recording WHERE splice = ?", id},
                  {"DELETE FROM recorded WHERE splice = ?", id},
                  {"DELETE FROM splice WHERE id = ?", id}});
}

Status Journal::holdSplice(const std::string& splice, const std::string& holder)
{
    return store({{"UPDATE splice SET holder = ? WHERE id = ?", {text(holder), text(splice)}}});
}

namespace {
QVariant textOf(const SlotState& state)
{
    return state.text ? blob(*state.text) : QVariant(QMetaType(QMetaType::QByteArray));
}

std::vector<QVariant> placeOf(const std::string& splice, const Decision& decision)
{
    return {text(splice), static_cast<int>(decision.leg), blob(decision.path), text(decision.slot)};
}

std::pair<const char*, std::vector<QVariant>> statementFor(const std::string& splice,
                                                           const Decision& decision)
{
    std::vector<QVariant> values = placeOf(splice, decision);
    if (decision.state == SlotState{}) {
        return {"DELETE FROM decision WHERE splice = ? AND leg = ? AND path = ? AND slot = ?",
                std::move(values)};
    }
    values.insert(values.end(),
                  {decision.state.isDecided ? 1 : 0,
                   text(decision.state.choice),
                   textOf(decision.state),
                   blob(decision.writtenOn)});
    return {"INSERT OR REPLACE INTO decision (splice, leg, path, slot, is_decided, choice, text,"
            " written_on) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
            std::move(values)};
}

std::size_t textBytesOf(const std::vector<Decision>& decisions)
{
    std::size_t sum = 0;
    for (const Decision& decision : decisions) {
        sum += decision.state.text ? decision.state.text->size() : 0;
    }
    return sum;
}
}  // namespace

Status Journal::storeDecisions(const std::string& splice, const std::vector<Decision>& decisions)
{
    Statements statements;
    for (const Decision& decision : decisions) {
        statements.push_back(statementFor(splice, decision));
    }
    return store(statements);
}

/// What keeps a step, see kThirdTables. One that is too large takes those behind it along.
void Journal::addStep(Statements& statements, const std::string& splice, const SpliceChange& change)
{
    const QVariant id = text(splice);
    const auto number = QVariant::fromValue(static_cast<qlonglong>(change.step));
    const auto oldest = QVariant::fromValue<qlonglong>(static_cast<qlonglong>(change.step)
                                                       - static_cast<qlonglong>(kMostKeptSteps));
    if (change.kind == StepKind::made) {
        statements.push_back({"DELETE FROM step WHERE splice = ? AND (number >= ? OR number <= ?)",
                              {id, number, oldest}});
    }
    if (textBytesOf(change.before) > kMostStepBytes) {
        statements.push_back({"DELETE FROM step WHERE splice = ?", {id}});
        return;
    }
    for (const Decision& decision : change.before) {
        std::vector<QVariant> values = placeOf(splice, decision);
        values.insert(values.end(),
                      {number,
                       change.kind == StepKind::undone ? 0 : 1,
                       decision.state.isDecided ? 1 : 0,
                       text(decision.state.choice),
                       textOf(decision.state)});
        statements.push_back(
            {"INSERT OR REPLACE INTO step (splice, leg, path, slot, number, is_done, is_decided,"
             " choice, text) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
             std::move(values)});
    }
    if (change.kind == StepKind::made && change.step % kStepsBetweenWeighings == 0) {
        statements.push_back(
            {"DELETE FROM step WHERE splice = ? AND number <= (SELECT max(number) FROM"
             " (SELECT number, sum(length(text)) OVER (ORDER BY number DESC) AS bytes FROM step"
             " WHERE splice = ?) WHERE bytes > ?)",
             {id, id, QVariant::fromValue(static_cast<qlonglong>(kMostStepBytes))}});
    }
}

Status Journal::storeChange(const std::string& splice, const SpliceChange& change)
{
    Statements statements;
    for (const Decision& decision : change.after) {
        statements.push_back(statementFor(splice, decision));
    }
    if (change.kind != StepKind::extended) {
        addStep(statements, splice, change);
    }
    return store(statements);
}

Result<KeptSteps> Journal::steps(const std::string& splice)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    if (!runQuery(query,
                  "SELECT number, is_done, leg, path, slot, is_decided, choice, text FROM step"
                  " WHERE splice = ? ORDER BY number",
                  {text(splice)})) {
        return failure(query.lastError().text());
    }
    KeptSteps kept;
    std::optional<std::size_t> last;
    while (query.next()) {
        const auto number = static_cast<std::size_t>(query.value(0).toULongLong());
        auto& steps = query.value(1).toInt() != 0 ? kept.done : kept.undone;
        if (!last) {
            kept.first = number;
        }
        if (last != number) {
            steps.emplace_back();
        }
        last = number;
        Decision decision;
        decision.leg = static_cast<std::size_t>(query.value(2).toInt());
        decision.path = bytesOf(query.value(3));
        decision.slot = query.value(4).toString().toStdString();
        decision.state.isDecided = query.value(5).toInt() != 0;
        decision.state.choice = query.value(6).toString().toStdString();
        if (!query.value(7).isNull()) {
            decision.state.text = bytesOf(query.value(7));
        }
        steps.back().push_back(std::move(decision));
    }
    return kept;
}

Result<std::vector<Decision>> Journal::decisions(const std::string& splice)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    if (!runQuery(query,
                  "SELECT path, slot, is_decided, choice, text, leg, written_on FROM decision"
                  " WHERE splice = ?",
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
        decision.leg = static_cast<std::size_t>(query.value(5).toInt());
        decision.writtenOn = bytesOf(query.value(6));
        decisions.push_back(std::move(decision));
    }
    return decisions;
}

Status Journal::storeMessage(const std::string& splice, const std::string& message)
{
    return store({{"UPDATE splice SET message = ? WHERE id = ?", {blob(message), text(splice)}}});
}

Status
Journal::storePlace(const std::string& splice, const std::string& station, const std::string& place)
{
    return store({{"UPDATE splice SET station = ?, place = ? WHERE id = ?",
                   {text(station), blob(place), text(splice)}}});
}

Status Journal::noteRecording(const std::string& splice, const RecordingNote& note)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    if (!runQuery(query, "PRAGMA synchronous=FULL")) {
        return failure(query.lastError().text());
    }
    TRY(store({{"INSERT OR REPLACE INTO recording (splice, note) VALUES (?, ?)",
                {text(splice), blob(note)}},
               {"UPDATE splice SET state = 'recording' WHERE id = ?", {text(splice)}}}));
    (void)runQuery(query,
                   "PRAGMA synchronous=NORMAL");  // stays FULL if this fails: slower, not worse
    return ok();
}

Result<std::optional<RecordingNote>> Journal::recordingNote(const std::string& splice)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    if (!runQuery(query, "SELECT note FROM recording WHERE splice = ?", {text(splice)})) {
        return failure(query.lastError().text());
    }
    return query.next() ? std::optional(bytesOf(query.value(0))) : std::optional<RecordingNote>{};
}

Status Journal::endRecording(const std::string& splice, SpliceState state, const ObjectId& recorded)
{
    const bool hasEnded = state == SpliceState::abandoned || state == SpliceState::recorded;
    const qint64 now = QDateTime::currentSecsSinceEpoch();
    Statements statements;
    if (!recorded.isNull()) {
        statements.push_back({"INSERT OR REPLACE INTO recorded (splice, note)"
                              " SELECT splice, note FROM recording WHERE splice = ?",
                              {text(splice)}});
        statements.push_back({"DELETE FROM step WHERE splice = ?", {text(splice)}});
    }
    statements.push_back({"DELETE FROM recording WHERE splice = ?", {text(splice)}});
    statements.push_back(
        {"UPDATE splice SET state = ?, recorded = ?, ended_at = ? WHERE id = ?",
         {nameIn(kStateNames, state), text(recorded.hex()), hasEnded ? now : 0, text(splice)}});
    return store(statements);
}

namespace {
constexpr std::array<const char*, 2> kMarkNames{"fine", "read"};
}  // namespace

Status
Journal::storeMark(const std::string& splice, MarkKind kind, const std::string& key, bool isSet)
{
    const std::vector<QVariant> values{text(splice), nameIn(kMarkNames, kind), text(key)};
    return store({{isSet ? "INSERT OR REPLACE INTO mark (splice, kind, key) VALUES (?, ?, ?)"
                         : "DELETE FROM mark WHERE splice = ? AND kind = ? AND key = ?",
                   values}});
}

Result<std::set<std::string>> Journal::marks(const std::string& splice, MarkKind kind)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    if (!runQuery(query,
                  "SELECT key FROM mark WHERE splice = ? AND kind = ?",
                  {text(splice), nameIn(kMarkNames, kind)})) {
        return failure(query.lastError().text());
    }
    std::set<std::string> keys;
    while (query.next()) {
        keys.insert(query.value(0).toString().toStdString());
    }
    return keys;
}

Status Journal::copyMarks(const std::string& from, const std::string& to)
{
    return store(
        {{"INSERT OR IGNORE INTO mark (splice, kind, key) SELECT ?, kind, key FROM mark WHERE "
          "splice = ?",
          {text(to), text(from)}},
         {"INSERT OR IGNORE INTO reason (splice, leg, path, slot, text) SELECT ?, leg, path, slot, "
          "text FROM reason WHERE splice = ?",
          {text(to), text(from)}}});
}

Status Journal::storeReason(const std::string& splice, const GivenReason& reason)
{
    std::vector<QVariant> values{
        text(splice), static_cast<qlonglong>(reason.leg), blob(reason.path), text(reason.slot)};
    if (reason.text.empty()) {
        return store({{"DELETE FROM reason WHERE splice = ? AND leg = ? AND path = ? AND slot = ?",
                       values}});
    }
    values.push_back(blob(reason.text));
    return store({{"INSERT OR REPLACE INTO reason (splice, leg, path, slot, text)"
                   " VALUES (?, ?, ?, ?, ?)",
                   values}});
}

Result<std::vector<GivenReason>> Journal::reasons(const std::string& splice)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    if (!runQuery(query,
                  "SELECT path, slot, text, leg FROM reason WHERE splice = ? ORDER BY leg, path",
                  {text(splice)})) {
        return failure(query.lastError().text());
    }
    std::vector<GivenReason> reasons;
    while (query.next()) {
        reasons.push_back({bytesOf(query.value(0)),
                           query.value(1).toString().toStdString(),
                           bytesOf(query.value(2)),
                           static_cast<std::size_t>(query.value(3).toInt())});
    }
    return reasons;
}

Status Journal::storeRun(const CheckRun& run)
{
    const auto number = [](std::int64_t value) {
        return QVariant::fromValue<qlonglong>(value);
    };
    return store({{"INSERT OR REPLACE INTO run (tree, command, exit, signal, duration, ended_at) "
                   "VALUES (?, ?, ?, ?, ?, ?)",
                   {text(run.tree.hex()),
                    text(run.command),
                    run.exitCode,
                    run.signal,
                    number(run.durationMs),
                    number(run.endedAt)}},
                  {"DELETE FROM run WHERE (tree, command) NOT IN (SELECT tree, command FROM run "
                   "ORDER BY ended_at DESC LIMIT ?)",
                   {number(kMostKeptRuns)}}});
}

Result<std::vector<CheckRun>> Journal::runsOn(const ObjectId& tree)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    if (!runQuery(query,
                  "SELECT command, exit, signal, duration, ended_at FROM run WHERE tree = ?",
                  {text(tree.hex())})) {
        return failure(query.lastError().text());
    }
    std::vector<CheckRun> runs;
    while (query.next()) {
        runs.push_back({tree,
                        query.value(0).toString().toStdString(),
                        query.value(1).toInt(),
                        query.value(2).toInt(),
                        query.value(3).toLongLong(),
                        query.value(4).toLongLong()});
    }
    return runs;
}

Status Journal::learnFrom(const ObjectId& merge, const std::vector<LearnedDecision>& decisions)
{
    Statements statements{
        {"INSERT OR IGNORE INTO learned_merge (id) VALUES (?)", {text(merge.hex())}}};
    for (const LearnedDecision& decision : decisions) {
        if (decision.text.size() > kMostLearnedBytes) {
            continue;
        }
        statements.push_back(
            {"INSERT INTO learned (region, loose, text, merge, made_by, at) VALUES (?, ?, ?, ?, ?, "
             "?)"
             " ON CONFLICT (region) DO UPDATE SET loose = excluded.loose, text = excluded.text,"
             " merge = excluded.merge, made_by = excluded.made_by, at = excluded.at"
             " WHERE excluded.at > at",
             {text(decision.region),
              text(decision.loose),
              blob(decision.text),
              text(decision.source.commit.hex()),
              blob(decision.source.by),
              QVariant::fromValue<qlonglong>(decision.source.at)}});
    }
    if (!decisions.empty()) {
        statements.push_back({"DELETE FROM learned WHERE region IN (SELECT region FROM learned "
                              "ORDER BY at DESC LIMIT -1 OFFSET ?)",
                              {QVariant::fromValue<qlonglong>(kMostLearned)}});
    }
    return store(statements);
}

Result<std::set<ObjectId>> Journal::idsIn(const char* table)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    if (!runQuery(query, (std::string("SELECT id FROM ") + table).c_str())) {
        return failure(query.lastError().text());
    }
    std::set<ObjectId> ids;
    while (query.next()) {
        ids.insert(idOf(query.value(0)));
    }
    return ids;
}

Result<std::set<ObjectId>> Journal::learnedMerges()
{
    return idsIn("learned_merge");
}

Result<std::optional<LearnedDecision>> Journal::decidedBefore(const std::string& region,
                                                              const std::string& loose,
                                                              const std::string& except)
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    if (!runQuery(query,
                  "SELECT d.text, s.started_at FROM decision d JOIN splice s ON s.id = d.splice"
                  " WHERE d.slot = ? AND d.is_decided AND d.text IS NOT NULL AND s.id <> ?"
                  " AND s.state <> 'recorded' ORDER BY s.started_at DESC LIMIT 1",
                  {text(region), text(except)})) {
        return failure(query.lastError().text());
    }
    if (query.next()) {
        return std::optional(LearnedDecision{
            region, loose, bytesOf(query.value(0)), {{}, {}, query.value(1).toLongLong()}});
    }
    query.finish();
    for (const auto& [column, key] : {std::pair("region", region), std::pair("loose", loose)}) {
        const std::string sql = std::string("SELECT text, merge, made_by, at FROM learned WHERE ")
                                + column + " = ? ORDER BY at DESC LIMIT 1";
        if (!runQuery(query, sql.c_str(), {text(key)})) {
            return failure(query.lastError().text());
        }
        if (query.next()) {
            return std::optional(LearnedDecision{
                region,
                loose,
                bytesOf(query.value(0)),
                {idOf(query.value(1)), bytesOf(query.value(2)), query.value(3).toLongLong()}});
        }
        query.finish();
    }
    return std::optional<LearnedDecision>{};
}

Status Journal::setMergeFine(const ObjectId& merge, bool isFine)
{
    return store({{isFine ? "INSERT OR IGNORE INTO fine_merge (id) VALUES (?)"
                          : "DELETE FROM fine_merge WHERE id = ?",
                   {text(merge.hex())}}});
}

Result<std::set<ObjectId>> Journal::fineMerges()
{
    return idsIn("fine_merge");
}

Status Journal::noteAsked(const std::string& remote, std::int64_t at)
{
    return store({{"INSERT OR REPLACE INTO asked (remote, at) VALUES (?, ?)",
                   {blob(remote), QVariant::fromValue<qlonglong>(at)}}});
}

Result<std::map<std::string, std::int64_t>> Journal::lastAsked()
{
    QSqlQuery query(QSqlDatabase::database(m_connection));
    if (!runQuery(query, "SELECT remote, at FROM asked")) {
        return failure(query.lastError().text());
    }
    std::map<std::string, std::int64_t> asked;
    while (query.next()) {
        asked[bytesOf(query.value(0))] = query.value(1).toLongLong();
    }
    return asked;
}
}  // namespace rope
