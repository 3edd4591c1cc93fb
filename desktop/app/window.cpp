// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/window.h"

#include "desktop/app/check_wiring.h"
#include "desktop/app/logbook_wiring.h"
#include "desktop/app/navigator.h"
#include "desktop/app/notices.h"
#include "desktop/app/preferences.h"
#include "desktop/app/push_wiring.h"
#include "desktop/app/record_wiring.h"
#include "desktop/app/resolve_wiring.h"
#include "desktop/app/splice_wiring.h"
#include "desktop/app/start_wiring.h"
#include "desktop/app/survey_wiring.h"
#include "desktop/ask/ask_server.h"
#include "desktop/check/check_station.h"
#include "desktop/check/run_pane.h"
#include "desktop/course/check_session.h"
#include "desktop/course/clone_session.h"
#include "desktop/course/collision_session.h"
#include "desktop/course/join_queue.h"
#include "desktop/course/logbook_session.h"
#include "desktop/course/recent_places.h"
#include "desktop/course/record_session.h"
#include "desktop/course/send_session.h"
#include "desktop/course/splice_reader.h"
#include "desktop/course/splice_session.h"
#include "desktop/course/trial_session.h"
#include "desktop/logbook/logbook_page.h"
#include "desktop/push/push_station.h"
#include "desktop/record/record_station.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/start/clone_panel.h"
#include "desktop/start/start_page.h"
#include "desktop/survey/survey_station.h"
#include "desktop/widgets/key_hints.h"
#include "desktop/widgets/notice_bar.h"
#include "desktop/widgets/page_stack.h"
#include "desktop/widgets/plain_widgets.h"

#include <QCloseEvent>
#include <QDir>
#include <QFileDialog>
#include <QScreen>
#include <QSettings>
#include <QTimer>
#include <QVBoxLayout>

namespace rope {
namespace {
constexpr int kTryAgainMs = 3000;
constexpr int kFrameKnownMs = 200;
const QString kGeometryKey = QStringLiteral("window/geometry");
const QString kSharesKey = QStringLiteral("window/resolveShares");
}  // namespace

Window::Window(QWidget* parent)
    : QMainWindow(parent)
{
    setObjectName(QStringLiteral("mainWindow"));
    setWindowTitle(tr("Rope Splice"));
    setMinimumSize(800, 560);
    resize(QSize(1280, 800).boundedTo(screen()->availableSize()));
    makeParts();
    layOut();
    addMenus();
    joinParts();
    restoreState();
    fillRecentMenu();
    enableActions();
    m_parts.pages->setCurrentWidget(m_parts.start);
    m_parts.course->hide();
    m_parts.start->setFocus();
    m_parts.to->showStatus();
}

void Window::makeParts()
{
    auto* centre = new QWidget(this);
    setCentralWidget(centre);
    m_parts.place = new PlaceSession(this);
    m_parts.splice = new SpliceSession(*m_parts.place, this);
    m_parts.reader = new SpliceReader(*m_parts.place, *m_parts.splice, this);
    m_parts.recording = new RecordSession(*m_parts.place, *m_parts.splice, this);
    m_parts.checking = new CheckSession(*m_parts.place, *m_parts.splice, this);
    m_parts.trial = new TrialSession(*m_parts.place, *m_parts.splice, this);
    m_parts.send = new SendSession(*m_parts.place, this);
    m_parts.past = new LogbookSession(*m_parts.place, this);
    m_parts.collisions = new CollisionSession(*m_parts.place, this);
    m_parts.queue = new JoinQueue(this);
    m_parts.recent = new RecentPlaces(this);
    m_parts.cloning = new CloneSession(this);

    m_parts.course = new CourseBar(centre);
    m_parts.noticeBar = new NoticeBar(centre);
    m_parts.pages = new PageStack(centre);
    m_parts.hints = new KeyHints(centre);
    m_parts.fetch = makeButton(tr("Fetch"), "fetchButton", ButtonRole::plain, m_parts.course);
    m_parts.start = new StartPage(m_parts.pages);
    m_parts.opening = makeLabel({}, TextRole::muted, m_parts.pages);
    m_parts.survey = new SurveyStation(m_parts.pages);
    m_parts.resolve = new ResolveStation(m_parts.pages);
    m_parts.check = new CheckStation(m_parts.pages);
    m_parts.record = new RecordStation(m_parts.pages);
    m_parts.push = new PushStation(m_parts.pages);
    m_parts.logbook = new LogbookPage(m_parts.pages);
    m_parts.to = new Navigator(m_parts, this);
}

void Window::layOut()
{
    for (QWidget* page : {static_cast<QWidget*>(m_parts.start),
                          static_cast<QWidget*>(m_parts.opening),
                          static_cast<QWidget*>(m_parts.survey),
                          static_cast<QWidget*>(m_parts.resolve),
                          static_cast<QWidget*>(m_parts.record),
                          static_cast<QWidget*>(m_parts.push),
                          static_cast<QWidget*>(m_parts.logbook),
                          static_cast<QWidget*>(m_parts.check)}) {
        m_parts.pages->addWidget(page);
    }
    m_parts.opening->setObjectName(QStringLiteral("openingNote"));
    m_parts.opening->setAlignment(Qt::AlignCenter);
    m_parts.course->setSideButton(m_parts.fetch);
    auto* column = new QVBoxLayout(centralWidget());
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(m_parts.course);
    column->addWidget(m_parts.noticeBar);
    column->addWidget(m_parts.pages, 1);
    column->addWidget(m_parts.hints);
}

void Window::joinParts()
{
    const Asking asking = (new AskServer(this))->asking();
    m_parts.place->setAsking(asking);
    m_parts.recent->setAsking(asking);
    m_parts.cloning->setAsking(asking);

    connect(m_parts.to, &Navigator::abilitiesChanged, this, &Window::enableActions);
    connect(m_parts.to, &Navigator::titleChanged, this, &Window::setWindowTitle);
    connectPlace();
    auto* starting = new StartWiring(m_parts, this);
    connect(starting, &StartWiring::openRequested, this, &Window::openRepository);
    connect(starting, &StartWiring::demoMade, this, [this](const QString& folder) {
        addDemoMenu(folder);
        openRepository(folder + QStringLiteral("/slackwater"));
    });
    connect(starting, &StartWiring::chooserRequested, this, &Window::chooseFolder);
    m_surveying = new SurveyWiring(m_parts, this);
    auto* resolving = new ResolveWiring(m_parts, this);
    auto* checking = new CheckWiring(m_parts, this);
    m_recording = new RecordWiring(m_parts, this);
    connect(m_recording, &RecordWiring::nextRequested, m_surveying, &SurveyWiring::joinNext);
    auto* splicing = new SpliceWiring(m_parts, *resolving, *checking, *m_recording, this);
    connect(splicing, &SpliceWiring::recordingOver, this, &Window::onRecordingOver);
    new PushWiring(m_parts, this);
    new LogbookWiring(m_parts, this);

    m_parts.notices = new Notices(m_parts, this);
    connect(m_parts.notices, &Notices::openRequested, this, &Window::openRepository);
    connect(m_parts.notices, &Notices::logbookRequested, this, [this] {
        if (!m_parts.to->isLogbookShown()) {
            toLogbookAndBack();
        }
    });
}

void Window::connectPlace()
{
    PlaceSession* const place = m_parts.place;
    connect(place, &PlaceSession::opened, this, &Window::onOpened);
    connect(place, &PlaceSession::openFailed, this, [this] {
        if (m_parts.pages->currentWidget() == m_parts.opening) {
            m_parts.to->showStart();
        }
    });
    connect(place, &PlaceSession::factsChanged, this, &Window::onFactsChanged);
    connect(place, &PlaceSession::fetchProgressed, this, [this](const QString& text) {
        const bool isFetching = m_parts.place->isFetching();
        m_parts.fetch->setText(isFetching ? tr("Stop fetching") : tr("Fetch"));
        m_parts.to->setProgress(isFetching ? text : QString());
    });
    connect(m_parts.fetch, &QPushButton::clicked, this, [this] {
        if (m_parts.place->isFetching()) {
            m_parts.place->stopFetching();
        } else {
            m_parts.place->fetch();
        }
    });
    connect(m_parts.recent, &RecentPlaces::changed, this, &Window::fillRecentMenu);
}

void Window::restoreState()
{
    const QSettings settings;
    restoreGeometry(settings.value(kGeometryKey).toByteArray());
    m_parts.resolve->setShares(settings.value(kSharesKey).toMap());
    m_parts.resolve->setSideways(Preferences::read().scrollsEvidenceSideways);
}

void Window::openRepository(const QString& folder)
{
    if (m_parts.splice->isRecording()) {
        m_parts.notices->say(tr("Recording is under way here. Open another repository after it."));
        return;
    }
    m_parts.notices->dismiss();
    m_parts.recent->stopLooking();
    if (!isVisible()) {
        m_parts.to->showOpening(tr("Opening %1…").arg(QDir(folder).dirName()));
    }
    m_parts.place->open(QDir(folder).absolutePath());
}

void Window::showEvent(QShowEvent* event)
{
    QMainWindow::showEvent(event);
    if (event->spontaneous()) {
        return;
    }
    if (m_parts.pages->currentWidget() == m_parts.start) {
        m_parts.recent->show();
    }
    // Only once it is shown is it known how much its frame takes.
    QTimer::singleShot(kFrameKnownMs, this, [this, first = size()] {
        if (size() == first) {
            fitScreen();
        }
    });
}

/// No part of the window lies off the screen at first, its lowest line with the keys among them.
void Window::fitScreen()
{
    const QRect free = screen()->availableGeometry();
    const QSize frame = frameGeometry().size() - size();
    if (isMaximized() || isFullScreen() || free.contains(frameGeometry())) {
        return;
    }
    resize(size().boundedTo(free.size() - frame));
    QRect wanted = frameGeometry();
    wanted.moveTo(
        std::clamp(
            wanted.left(), free.left(), std::max(free.left(), free.right() + 1 - wanted.width())),
        std::clamp(
            wanted.top(), free.top(), std::max(free.top(), free.bottom() + 1 - wanted.height())));
    move(wanted.topLeft());
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

void Window::goToClone() const
{
    m_parts.to->showStart();
    m_parts.start->clonePanel().focusAddress();
}

void Window::fetchOrAskAll() const
{
    if (m_parts.place->folder().isEmpty()) {
        m_parts.recent->askAll();
    } else {
        m_parts.place->fetch();
    }
}

void Window::toLogbookAndBack() const
{
    if (m_parts.to->isLogbookShown()) {
        m_parts.to->goTo(m_parts.to->station());
    } else if (!m_parts.place->folder().isEmpty()) {
        m_parts.to->showLogbook();
        m_parts.past->look();
        m_parts.past->readMerges();
    }
}

void Window::takePreferences()
{
    m_recording->setMessageParts();
    m_parts.resolve->setSideways(Preferences::read().scrollsEvidenceSideways);
    m_parts.record->setLeavesNotes(Preferences::read().leavesNotes);
    emit preferencesChanged();
}

void Window::onOpened(const FoundPlace& found)
{
    m_parts.recent->remember(m_parts.place->folder());
    m_recording->setConventions(found.conventions);
    m_parts.queue->open(m_parts.place->folder());
    m_parts.course->show();
    m_parts.survey->showFacts(found.facts, found.facts->proposedTheirs());
    m_parts.record->setHasRemote(!found.facts->remotes.empty());
    m_parts.push->forgetAnswer();
    m_parts.record->setUncommitted(found.facts->uncommitted);
    m_parts.to->goTo(Station::survey);
    if (Preferences::read().fetchesAtOpening && !found.facts->remotes.empty()) {
        m_parts.place->fetch();
    }
    if (found.trouble && found.trouble->reason == Reason::recordingElsewhere) {
        // It will be done soon; what it leaves is looked at then.
        QTimer::singleShot(kTryAgainMs, this, [this, folder = m_parts.place->folder()] {
            if (m_parts.place->folder() == folder && m_parts.splice->splice() == nullptr) {
                openRepository(folder);
            }
        });
    }
}

void Window::onFactsChanged(const FactsChange& change)
{
    const auto facts = m_parts.place->facts();
    const bool areForecastsStale = change.isStanding || change.isBranches;
    const std::string before = m_parts.survey->theirsRef();
    m_parts.survey->updateFacts(facts, areForecastsStale);
    if (areForecastsStale || before != m_parts.survey->theirsRef()) {
        m_parts.place->requestForecast(m_parts.survey->theirsRef());
    }
    m_parts.record->setUncommitted(facts->uncommitted);
    m_parts.record->setHasRemote(!facts->remotes.empty());
    m_recording->lookWhetherPushed();
    if (m_parts.to->isLogbookShown() && change.isStanding) {
        m_parts.past->readMerges();
    }
    m_parts.to->showFacts();
    m_parts.to->showStatus();
}

/// Each station enables its own; a splice that is being recorded, or that another window has, is not
/// changed by any.
void Window::enableActions()
{
    const Splice* splice = m_parts.splice->splice();
    const bool isFree = splice != nullptr && !splice->isFrozen();
    for (QAction* action : m_spliceActions) {
        action->setEnabled(splice != nullptr && !m_parts.splice->isRecording());
    }
    m_handBack->setEnabled(isFree && !splice->plan().begun.empty());
    m_parts.logbook->setBusy(m_parts.splice->isRecording());
    m_parts.resolve->setEditable(isFree);
    m_parts.check->setEditable(isFree);
    m_parts.check->setTextsReadOnly(m_parts.checking->isReadOnly());
}

void Window::onRecordingOver()
{
    if (m_closesWhenRecorded) {
        m_closesWhenRecorded = false;
        // After the answer has been taken in.
        QMetaObject::invokeMethod(this, &QWidget::close, Qt::QueuedConnection);
    }
}

void Window::changeEvent(QEvent* event)
{
    QMainWindow::changeEvent(event);
    if (event->type() == QEvent::ActivationChange && isActiveWindow()) {
        m_parts.place->look();  // much may have happened while one was elsewhere
    }
}

void Window::closeEvent(QCloseEvent* event)
{
    if (m_parts.splice->isRecording()) {
        m_closesWhenRecorded = true;
        m_parts.notices->tellOfClosing([this] { m_closesWhenRecorded = false; });
        event->ignore();
        return;
    }
    m_parts.to->flush();
    m_parts.check->runPane().flush();
    m_parts.to->storePlace();
    m_recording->storeMessage();
    QSettings settings;
    settings.setValue(kGeometryKey, saveGeometry());
    settings.setValue(kSharesKey, m_parts.resolve->shares());
    event->accept();
}
}  // namespace rope
