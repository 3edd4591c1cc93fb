// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/course/splice_session.h"
#include "desktop/course/splice_tasks.h"

namespace rope {
/// Reads for the stations what they ask of the splice under way: who touched a file, since when a region exists, what
/// the result changes. An answer to a splice that is gone is dropped. Interface thread.
class SpliceReader final : public QObject
{
    Q_OBJECT
public:
    SpliceReader(PlaceSession& place, SpliceSession& splices, QObject* parent);

    /// Asks who touched a file of the splice, by its place among Splice::files(); each is answered.
    void requestFileFacts(std::size_t file);
    /// Asks since when the sides do not fit at a region; the last one asked for is answered.
    void requestSince(SlotPlace place);
    /// Reads what the result changes, once nothing is open; the last one asked for is answered.
    void requestContents();
    /// Reads what is uncommitted, change by change.
    void readUncommitted();

signals:
    // Answers to the requests above, in that order. What could not be read is in the log and not told.
    void fileFactsReady(std::size_t file, const rope::FileFacts& facts);
    void sinceReady(rope::SlotPlace place, const QString& words);
    void contentsReady(const rope::ResultReading& contents);
    void uncommittedRead(const rope::ResultReading& uncommitted);

private:
    [[nodiscard]] std::shared_ptr<const FileOutcome> heldOutcome(std::size_t file) const;

    PlaceSession& m_place;
    SpliceSession& m_splices;
    BackgroundRunner m_facts;
    BackgroundRunner m_since;     ///< Superseded by each next one.
    BackgroundRunner m_contents;  ///< Superseded by each next one.
};
}  // namespace rope
