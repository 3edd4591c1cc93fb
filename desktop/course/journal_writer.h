// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/logbook/journal.h"
#include "desktop/background/background_runner.h"

namespace rope {
/// Writes into the journal what happens in a splice, in the order in which it is told. What is small
/// is stored before the call returns. What is large (a bulk answer) is stored beside the interface,
/// whole or not at all, and what follows it waits its turn behind it, so that nobody waits for a disk.
/// Lives on the interface thread.
class JournalWriter final : public QObject
{
    Q_OBJECT
public:
    /// The journal is that of `folder` and must outlive the writer.
    JournalWriter(Journal& journal, std::string folder, QObject* parent);
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

    /// Returns once all that was told is stored.
    void finish();

signals:
    /// Something is not stored: the disk is full, or another process has the journal.
    void failed(const rope::Error& error);

private:
    template <typename Work>
    void write(Work work, bool isLarge);

    Journal& m_journal;
    std::string m_folder;
    int m_waiting = 0;  ///< Told, and not known to be stored.
    BackgroundRunner m_work;
};
}  // namespace rope
