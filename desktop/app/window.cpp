// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/window.h"

#include "desktop/app/notices.h"
#include "desktop/app/preferences.h"
#include "desktop/ask/ask_server.h"
#include "desktop/check/check_station.h"
#include "desktop/check/run_pane.h"
#include "desktop/logbook/logbook_page.h"
#include "desktop/push/push_station.h"
#include "desktop/record/record_station.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/start/clone_panel.h"
#include "desktop/survey/collision_view.h"
#include "desktop/survey/commit_first_dialog.h"
#include "desktop/survey/survey_station.h"
#include "desktop/widgets/key_hints.h"
#include "desktop/widgets/notice_bar.h"
#include "desktop/widgets/page_stack.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/wording/describe_error.h"
#include "desktop/wording/finding_words.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/relative_time.h"

#include <QCloseEvent>
#include <QDateTime>
#include <QDesktopServices>
#include <QDir>
#include <QFileDialog>
#include <QMenu>
#include <QScreen>
#include <QSettings>
#include <QUrl>
#include <QVBoxLayout>

#include <utility>

namespace rope {
namespace {
constexpr std::size_t kMostRewrittenCommits = 300;  // each is a join of its own, kept in memory
constexpr int kMessagePauseMs = 400;
constexpr int kClockMs = 20'000;
constexpr int kTryAgainMs = 3000;
constexpr int kSaidMs = 4000;

const char* nameOfStation(Station station)
{
    switch (station) {
    case Station::survey:
        return "survey";
    case Station::resolve:
        return "resolve";
    case Station::check:
        return "check";
    case Station::record:
        return "record";
    case Station::push:
        return "push";
    }
    return "";
}
/// What is under way: %1 is the repository, %2 theirs, %3 ours.
QString courseWordsFor(SpliceKind kind)
{
    switch (kind) {
    case SpliceKind::rebase:
        return Window::tr("%1: rebasing %3 onto %2");
    case SpliceKind::correction:
        return Window::tr("%1: correcting the merge of %2 into %3");
    case SpliceKind::rebaseCorrection:
        return Window::tr("%1: correcting the rebase of %3 onto %2");
    case SpliceKind::revert:
        return Window::tr("%1: taking %2 out of %3 again");
    case SpliceKind::pick:
        return Window::tr("%1: making %2 anew on %3");
    case SpliceKind::fastForward:
        return Window::tr("%1: moving %3 forward to %2");
    default:
        return Window::tr("%1: joining %2 into %3 by merge commit");
    }
}
}  // namespace

Window::Window(QWidget* parent)
    : QMainWindow(parent)
    , m_place(new PlaceSession(this))
    , m_splice(new SpliceSession(*m_place, this))
    , m_centre(new QWidget(this))
    , m_course(new CourseBar(m_centre))
    , m_notice(new NoticeBar(m_centre))
    , m_stations(new PageStack(m_centre))
    , m_startPage(new StartPage(m_stations))
    , m_opening(makeLabel({}, TextRole::muted, m_stations))
    , m_recent(new RecentPlaces(*m_startPage, this))
    , m_cloning(new CloneSession(m_startPage->clonePanel(), this))
    , m_survey(new SurveyStation(m_stations))
    , m_resolve(new ResolveStation(m_stations))
    , m_check(new CheckStation(m_stations))
    , m_checking(new CheckSession(*m_place, *m_splice, this))
    , m_trial(new TrialSession(*m_place, *m_splice, this))
    , m_record(new RecordStation(m_stations))
    , m_push(new PushStation(m_stations))
    , m_send(new SendSession(*m_place, this))
    , m_logbook(new LogbookPage(m_stations))
    , m_logbookSession(new LogbookSession(*m_place, this))
    , m_collisions(new CollisionSession(*m_place, this))
    , m_queue(new JoinQueue(this))
    , m_hints(new KeyHints(m_centre))
    , m_fetch(makeButton(tr("Fetch"), "fetchButton", ButtonRole::plain, m_course))
{
    setObjectName(QStringLiteral("mainWindow"));
    setWindowTitle(tr("Rope Splice"));
    setMinimumSize(1024, 600);
    resize(QSize(1280, 800).boundedTo(screen()->availableSize()));
    for (QWidget* page : {static_cast<QWidget*>(m_startPage),
                          static_cast<QWidget*>(m_opening),
                          static_cast<QWidget*>(m_survey),
                          static_cast<QWidget*>(m_resolve),
                          static_cast<QWidget*>(m_record),
                          static_cast<QWidget*>(m_push),
                          static_cast<QWidget*>(m_logbook),
                          static_cast<QWidget*>(m_check)}) {
        m_stations->addWidget(page);
    }
    m_course->setSideButton(m_fetch);
    auto* column = new QVBoxLayout(m_centre);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(m_course);
    column->addWidget(m_notice);
    column->addWidget(m_stations, 1);
    column->addWidget(m_hints);
    setCentralWidget(m_centre);
    m_messageTimer.setSingleShot(true);
    m_messageTimer.setInterval(kMessagePauseMs);
    m_saidTimer.setSingleShot(true);
    m_saidTimer.setInterval(kSaidMs);
    m_clock.setInterval(kClockMs);
    connect(&m_clock, &QTimer::timeout, this, &Window::showFactsOfCourse);
    m_clock.start();
    addMenus();
    const Asking asking = (new AskServer(this))->asking();
    m_place->setAsking(asking);
    m_recent->setAsking(asking);
    m_cloning->setAsking(asking);
    connectPlace();
    connectCollisions();
    connectSplice();
    connectStations();
    connectPush();
    connectCheck();
    connectTrial();
    connectLogbook();
    m_notices = new Notices(*m_notice, *m_place, *m_splice, this);
    connect(m_notices, &Notices::openRequested, this, &Window::openRepository);
    connect(m_notices, &Notices::logbookRequested, this, &Window::showLogbook);
    const QSettings settings;
    restoreGeometry(settings.value(QStringLiteral("window/geometry")).toByteArray());
    m_resolve->setShares(settings.value(QStringLiteral("window/resolveShares")).toMap());
    m_resolve->setSideways(Preferences::read().scrollsEvidenceSideways);
    m_record->setLeavesNotes(Preferences::read().leavesNotes);
    m_opening->setObjectName(QStringLiteral("openingNote"));
    m_opening->setAlignment(Qt::AlignCenter);
    fillRecentMenu();
    enableActions();
    m_stations->setCurrentWidget(m_startPage);
    m_course->hide();
    m_startPage->setFocus();
    showStatus();
}

void Window::connectPlace()
{
    connect(m_place, &PlaceSession::opened, this, &Window::onOpened);
    connect(m_place, &PlaceSession::openFailed, this, [this] {
        if (m_stations->currentWidget() == m_opening) {
            m_recent->show();
            m_stations->setCurrentWidget(m_startPage);
            m_startPage->setFocus();
            showStatus();
        }
    });
    connect(m_place, &PlaceSession::factsChanged, this, &Window::onFactsChanged);
    connect(m_place, &PlaceSession::catchingUp, m_survey, &SurveyStation::setBehind);
    connect(m_place, &PlaceSession::begunForecastReady, m_survey, &SurveyStation::setBegunForecast);
    connect(m_place, &PlaceSession::identityKnown, this, [this](const auto& identity) {
        m_identity = identity;
        m_record->setIdentity(identity);
    });
    connect(m_place, &PlaceSession::branchesForecast, this, [this](const auto& outcomes) {
        for (const auto& [ref, outcome] : outcomes) {
            m_survey->setBranchForecast(ref, outcome);
        }
    });
    connect(m_survey, &SurveyStation::intoPicked, m_place, &PlaceSession::setInto);
    connect(m_survey, &SurveyStation::alwaysToggled, m_place, &PlaceSession::setAlways);
    connect(m_survey, &SurveyStation::queueToggled, m_queue, &JoinQueue::toggle);
    connect(m_queue, &JoinQueue::changed, this, &Window::showQueue);
    connect(m_place,
            &PlaceSession::forecastReady,
            this,
            [this](const std::string& ref, const auto& forecast) {
                m_survey->setForecast(ref, forecast);
                reckonRebase(ref, forecast);
                if (ref == m_survey->theirsRef()) {
                    m_notices->tellOfPrograms(forecast->programsLeftOut);
                }
                showStatus();
            });
    connect(m_place,
            &PlaceSession::forecastFailed,
            this,
            [this](const std::string& ref, const Error& error) {
                m_survey->setForecastFailure(ref, describeInLine(error));
            });
    connect(m_place, &PlaceSession::rebaseReady, m_survey, &SurveyStation::setRebase);
    connect(m_place,
            &PlaceSession::rebaseFailed,
            this,
            [this](const std::string& ref, const Error& error) {
                m_survey->setRebaseFailure(ref, describeInLine(error));
            });
    connect(m_survey, &SurveyStation::readingRequested, m_place, &PlaceSession::requestReading);
    connect(m_survey, &SurveyStation::changesRequested, m_place, &PlaceSession::requestChanges);
    connect(m_place, &PlaceSession::changesReady, m_survey, &SurveyStation::showChanges);
    connect(m_place, &PlaceSession::readingReady, m_survey, &SurveyStation::showReading);
    connect(
        m_place, &PlaceSession::forecastProgressed, m_survey, &SurveyStation::setForecastProgress);
    connect(m_place, &PlaceSession::fetchProgressed, this, [this](const QString& text) {
        m_progress = m_place->isFetching() ? text : QString();
        m_fetch->setText(m_place->isFetching() ? tr("Stop fetching") : tr("Fetch"));
        showStatus();
    });
}

void Window::connectCollisions()
{
    CollisionView* const collisions = &m_survey->collisions();
    connect(m_survey, &SurveyStation::viewChanged, this, [this, collisions] {
        if (m_survey->showsCollisions()) {
            m_collisions->start();
            collisions->setFocus();
        } else {
            m_collisions->stop();
        }
        showStatus();
    });
    connect(collisions, &CollisionView::startRequested, m_collisions, &CollisionSession::start);
    connect(collisions, &CollisionView::stopRequested, m_collisions, &CollisionSession::stop);
    connect(m_collisions, &CollisionSession::changed, this, [this, collisions](const auto& model) {
        collisions->showModel(model);
        showStatus();
    });
    connect(collisions, &CollisionView::readingRequested, m_collisions, &CollisionSession::read);
    connect(m_collisions, &CollisionSession::pairRead, collisions, &CollisionView::showReading);
    connect(m_collisions, &CollisionSession::failed, m_notice, &NoticeBar::showError);
    connect(m_collisions, &CollisionSession::progressed, collisions, &CollisionView::showProgress);
}

/// What a rebase in the place of the merge commit would be, where that is a thing one would do.
void Window::reckonRebase(const std::string& ref,
                          const std::shared_ptr<const SurveyForecast>& forecast)
{
    const Divergence& divergence = forecast->forecast.divergence;
    if (divergence.relation != Relation::diverged) {
        return;
    }
    if (divergence.oursOnly.size() > kMostRewrittenCommits) {
        m_survey->setRebaseFailure(ref,
                                   tr("Not reckoned: more than %1 commits would be written anew.")
                                       .arg(kMostRewrittenCommits));
        return;
    }
    m_place->requestRebase(ref, forecast);
}

void Window::connectSplice()
{
    connect(m_splice, &SpliceSession::started, this, &Window::onSpliceStarted);
    connect(m_splice, &SpliceSession::startProgressed, this, [this](const QString& text) {
        m_progress = text.isEmpty() ? text : tr("Taking up the splice… %1").arg(text);
        showStatus();
    });
    connect(m_splice, &SpliceSession::ending, this, &Window::onSpliceEnding);
    connect(m_splice, &SpliceSession::ended, this, &Window::onSpliceEnded);
    connect(m_splice,
            &SpliceSession::fileFactsReady,
            this,
            [this](std::size_t file, const FileFacts& facts) {
                m_resolve->setFacts(file, facts.chunks, facts.whole, facts.versions);
            });
    connect(m_resolve, &ResolveStation::sinceRequested, m_splice, &SpliceSession::requestSince);
    connect(m_splice, &SpliceSession::sinceReady, m_resolve, &ResolveStation::setSince);
    connect(m_splice, &SpliceSession::recordingProgressed, this, &Window::onRecordingStep);
    connect(m_splice, &SpliceSession::uncommittedRead, this, &Window::askWhatToCommit);
    connect(m_splice, &SpliceSession::contentsReady, m_record, &RecordStation::showContents);
    connect(m_record, &RecordStation::contentsRequested, m_splice, &SpliceSession::requestContents);
    connect(m_record, &RecordStation::nextRequested, this, &Window::joinNext);
    connect(m_splice, &SpliceSession::doneAtOnce, this, &Window::onDoneAtOnce);
    connect(m_splice, &SpliceSession::legsAboutToChange, this, [this](std::size_t first) {
        m_check->flush();
        m_resolve->letGoFrom(first);
    });
    connect(m_splice, &SpliceSession::legsChanged, this, &Window::onLegsChanged);
    connect(m_splice, &SpliceSession::decisionsLost, this, [this](std::size_t count) {
        m_notices->tellOfLost(count);
    });
    connect(m_splice, &SpliceSession::settled, this, [this] {
        m_resolve->refreshList();
        onChanged();
    });
    connect(m_splice, &SpliceSession::recorded, this, [this](const Recorded& recorded) {
        // What was joined is not to be joined later any more.
        for (const Branch& branch : m_place->facts()->branches) {
            if (branch.name == m_splice->entry().plan.theirsName) {
                m_queue->remove(branch.ref);
            }
        }
        m_survey->forgetPick();
        if (m_splice->entry().plan.kind == SpliceKind::fastForward) {
            m_notices->tellOfMove(m_splice->entry(), recorded);
        }
        m_record->showRecorded(recorded);
        m_station = Station::record;
    });
    connect(m_splice, &SpliceSession::recordingFailed, this, [this](const Error& error) {
        if (error.code == ErrorCode::noIdentity) {
            m_record->setIdentity(std::nullopt);
        }
        m_record->setSettled(m_splice->isSettled());
    });
}

void Window::connectStations()
{
    connect(m_course, &CourseBar::stationRequested, this, &Window::goTo);
    connect(m_fetch, &QPushButton::clicked, this, [this] {
        if (m_place->isFetching()) {
            m_place->stopFetching();
        } else {
            m_place->fetch();
        }
    });
    connect(m_recent, &RecentPlaces::changed, this, &Window::fillRecentMenu);
    connect(m_startPage, &StartPage::statusChanged, this, &Window::showStatus);
    connect(m_startPage, &StartPage::folderChosen, this, &Window::openRepository);
    connect(m_cloning, &CloneSession::cloned, this, &Window::openRepository);
    connect(m_startPage, &StartPage::chooserRequested, this, &Window::chooseFolder);
    connect(m_survey, &SurveyStation::branchPicked, m_place, &PlaceSession::requestForecast);
    connect(m_survey, &SurveyStation::startRequested, this, &Window::startSplice);
    connect(m_survey, &SurveyStation::bringBackRequested, m_splice, &SpliceSession::bringBack);
    connect(
        m_survey, &SurveyStation::bringWorkBackRequested, m_splice, &SpliceSession::bringWorkBack);
    connect(m_record, &RecordStation::bringWorkBackRequested, this, [this] {
        m_splice->bringWorkBack(m_splice->entry().plan.id);
    });
    connect(m_survey, &SurveyStation::takeBegunRequested, this, [this] { m_splice->takeBegun(); });
    connect(m_survey, &SurveyStation::resumeRequested, this, [this] { goTo(Station::resolve); });
    connect(m_resolve, &ResolveStation::changed, this, &Window::onChanged);
    connect(m_resolve, &ResolveStation::told, this, &Window::say);
    connect(&m_saidTimer, &QTimer::timeout, this, [this] {
        m_said.clear();
        showStatus();
    });
    connect(m_resolve,
            &ResolveStation::copyRequested,
            this,
            [this](const QString& path, const QByteArray& bytes) {
                if (const QString problem = m_copies->open(path, bytes); !problem.isEmpty()) {
                    m_notices->say(problem);
                }
            });
    connect(m_copies, &ExternalCopies::changed, m_resolve, &ResolveStation::takeOverCopy);
    connect(m_resolve, &ResolveStation::doneRequested, this, [this] { goTo(Station::check); });
    connect(m_resolve, &ResolveStation::placeChanged, this, &Window::storePlace);
    connect(m_resolve, &ResolveStation::factsRequested, m_splice, &SpliceSession::requestFileFacts);
    connect(m_record, &RecordStation::messageEdited, this, [this] { m_messageTimer.start(); });
    connect(&m_messageTimer, &QTimer::timeout, this, [this] {
        m_splice->storeMessage(m_record->message());
    });
    connect(m_record, &RecordStation::identityGiven, m_splice, &SpliceSession::setNewIdentity);
    connect(m_record, &RecordStation::recordRequested, m_splice, &SpliceSession::record);
    connect(m_resolve, &ResolveStation::reasonGiven, this, [this](const GivenReason& reason) {
        m_splice->storeReason(reason);
        m_record->showNotes();
    });
    connect(m_record, &RecordStation::stopRequested, m_splice, &SpliceSession::stopRecording);
    connect(m_record, &RecordStation::surveyRequested, this, [this] { goTo(Station::survey); });
}

void Window::connectCheck()
{
    connect(m_checking, &CheckSession::changed, this, &Window::onChecked);
    connect(m_checking, &CheckSession::readSpliceAboutToChange, this, [this] {
        if (m_checking->isReadOnly()) {
            m_check->setSplice(nullptr);
        }
    });
    connect(m_checking, &CheckSession::aboutToTakeUp, this, [this] {
        m_resolve->flush();
        m_check->flush();
        m_placeInResolve = m_resolve->place();
    });
    connect(m_checking, &CheckSession::tookUp, this, [this](const RepoPath& path) {
        // Places of files have moved.
        m_resolve->setSplice(m_splice->splice(), m_placeInResolve);
        m_check->setSplice(m_splice->splice());
        enableActions();
        m_check->showTakenUp(path);
    });
    connect(m_checking, &CheckSession::cannotTakeUp, m_check, &CheckStation::showNotTakenUp);
    connect(m_check, &CheckStation::takeUpRequested, m_checking, &CheckSession::takeUp);
    connect(m_check, &CheckStation::fineToggled, m_checking, &CheckSession::setFine);
    connect(m_check, &CheckStation::readToggled, m_checking, &CheckSession::setRead);
    connect(m_check, &CheckStation::tellsAllToggled, this, [this](bool tellsAll) {
        m_checking->setTold(tellsAll ? Told::all : Told::byDefault);
        QSettings().setValue(QStringLiteral("check/tellsAll"), tellsAll);
    });
    m_check->setTellsAll(QSettings().value(QStringLiteral("check/tellsAll")).toBool());
    connect(m_check, &CheckStation::doneRequested, this, [this] { goTo(Station::record); });
    connect(m_check, &CheckStation::regionRequested, this, &Window::goToRegion);
    connect(m_check, &CheckStation::changed, this, [this] {
        m_isResolveStale = true;
        onChanged();
    });
    connect(m_check, &CheckStation::told, this, &Window::say);
    connect(m_record, &RecordStation::findingsRequested, this, [this] { goTo(Station::check); });
}

/// From Check to where something was decided. A rebase decides by commits: the last one is shown in which
/// the file was decided, or joined.
void Window::goToRegion(SlotPlace place)
{
    goTo(Station::resolve);
    if (!m_checking->isReadOnly()) {
        m_resolve->goTo(place);
        return;
    }
    const auto& files = m_splice->splice()->files();
    const RepoPath& path = m_checking->readSplice()->files()[place.file].outcome->path;
    for (std::size_t i = files.size(); i-- > 0;) {
        const SpliceFile& file = files[i];
        if (file.outcome->path == path && file.leg < m_splice->splice()->workLeg()) {
            m_resolve->goTo({i,
                             file.outcome->question            ? SlotPlace::kQuestion
                             : file.outcome->regionCount() > 0 ? file.text->slotOfRegion(0)
                                                               : 0});
            return;
        }
    }
}

/// What is done: nothing is open, nothing that was found is left to be looked at, and what is to be read
/// was read.
Station Window::reachedStation(const Splice& splice) const
{
    const CheckView& view = m_checking->view();
    const bool isSeen =
        view.hasLooked && view.openCount() == 0 && view.readCount() == view.toReadCount();
    return splice.openCount() > 0 ? Station::resolve : isSeen ? Station::record : Station::check;
}

/// A clean join goes on to Record by itself, once nothing was found in it.
void Window::goOnWhenLooked()
{
    if (m_afterLooking == AfterLooking::stay || m_checking->isBusy()) {
        return;
    }
    const AfterLooking after = std::exchange(m_afterLooking, AfterLooking::stay);
    if (m_splice->splice() == nullptr || m_station != Station::check || isLogbookShown()
        || m_checking->view().openCount() > 0) {
        return;
    }
    goTo(Station::record);
    if (after == AfterLooking::record) {
        m_record->record();
    }
}

void Window::onChecked()
{
    const CheckView& view = m_checking->view();
    if (m_checking->isReadOnly() && m_check->splice() != m_checking->readSplice()) {
        m_check->setSplice(m_checking->readSplice());
    }
    m_check->showView(view, m_checking->isBusy());
    if (m_splice->splice() != nullptr) {
        m_course->setReached(reachedStation(*m_splice->splice()));
    }
    showCheckOnCourse();
    m_record->setFindings(view.openCount(),
                          view.found.empty() ? QString()
                                             : findingTitle(view.found.front().finding));
    showStatus();
    goOnWhenLooked();
}

/// What is left to look at, and how the check command went.
void Window::showCheckOnCourse()
{
    const CheckView& view = m_checking->view();
    const bool isAllRead = view.readCount() == view.toReadCount();
    QStringList notes;
    if (view.openCount() > 0) {
        notes << tr("%1 to look at").arg(view.openCount());
    } else if (!isAllRead) {
        notes << tr("%1 of %2 read").arg(view.readCount()).arg(view.toReadCount());
    }
    if (m_trial->view().isRunning()) {
        notes << tr("running");
    } else if (const auto hasPassed = m_trial->view().hasPassed(); hasPassed) {
        notes << (*hasPassed ? tr("passed") : tr("fails"));
    }
    m_course->setNote(Station::check, notes.join(QStringLiteral(", ")));
}

void Window::onTrial()
{
    m_check->showTrial(m_trial->view());
    m_record->setCheckObstacle(m_trial->obstacleToRecording());
    m_record->setCheckPassed(m_trial->view().hasPassed());
    if (m_splice->splice() != nullptr) {
        showCheckOnCourse();
    }
    showStatus();
}

void Window::connectTrial()
{
    RunPane& pane = m_check->runPane();
    connect(m_trial, &TrialSession::changed, this, &Window::onTrial);
    connect(m_trial, &TrialSession::said, &pane, &RunPane::addSaid);
    connect(m_trial, &TrialSession::failed, m_notice, &NoticeBar::showError);
    connect(m_trial, &TrialSession::copiesRemoved, this, [this] {
        say(tr("Scratch copies are removed, but for those in use."));
    });
    connect(&pane, &RunPane::runRequested, m_trial, &TrialSession::run);
    connect(&pane, &RunPane::stopRequested, m_trial, &TrialSession::stop);
    connect(&pane, &RunPane::sidesRequested, m_trial, [this](std::size_t command) {
        m_trial->runOnSides(command, false);
    });
    connect(&pane, &RunPane::commandsEdited, m_trial, &TrialSession::setCommands);
    connect(&pane, &RunPane::sharedAllowed, m_trial, &TrialSession::allowAsked);
    connect(&pane, &RunPane::wholeOutputRequested, this, [](const QString& file) {
        QDesktopServices::openUrl(QUrl::fromLocalFile(file));
    });
    connect(m_check, &CheckStation::requiredToggled, m_trial, &TrialSession::setRequired);
    connect(m_check, &CheckStation::submodulesToggled, m_trial, &TrialSession::setWithSubmodules);
    connect(m_check, &CheckStation::removeCopiesRequested, m_trial, &TrialSession::removeCopies);
    connect(m_check, &CheckStation::allSidesRequested, this, [this] {
        m_trial->runOnSides(m_check->runPane().currentCommand(), true);
    });
}

void Window::connectLogbook()
{
    connect(m_logbookSession, &LogbookSession::looked, this, [this](const LogbookFacts& facts) {
        m_logbook->showFacts(facts);
        showStatus();
    });
    connect(m_logbookSession, &LogbookSession::detailsReady, m_logbook, &LogbookPage::showDetails);
    connect(m_logbookSession, &LogbookSession::failed, this, [this](const Error& error) {
        m_notices->tellOfTrouble(error);
    });
    connect(
        m_logbook, &LogbookPage::detailsRequested, m_logbookSession, &LogbookSession::readDetails);
    connect(m_logbookSession, &LogbookSession::mergesRead, m_logbook, &LogbookPage::showMerges);
    connect(m_logbook, &LogbookPage::mergeRequested, m_logbookSession, &LogbookSession::readMerge);
    connect(m_logbook, &LogbookPage::mergeNamed, m_logbookSession, &LogbookSession::readNamed);
    connect(
        m_logbook, &LogbookPage::readingToggled, m_logbookSession, &LogbookSession::toggleReading);
    connect(m_logbook,
            &LogbookPage::mergeFineRequested,
            m_logbookSession,
            &LogbookSession::setMergeFine);
    connect(m_logbook, &LogbookPage::bringKeptBackRequested, this, [this](const KeptWork& kept) {
        if (m_splice->splice() != nullptr) {
            m_notices->say(tr("A splice is under way. Record it or put it away first."));
        } else {
            m_splice->bringKeptBack(kept.id);
        }
    });
    connect(m_logbook,
            &LogbookPage::deleteKeptRequested,
            m_logbookSession,
            &LogbookSession::deleteKept);
    connect(m_logbookSession, &LogbookSession::keptDeleted, this, [this](const KeptWork& kept) {
        m_notices->tellOfDeleted(kept.isWork, [this, kept] { m_logbookSession->keepAgain(kept); });
    });
    connect(m_logbook, &LogbookPage::mergeReopenRequested, this, [this](const ObjectId& merge) {
        if (m_splice->splice() != nullptr) {
            m_notices->say(tr("A splice is under way. Record it or put it away first."));
        } else {
            m_splice->reopenMerge(merge);
        }
    });
    connect(m_logbook, &LogbookPage::backRequested, this, [this] { goTo(m_station); });
    connect(m_logbook, &LogbookPage::goOnRequested, this, [this] { goTo(Station::resolve); });
    connect(m_logbook, &LogbookPage::bringBackRequested, m_splice, &SpliceSession::bringBack);
    const auto unlessUnderWay = [this](auto act) {
        return [this, act](const JournalEntry& entry, auto... more) {
            if (m_splice->splice() != nullptr) {
                m_notices->say(tr("A splice is under way. Record it or put it away first."));
            } else {
                (m_splice->*act)(entry, more...);
            }
        };
    };
    connect(m_logbook,
            &LogbookPage::reopenRequested,
            this,
            [reopen = unlessUnderWay(&SpliceSession::reopen)](
                const JournalEntry& entry, const ObjectId& made, bool onTop) {
                reopen(entry, made, onTop);
            });
    connect(m_logbook,
            &LogbookPage::takeOutRequested,
            this,
            [takeOut = unlessUnderWay(&SpliceSession::takeOut)](
                const JournalEntry& entry, const ObjectId& made) { takeOut(entry, made); });
    connect(m_logbook,
            &LogbookPage::rollBackRequested,
            this,
            [roll = unlessUnderWay(&SpliceSession::roll)](const JournalEntry& entry) {
                roll(entry, false);
            });
    connect(m_logbook,
            &LogbookPage::rollForwardRequested,
            this,
            [roll = unlessUnderWay(&SpliceSession::roll)](const JournalEntry& entry) {
                roll(entry, true);
            });
}

bool Window::isLogbookShown() const
{
    return m_stations->currentWidget() == m_logbook;
}

QString Window::stationInWords() const
{
    switch (m_station) {
    case Station::survey:
        return tr("Survey");
    case Station::resolve:
        return tr("Resolve");
    case Station::check:
        return tr("Check");
    case Station::record:
        return tr("Record");
    case Station::push:
        return tr("Push");
    }
    return {};
}

void Window::showLogbook()
{
    if (m_place->folder().isEmpty()) {
        return;
    }
    m_resolve->flush();
    m_check->flush();
    m_logbook->setBackTo(stationInWords());
    m_stations->setCurrentWidget(m_logbook);
    m_logbook->setFocus();
    m_logbookSession->look();
    m_logbookSession->readMerges();
    // What the stations' own keys do is not to be done unseen.
    m_resolve->setCurrent(false);
    m_check->setCurrent(false);
    showStatus();
}

/// A word of what was just done, for a few seconds.
void Window::say(const QString& words)
{
    m_said = words;
    m_openWhenSaid = m_splice->splice() == nullptr ? 0 : m_splice->splice()->openCount();
    m_saidTimer.start();
    showStatus();
}

void Window::openRepository(const QString& folder)
{
    if (m_splice->isRecording()) {
        m_notices->say(tr("Recording is under way here. Open another repository after it."));
        return;
    }
    m_notices->dismiss();
    m_recent->stopLooking();
    if (!isVisible()) {
        m_opening->setText(tr("Opening %1…").arg(QDir(folder).dirName()));
        m_stations->setCurrentWidget(m_opening);
    }
    m_place->open(QDir(folder).absolutePath());
}

void Window::showEvent(QShowEvent* event)
{
    QMainWindow::showEvent(event);
    if (!event->spontaneous() && m_stations->currentWidget() == m_startPage) {
        m_recent->show();
    }
}

void Window::chooseFolder()
{
    auto* dialog = new QFileDialog(this, tr("Open a repository"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::Directory);
    dialog->setOption(QFileDialog::ShowDirsOnly);
    connect(dialog, &QFileDialog::fileSelected, this, &Window::openRepository);
    dialog->open();
}

void Window::goToStart()
{
    m_recent->show();
    m_stations->setCurrentWidget(m_startPage);
    m_startPage->clonePanel().focusAddress();
}

void Window::onOpened(const FoundPlace& found)
{
    m_recent->remember(m_place->folder());
    m_conventions = found.conventions;
    m_splice->setCommentStart(m_conventions.commentStart);
    m_queue->open(m_place->folder());
    m_course->show();
    m_survey->showFacts(found.facts, found.facts->proposedTheirs());
    m_record->setHasRemote(!found.facts->remotes.empty());
    m_push->forgetAnswer();
    m_record->setUncommitted(found.facts->uncommitted);
    goTo(Station::survey);
    if (Preferences::read().fetchesAtOpening && !found.facts->remotes.empty()) {
        m_place->fetch();
    }
    if (found.trouble && found.trouble->reason == Reason::recordingElsewhere) {
        // It will be done soon; what it leaves is looked at then.
        QTimer::singleShot(kTryAgainMs, this, [this, folder = m_place->folder()] {
            if (m_place->folder() == folder && m_splice->splice() == nullptr) {
                openRepository(folder);
            }
        });
    }
}

void Window::onFactsChanged(const FactsChange& change)
{
    const auto facts = m_place->facts();
    const bool areForecastsStale = change.isStanding || change.isBranches;
    const std::string before = m_survey->theirsRef();
    m_survey->updateFacts(facts, areForecastsStale);
    if (areForecastsStale || before != m_survey->theirsRef()) {
        m_place->requestForecast(m_survey->theirsRef());
    }
    m_record->setUncommitted(facts->uncommitted);
    m_record->setHasRemote(!facts->remotes.empty());
    if (isLogbookShown() && change.isStanding) {
        m_logbookSession->readMerges();
    }
    showFactsOfCourse();
    showStatus();
}

void Window::connectPush()
{
    connect(m_record, &RecordStation::pushRequested, this, [this] { goTo(Station::push); });
    connect(m_push, &PushStation::surveyRequested, this, [this] { goTo(Station::survey); });
    connect(m_push, &PushStation::pushRequested, this, [this] { m_send->push(); });
    connect(m_push, &PushStation::stopRequested, m_send, &SendSession::stopPushing);
    connect(m_push, &PushStation::removeRequested, m_send, &SendSession::removeMerged);
    connect(m_push, &PushStation::removeOwnRequested, m_send, &SendSession::removeOwn);
    connect(m_push, &PushStation::goToLineRequested, this, [this](const std::string& ref) {
        // It is to be brought up to date: where no remote answers, as of when it was asked last.
        m_place->fetch([this, ref] { m_splice->goToLine(ref); });
    });
    connect(m_push, &PushStation::replaceRequested, this, [this] { m_send->push(true); });
    connect(m_push, &PushStation::joinRequested, this, [this](const SecondRound& round) {
        if (m_splice->splice() != nullptr) {
            m_notices->say(tr("A splice is under way. Record it or put it away first."));
        } else if (m_send->facts()) {
            m_splice->startRound(round, *m_send->facts());
        }
    });
    connect(m_send, &SendSession::looking, m_push, &PushStation::setLooking);
    connect(m_send, &SendSession::looked, this, [this](const SendFacts& facts) {
        m_push->showFacts(facts);
        m_course->setNote(Station::push,
                          facts.hasSomethingToSend() && facts.commitCount > 0
                              ? tr("%1 to send").arg(facts.commitCount)
                              : QString());
        showStatus();
    });
    connect(m_send, &SendSession::progressed, this, [this](const QString& text) {
        m_progress = text;
        m_push->setBusy(text);
        showStatus();
    });
    connect(m_send, &SendSession::arrived, m_push, &PushStation::showProof);
    connect(m_send, &SendSession::refused, m_push, &PushStation::showRefusal);
    connect(m_send, &SendSession::afterPushKnown, m_push, &PushStation::showAfterPush);
    connect(m_send, &SendSession::branchRemoved, m_push, &PushStation::showBranchRemoved);
    connect(m_send, &SendSession::ownBranchRemoved, m_push, &PushStation::showOwnBranchRemoved);
    connect(m_send, &SendSession::failed, m_notice, &NoticeBar::showError);
}

void Window::startSplice(const StartChoice& choice)
{
    const std::string theirs = m_survey->theirsRef();
    if (choice.work == WorkPlan::commitFirst) {
        m_splice->readUncommitted();
        return;
    }
    // Where nothing is uncommitted now something may be by then: it is carried across.
    const StartWishes wishes{choice.method,
                             choice.work == WorkPlan::setAside ? WorkChoice::setAside
                                                               : WorkChoice::carry,
                             choice.keepsEmptied};
    if (choice.method == SpliceKind::rebase && choice.isNothingLeft) {
        m_splice->moveTo(theirs, wishes.kind, wishes.work);
    } else if (const auto earlier = m_splice->earlierOf(theirs)) {
        m_notices->askAboutEarlier(*earlier, theirs, m_survey->forecast(), wishes);
    } else {
        m_splice->start(theirs, m_survey->forecast(), wishes);
    }
}

/// Later commits and carried work are joined to what is decided: their files are part of the work now.
void Window::onLegsChanged(std::size_t first)
{
    const Splice& splice = *m_splice->splice();
    m_resolve->takeAgain(m_splice->splice());
    enableActions();
    onChanged();
    m_record->refresh();
    if (splice.openCount() > 0 && m_station == Station::record) {
        goTo(Station::resolve);
    }
    if (first == splice.workLeg() && splice.openCountOf(first) > 0) {
        m_notices->say(tr("Your uncommitted work does not fit the result in %1: it is in the "
                          "worklist, as a group of its own.")
                           .arg(countOf(splice.openCountOf(first), "place", "places")));
    }
}

void Window::askWhatToCommit(const ResultReading& uncommitted)
{
    auto* dialog = new CommitFirstDialog(uncommitted, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &CommitFirstDialog::commitRequested, m_splice, &SpliceSession::commitFiles);
    dialog->open();
}

void Window::onDoneAtOnce(const JournalEntry& entry, const Recorded& recorded)
{
    const QString branch = shown(entry.plan.oursName);
    if (entry.plan.kind == SpliceKind::switchLine) {
        m_place->setInto({});
        m_push->forgetAnswer();
        goTo(Station::survey);
        m_notices->say(
            tr("You are on %1 now, at %2 “%3”. %4")
                .arg(shown(entry.plan.theirsName),
                     shown(recorded.commit.id.brief()),
                     shownSubject(recorded.commit),
                     askedInWords(*m_place->facts(), QDateTime::currentSecsSinceEpoch())));
        return;
    }
    if (isLogbookShown()) {
        m_logbookSession->look();
    }
    if (entry.plan.kind == SpliceKind::rollBack || entry.plan.kind == SpliceKind::rollForward) {
        m_push->forgetAnswer();
        m_notices->say(
            (entry.plan.kind == SpliceKind::rollBack
                 ? tr("%1 stands at %2 “%3” again, as before joining %4. The logbook can "
                      "bring it back.")
                 : tr("%1 stands at %2 “%3” again, with %4 joined."))
                .arg(branch,
                     shown(recorded.commit.id.brief()),
                     shownSubject(recorded.commit),
                     shown(entry.plan.theirsName)));
        return;
    }
    if (entry.plan.kind == SpliceKind::rebase) {
        m_notices->say(tr("Every commit of %1 was on %2 already: it stands at %3 “%4” now.")
                           .arg(branch,
                                shown(entry.plan.theirsName),
                                shown(recorded.commit.id.brief()),
                                shownSubject(recorded.commit)));
        return;
    }
    if (entry.plan.workChoice == WorkChoice::filesStay) {
        m_notices->say(
            tr("%1 moved on to %2 “%3”. Your files stay as they are.")
                .arg(branch, shown(recorded.commit.id.brief()), shownSubject(recorded.commit)));
        return;
    }
    m_notices->say(
        entry.plan.kind == SpliceKind::ownCommit
            ? tr("Committed %1 “%2” on %3. Go on from here.")
                  .arg(shown(recorded.commit.id.brief()), shownSubject(recorded.commit), branch)
            : tr("%1 moved on to %2 “%3”. Your working tree holds it.")
                  .arg(branch, shown(recorded.commit.id.brief()), shownSubject(recorded.commit)));
}

void Window::onSpliceStarted(const Started& started)
{
    m_course->setPassedOver({});
    const JournalEntry& entry = started.entry;
    m_survey->setSpliceUnderWay(entry.plan.theirsName);
    setMessageParts();
    m_resolve->setSplice(m_splice->splice(), entry.place);
    m_isResolveStale = false;
    m_check->setSplice(nullptr);
    m_check->setSplice(m_checking->readSplice());
    m_record->setSplice(m_splice->splice(), editableText(entry.message));
    m_push->forgetAnswer();
    m_record->setUncommitted(m_place->facts()->uncommitted);
    onChanged();
    if (entry.plan.kind == SpliceKind::bringBack && m_splice->splice()->openCount() == 0) {
        goTo(Station::record);
        m_splice->record({});  // what fits comes at once: it was asked for
        return;
    }
    const bool isClean = entry.station.empty() && m_splice->splice()->openCount() == 0;
    if (isClean && m_splice->splice()->decidedCount() == 0 && started.heldBy.empty()
        && entry.plan.kind != SpliceKind::fastForward && entry.plan.kind != SpliceKind::bringBack) {
        const bool recordsAtOnce =
            !Preferences::read().looksBeforeRecording && !m_trial->view().isRequired;
        m_afterLooking = recordsAtOnce ? AfterLooking::record : AfterLooking::goOn;
        goTo(Station::check);
        goOnWhenLooked();
        return;
    }
    // Where nothing is to be decided, what it brings is to be looked at.
    goTo(entry.station == "record" || isClean ? Station::record
         : entry.station == "survey"          ? Station::survey
         : entry.station == "check"           ? Station::check
                                              : Station::resolve);
}

void Window::setMessageParts()
{
    const bool signsOff = Preferences::read().signsOff;
    m_record->setMessageParts({m_conventions,
                               m_splice->joinedSubjects(),
                               signsOff ? m_identity : std::optional<Signature>{},
                               m_splice->corrected()});
    m_record->setLeftOut(m_splice->leftOut());
}

void Window::showQueue()
{
    m_survey->setQueue(m_queue->refs());
    const auto facts = m_place->facts();
    const Branch* next =
        facts && !m_queue->refs().empty() ? facts->branch(m_queue->refs().front()) : nullptr;
    m_record->setNext(next == nullptr ? QString() : shown(next->name));
}

void Window::joinNext()
{
    if (m_queue->refs().empty()) {
        return;
    }
    const std::string next = m_queue->refs().front();
    goTo(Station::survey);
    m_survey->pick(next);
}

void Window::onSpliceEnding()
{
    m_resolve->flush();
    m_check->flush();
    m_copies->forget();
    m_afterLooking = AfterLooking::stay;
    if (reachedStation(*m_splice->splice()) < Station::record) {
        m_course->setPassedOver(Station::check);
    }
    m_survey->setSpliceUnderWay({});
    m_resolve->setSplice(nullptr);
    m_check->setSplice(nullptr);
    m_record->forgetSplice();
}

void Window::onSpliceEnded(Ended how)
{
    m_course->setNote(Station::resolve, {});
    m_course->setNote(Station::check, {});
    m_course->setReached(how == Ended::recorded ? Station::record : Station::survey);
    if (how != Ended::recorded) {
        m_record->setSplice(nullptr, {});
        goTo(Station::survey);
    }
    enableActions();
    showFactsOfCourse();
    showStatus();
}

void Window::onRecordingStep(const QString& step)
{
    m_progress = step;
    m_record->setBusy(m_splice->isRecording() ? tr("Recording…") : QString());
    enableActions();
    showFactsOfCourse();
    showStatus();
    if (!m_splice->isRecording() && m_closesWhenRecorded) {
        m_closesWhenRecorded = false;
        // After the answer has been taken in.
        QMetaObject::invokeMethod(this, &QWidget::close, Qt::QueuedConnection);
    }
}

/// Each station enables its own; a splice that is being recorded, or that another window has, is not
/// changed by any.
void Window::enableActions()
{
    const Splice* splice = m_splice->splice();
    for (QAction* action : m_spliceActions) {
        action->setEnabled(splice != nullptr && !m_splice->isRecording());
    }
    m_handBack->setEnabled(splice != nullptr && !splice->isFrozen()
                           && !splice->plan().begun.empty());
    m_logbook->setBusy(m_splice->isRecording());
    m_resolve->setCurrent(m_station == Station::resolve && !isLogbookShown());
    m_resolve->setEditable(splice != nullptr && !splice->isFrozen());
    m_check->setCurrent(m_station == Station::check && !isLogbookShown());
    m_check->setEditable(splice != nullptr && !splice->isFrozen());
    m_check->setTextsReadOnly(m_checking->isReadOnly());
}

void Window::goTo(Station station)
{
    if (m_place->folder().isEmpty()) {
        return;
    }
    if (station == Station::survey) {
        m_place->look();
    }
    const bool needsSplice =
        station == Station::resolve || station == Station::check || station == Station::record;
    if (needsSplice && m_splice->splice() == nullptr) {
        m_notices->say(tr("No splice is under way yet. Start one here."));
        station = Station::survey;
    }
    m_resolve->flush();
    m_check->flush();
    if (station != m_station) {
        m_said.clear();  // it was about where one was
    }
    if (station == Station::resolve && m_isResolveStale) {
        m_isResolveStale = false;
        m_resolve->setSplice(m_splice->splice(), m_resolve->place());
    }
    m_station = station;
    QWidget* const pages[] = {m_survey, m_resolve, m_check, m_record, m_push};
    m_stations->setCurrentWidget(pages[static_cast<std::size_t>(station)]);
    enableActions();  // what is switched off cannot take the focus
    if (station == Station::record) {
        m_splice->lookAtWork();
        m_record->refresh();
        m_record->setFocus();
    } else if (station == Station::resolve) {
        m_resolve->focusChoices();
    } else if (station == Station::check) {
        m_check->refresh();
        m_check->enter();
        m_check->setFocus();
    } else if (station == Station::push) {
        m_send->look();
        m_push->setFocus();
    }
    if (m_splice->splice() == nullptr) {
        m_course->setReached(station);
        if (station == Station::survey) {
            m_course->setPassedOver({});
        }
    }
    m_course->setCurrent(station);
    storePlace();
    showFactsOfCourse();
    showStatus();
}

void Window::primaryAction()
{
    if (isLogbookShown()) {
        m_logbook->act();
        return;
    }
    switch (m_station) {
    case Station::survey:
        m_survey->start();
        break;
    case Station::resolve:
        m_resolve->act();
        break;
    case Station::check:
        m_check->act();
        break;
    case Station::record:
        m_record->act();
        break;
    case Station::push:
        m_push->act();
        break;
    }
}

void Window::onChanged()
{
    const Splice* splice = m_splice->splice();
    if (splice == nullptr) {
        return;
    }
    const std::size_t total = splice->openCount() + splice->decidedCount();
    m_course->setNote(Station::resolve,
                      total == 0 ? QString()
                                 : tr("%1 of %2").arg(splice->decidedCount()).arg(total));
    m_course->setReached(reachedStation(*splice));
    m_record->setSettled(m_splice->isSettled());
    if (splice->openCount() != m_openWhenSaid) {
        m_said.clear();  // it told how many are open, or of a decision before this one
    }
    showStatus();
}

void Window::showFactsOfCourse()
{
    const auto facts = m_place->facts();
    if (!facts) {
        return;
    }
    m_fetch->setVisible(m_station == Station::survey);
    const Splice* splice = m_splice->splice();
    setWindowTitle(splice == nullptr
                       ? tr("%1 · Rope Splice").arg(facts->repositoryName)
                       : (splice->plan().laysOwnCommits() ? tr("%1: %3 onto %2 · Rope Splice")
                                                          : tr("%1: %2 into %3 · Rope Splice"))
                             .arg(facts->repositoryName,
                                  shown(splice->plan().theirsName),
                                  shown(splice->plan().oursName)));
    if (splice != nullptr && m_station != Station::survey && m_station != Station::push) {
        const auto& base = splice->forecast().base;
        const bool keepsFiles = splice->plan().workChoice == WorkChoice::filesStay;
        m_course->setFacts(
            courseWordsFor(splice->plan().kind)
                .arg(facts->repositoryName,
                     shown(splice->plan().theirsName),
                     shown(splice->plan().oursName)),
            m_splice->isRecording()
                ? keepsFiles ? tr("recording: the branch is being changed")
                             : tr("recording: your branch and working tree are being changed")
            : base
                ? tr("base %1, %2 · nothing in your working tree has changed yet")
                      .arg(shown(base->id.brief()), relativeTime(base->author.time, facts->readAt))
                : QString());
        return;
    }
    const QString name =
        facts->standing.name.empty() ? tr("no branch") : shown(facts->standing.name);
    m_course->setFacts(tr("%1 on %2").arg(facts->repositoryName, name),
                       askedInWords(*facts, QDateTime::currentSecsSinceEpoch()),
                       exactAskedInWords(*facts));
}

void Window::showStatus()
{
    const bool hasRepository = !m_place->folder().isEmpty();
    const Splice* splice = m_splice->splice();
    QString status;
    std::vector<KeyHint> hints;
    if (m_stations->currentWidget() == m_opening) {
        hints = {{tr("F1"), tr("all keys")}};
    } else if (!hasRepository) {
        hints = {{tr("Ctrl+O"), tr("open a folder")},
                 {tr("Ctrl+N"), tr("clone")},
                 {tr("Enter"), tr("open the card")},
                 {tr("Ctrl+R"), tr("ask all remotes")},
                 {tr("Delete"), tr("forget a gone one")},
                 {tr("F1"), tr("all keys")}};
        status = m_startPage->status();
    } else if (isLogbookShown()) {
        hints = {{tr("Ctrl+Enter"), tr("reopen")},
                 {tr("Ctrl+J"), tr("next decision")},
                 {tr("F6"), tr("next list")},
                 {tr("Ctrl+L"), tr("back to %1").arg(stationInWords())},
                 {tr("F1"), tr("all keys")}};
        status = m_logbook->status();
    } else if (m_station == Station::survey && m_survey->showsCollisions()) {
        hints = {{tr("Arrows"), tr("next pair")},
                 {tr("Ctrl+J"), tr("next pair that collides")},
                 {tr("Enter"), tr("read the regions")},
                 {tr("Ctrl+C"), tr("copy a note")},
                 {tr("F1"), tr("all keys")}};
        status = m_survey->status();
    } else if (m_station == Station::survey) {
        hints = {{tr("Ctrl+R"), tr("fetch")},
                 {tr("Ctrl+Enter"), tr("start with this plan")},
                 {tr("F1"), tr("all keys")}};
        status = m_survey->status();
    } else if (m_station == Station::resolve && splice != nullptr) {
        hints = {{tr("Ctrl+J"), tr("next open")},
                 {tr("Alt+1…9"), tr("use a candidate")},
                 {tr("Ctrl+Z"), tr("undo")},
                 {tr("F1"), tr("all keys")}};
        std::size_t files = 0;
        for (const SpliceFile& file : splice->files()) {
            files += file.openCount() > 0 ? 1U : 0U;
        }
        status = splice->openCount() == 0 ? tr("Nothing is open · Ctrl+Enter goes on to Check")
                                          : tr("%1 still open in %2")
                                                .arg(splice->openCount())
                                                .arg(countOf(files, "file", "files"));
    } else if (m_station == Station::check && splice != nullptr) {
        hints = {{tr("Ctrl+J"), tr("next finding")},
                 {tr("Ctrl+T"), tr("against ours, theirs, nothing")},
                 {tr("F5"),
                  m_trial->view().isRunning() ? tr("stop the check command")
                                              : tr("run the check command")},
                 {tr("Ctrl+Enter"), m_check->runsFirst() ? tr("run it") : tr("go on to Record")},
                 {tr("F1"), tr("all keys")}};
        status = m_progress;
    } else if (m_station == Station::push) {
        hints = {{tr("Ctrl+Enter"), tr("push")}, {tr("F1"), tr("all keys")}};
        status = m_push->status();
    } else if (splice == nullptr) {
        hints = {{tr("Ctrl+1"), tr("back to Survey")}, {tr("F1"), tr("all keys")}};
    } else {
        hints = {{tr("Ctrl+Enter"), tr("record")},
                 {tr("Ctrl+3"), tr("back to Check")},
                 {tr("F1"), tr("all keys")}};
    }
    m_hints->setHints(std::move(hints));
    m_hints->setStatus(!m_progress.isEmpty() ? m_progress : !m_said.isEmpty() ? m_said : status);
}

void Window::fillRecentMenu()
{
    m_recentMenu->clear();
    const QStringList folders = RecentPlaces::folders();
    for (const QString& path : folders) {
        QAction* action =
            m_recentMenu->addAction(QString(path).replace(QLatin1Char('&'), QLatin1String("&&")));
        connect(action, &QAction::triggered, this, [this, path] { openRepository(path); });
    }
    m_recentMenu->setEnabled(!folders.isEmpty());
}

void Window::storePlace()
{
    if (m_splice->splice() != nullptr) {
        m_splice->storePlace(nameOfStation(m_station), m_resolve->place());
    }
}

void Window::changeEvent(QEvent* event)
{
    QMainWindow::changeEvent(event);
    if (event->type() == QEvent::ActivationChange && isActiveWindow()) {
        m_place->look();  // much may have happened while one was elsewhere
    }
}

void Window::closeEvent(QCloseEvent* event)
{
    if (m_splice->isRecording()) {
        m_closesWhenRecorded = true;
        m_notices->tellOfClosing([this] { m_closesWhenRecorded = false; });
        event->ignore();
        return;
    }
    m_resolve->flush();
    m_check->flush();
    m_check->runPane().flush();
    storePlace();
    if (m_messageTimer.isActive()) {
        m_splice->storeMessage(m_record->message());
    }
    QSettings settings;
    settings.setValue(QStringLiteral("window/geometry"), saveGeometry());
    settings.setValue(QStringLiteral("window/resolveShares"), m_resolve->shares());
    event->accept();
}
}  // namespace rope
