// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/app/window.h"

#include "desktop/app/start_page.h"
#include "desktop/record/record_station.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/survey/survey_station.h"
#include "desktop/widgets/key_hints.h"
#include "desktop/widgets/notice_bar.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/wording/describe_error.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/relative_time.h"

#include <QCloseEvent>
#include <QDir>
#include <QFileDialog>
#include <QMenu>
#include <QScreen>
#include <QSettings>
#include <QSplitter>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace rope {
namespace {
constexpr int kMostRecent = 10;
constexpr int kMessagePauseMs = 400;

const char* nameOfStation(Station station)
{
    switch (station) {
    case Station::survey:
        return "survey";
    case Station::resolve:
        return "resolve";
    case Station::record:
        return "record";
    }
    return "";
}
}  // namespace

Window::Window(QWidget* parent)
    : QMainWindow(parent)
    , m_session(new Session(this))
    , m_course(new CourseBar(this))
    , m_notice(new NoticeBar(this))
    , m_stations(new QStackedWidget(this))
    , m_startPage(new StartPage(this))
    , m_survey(new SurveyStation(this))
    , m_resolve(new ResolveStation(this))
    , m_record(new RecordStation(this))
    , m_hints(new KeyHints(this))
    , m_fetch(makeButton(tr("Fetch"), "fetchButton", ButtonRole::plain, this))
{
    setObjectName(QStringLiteral("mainWindow"));
    setWindowTitle(tr("Rope Splice"));
    setMinimumSize(1024, 600);
    resize(QSize(1280, 800).boundedTo(screen()->availableSize()));
    for (QWidget* page : {static_cast<QWidget*>(m_startPage),
                          static_cast<QWidget*>(m_survey),
                          static_cast<QWidget*>(m_resolve),
                          static_cast<QWidget*>(m_record)}) {
        m_stations->addWidget(page);
    }
    m_course->setSideButton(m_fetch);
    auto* centre = new QWidget(this);
    auto* column = new QVBoxLayout(centre);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(m_course);
    column->addWidget(m_notice);
    column->addWidget(m_stations, 1);
    column->addWidget(m_hints);
    setCentralWidget(centre);
    m_messageTimer.setSingleShot(true);
    m_messageTimer.setInterval(kMessagePauseMs);
    addMenus();
    connectSession();
    connectStations();
    const QSettings settings;
    restoreGeometry(settings.value(QStringLiteral("window/geometry")).toByteArray());
    m_resolve->splitter()->restoreState(
        settings.value(QStringLiteral("window/resolveSplitter")).toByteArray());
    m_startPage->setRecent(recentFolders());
    rememberFolder({});
    onSpliceEnded(false);
    m_stations->setCurrentWidget(m_startPage);
    m_course->hide();
    showStatus();
}

void Window::connectSession()
{
    connect(m_session, &Session::opened, this, &Window::onOpened);
    connect(m_session, &Session::openFailed, this, [this](const Error& error) {
        m_notice->showError(error);
    });
    connect(m_session, &Session::failed, this, [this](const Error& error) {
        m_notice->showError(error);
    });
    connect(m_session, &Session::noticed, this, [this](const QString& text) {
        m_notice->showMessage(text);
    });
    connect(m_session, &Session::factsChanged, this, [this] {
        m_survey->showFacts(m_session->facts(), m_session->facts()->proposedTheirs());
        showFactsOfCourse();
    });
    connect(m_session, &Session::identityKnown, m_record, &RecordStation::setIdentity);
    connect(m_session,
            &Session::forecastReady,
            this,
            [this](const std::string& ref, const auto& forecast) {
                m_survey->setForecast(ref, forecast);
                showStatus();
            });
    connect(m_session,
            &Session::forecastFailed,
            this,
            [this](const std::string& ref, const Error& error) {
                m_survey->setForecastFailure(ref, describeInLine(error));
            });
    connect(m_session, &Session::spliceStarted, this, &Window::onSpliceStarted);
    connect(m_session, &Session::spliceEnded, this, &Window::onSpliceEnded);
    connect(m_session,
            &Session::fileFactsReady,
            this,
            [this](std::size_t file, const FileFacts& facts) {
                m_resolve->setFacts(file, facts.regions, facts.whole, facts.versions);
            });
    connect(m_session, &Session::recorded, this, [this](const Recorded& recorded) {
        m_record->showRecorded(recorded);
        m_station = Station::record;
    });
    connect(m_session, &Session::progressed, this, [this](const QString& text) {
        m_progress = m_session->isFetching() || m_session->isRecording() ? text : QString();
        m_record->setBusy(m_session->isRecording() ? tr("Recording…") : QString());
        m_fetch->setText(m_session->isFetching() ? tr("Stop fetching") : tr("Fetch"));
        showStatus();
    });
}

void Window::connectStations()
{
    connect(m_course, &CourseBar::stationRequested, this, &Window::goTo);
    connect(m_fetch, &QPushButton::clicked, this, [this] {
        if (m_session->isFetching()) {
            m_session->cancel();
        } else {
            m_session->fetch();
        }
    });
    connect(m_startPage, &StartPage::folderChosen, this, &Window::openRepository);
    connect(m_startPage, &StartPage::chooserRequested, this, &Window::chooseFolder);
    connect(m_survey, &SurveyStation::branchPicked, m_session, &Session::requestForecast);
    connect(m_survey, &SurveyStation::startRequested, this, [this] {
        m_session->startSplice(m_survey->theirsRef(), m_survey->forecast());
    });
    connect(m_survey, &SurveyStation::resumeRequested, this, [this] { goTo(Station::resolve); });
    connect(m_resolve, &ResolveStation::changed, this, &Window::onChanged);
    connect(m_resolve, &ResolveStation::placeChanged, this, &Window::storePlace);
    connect(m_resolve, &ResolveStation::factsRequested, m_session, &Session::requestFileFacts);
    connect(m_record, &RecordStation::messageEdited, this, [this] { m_messageTimer.start(); });
    connect(&m_messageTimer, &QTimer::timeout, this, [this] {
        m_session->storeMessage(m_record->message());
    });
    connect(m_record, &RecordStation::identityGiven, m_session, &Session::setNewIdentity);
    connect(m_record, &RecordStation::recordRequested, m_session, &Session::record);
    connect(m_record, &RecordStation::surveyRequested, this, [this] { goTo(Station::survey); });
}

void Window::openRepository(const QString& folder)
{
    m_notice->dismiss();
    m_session->open(QDir(folder).absolutePath());
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

void Window::onOpened()
{
    rememberFolder(m_session->folder());
    onSpliceEnded(false);
    m_course->show();
    m_survey->showFacts(m_session->facts(), m_session->facts()->proposedTheirs());
    goTo(Station::survey);
}

void Window::onSpliceStarted(const JournalEntry& entry)
{
    for (QAction* action : m_spliceActions) {
        action->setEnabled(true);
    }
    m_survey->setSpliceUnderWay(entry.plan.theirsName);
    m_resolve->setSplice(m_session->splice(), entry.place);
    m_record->setSplice(m_session->splice(), shown(entry.message));
    onChanged();
    goTo(entry.station == "record"   ? Station::record
         : entry.station == "survey" ? Station::survey
                                     : Station::resolve);
}

void Window::onSpliceEnded(bool wasAbandoned)
{
    for (QAction* action : m_spliceActions) {
        action->setEnabled(false);
    }
    m_survey->setSpliceUnderWay({});
    m_resolve->setSplice(nullptr);
    m_course->setNote(Station::resolve, {});
    m_course->setReached(m_station == Station::record && !wasAbandoned ? Station::record
                                                                       : Station::survey);
    if (wasAbandoned) {
        m_record->setSplice(nullptr, {});
        goTo(Station::survey);
        m_notice->showMessage(
            tr("The splice is put away. Nothing was changed, and its decisions are kept."));
        m_notice->offerAction(tr("Bring it back"), [this] { m_session->bringBackAbandoned(); });
    }
    showFactsOfCourse();
    showStatus();
}

void Window::goTo(Station station)
{
    if (m_session->folder().isEmpty()) {
        return;
    }
    if (station != Station::survey && m_session->splice() == nullptr) {
        m_notice->showMessage(tr("No splice is under way yet. Start one here."));
        station = Station::survey;
    }
    m_resolve->flush();
    m_station = station;
    QWidget* const pages[] = {m_survey, m_resolve, m_record};
    m_stations->setCurrentWidget(pages[static_cast<std::size_t>(station)]);
    if (station == Station::record) {
        m_record->refresh();
        m_record->setFocus();
    } else if (station == Station::resolve) {
        m_resolve->focusChoices();
    }
    if (m_session->splice() == nullptr) {
        m_course->setReached(Station::survey);
    }
    m_course->setCurrent(station);
    storePlace();
    showFactsOfCourse();
    showStatus();
}

void Window::primaryAction()
{
    switch (m_station) {
    case Station::survey:
        m_survey->start();
        break;
    case Station::resolve:
        if (m_session->splice() != nullptr && m_session->splice()->openCount() == 0) {
            goTo(Station::record);
        } else {
            m_resolve->takeLookedAt();
        }
        break;
    case Station::record:
        m_record->record();
        break;
    }
}

void Window::onChanged()
{
    const Splice* splice = m_session->splice();
    if (splice == nullptr) {
        return;
    }
    const std::size_t total = splice->openCount() + splice->decidedCount();
    m_course->setNote(Station::resolve,
                      total == 0 ? QString()
                                 : tr("%1 of %2").arg(splice->decidedCount()).arg(total));
    m_course->setReached(splice->openCount() == 0 ? Station::record : Station::resolve);
    showStatus();
}

void Window::showFactsOfCourse()
{
    const auto facts = m_session->facts();
    if (!facts) {
        return;
    }
    m_fetch->setVisible(m_station == Station::survey);
    const Splice* splice = m_session->splice();
    if (splice != nullptr && m_station != Station::survey) {
        const auto& base = splice->forecast().base;
        m_course->setFacts(
            tr("%1: joining %2 into %3 by merge commit")
                .arg(facts->repositoryName,
                     shown(splice->plan().theirsName),
                     shown(splice->plan().oursName)),
            base ? tr("base %1, %2 · nothing in your working tree has changed yet")
                       .arg(shown(base->id.brief()), relativeTime(base->author.time, facts->readAt))
                 : QString());
        return;
    }
    const QString name =
        facts->standing.name.empty() ? tr("no branch") : shown(facts->standing.name);
    const QString asked =
        facts->lastAsked
            ? tr("remote last asked %1").arg(relativeTime(*facts->lastAsked, facts->readAt))
            : tr("the remote was never asked from here");
    m_course->setFacts(tr("%1 on %2").arg(facts->repositoryName, name),
                       asked,
                       facts->lastAsked ? exactTime(*facts->lastAsked) : QString());
}

void Window::showStatus()
{
    const bool hasRepository = !m_session->folder().isEmpty();
    const Splice* splice = m_session->splice();
    QString status;
    std::vector<KeyHint> hints;
    if (!hasRepository) {
        hints = {{tr("Ctrl+O"), tr("open a repository")}, {tr("F1"), tr("all keys")}};
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
        status = splice->openCount() == 0 ? tr("Nothing is open · Ctrl+Enter goes on to Record")
                                          : tr("%1 still open in %2")
                                                .arg(splice->openCount())
                                                .arg(countOf(files, "file", "files"));
    } else if (splice == nullptr) {
        hints = {{tr("Ctrl+1"), tr("back to Survey")}, {tr("F1"), tr("all keys")}};
    } else {
        hints = {{tr("Ctrl+Enter"), tr("record")},
                 {tr("Ctrl+2"), tr("back to Resolve")},
                 {tr("F1"), tr("all keys")}};
    }
    m_hints->setHints(std::move(hints));
    m_hints->setStatus(m_progress.isEmpty() ? status : m_progress);
}

QStringList Window::recentFolders() const
{
    return QSettings().value(QStringLiteral("recent")).toStringList();
}

void Window::rememberFolder(const QString& folder)
{
    QStringList recent = recentFolders();
    if (!folder.isEmpty()) {
        recent.removeAll(folder);
        recent.prepend(folder);
        recent = recent.mid(0, kMostRecent);
        QSettings().setValue(QStringLiteral("recent"), recent);
    }
    m_recentMenu->clear();
    for (const QString& path : recent) {
        QAction* action =
            m_recentMenu->addAction(QString(path).replace(QLatin1Char('&'), QLatin1String("&&")));
        connect(action, &QAction::triggered, this, [this, path] { openRepository(path); });
    }
    m_recentMenu->setEnabled(!recent.isEmpty());
}

void Window::storePlace()
{
    if (m_session->splice() != nullptr) {
        m_session->storePlace(nameOfStation(m_station), m_resolve->place());
    }
}

void Window::closeEvent(QCloseEvent* event)
{
    m_resolve->flush();
    storePlace();
    if (m_messageTimer.isActive()) {
        m_session->storeMessage(m_record->message());
    }
    QSettings settings;
    settings.setValue(QStringLiteral("window/geometry"), saveGeometry());
    settings.setValue(QStringLiteral("window/resolveSplitter"), m_resolve->splitter()->saveState());
    event->accept();
}
}  // namespace rope
