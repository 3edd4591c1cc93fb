// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.h"
#include "core/splice/decision.h"
#include "core/splice/splice.h"

#include <QString>

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace rope {
enum class SpliceState { open, recording, recorded, abandoned };

/// A splice as the journal knows it.
struct JournalEntry
{
    SplicePlan plan;
    SpliceState state = SpliceState::open;
    std::int64_t startedAt = 0;  ///< Seconds since 1970.
    std::string message;         ///< The half-written commit message; empty if none.
    std::string station;         ///< Where the person was: "survey", "resolve", "record".
    std::string place;           ///< The selected thing there; the station's own notation.
    ObjectId recorded;           ///< The commit it ended in, or null.
};

/// How far a recording has come. Each step is stored before it is taken.
enum class RecordStep {
    bringingWorkingTree,  ///< The working tree goes from ours to the result.
    committing,           ///< Hooks run, the commit is written.
    movingBranch,         ///< The branch goes from ours to the commit.
    finishing,            ///< The branch has moved; hooks that follow, tidying up.
    undoing,              ///< Something refused; the working tree goes back to ours.
};

/// What a recording needs to be finished or undone after a crash.
struct RecordingNote
{
    RecordStep step = RecordStep::bringingWorkingTree;
    ObjectId oursTree;
    ObjectId resultTree;
    ObjectId commit;  ///< Null before it is written.
};

/// The memory of splices: `journal.sqlite` in the repository's private folder (docs/journal.md).
/// What a call has stored survives the end of the process at any moment after it returns; recording
/// notes survive the end of power as well. One thread per instance; several instances may share a file.
class Journal
{
public:
    /// Opens or makes the journal in `folder`. Errors: `io`; `corrupt` when the file is no journal
    /// of ours, or a newer one; it is left as it is.
    static Result<std::unique_ptr<Journal>> open(const std::string& folder);
    ~Journal();
    Journal(const Journal&) = delete;
    Journal& operator=(const Journal&) = delete;

    Status begin(const SplicePlan& plan, std::int64_t startedAt);
    /// Splices in this state, newest first.
    Result<std::vector<JournalEntry>> splices(SpliceState state);
    Status setState(const std::string& splice, SpliceState state, const ObjectId& recorded = {});

    /// Stores all of these or none. A state of "nothing yet" removes what was stored.
    Status storeDecisions(const std::string& splice, const std::vector<Decision>& decisions);
    Result<std::vector<Decision>> decisions(const std::string& splice);

    Status storeMessage(const std::string& splice, const std::string& message);
    Status
    storePlace(const std::string& splice, const std::string& station, const std::string& place);

    /// Notes the step a recording is about to take, and the state that goes with it.
    Status noteRecording(const std::string& splice, const RecordingNote& note);
    Result<std::optional<RecordingNote>> recordingNote(const std::string& splice);
    /// Ends a recording: the note goes, the state becomes `state`.
    Status endRecording(const std::string& splice, SpliceState state, const ObjectId& recorded);

private:
    Journal(QString connection, std::string file)
        : m_connection(std::move(connection))
        , m_file(std::move(file))
    {
    }
    Status connectTo(const std::string& file);
    Status prepareTables();
    [[nodiscard]] Error failure(const QString& detail) const;

    QString m_connection;  ///< Name of the Qt Sql connection, unique to this instance.
    std::string m_file;
};
}  // namespace rope
