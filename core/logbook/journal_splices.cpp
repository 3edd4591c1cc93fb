// SPDX-License-Identifier: GPL-3.0-or-later
// The journal's rows of splices: what each one is, where it stands, and how its recording goes.
// Tested by tst_journal.cpp.
#include "core/logbook/journal.h"
#include "core/logbook/journal_values.h"

#include <QDateTime>
#include <QSqlQuery>

#include <algorithm>

namespace rope {
namespace {
constexpr std::array<const char*, 5> kStateNames{
    "open", "recording", "recorded", "abandoned", "given-up"};
constexpr std::array<const char*, 2> kBegunByNames{"window", "command"};
constexpr std::array<const char*, 5> kWorkChoiceNames{
    "none", "carry", "set-aside", "brought-back", "files-stay"};

/// A merge where no kind is called so.
SpliceKind kindNamed(const QString& name)
{
    const auto found = std::find_if(kKinds.begin(), kKinds.end(), [&](const KindFacts& kind) {
        return name == QLatin1String(kind.name);
    });
    return found == kKinds.end() ? SpliceKind::merge
                                 : static_cast<SpliceKind>(found - kKinds.begin());
}

/// The columns that a splice has from its beginning, and what is in them.
std::vector<std::pair<const char*, QVariant>> columnsOf(const JournalEntry& entry)
{
    const SplicePlan& plan = entry.plan;
    return {{"id", text(plan.id)},
            {"state", nameIn(kStateNames, SpliceState::open)},
            {"started_at", QVariant::fromValue<qlonglong>(entry.startedAt)},
            {"ours_ref", blob(plan.oursRef)},
            {"ours_name", blob(plan.oursName)},
            {"theirs_name", blob(plan.theirsName)},
            {"ours", text(plan.ours.hex())},
            {"theirs", text(plan.theirs.hex())},
            {"begun_by", nameIn(kBegunByNames, entry.begunBy)},
            {"round", entry.round},
            {"follows", text(entry.follows)},
            {"holder", text(entry.holder)},
            {"kind", text(factsOf(plan.kind).name)},
            {"replaced", hexOf(plan.replaced)},
            {"work_choice", nameIn(kWorkChoiceNames, plan.workChoice)},
            {"work", hexOf(plan.work)},
            {"keeps_emptied", plan.keepsEmptied},
            {"begun", text(plan.begun)},
            {"above", hexOf(plan.above)}};
}

JournalEntry entryIn(const QSqlQuery& row)
{
    const auto value = [&row](const char* column) {
        return row.value(QString::fromLatin1(column));
    };
    JournalEntry entry;
    entry.plan.id = textOf(value("id"));
    entry.state =
        valueIn<SpliceState>(kStateNames, value("state")).value_or(SpliceState::abandoned);
    entry.startedAt = value("started_at").toLongLong();
    entry.plan.oursRef = bytesOf(value("ours_ref"));
    entry.plan.oursName = bytesOf(value("ours_name"));
    entry.plan.theirsName = bytesOf(value("theirs_name"));
    entry.plan.ours = idOf(value("ours"));
    entry.plan.theirs = idOf(value("theirs"));
    entry.begunBy = valueIn<BegunBy>(kBegunByNames, value("begun_by")).value_or(BegunBy::window);
    entry.round = value("round").toInt();
    entry.follows = textOf(value("follows"));
    entry.holder = textOf(value("holder"));
    entry.plan.kind = kindNamed(value("kind").toString());
    entry.plan.replaced = idOf(value("replaced"));
    entry.plan.workChoice =
        valueIn<WorkChoice>(kWorkChoiceNames, value("work_choice")).value_or(WorkChoice::none);
    entry.plan.work = idOf(value("work"));
    entry.plan.keepsEmptied = value("keeps_emptied").toBool();
    entry.plan.begun = textOf(value("begun"));
    entry.plan.above = idOf(value("above"));
    entry.message = bytesOf(value("message"));
    entry.station = textOf(value("station"));
    entry.place = bytesOf(value("place"));
    entry.recorded = idOf(value("recorded"));
    entry.endedAt = value("ended_at").toLongLong();
    entry.carried = static_cast<std::size_t>(value("carried").toULongLong());
    return entry;
}

/// Seconds since 1970, for a splice that has come to its end.
QVariant endOf(SpliceState state)
{
    const bool hasEnded = canBeBroughtBack(state) || state == SpliceState::recorded;
    return hasEnded ? QDateTime::currentSecsSinceEpoch() : qint64{0};
}
}  // namespace

Status Journal::begin(const JournalEntry& entry, const std::vector<LegSnapshots>& legs)
{
    std::string names;
    std::string places;
    Database::Values values;
    for (auto& [name, value] : columnsOf(entry)) {
        names += (names.empty() ? "" : ", ") + std::string(name);
        places += places.empty() ? "?" : ", ?";
        values.push_back(std::move(value));
    }
    Database::Statements statements{
        {"INSERT INTO splice (" + names + ") VALUES (" + places + ")", std::move(values)}};
    for (std::size_t i = 0; i < legs.size(); ++i) {
        statements.push_back(
            {"INSERT INTO leg (splice, number, base, base_label, ours, ours_label, theirs, "
             "theirs_label) VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
             {text(entry.plan.id),
              static_cast<int>(i),
              text(legs[i].base.tree.hex()),
              blob(legs[i].base.label),
              text(legs[i].ours.tree.hex()),
              blob(legs[i].ours.label),
              text(legs[i].theirs.tree.hex()),
              blob(legs[i].theirs.label)}});
    }
    return m_database.store(statements);
}

Result<std::vector<JournalEntry>> Journal::entriesWhere(const std::string& condition,
                                                        const QVariant& value)
{
    std::vector<JournalEntry> entries;
    TRY(m_database.read("SELECT * FROM splice WHERE " + condition
                            + " ORDER BY started_at DESC, rowid DESC",
                        {value},
                        [&](const QSqlQuery& row) { entries.push_back(entryIn(row)); }));
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
    std::set<std::string> ids;
    TRY(m_database.read("SELECT follows FROM splice WHERE follows <> ''",
                        {},
                        [&](const QSqlQuery& row) { ids.insert(textOf(row.value(0))); }));
    return ids;
}

Result<std::vector<LegSnapshots>> Journal::legs(const std::string& splice)
{
    std::vector<LegSnapshots> legs;
    TRY(m_database.read(
        "SELECT base, base_label, ours, ours_label, theirs, theirs_label FROM leg"
        " WHERE splice = ? ORDER BY number",
        {text(splice)},
        [&](const QSqlQuery& row) {
            const auto snapshot = [&row](int column) {
                return Snapshot{idOf(row.value(column)), bytesOf(row.value(column + 1)), {}};
            };
            legs.push_back({snapshot(0), snapshot(2), snapshot(4)});
        }));
    return legs;
}

Status Journal::setState(const std::string& splice, SpliceState state)
{
    return m_database.store({{"UPDATE splice SET state = ?, ended_at = ? WHERE id = ?",
                              {nameIn(kStateNames, state), endOf(state), text(splice)}}});
}

Status Journal::setWork(const std::string& splice, WorkChoice choice, const ObjectId& work)
{
    return m_database.store({{"UPDATE splice SET work_choice = ?, work = ? WHERE id = ?",
                              {nameIn(kWorkChoiceNames, choice), hexOf(work), text(splice)}}});
}

Status Journal::noteCarried(const std::string& splice, std::size_t count)
{
    return m_database.store({{"UPDATE splice SET carried = ? WHERE id = ?",
                              {static_cast<qulonglong>(count), text(splice)}}});
}

Status Journal::forget(const std::string& splice)
{
    const Database::Values id{text(splice)};
    return m_database.store({{"DELETE FROM decision WHERE splice = ?", id},
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
    return m_database.store(
        {{"UPDATE splice SET holder = ? WHERE id = ?", {text(holder), text(splice)}}});
}

Status Journal::storeMessage(const std::string& splice, const std::string& message)
{
    return m_database.store(
        {{"UPDATE splice SET message = ? WHERE id = ?", {blob(message), text(splice)}}});
}

Status
Journal::storePlace(const std::string& splice, const std::string& station, const std::string& place)
{
    return m_database.store({{"UPDATE splice SET station = ?, place = ? WHERE id = ?",
                              {text(station), blob(place), text(splice)}}});
}

Status Journal::noteRecording(const std::string& splice, const RecordingNote& note)
{
    TRY(m_database.setOutlivesPower(true));
    TRY(m_database.store({{"INSERT OR REPLACE INTO recording (splice, note) VALUES (?, ?)",
                           {text(splice), blob(note)}},
                          {"UPDATE splice SET state = 'recording' WHERE id = ?", {text(splice)}}}));
    (void)m_database.setOutlivesPower(false);  // where this fails it stays slower, not worse
    return ok();
}

Result<std::optional<RecordingNote>> Journal::recordingNote(const std::string& splice)
{
    std::optional<RecordingNote> note;
    TRY(m_database.read("SELECT note FROM recording WHERE splice = ?",
                        {text(splice)},
                        [&](const QSqlQuery& row) { note = bytesOf(row.value(0)); }));
    return note;
}

Status Journal::endRecording(const std::string& splice, SpliceState state, const ObjectId& recorded)
{
    Database::Statements statements;
    if (!recorded.isNull()) {
        statements.push_back({"INSERT OR REPLACE INTO recorded (splice, note)"
                              " SELECT splice, note FROM recording WHERE splice = ?",
                              {text(splice)}});
        statements.push_back({"DELETE FROM step WHERE splice = ?", {text(splice)}});
    }
    statements.push_back({"DELETE FROM recording WHERE splice = ?", {text(splice)}});
    statements.push_back(
        {"UPDATE splice SET state = ?, recorded = ?, ended_at = ? WHERE id = ?",
         {nameIn(kStateNames, state), text(recorded.hex()), endOf(state), text(splice)}});
    return m_database.store(statements);
}
}  // namespace rope
