// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_logbook_round.cpp, tst_merges_round.cpp.
#include "desktop/app/logbook_wiring.h"

#include "desktop/app/navigator.h"
#include "desktop/app/notices.h"
#include "desktop/course/logbook_session.h"
#include "desktop/course/record_session.h"
#include "desktop/logbook/logbook_page.h"

namespace rope {
LogbookWiring::LogbookWiring(const WindowParts& parts, QObject* parent)
    : QObject(parent)
    , m_parts(parts)
{
    LogbookSession* const past = m_parts.past;
    LogbookPage* const page = m_parts.logbook;
    connect(past, &LogbookSession::looked, this, [this](const LogbookFacts& facts) {
        m_parts.logbook->showFacts(facts);
        m_parts.to->showStatus();
    });
    connect(past, &LogbookSession::detailsReady, page, &LogbookPage::showDetails);
    connect(past, &LogbookSession::failed, this, [this](const Error& error) {
        m_parts.notices->tellOfTrouble(error);
    });
    connect(page, &LogbookPage::detailsRequested, past, &LogbookSession::readDetails);
    connect(page, &LogbookPage::backRequested, this, [this] {
        m_parts.to->goTo(m_parts.to->station());
    });
    connect(
        page, &LogbookPage::goOnRequested, this, [this] { m_parts.to->goTo(Station::resolve); });
    connect(page, &LogbookPage::bringBackRequested, m_parts.splice, &SpliceSession::bringBack);
    connect(page,
            &LogbookPage::reopenRequested,
            this,
            [this](const JournalEntry& entry, const ObjectId& made, bool onTop) {
                if (isFree()) {
                    m_parts.splice->reopen(entry, made, onTop);
                }
            });
    connect(page,
            &LogbookPage::takeOutRequested,
            this,
            [this](const JournalEntry& entry, const ObjectId& made) {
                if (isFree()) {
                    m_parts.splice->takeOut(entry, made);
                }
            });
    connect(page, &LogbookPage::rollBackRequested, this, [this](const JournalEntry& entry) {
        if (isFree()) {
            m_parts.recording->roll(entry, false);
        }
    });
    connect(page, &LogbookPage::rollForwardRequested, this, [this](const JournalEntry& entry) {
        if (isFree()) {
            m_parts.recording->roll(entry, true);
        }
    });
    joinMerges();
    joinKept();
}

void LogbookWiring::joinMerges()
{
    LogbookSession* const past = m_parts.past;
    LogbookPage* const page = m_parts.logbook;
    connect(past, &LogbookSession::mergesRead, page, &LogbookPage::showMerges);
    connect(page, &LogbookPage::mergeRequested, past, &LogbookSession::readMerge);
    connect(page, &LogbookPage::mergeNamed, past, &LogbookSession::readNamed);
    connect(page, &LogbookPage::readingToggled, past, &LogbookSession::toggleReading);
    connect(page, &LogbookPage::mergeFineRequested, past, &LogbookSession::setMergeFine);
    connect(page, &LogbookPage::mergeReopenRequested, this, [this](const ObjectId& merge) {
        if (isFree()) {
            m_parts.splice->reopenMerge(merge);
        }
    });
}

void LogbookWiring::joinKept()
{
    LogbookSession* const past = m_parts.past;
    LogbookPage* const page = m_parts.logbook;
    connect(page, &LogbookPage::bringKeptBackRequested, this, [this](const KeptWork& kept) {
        if (isFree()) {
            m_parts.splice->bringKeptBack(kept.id);
        }
    });
    connect(page, &LogbookPage::deleteKeptRequested, past, &LogbookSession::deleteKept);
    connect(past, &LogbookSession::keptDeleted, this, [this](const KeptWork& kept) {
        m_parts.notices->tellOfDeleted(kept.isWork,
                                       [past = m_parts.past, kept] { past->keepAgain(kept); });
    });
}

bool LogbookWiring::isFree() const
{
    if (m_parts.splice->splice() == nullptr) {
        return true;
    }
    m_parts.notices->say(tr("A splice is under way. Record it or put it away first."));
    return false;
}
}  // namespace rope
