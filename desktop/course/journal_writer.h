// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/logbook/journal.h"
#include "desktop/background/background_runner.h"

namespace rope {
/// Writes into the journal what happens in a splice, in the order in which it is told. What is small
/// is stored before the call returns. What is large (a bulk answer) is stored beside the interface,
/// whole or not at all, and what follows it waits its turn behind it; so is what finds another process writing
/// for longer than a moment. Nobody at the window waits for a disk.
/// Lives on the interface thread.
class JournalWriter final : public QObject
{
    Q_OBJECT
public:
    /// Writes into the journal in `folder`, which has been opened before.
    JournalWriter(std::string folder, QObject* parent);
    ~JournalWriter() override;

    /// A step of deciding, as Splice tells it; `splice`: its id.
    void storeChange(const std::string& splice, const SpliceChange& change);
    /// Why a place is decided so; empty words take it back.
    void storeReason(const std::string& splice, const GivenReason& reason);
    /// The message as it stands; large ones do not wait either.
    void storeMessage(const std::string& splice, const std::string& message);
    /// Where a person is: the station, and what is looked at there.
    void
    storePlace(const std::string& splice, const std::string& station, const std::string& place);
    /// What a person has said of a finding or a file.
    void storeMark(const std::string& splice, MarkKind kind, const std::string& key, bool isSet);
    /// What a check command gave.
    void storeRun(const CheckRun& run);

    /// Returns once all that was told is stored.
    void finish();

signals:
    /// Something is not stored: the disk is full, or another process has the journal.
    void failed(const rope::Error& error);

private:
    template <typename Work>
    void write(Work work, bool isLarge);

    std::string m_folder;
    Result<std::unique_ptr<Journal>> m_journal;  ///< For what is stored at once.
    int m_waiting = 0;                           ///< Told, and not known to be stored.
    BackgroundRunner m_work;
};
}  // namespace rope
