// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/course/logbook_tasks.h"
#include "desktop/course/merge_tasks.h"
#include "desktop/course/place_session.h"

namespace rope {
/// Reads the logbook of the open place beside the interface. Lives on the interface thread.
class LogbookSession final : public QObject
{
    Q_OBJECT
public:
    LogbookSession(PlaceSession& place, QObject* parent);
    /// Reads it again; answered by looked().
    void look();
    /// What was decided in a splice; the last one asked for is answered.
    void readDetails(const JournalEntry& entry);
    /// What is odd and what was decided in a merge of the history; answered as readDetails().
    void readMerge(const ObjectId& merge);
    /// Reads the merges of the history beside the interface, or stops reading.
    void readMerges();
    /// Stops reading merges where that is under way, else begins.
    void toggleReading();
    /// Reads the merge that a person named, and lists it first.
    void readNamed(const QString& name);
    /// A person wants to be rid of what is kept; until it is cleaned away it can be kept again.
    void deleteKept(const KeptWork& kept);
    void keepAgain(const KeptWork& kept);
    /// A person says that what is odd about a merge is fine, or takes that back.
    void setMergeFine(const ObjectId& merge, bool isFine);

signals:
    void looked(const rope::LogbookFacts& facts);
    void detailsReady(const rope::LoggedDetails& details);
    /// The merges that were read so far, newest first; it comes many times while they are read.
    void mergesRead(const std::vector<rope::ReadMergeRow>& merges,
                    const rope::MergesProgress& progress);
    /// It is out of the list; keepAgain() takes that back.
    void keptDeleted(const rope::KeptWork& kept);
    /// What was asked for last did not go; what was known stays.
    void failed(const rope::Error& error);

private:
    void onOpened();
    void onFactsChanged(const FactsChange& change);
    void tellMerges();

    PlaceSession& m_place;
    std::vector<ReadMergeRow> m_merges;  ///< Of the history, newest first.
    std::vector<ReadMergeRow> m_named;   ///< Those that a person asked for by name.
    MergesProgress m_progress;
    ObjectId m_readFrom;  ///< The commit whose history that is.
    int m_readings =
        0;  ///< How often reading was begun: what an earlier one still tells is dropped.
    BackgroundRunner m_reader;
    BackgroundRunner m_learner;
    BackgroundRunner m_looks;
    BackgroundRunner m_details;  ///< Superseded by each next one.
};
}  // namespace rope
