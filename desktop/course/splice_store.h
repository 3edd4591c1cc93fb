// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/course/journal_writer.h"
#include "desktop/course/prepared_splice.h"

#include <memory>
#include <set>

namespace rope {
/// The journal of the open place, and what the sessions keep in it of the splice under way. What another window has is
/// read, never written. What cannot be stored is told by failed(). Interface thread.
class SpliceStore final : public QObject
{
    Q_OBJECT
public:
    explicit SpliceStore(QObject* parent);

    /// Opens the journal in a place's private folder, in place of the one before; empty: none.
    void open(const std::string& privateFolder);
    [[nodiscard]] bool isOpen() const { return m_journal != nullptr; }
    /// REQUIRES: isOpen()
    [[nodiscard]] Journal& journal();
    /// Returns once all that was told is stored.
    void finish();

    /// What is stored from now on is of this splice; empty: of none. `isOurs`: this window may write.
    void setSplice(const std::string& id, bool isOurs);

    void storeChange(const SpliceChange& change);
    void storeReason(const GivenReason& reason);
    void storeMessage(const QString& message);
    void storePlace(const std::string& station, const std::string& place);
    /// What a person has said of findings and files of the splice under way.
    [[nodiscard]] std::set<std::string> marks(MarkKind kind);
    void storeMark(MarkKind kind, const std::string& key, bool isSet);
    /// What check commands gave on a tree, as far as that is remembered.
    [[nodiscard]] std::vector<CheckRun> runsOn(const ObjectId& tree);
    void storeRun(const CheckRun& run);

    /// What was decided in a splice, as the journal knows it.
    [[nodiscard]] EarlierDecisions decisionsOf(const std::string& splice);

    /// Tells of a failure, but of none that a person wanted.
    void report(const Status& status);

signals:
    void failed(const rope::Error& error);

private:
    template <typename T>
    [[nodiscard]] T valueOf(Result<T> read)
    {
        report(read ? ok() : Status(read.error()));
        return read ? std::move(*read) : T();
    }

    std::unique_ptr<Journal> m_journal;
    std::unique_ptr<JournalWriter> m_writer;  ///< Of that journal.
    std::string m_splice;
    bool m_isOurs = false;
};
}  // namespace rope
