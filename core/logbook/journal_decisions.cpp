// SPDX-License-Identifier: GPL-3.0-or-later
// What the journal keeps of deciding: decisions, the steps that undo them, reasons, marks.
// Tested by tst_journal.cpp.
#include "core/logbook/journal.h"
#include "core/logbook/journal_values.h"

#include <QSqlQuery>

namespace rope {
namespace {
constexpr std::size_t kStepsBetweenWeighings = 16;  // adding up their bytes reads them all
constexpr std::array<const char*, 2> kMarkNames{"fine", "read"};

/// A decision from a row with these columns in this order, at the beginning: see kDecisionColumns.
Decision decisionIn(const QSqlQuery& row)
{
    Decision decision;
    decision.leg = static_cast<std::size_t>(row.value(0).toInt());
    decision.path = bytesOf(row.value(1));
    decision.slot = textOf(row.value(2));
    decision.state.isDecided = row.value(3).toInt() != 0;
    decision.state.choice = textOf(row.value(4));
    if (!row.value(5).isNull()) {
        decision.state.text = bytesOf(row.value(5));
    }
    return decision;
}
constexpr const char* kDecisionColumns = "leg, path, slot, is_decided, choice, text";

QVariant slotText(const SlotState& state)
{
    return state.text ? blob(*state.text) : QVariant(QMetaType(QMetaType::QByteArray));
}

Database::Values placeOf(const std::string& splice, const Decision& decision)
{
    return {text(splice), static_cast<int>(decision.leg), blob(decision.path), text(decision.slot)};
}

Database::Statements::value_type statementFor(const std::string& splice, const Decision& decision)
{
    Database::Values values = placeOf(splice, decision);
    if (decision.state == SlotState{}) {
        return {"DELETE FROM decision WHERE splice = ? AND leg = ? AND path = ? AND slot = ?",
                std::move(values)};
    }
    values.insert(values.end(),
                  {decision.state.isDecided ? 1 : 0,
                   text(decision.state.choice),
                   slotText(decision.state),
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

/// What keeps a step, see kThirdTables. One that is too large takes those behind it along.
void addStep(Database::Statements& statements,
             const std::string& splice,
             const SpliceChange& change)
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
        Database::Values values = placeOf(splice, decision);
        values.insert(values.end(),
                      {number,
                       change.kind == StepKind::undone ? 0 : 1,
                       decision.state.isDecided ? 1 : 0,
                       text(decision.state.choice),
                       slotText(decision.state)});
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
}  // namespace

Status Journal::storeDecisions(const std::string& splice, const std::vector<Decision>& decisions)
{
    Database::Statements statements;
    for (const Decision& decision : decisions) {
        statements.push_back(statementFor(splice, decision));
    }
    return m_database.store(statements);
}

Status Journal::storeChange(const std::string& splice, const SpliceChange& change)
{
    Database::Statements statements;
    for (const Decision& decision : change.after) {
        statements.push_back(statementFor(splice, decision));
    }
    if (change.kind != StepKind::extended) {
        addStep(statements, splice, change);
    }
    return m_database.store(statements);
}

Result<KeptSteps> Journal::steps(const std::string& splice)
{
    KeptSteps kept;
    std::optional<std::size_t> last;
    TRY(m_database.read(std::string("SELECT ") + kDecisionColumns
                            + ", number, is_done FROM step WHERE splice = ? ORDER BY number",
                        {text(splice)},
                        [&](const QSqlQuery& row) {
                            const auto number =
                                static_cast<std::size_t>(row.value(6).toULongLong());
                            auto& steps = row.value(7).toInt() != 0 ? kept.done : kept.undone;
                            if (!last) {
                                kept.first = number;
                            }
                            if (last != number) {
                                steps.emplace_back();
                            }
                            last = number;
                            steps.back().push_back(decisionIn(row));
                        }));
    return kept;
}

Result<std::vector<Decision>> Journal::decisions(const std::string& splice)
{
    std::vector<Decision> decisions;
    TRY(m_database.read(std::string("SELECT ") + kDecisionColumns
                            + ", written_on FROM decision WHERE splice = ?",
                        {text(splice)},
                        [&](const QSqlQuery& row) {
                            decisions.push_back(decisionIn(row));
                            decisions.back().writtenOn = bytesOf(row.value(6));
                        }));
    return decisions;
}

Status Journal::storeReason(const std::string& splice, const GivenReason& reason)
{
    Database::Values values{
        text(splice), static_cast<qlonglong>(reason.leg), blob(reason.path), text(reason.slot)};
    if (reason.text.empty()) {
        return m_database.store(
            {{"DELETE FROM reason WHERE splice = ? AND leg = ? AND path = ? AND slot = ?",
              values}});
    }
    values.push_back(blob(reason.text));
    return m_database.store({{"INSERT OR REPLACE INTO reason (splice, leg, path, slot, text)"
                              " VALUES (?, ?, ?, ?, ?)",
                              values}});
}

Result<std::vector<GivenReason>> Journal::reasons(const std::string& splice)
{
    std::vector<GivenReason> reasons;
    TRY(m_database.read(
        "SELECT path, slot, text, leg FROM reason WHERE splice = ? ORDER BY leg, path",
        {text(splice)},
        [&](const QSqlQuery& row) {
            reasons.push_back({bytesOf(row.value(0)),
                               textOf(row.value(1)),
                               bytesOf(row.value(2)),
                               static_cast<std::size_t>(row.value(3).toInt())});
        }));
    return reasons;
}

Status
Journal::storeMark(const std::string& splice, MarkKind kind, const std::string& key, bool isSet)
{
    const Database::Values values{text(splice), nameIn(kMarkNames, kind), text(key)};
    return m_database.store(
        {{isSet ? "INSERT OR REPLACE INTO mark (splice, kind, key) VALUES (?, ?, ?)"
                : "DELETE FROM mark WHERE splice = ? AND kind = ? AND key = ?",
          values}});
}

Result<std::set<std::string>> Journal::marks(const std::string& splice, MarkKind kind)
{
    std::set<std::string> keys;
    TRY(m_database.read("SELECT key FROM mark WHERE splice = ? AND kind = ?",
                        {text(splice), nameIn(kMarkNames, kind)},
                        [&](const QSqlQuery& row) { keys.insert(textOf(row.value(0))); }));
    return keys;
}

Status Journal::copyMarks(const std::string& from, const std::string& to)
{
    return m_database.store(
        {{"INSERT OR IGNORE INTO mark (splice, kind, key) SELECT ?, kind, key FROM mark WHERE "
          "splice = ?",
          {text(to), text(from)}},
         {"INSERT OR IGNORE INTO reason (splice, leg, path, slot, text) SELECT ?, leg, path, slot, "
          "text FROM reason WHERE splice = ?",
          {text(to), text(from)}}});
}
}  // namespace rope
