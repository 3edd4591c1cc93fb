// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/navigator.h"

#include "desktop/app/notices.h"
#include "desktop/check/check_station.h"
#include "desktop/course/place_session.h"
#include "desktop/course/recent_places.h"
#include "desktop/course/splice_session.h"
#include "desktop/logbook/logbook_page.h"
#include "desktop/push/push_station.h"
#include "desktop/record/record_station.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/start/start_page.h"
#include "desktop/survey/survey_station.h"
#include "desktop/widgets/page_stack.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"

#include <QDateTime>
#include <QLabel>
#include <QPushButton>

#include <array>

namespace rope {
namespace {
constexpr int kSaidMs = 4000;
constexpr int kClockMs = 20'000;

/// What is under way: %1 is the repository, %2 theirs, %3 ours.
QString courseWordsFor(SpliceKind kind)
{
    switch (kind) {
    case SpliceKind::rebase:
        return Navigator::tr("%1: rebasing %3 onto %2");
    case SpliceKind::correction:
        return Navigator::tr("%1: correcting the merge of %2 into %3");
    case SpliceKind::rebaseCorrection:
        return Navigator::tr("%1: correcting the rebase of %3 onto %2");
    case SpliceKind::revert:
        return Navigator::tr("%1: reverting %2 on %3");
    case SpliceKind::pick:
        return Navigator::tr("%1: cherry-picking %2 onto %3");
    case SpliceKind::fastForward:
        return Navigator::tr("%1: moving %3 forward to %2");
    default:
        return Navigator::tr("%1: merging %2 into %3");
    }
}

QString titleFor(const QString& repository, const Splice* splice)
{
    if (splice == nullptr) {
        return Navigator::tr("%1 · Rope Splice").arg(repository);
    }
    return (splice->plan().laysOwnCommits() ? Navigator::tr("%1: %3 onto %2 · Rope Splice")
                                            : Navigator::tr("%1: %2 into %3 · Rope Splice"))
        .arg(repository, shown(splice->plan().theirsName), shown(splice->plan().oursName));
}

bool needsSplice(Station station)
{
    return station == Station::resolve || station == Station::check || station == Station::record;
}
}  // namespace

Navigator::Navigator(const WindowParts& parts, QObject* parent)
    : QObject(parent)
    , m_parts(parts)
{
    m_saidTimer.setSingleShot(true);
    m_saidTimer.setInterval(kSaidMs);
    connect(&m_saidTimer, &QTimer::timeout, this, [this] {
        m_said.clear();
        showStatus();
    });
    m_clock.setInterval(kClockMs);
    connect(&m_clock, &QTimer::timeout, this, &Navigator::showFacts);
    m_clock.start();
    connect(m_parts.course, &CourseBar::stationRequested, this, &Navigator::goTo);
}

StationPage* Navigator::pageOf(Station station) const
{
    const std::array<StationPage*, 5> pages{
        m_parts.survey, m_parts.resolve, m_parts.check, m_parts.record, m_parts.push};
    return pages.at(static_cast<std::size_t>(station));
}

StationPage* Navigator::page() const
{
    return dynamic_cast<StationPage*>(m_parts.pages->currentWidget());
}

bool Navigator::isAt(Station station) const
{
    return page() == pageOf(station);
}

bool Navigator::isLogbookShown() const
{
    return page() == m_parts.logbook;
}

void Navigator::flush() const
{
    m_parts.resolve->flush();
    m_parts.check->flush();
}

void Navigator::goTo(Station station)
{
    if (m_parts.place->folder().isEmpty()) {
        return;
    }
    if (needsSplice(station) && m_parts.splice->splice() == nullptr) {
        m_parts.notices->say(tr("No splice is under way yet. Start one here."));
        station = Station::survey;
    }
    flush();
    if (station != m_station) {
        m_said.clear();  // it was about where one was
    }
    emit entering(station);
    m_station = station;
    m_parts.pages->setCurrentWidget(pageOf(station));
    refreshAbilities();  // what is switched off cannot take the focus
    pageOf(station)->enter();
    if (m_parts.splice->splice() == nullptr) {
        m_parts.course->setReached(station);
        if (station == Station::survey) {
            m_parts.course->setPassedOver({});
        }
    }
    m_parts.course->setCurrent(station);
    storePlace();
    showFacts();
    showStatus();
}

void Navigator::showLogbook()
{
    flush();
    m_parts.logbook->setBackTo(titleOf(m_station));
    m_parts.pages->setCurrentWidget(m_parts.logbook);
    m_parts.logbook->enter();
    refreshAbilities();
    showStatus();
}

void Navigator::showStart()
{
    m_parts.recent->show();
    m_parts.pages->setCurrentWidget(m_parts.start);
    m_parts.start->enter();
    showStatus();
}

void Navigator::showOpening(const QString& words)
{
    m_parts.opening->setText(words);
    m_parts.pages->setCurrentWidget(m_parts.opening);
    showStatus();
}

void Navigator::say(const QString& words)
{
    m_said = words;
    const Splice* splice = m_parts.splice->splice();
    m_openWhenSaid = splice == nullptr ? 0 : splice->openCount();
    m_saidTimer.start();
    showStatus();
}

void Navigator::setProgress(const QString& words)
{
    m_progress = words;
    showStatus();
}

void Navigator::forgetSaid(std::size_t openCount)
{
    if (openCount != m_openWhenSaid) {
        m_said.clear();
    }
}

void Navigator::storePlace()
{
    if (m_parts.splice->splice() != nullptr) {
        m_parts.splice->store().storePlace(keyOf(m_station), m_parts.resolve->place());
    }
}

void Navigator::refreshAbilities()
{
    for (StationPage* each :
         {static_cast<StationPage*>(m_parts.resolve), static_cast<StationPage*>(m_parts.check)}) {
        each->setCurrent(each == page());  // what its own keys do is not to be done unseen
    }
    emit abilitiesChanged();
}

void Navigator::showStatus()
{
    const StationPage* const inView = page();
    std::vector<KeyHint> hints = inView == nullptr ? std::vector<KeyHint>() : inView->hints();
    hints.push_back({tr("F1"), tr("all keys")});
    m_parts.hints->setHints(std::move(hints));
    const QString status = inView == nullptr ? QString() : inView->status();
    m_parts.hints->setStatus(!m_progress.isEmpty() ? m_progress
                             : !m_said.isEmpty()   ? m_said
                                                   : status);
}

void Navigator::showFacts()
{
    const auto facts = m_parts.place->facts();
    if (!facts) {
        return;
    }
    m_parts.fetch->setVisible(m_station == Station::survey);
    const Splice* splice = m_parts.splice->splice();
    emit titleChanged(titleFor(facts->repositoryName, splice));
    if (splice == nullptr || m_station == Station::survey || m_station == Station::push) {
        const QString name =
            facts->standing.name.empty() ? tr("no branch") : shown(facts->standing.name);
        m_parts.course->setFacts(tr("%1 on %2").arg(facts->repositoryName, name),
                                 askedInWords(*facts, QDateTime::currentSecsSinceEpoch()),
                                 exactAskedInWords(*facts));
        return;
    }
    QString second;
    if (m_parts.splice->isRecording()) {
        second = splice->plan().workChoice == WorkChoice::filesStay
                     ? tr("recording: the branch is being changed")
                     : tr("recording: your branch and working tree are being changed");
    } else if (const auto& base = splice->forecast().base) {
        second = tr("nothing in your working tree has changed yet · base %1, %2")
                     .arg(shown(base->id.brief()), relativeTime(base->author.time, facts->readAt));
    }
    m_parts.course->setFacts(courseWordsFor(splice->plan().kind)
                                 .arg(facts->repositoryName,
                                      shown(splice->plan().theirsName),
                                      shown(splice->plan().oursName)),
                             second);
}
}  // namespace rope
