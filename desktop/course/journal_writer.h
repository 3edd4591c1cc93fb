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

    void storeChange(const std::string& splice, const SpliceChange& change);
    void storeReason(const std::string& splice, const GivenReason& reason);
    void storeMessage(const std::string& splice, const std::string& message);
    void
    storePlace(const std::string& splice, const std::string& station, const std::string& place);

    /// Returns once all that was told is stored.
    void finish();

signals:
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
