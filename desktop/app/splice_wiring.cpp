// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/splice_wiring.h"

#include "desktop/app/check_wiring.h"
#include "desktop/app/navigator.h"
#include "desktop/app/notices.h"
#include "desktop/app/preferences.h"
#include "desktop/app/record_wiring.h"
#include "desktop/app/resolve_wiring.h"
#include "desktop/check/check_station.h"
#include "desktop/course/check_session.h"
#include "desktop/course/logbook_session.h"
#include "desktop/course/record_session.h"
#include "desktop/course/trial_session.h"
#include "desktop/push/push_station.h"
#include "desktop/record/record_station.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/survey/survey_station.h"
#include "desktop/wording/done_words.h"
#include "desktop/wording/shown_text.h"

#include <QDateTime>

namespace rope {
SpliceWiring::SpliceWiring(const WindowParts& parts,
                           ResolveWiring& resolving,
                           CheckWiring& checking,
                           RecordWiring& recording,
                           QObject* parent)
    : QObject(parent)
    , m_resolving(resolving)
    , m_checking(checking)
    , m_recording(recording)
    , m_parts(parts)
{
    SpliceSession* const splice = m_parts.splice;
    connect(splice, &SpliceSession::started, this, &SpliceWiring::onStarted);
    connect(splice, &SpliceSession::startProgressed, this, [this](const QString& text) {
        m_parts.to->setProgress(text.isEmpty() ? text : tr("Opening the splice… %1").arg(text));
    });
    connect(splice, &SpliceSession::journalMissing, this, [this] {
        m_parts.notices->repeatTrouble();
    });
    connect(splice, &SpliceSession::ending, this, &SpliceWiring::onEnding);
    connect(splice, &SpliceSession::ended, this, &SpliceWiring::onEnded);
    connect(m_parts.recording, &RecordSession::progressed, this, &SpliceWiring::onRecordingStep);
    connect(m_parts.recording, &RecordSession::doneAtOnce, this, &SpliceWiring::onDoneAtOnce);
    connect(splice, &SpliceSession::legsAboutToChange, this, [this](std::size_t first) {
        m_parts.check->flush();
        m_parts.resolve->letGoFrom(first);
    });
    connect(splice, &SpliceSession::legsChanged, this, &SpliceWiring::onLegsChanged);
    connect(splice, &SpliceSession::decisionsLost, this, [this](std::size_t count) {
        m_parts.notices->tellOfLost(count);
    });
    connect(splice, &SpliceSession::settled, this, [this] {
        m_parts.resolve->refreshList();
        onChanged();
    });
    connect(&m_resolving, &ResolveWiring::changed, this, &SpliceWiring::onChanged);
    connect(&m_checking, &CheckWiring::changed, this, [this] {
        m_resolving.setStale();
        onChanged();
    });
}

void SpliceWiring::onStarted(const Started& started)
{
    const JournalEntry& entry = started.entry;
    m_parts.course->setPassedOver({});
    m_parts.survey->setSpliceUnderWay(entry.plan.theirsName);
    m_recording.setMessageParts();
    m_resolving.setSplice(m_parts.splice->splice(), entry.place);
    m_checking.setSplice();
    m_parts.record->setSplice(m_parts.splice->splice(), editableText(entry.message));
    m_parts.push->forgetAnswer();
    m_parts.record->setUncommitted(m_parts.place->facts()->uncommitted);
    onChanged();
    if (started.isFound) {
        m_parts.to->goTo(Station::survey);  // which says that it is under way, and leads on to it
        return;
    }
    const bool isOpen = m_parts.splice->splice()->openCount() > 0;
    if (entry.plan.kind == SpliceKind::bringBack && !isOpen) {
        m_parts.to->goTo(Station::record);
        m_parts.recording->record({});  // what fits comes at once: it was asked for
        return;
    }
    const bool isClean = entry.station.empty() && !isOpen;
    if (isClean && m_parts.splice->splice()->decidedCount() == 0 && started.heldBy.empty()
        && entry.plan.kind != SpliceKind::fastForward && entry.plan.kind != SpliceKind::bringBack) {
        m_checking.lookThenGoOn(!Preferences::read().looksBeforeRecording
                                && !m_parts.trial->view().isRequired);
        return;
    }
    // Where nothing is to be decided, what it brings is to be looked at.
    const Station left = stationOf(entry.station).value_or(Station::resolve);
    const bool isOfSplice = left != Station::push && left != Station::survey;
    m_parts.to->goTo(isClean ? Station::record : isOfSplice ? left : Station::resolve);
}

/// Later commits and carried work are joined to what is decided: their files are part of the work now.
void SpliceWiring::onLegsChanged(std::size_t first)
{
    const Splice& splice = *m_parts.splice->splice();
    m_parts.resolve->takeAgain(m_parts.splice->splice());
    m_parts.to->refreshAbilities();
    onChanged();
    m_parts.record->refresh();
    if (splice.openCount() > 0 && m_parts.to->station() == Station::record) {
        m_parts.to->goTo(Station::resolve);
    }
    if (first == splice.workLeg() && splice.openCountOf(first) > 0) {
        m_parts.notices->say(tr("Your uncommitted work conflicts with the result in %1: see its "
                                "own group in the worklist.")
                                 .arg(countOf(splice.openCountOf(first), "place", "places")));
    }
}

void SpliceWiring::onChanged()
{
    const Splice* splice = m_parts.splice->splice();
    if (splice == nullptr) {
        return;
    }
    const std::size_t total = splice->openCount() + splice->decidedCount();
    m_parts.course->setNote(Station::resolve,
                            total == 0 ? QString()
                                       : tr("%1 of %2").arg(splice->decidedCount()).arg(total));
    m_parts.course->setReached(m_checking.reachedStation());
    m_parts.record->setSettled(m_parts.splice->isSettled());
    m_parts.to->forgetSaid(splice->openCount());
    m_parts.to->showStatus();
}

void SpliceWiring::onEnding()
{
    m_parts.to->flush();
    m_checking.stay();
    if (m_checking.reachedStation() < Station::record) {
        m_parts.course->setPassedOver(Station::check);
    }
    m_parts.survey->setSpliceUnderWay({});
    m_parts.resolve->setSplice(nullptr);
    m_parts.check->setSplice(nullptr);
    m_parts.record->forgetSplice();
}

void SpliceWiring::onEnded(Ended how) const
{
    m_parts.course->setNote(Station::resolve, {});
    m_parts.course->setNote(Station::check, {});
    m_parts.course->setReached(how == Ended::recorded ? Station::record : Station::survey);
    if (how != Ended::recorded) {
        m_parts.record->setSplice(nullptr, {});
        m_parts.to->goTo(Station::survey);
    }
    m_parts.to->refreshAbilities();
    m_parts.to->showFacts();
    m_parts.to->showStatus();
}

void SpliceWiring::onRecordingStep(const QString& step)
{
    const bool isRecording = m_parts.splice->isRecording();
    m_parts.record->setBusy(isRecording ? tr("Recording…") : QString());
    m_parts.to->refreshAbilities();
    m_parts.to->showFacts();
    m_parts.to->setProgress(step);
    if (!isRecording) {
        emit recordingOver();
    }
}

void SpliceWiring::onDoneAtOnce(const JournalEntry& entry, const Recorded& recorded) const
{
    const SpliceKind kind = entry.plan.kind;
    const bool switches = kind == SpliceKind::switchLine;
    if (switches || factsOf(kind).isRoll) {
        m_parts.push->forgetAnswer();
    }
    if (switches) {
        m_parts.place->setInto({});
        m_parts.to->goTo(Station::survey);
    } else if (m_parts.to->isLogbookShown()) {
        m_parts.past->look();
    }
    m_parts.notices->say(
        doneInWords(entry.plan,
                    recorded.commit,
                    askedInWords(*m_parts.place->facts(), QDateTime::currentSecsSinceEpoch())));
}
}  // namespace rope
