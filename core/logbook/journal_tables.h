// SPDX-License-Identifier: GPL-3.0-or-later
// The journal's tables and how each version became the next; described in docs/journal.md.
#pragma once

#include <array>

namespace rope {
inline constexpr int kJournalVersion = 11;

/// Version 1, as the first release made them.
inline constexpr std::array kFirstTables{
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

/// From 1 to 2: legs and rounds; decisions know what they were written on; the adapter's notes are
/// opaque. A recording that version 1 had under way becomes a note of the git adapter, the only one
/// that version knew.
inline constexpr std::array kSecondTables{
    "ALTER TABLE splice ADD COLUMN begun_by TEXT NOT NULL DEFAULT 'window'",
    "ALTER TABLE splice ADD COLUMN ended_at INTEGER NOT NULL DEFAULT 0",
    "ALTER TABLE splice ADD COLUMN round INTEGER NOT NULL DEFAULT 1",
    "ALTER TABLE splice ADD COLUMN follows TEXT NOT NULL DEFAULT ''",
    "ALTER TABLE splice ADD COLUMN holder TEXT NOT NULL DEFAULT ''",
    "UPDATE splice SET ended_at = started_at WHERE state IN ('recorded', 'abandoned')",
    "CREATE TABLE leg (splice TEXT NOT NULL REFERENCES splice(id), number INTEGER NOT NULL,"
    " base TEXT NOT NULL, base_label BLOB NOT NULL, ours TEXT NOT NULL, ours_label BLOB NOT NULL,"
    " theirs TEXT NOT NULL, theirs_label BLOB NOT NULL, PRIMARY KEY (splice, number)) WITHOUT "
    "ROWID",
    "ALTER TABLE decision RENAME TO decision_1",
    "CREATE TABLE decision (splice TEXT NOT NULL REFERENCES splice(id), leg INTEGER NOT NULL,"
    " path BLOB NOT NULL, slot TEXT NOT NULL, is_decided INTEGER NOT NULL, choice TEXT NOT NULL,"
    " text BLOB, written_on BLOB NOT NULL DEFAULT x'',"
    " PRIMARY KEY (splice, leg, path, slot)) WITHOUT ROWID",
    "INSERT INTO decision (splice, leg, path, slot, is_decided, choice, text)"
    " SELECT splice, 0, path, slot, is_decided, choice, text FROM decision_1",
    "DROP TABLE decision_1",
    "ALTER TABLE recording RENAME TO recording_1",
    "CREATE TABLE recording (splice TEXT PRIMARY KEY REFERENCES splice(id), note BLOB NOT NULL)",
    "INSERT INTO recording (splice, note) SELECT r.splice, CAST('{\"step\":\"' || r.step ||"
    " '\",\"ref\":\"' || CAST(s.ours_ref AS TEXT) || '\",\"ours\":\"' || s.ours ||"
    " '\",\"oursTree\":\"' || r.ours_tree || '\",\"resultTree\":\"' || r.result_tree ||"
    " '\",\"commit\":\"' || r.commit_id || '\"}' AS BLOB)"
    " FROM recording_1 r JOIN splice s ON s.id = r.splice",
    "DROP TABLE recording_1",
    "CREATE TABLE recorded (splice TEXT PRIMARY KEY REFERENCES splice(id), note BLOB NOT NULL)",
    "CREATE TABLE asked (remote BLOB PRIMARY KEY, at INTEGER NOT NULL)",
    "PRAGMA user_version=2",
};

/// From 2 to 3: steps that can be undone outlive the window. A row tells of one place of a step what
/// it does not hold now: what stood before while the step is done, what stood after once it is undone.
inline constexpr std::array kThirdTables{
    "CREATE TABLE step (splice TEXT NOT NULL REFERENCES splice(id), number INTEGER NOT NULL,"
    " is_done INTEGER NOT NULL, leg INTEGER NOT NULL, path BLOB NOT NULL, slot TEXT NOT NULL,"
    " is_decided INTEGER NOT NULL, choice TEXT NOT NULL, text BLOB,"
    " PRIMARY KEY (splice, number, leg, path, slot)) WITHOUT ROWID",
    "PRAGMA user_version=3",
};

/// From 3 to 4: splices that make something else than a merge commit, that take the place of an
/// earlier one, and that look after uncommitted work.
inline constexpr std::array kFourthTables{
    "ALTER TABLE splice ADD COLUMN kind TEXT NOT NULL DEFAULT 'merge'",
    "ALTER TABLE splice ADD COLUMN replaced TEXT NOT NULL DEFAULT ''",
    "ALTER TABLE splice ADD COLUMN work_choice TEXT NOT NULL DEFAULT 'none'",
    "ALTER TABLE splice ADD COLUMN work TEXT NOT NULL DEFAULT ''",
    "PRAGMA user_version=4",
};

/// From 4 to 5: what a person has said of things that are no decisions: a finding is fine, a file is read.
inline constexpr std::array kFifthTables{
    "CREATE TABLE mark (splice TEXT NOT NULL REFERENCES splice(id), kind TEXT NOT NULL, key TEXT "
    "NOT NULL, PRIMARY KEY (splice, kind, key)) WITHOUT ROWID",
    "PRAGMA user_version=5",
};

/// From 5 to 6: what running commands on results gave, by the result's tree.
inline constexpr std::array kSixthTables{
    "CREATE TABLE run (tree TEXT NOT NULL, command TEXT NOT NULL, exit INTEGER NOT NULL, signal "
    "INTEGER NOT NULL, duration INTEGER NOT NULL, ended_at INTEGER NOT NULL, PRIMARY KEY (tree, "
    "command)) WITHOUT ROWID",
    "PRAGMA user_version=6",
};

/// From 6 to 7: a rebase may keep commits of which nothing is left.
inline constexpr std::array kSeventhTables{
    "ALTER TABLE splice ADD COLUMN keeps_emptied INTEGER NOT NULL DEFAULT 0",
    "PRAGMA user_version=7",
};

/// From 7 to 8: a splice may finish a join that another program began; what merges of the history say was
/// decided is kept by region; a merge with something odd may be said to be fine.
inline constexpr std::array kEighthTables{
    "ALTER TABLE splice ADD COLUMN begun TEXT NOT NULL DEFAULT ''",
    "CREATE INDEX decision_slot ON decision (slot)",
    "CREATE TABLE fine_merge (id TEXT PRIMARY KEY) WITHOUT ROWID",
    "CREATE TABLE learned_merge (id TEXT PRIMARY KEY) WITHOUT ROWID",
    "CREATE TABLE learned (region TEXT PRIMARY KEY, loose TEXT NOT NULL, text BLOB NOT NULL,"
    " merge TEXT NOT NULL, made_by BLOB NOT NULL, at INTEGER NOT NULL) WITHOUT ROWID",
    "CREATE INDEX learned_loose ON learned (loose)",
    "PRAGMA user_version=8",
};

/// From 8 to 9: what stands upon a commit that is recorded anew is carried along.
inline constexpr std::array kNinthTables{
    "ALTER TABLE splice ADD COLUMN above TEXT NOT NULL DEFAULT ''",
    "ALTER TABLE splice ADD COLUMN carried INTEGER NOT NULL DEFAULT 0",
    "PRAGMA user_version=9",
};

/// From 9 to 10: why something was decided, in a person's words.
inline constexpr std::array kTenthTables{
    "CREATE TABLE reason (splice TEXT NOT NULL REFERENCES splice(id), leg INTEGER NOT NULL, path "
    "BLOB"
    " NOT NULL, slot TEXT NOT NULL, text BLOB NOT NULL, PRIMARY KEY (splice, leg, path, slot))"
    " WITHOUT ROWID",
    "PRAGMA user_version=10",
};

/// From 10 to 11: a journal has a random id, by which its person's own state knows it.
inline constexpr std::array kEleventhTables{
    "CREATE TABLE identity (id TEXT NOT NULL)",
    "INSERT INTO identity SELECT lower(hex(randomblob(16)))",
    "PRAGMA user_version=11",
};
}  // namespace rope
