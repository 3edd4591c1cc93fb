// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_journal_writer.cpp.
#include "desktop/course/journal_writer.h"

namespace rope {
namespace {
/// Of so many places a transaction takes about a millisecond.
constexpr std::size_t kMostStoredAtOnce = 100;
/// For another process that writes; from there on it is waited for beside the interface.
constexpr std::chrono::milliseconds kLongestWait{10};
}  // namespace

JournalWriter::JournalWriter(std::string folder, QObject* parent)
    : QObject(parent)
    , m_folder(std::move(folder))
    , m_journal(Journal::open(m_folder, kLongestWait))
    , m_work(1, this)
{
}

JournalWriter::~JournalWriter()
{
    finish();
}

template <typename Work>
void JournalWriter::write(Work work, bool isLarge)
{
    if (m_waiting == 0 && !isLarge) {
        const Status stored = m_journal ? work(**m_journal) : Status(m_journal.error());
        if (stored || stored.error().code != ErrorCode::busy) {
            if (!stored) {
                emit failed(stored.error());
            }
            return;
        }
    }
    ++m_waiting;
    m_work.runToTheEnd(
        [folder = m_folder, work = std::move(work)](const std::stop_token&) -> Status {
            TRY_ASSIGN(const auto journal, Journal::open(folder));
            return work(*journal);
        },
        [this](const Status& stored) {
            --m_waiting;
            if (!stored) {
                emit failed(stored.error());
            }
        },
        {});
}

void JournalWriter::storeChange(const std::string& splice, const SpliceChange& change)
{
    write([splice, change](Journal& journal) { return journal.storeChange(splice, change); },
          change.after.size() > kMostStoredAtOnce);
}

void JournalWriter::storeReason(const std::string& splice, const GivenReason& reason)
{
    write([splice, reason](Journal& journal) { return journal.storeReason(splice, reason); },
          false);
}

void JournalWriter::storeMessage(const std::string& splice, const std::string& message)
{
    write([splice, message](Journal& journal) { return journal.storeMessage(splice, message); },
          false);
}

void JournalWriter::storePlace(const std::string& splice,
                               const std::string& station,
                               const std::string& place)
{
    write([splice, station, place](
              Journal& journal) { return journal.storePlace(splice, station, place); },
          false);
}

void JournalWriter::storeMark(const std::string& splice,
                              MarkKind kind,
                              const std::string& key,
                              bool isSet)
{
    write([splice, kind, key, isSet](
              Journal& journal) { return journal.storeMark(splice, kind, key, isSet); },
          false);
}

void JournalWriter::storeRun(const CheckRun& run)
{
    write([run](Journal& journal) { return journal.storeRun(run); }, false);
}

void JournalWriter::finish()
{
    m_work.waitForAll();
}
}  // namespace rope
