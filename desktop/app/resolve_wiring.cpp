// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp, tst_reasons_round.cpp, tst_external_copies.cpp.
#include "desktop/app/resolve_wiring.h"

#include "desktop/app/external_copies.h"
#include "desktop/app/navigator.h"
#include "desktop/app/notices.h"
#include "desktop/course/check_session.h"
#include "desktop/course/splice_reader.h"
#include "desktop/record/record_station.h"
#include "desktop/resolve/resolve_station.h"

namespace rope {
ResolveWiring::ResolveWiring(const WindowParts& parts, QObject* parent)
    : QObject(parent)
    , m_parts(parts)
{
    SpliceSession* const splice = m_parts.splice;
    ResolveStation* const resolve = m_parts.resolve;
    auto* copies = new ExternalCopies(this);
    SpliceReader* const reader = m_parts.reader;
    connect(reader,
            &SpliceReader::fileFactsReady,
            this,
            [resolve](std::size_t file, const FileFacts& facts) {
                resolve->setFacts(file, facts.chunks, facts.whole, facts.versions);
            });
    connect(resolve, &ResolveStation::factsRequested, reader, &SpliceReader::requestFileFacts);
    connect(resolve, &ResolveStation::sinceRequested, reader, &SpliceReader::requestSince);
    connect(reader, &SpliceReader::sinceReady, resolve, &ResolveStation::setSince);
    connect(resolve, &ResolveStation::changed, this, &ResolveWiring::changed);
    connect(resolve, &ResolveStation::told, m_parts.to, &Navigator::say);
    connect(resolve, &ResolveStation::placeChanged, m_parts.to, &Navigator::storePlace);
    connect(resolve, &ResolveStation::doneRequested, this, [this] {
        m_parts.to->goTo(Station::check);
    });
    connect(resolve, &ResolveStation::reasonGiven, this, [this](const GivenReason& reason) {
        m_parts.splice->store().storeReason(reason);
        m_parts.record->showNotes();
    });
    connect(resolve,
            &ResolveStation::copyRequested,
            this,
            [this, copies](const QString& path, const QByteArray& bytes) {
                if (const QString problem = copies->open(path, bytes); !problem.isEmpty()) {
                    m_parts.notices->say(problem);
                }
            });
    connect(copies, &ExternalCopies::changed, resolve, &ResolveStation::takeOverCopy);
    connect(splice, &SpliceSession::ending, copies, &ExternalCopies::forget);
    connect(m_parts.to, &Navigator::entering, this, [this](Station station) {
        if (station == Station::resolve && m_isStale) {
            setSplice(m_parts.splice->splice(), m_parts.resolve->place());
        }
    });
    connect(m_parts.checking, &CheckSession::aboutToTakeUp, this, [this] {
        m_parts.to->flush();
        m_placeBefore = m_parts.resolve->place();
    });
    connect(m_parts.checking, &CheckSession::tookUp, this, [this] {
        setSplice(m_parts.splice->splice(), m_placeBefore);
    });
}

void ResolveWiring::setSplice(Splice* splice, const std::string& place)
{
    m_isStale = false;
    m_parts.resolve->setSplice(splice, place);
}
}  // namespace rope
