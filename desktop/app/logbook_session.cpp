// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_logbook_round.cpp.
#include "desktop/app/logbook_session.h"

#include "desktop/app/log.h"

namespace rope {
LogbookSession::LogbookSession(PlaceSession& place, QObject* parent)
    : QObject(parent)
    , m_place(place)
    , m_looks(1, this)
    , m_details(1, this)
{
}

void LogbookSession::look()
{
    m_looks.supersede();
    m_looks.run([address = m_place.address()](
                    const std::stop_token& stop) { return readLogbook(address, stop); },
                [this](const Result<LogbookFacts>& facts) {
                    if (facts) {
                        emit looked(*facts);
                    } else if (facts.error().code != ErrorCode::cancelled) {
                        logError(facts.error());
                        emit failed(facts.error());
                    }
                });
}

void LogbookSession::readDetails(const JournalEntry& entry)
{
    m_details.supersede();
    m_details.run([address = m_place.address(),
                   entry](const std::stop_token& stop) { return readLogged(address, entry, stop); },
                  [this](const Result<LoggedDetails>& details) {
                      if (details) {
                          emit detailsReady(*details);
                      } else if (details.error().code != ErrorCode::cancelled) {
                          logError(details.error());
                          emit failed(details.error());
                      }
                  });
}
}  // namespace rope
