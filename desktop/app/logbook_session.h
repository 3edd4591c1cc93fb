// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/logbook_tasks.h"
#include "desktop/app/place_session.h"

namespace rope {
/// Reads the logbook of the open place beside the interface. Lives on the interface thread.
class LogbookSession final : public QObject
{
    Q_OBJECT
public:
    LogbookSession(PlaceSession& place, QObject* parent);
    void look();
    /// What was decided in a splice; the last one asked for is answered.
    void readDetails(const JournalEntry& entry);

signals:
    void looked(const rope::LogbookFacts& facts);
    void detailsReady(const rope::LoggedDetails& details);
    void failed(const rope::Error& error);

private:
    PlaceSession& m_place;
    BackgroundRunner m_looks;
    BackgroundRunner m_details;  ///< Superseded by each next one.
};
}  // namespace rope
