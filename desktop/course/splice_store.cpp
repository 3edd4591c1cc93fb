// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_splice_session.cpp.
#include "desktop/course/splice_store.h"

#include "core/base/assert.h"
#include "desktop/course/log.h"

namespace rope {
SpliceStore::SpliceStore(QObject* parent)
    : QObject(parent)
{
}

void SpliceStore::report(const Status& status)
{
    if (!status && status.error().code != ErrorCode::cancelled) {
        logError(status.error());
        emit failed(status.error());
    }
}

void SpliceStore::open(const std::string& privateFolder)
{
    m_splice.clear();
    m_writer.reset();
    m_journal.reset();
    if (privateFolder.empty()) {
        return;
    }
    auto journal = Journal::open(privateFolder);
    if (!journal) {
        report(journal.error());
        return;
    }
    m_journal = std::move(*journal);
    m_writer = std::make_unique<JournalWriter>(privateFolder, nullptr);
    connect(m_writer.get(), &JournalWriter::failed, this, [this](const Error& error) {
        report(error);
    });
}

Journal& SpliceStore::journal()
{
    ROPE_ASSERT(m_journal != nullptr, "a splice is begun where there is a journal");
    return *m_journal;
}

void SpliceStore::finish()
{
    if (m_writer) {
        m_writer->finish();
    }
}

void SpliceStore::setSplice(const std::string& id, bool isOurs)
{
    m_splice = id;
    m_isOurs = isOurs;
}

void SpliceStore::storeChange(const SpliceChange& change)
{
    m_writer->storeChange(m_splice, change);
}

void SpliceStore::storeReason(const GivenReason& reason)
{
    if (!m_splice.empty()) {
        m_writer->storeReason(m_splice, reason);
    }
}

void SpliceStore::storeMessage(const QString& message)
{
    if (!m_splice.empty() && m_isOurs) {
        m_writer->storeMessage(m_splice, message.toStdString());
    }
}

void SpliceStore::storePlace(const std::string& station, const std::string& place)
{
    if (!m_splice.empty() && m_isOurs) {
        m_writer->storePlace(m_splice, station, place);
    }
}

std::set<std::string> SpliceStore::marks(MarkKind kind)
{
    return m_splice.empty() ? std::set<std::string>() : valueOf(m_journal->marks(m_splice, kind));
}

void SpliceStore::storeMark(MarkKind kind, const std::string& key, bool isSet)
{
    if (!m_splice.empty() && m_isOurs) {
        m_writer->storeMark(m_splice, kind, key, isSet);
    }
}

std::vector<CheckRun> SpliceStore::runsOn(const ObjectId& tree)
{
    return m_journal ? valueOf(m_journal->runsOn(tree)) : std::vector<CheckRun>();
}

void SpliceStore::storeRun(const CheckRun& run)
{
    if (m_journal) {
        m_writer->storeRun(run);
    }
}

EarlierDecisions SpliceStore::decisionsOf(const std::string& splice)
{
    finish();
    auto decisions = journal().decisions(splice);
    auto legs = m_journal->legs(splice);
    if (!decisions || !legs) {
        report(decisions ? Status(legs.error()) : Status(decisions.error()));
        return {};
    }
    return {std::move(*decisions), std::move(*legs)};
}
}  // namespace rope
