// SPDX-License-Identifier: GPL-3.0-or-later
// What the journal remembers beyond single splices: runs of check commands, what merges of the history decided,
// when remotes answered. Tested by tst_journal.cpp.
#include "core/logbook/journal.h"
#include "core/logbook/journal_values.h"

#include <QSqlQuery>

namespace rope {
Status Journal::storeRun(const CheckRun& run)
{
    const auto number = [](std::int64_t value) {
        return QVariant::fromValue<qlonglong>(value);
    };
    return m_database.store(
        {{"INSERT OR REPLACE INTO run (tree, command, exit, signal, duration, ended_at) "
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
    std::vector<CheckRun> runs;
    TRY(m_database.read("SELECT command, exit, signal, duration, ended_at FROM run WHERE tree = ?",
                        {text(tree.hex())},
                        [&](const QSqlQuery& row) {
                            runs.push_back({tree,
                                            textOf(row.value(0)),
                                            row.value(1).toInt(),
                                            row.value(2).toInt(),
                                            row.value(3).toLongLong(),
                                            row.value(4).toLongLong()});
                        }));
    return runs;
}

Status Journal::learnFrom(const ObjectId& merge, const std::vector<LearnedDecision>& decisions)
{
    Database::Statements statements{
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
    return m_database.store(statements);
}

Result<std::set<ObjectId>> Journal::idsIn(const char* table)
{
    std::set<ObjectId> ids;
    TRY(m_database.read(std::string("SELECT id FROM ") + table, {}, [&](const QSqlQuery& row) {
        ids.insert(idOf(row.value(0)));
    }));
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
    std::optional<LearnedDecision> found;
    TRY(m_database.read(
        "SELECT d.text, s.started_at FROM decision d JOIN splice s ON s.id = d.splice"
        " WHERE d.slot = ? AND d.is_decided AND d.text IS NOT NULL AND s.id <> ?"
        " AND s.state <> 'recorded' ORDER BY s.started_at DESC LIMIT 1",
        {text(region), text(except)},
        [&](const QSqlQuery& row) {
            found = LearnedDecision{
                region, loose, bytesOf(row.value(0)), {{}, {}, row.value(1).toLongLong()}};
        }));
    for (const auto& [column, key] : {std::pair("region", region), std::pair("loose", loose)}) {
        if (found) {
            break;
        }
        TRY(m_database.read(std::string("SELECT text, merge, made_by, at FROM learned WHERE ")
                                + column + " = ? ORDER BY at DESC LIMIT 1",
                            {text(key)},
                            [&](const QSqlQuery& row) {
                                found = LearnedDecision{region,
                                                        loose,
                                                        bytesOf(row.value(0)),
                                                        {idOf(row.value(1)),
                                                         bytesOf(row.value(2)),
                                                         row.value(3).toLongLong()}};
                            }));
    }
    return found;
}

Status Journal::setMergeFine(const ObjectId& merge, bool isFine)
{
    return m_database.store({{isFine ? "INSERT OR IGNORE INTO fine_merge (id) VALUES (?)"
                                     : "DELETE FROM fine_merge WHERE id = ?",
                              {text(merge.hex())}}});
}

Result<std::set<ObjectId>> Journal::fineMerges()
{
    return idsIn("fine_merge");
}

Status Journal::noteAsked(const std::string& remote, std::int64_t at)
{
    return m_database.store({{"INSERT OR REPLACE INTO asked (remote, at) VALUES (?, ?)",
                              {blob(remote), QVariant::fromValue<qlonglong>(at)}}});
}

Result<std::map<std::string, std::int64_t>> Journal::lastAsked()
{
    std::map<std::string, std::int64_t> asked;
    TRY(m_database.read("SELECT remote, at FROM asked", {}, [&](const QSqlQuery& row) {
        asked[bytesOf(row.value(0))] = row.value(1).toLongLong();
    }));
    return asked;
}
}  // namespace rope
