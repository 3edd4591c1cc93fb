// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_check_round.cpp, tst_check_command.cpp.
#include "desktop/app/check_wiring.h"

#include "desktop/app/navigator.h"
#include "desktop/check/check_station.h"
#include "desktop/check/run_pane.h"
#include "desktop/course/check_session.h"
#include "desktop/course/splice_session.h"
#include "desktop/course/trial_session.h"
#include "desktop/record/record_station.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/widgets/notice_bar.h"
#include "desktop/wording/finding_words.h"

#include <QDesktopServices>
#include <QSettings>
#include <QUrl>

#include <utility>

namespace rope {
namespace {
const QString kTellsAllKey = QStringLiteral("check/tellsAll");
}  // namespace

CheckWiring::CheckWiring(const WindowParts& parts, QObject* parent)
    : QObject(parent)
    , m_parts(parts)
{
    CheckSession* const checking = m_parts.checking;
    CheckStation* const check = m_parts.check;
    connect(checking, &CheckSession::changed, this, &CheckWiring::onChecked);
    connect(checking, &CheckSession::readSpliceAboutToChange, this, [checking, check] {
        if (checking->isReadOnly()) {
            check->setSplice(nullptr);
        }
    });
    connect(checking, &CheckSession::tookUp, this, [this](const RepoPath& path) {
        m_parts.check->setSplice(m_parts.splice->splice());
        m_parts.to->refreshAbilities();
        m_parts.check->showTakenUp(path);
    });
    connect(checking, &CheckSession::cannotTakeUp, check, &CheckStation::showNotTakenUp);
    connect(check, &CheckStation::takeUpRequested, checking, &CheckSession::takeUp);
    connect(check, &CheckStation::fineToggled, checking, &CheckSession::setFine);
    connect(check, &CheckStation::readToggled, checking, &CheckSession::setRead);
    connect(check, &CheckStation::tellsAllToggled, this, [checking](bool tellsAll) {
        checking->setTold(tellsAll ? Told::all : Told::byDefault);
        QSettings().setValue(kTellsAllKey, tellsAll);
    });
    check->setTellsAll(QSettings().value(kTellsAllKey).toBool());
    connect(
        check, &CheckStation::doneRequested, this, [this] { m_parts.to->goTo(Station::record); });
    connect(m_parts.record, &RecordStation::findingsRequested, this, [this] {
        m_parts.to->goTo(Station::check);
    });
    connect(check, &CheckStation::regionRequested, this, &CheckWiring::goToRegion);
    connect(check, &CheckStation::changed, this, &CheckWiring::changed);
    connect(check, &CheckStation::told, m_parts.to, &Navigator::say);
    joinTrial();
}

void CheckWiring::joinTrial()
{
    TrialSession* const trial = m_parts.trial;
    CheckStation* const check = m_parts.check;
    RunPane* const pane = &check->runPane();
    connect(trial, &TrialSession::changed, this, &CheckWiring::onTrial);
    connect(trial, &TrialSession::said, pane, &RunPane::addSaid);
    connect(trial, &TrialSession::failed, m_parts.noticeBar, &NoticeBar::showError);
    connect(trial, &TrialSession::copiesRemoved, this, [this] {
        m_parts.to->say(tr("Scratch copies are removed, but for those in use."));
    });
    connect(pane, &RunPane::runRequested, trial, &TrialSession::run);
    connect(pane, &RunPane::stopRequested, trial, &TrialSession::stop);
    connect(pane, &RunPane::sidesRequested, trial, [trial](std::size_t command) {
        trial->runOnSides(command, false);
    });
    connect(pane, &RunPane::commandsEdited, trial, &TrialSession::setCommands);
    connect(pane, &RunPane::sharedAllowed, trial, &TrialSession::allowAsked);
    connect(pane, &RunPane::askAgainRequested, trial, &TrialSession::askAgain);
    connect(pane, &RunPane::wholeOutputRequested, this, [](const QString& file) {
        QDesktopServices::openUrl(QUrl::fromLocalFile(file));
    });
    connect(check, &CheckStation::requiredToggled, trial, &TrialSession::setRequired);
    connect(check, &CheckStation::submodulesToggled, trial, &TrialSession::setWithSubmodules);
    connect(check, &CheckStation::removeCopiesRequested, trial, &TrialSession::removeCopies);
    connect(check, &CheckStation::allSidesRequested, trial, [trial, pane] {
        trial->runOnSides(pane->currentCommand(), true);
    });
}

void CheckWiring::setSplice() const
{
    m_parts.check->setSplice(nullptr);
    m_parts.check->setSplice(m_parts.checking->readSplice());
}

/// From Check to where something was decided. A rebase decides by commits: the last one is shown in which
/// the file was decided, or joined.
void CheckWiring::goToRegion(SlotPlace place) const
{
    m_parts.to->goTo(Station::resolve);
    if (!m_parts.checking->isReadOnly()) {
        m_parts.resolve->goTo(place);
        return;
    }
    const Splice& splice = *m_parts.splice->splice();
    const auto& files = splice.files();
    const RepoPath& path = m_parts.checking->readSplice()->files()[place.file].outcome->path;
    for (std::size_t i = files.size(); i-- > 0;) {
        const SpliceFile& file = files[i];
        if (file.outcome->path == path && file.leg < splice.workLeg()) {
            m_parts.resolve->goTo({i,
                                   file.outcome->question            ? SlotPlace::kQuestion
                                   : file.outcome->regionCount() > 0 ? file.text->slotOfRegion(0)
                                                                     : 0});
            return;
        }
    }
}

Station CheckWiring::reachedStation() const
{
    const CheckView& view = m_parts.checking->view();
    const bool isSeen =
        view.hasLooked && view.openCount() == 0 && view.readCount() == view.toReadCount();
    return m_parts.splice->splice()->openCount() > 0 ? Station::resolve
           : isSeen                                  ? Station::record
                                                     : Station::check;
}

void CheckWiring::lookThenGoOn(bool andRecord)
{
    m_after = andRecord ? AfterLooking::record : AfterLooking::goOn;
    m_parts.to->goTo(Station::check);
    goOnWhenLooked();
}

/// A clean join goes on to Record by itself, once nothing was found in it.
void CheckWiring::goOnWhenLooked()
{
    if (m_after == AfterLooking::stay || m_parts.checking->isBusy()) {
        return;
    }
    const AfterLooking after = std::exchange(m_after, AfterLooking::stay);
    if (m_parts.splice->splice() == nullptr || !m_parts.to->isAt(Station::check)
        || m_parts.checking->view().openCount() > 0) {
        return;
    }
    m_parts.to->goTo(Station::record);
    if (after == AfterLooking::record) {
        m_parts.record->record();
    }
}

void CheckWiring::onChecked()
{
    const CheckView& view = m_parts.checking->view();
    if (m_parts.checking->isReadOnly()
        && m_parts.check->splice() != m_parts.checking->readSplice()) {
        m_parts.check->setSplice(m_parts.checking->readSplice());
    }
    m_parts.check->showView(view, m_parts.checking->isBusy());
    if (m_parts.splice->splice() != nullptr) {
        m_parts.course->setReached(reachedStation());
    }
    showOnCourse();
    m_parts.record->setFindings(view.openCount(),
                                view.found.empty() ? QString()
                                                   : findingTitle(view.found.front().finding));
    m_parts.to->showStatus();
    goOnWhenLooked();
}

/// What is left to look at, and how the check command went.
void CheckWiring::showOnCourse() const
{
    const CheckView& view = m_parts.checking->view();
    const bool isAllRead = view.readCount() == view.toReadCount();
    QStringList notes;
    if (view.openCount() > 0) {
        notes << tr("%1 to look at").arg(view.openCount());
    } else if (!isAllRead) {
        notes << tr("%1 of %2 read").arg(view.readCount()).arg(view.toReadCount());
    }
    if (m_parts.trial->view().isRunning()) {
        notes << tr("running");
    } else if (const auto hasPassed = m_parts.trial->view().hasPassed(); hasPassed) {
        notes << (*hasPassed ? tr("passed") : tr("fails"));
    }
    m_parts.course->setNote(Station::check, notes.join(QStringLiteral(", ")));
}

void CheckWiring::onTrial()
{
    m_parts.check->showTrial(m_parts.trial->view());
    m_parts.record->setCheckObstacle(m_parts.trial->obstacleToRecording());
    m_parts.record->setCheckPassed(m_parts.trial->view().hasPassed());
    if (m_parts.splice->splice() != nullptr) {
        showOnCourse();
    }
    m_parts.to->showStatus();
}
}  // namespace rope
