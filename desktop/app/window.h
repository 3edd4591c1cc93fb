// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/course_bar.h"
#include "desktop/app/external_copies.h"
#include "desktop/course/check_session.h"
#include "desktop/course/clone_session.h"
#include "desktop/course/collision_session.h"
#include "desktop/course/join_queue.h"
#include "desktop/course/logbook_session.h"
#include "desktop/course/recent_places.h"
#include "desktop/course/send_session.h"
#include "desktop/course/splice_session.h"
#include "desktop/course/trial_session.h"

#include <QMainWindow>
#include <QTimer>

class QLabel;
class QMenu;
class QPushButton;

namespace rope {
class PageStack;
class KeyHints;
class LogbookPage;
class CheckStation;
class NoticeBar;
class Notices;
class PushStation;
class RecordStation;
class ResolveStation;
class StartPage;
class SurveyStation;
struct StartChoice;

/// The window: the course across the top, a station below it, keys at its foot. Wires stations to the
/// open place and to the splice under way; decides nothing itself.
class Window final : public QMainWindow
{
    Q_OBJECT
public:
    explicit Window(QWidget* parent = nullptr);
    void openRepository(const QString& folder);
    /// Adds a menu in which one plays the teammate of the demo in that folder.
    void addDemoMenu(const QString& folder);

protected:
    void closeEvent(QCloseEvent* event) override;
    void changeEvent(QEvent* event) override;
    void showEvent(QShowEvent* event) override;

private:
    void addMenus();
    QAction* addAction(QMenu* menu,
                       const QString& text,
                       const char* objectName,
                       const QKeySequence& key,
                       std::function<void()> act);
    void connectPlace();
    void connectCollisions();
    void connectSplice();
    void reckonRebase(const std::string& ref,
                      const std::shared_ptr<const SurveyForecast>& forecast);
    void connectStations();
    void connectPush();
    void connectCheck();
    void connectTrial();
    void connectLogbook();
    void showLogbook();
    [[nodiscard]] bool isLogbookShown() const;
    [[nodiscard]] QString stationInWords() const;
    void goOnWhenLooked();
    void onChecked();
    void goToRegion(SlotPlace place);
    void onTrial();
    void showCheckOnCourse();
    [[nodiscard]] Station reachedStation(const Splice& splice) const;
    void say(const QString& words);
    void goTo(Station station);
    void primaryAction();
    void chooseFolder();
    /// To the start page, with the address at hand.
    void goToStart();
    void onOpened(const FoundPlace& found);
    void onFactsChanged(const FactsChange& change);
    void onSpliceStarted(const Started& started);
    void onSpliceEnding();
    void onSpliceEnded(Ended how);
    void onRecordingStep(const QString& step);
    void onChanged();
    void startSplice(const StartChoice& choice);
    void askWhatToCommit(const ResultReading& uncommitted);
    /// Goes to Survey with the next branch of the queue picked.
    void joinNext();
    void showQueue();
    /// What proposed messages are made of: what is set up here, what is preferred, what comes in.
    void setMessageParts();
    void onDoneAtOnce(const JournalEntry& entry, const Recorded& recorded);
    void onLegsChanged(std::size_t first);
    void enableActions();
    void showFactsOfCourse();
    void showStatus();
    void fillRecentMenu();
    void showOwnKeys();
    void storePlace();

    PlaceSession* m_place;
    SpliceSession* m_splice;
    QWidget* m_centre;
    CourseBar* m_course;
    NoticeBar* m_notice;
    Notices* m_notices = nullptr;
    ExternalCopies* m_copies = new ExternalCopies(this);
    PageStack* m_stations;
    StartPage* m_startPage;
    QLabel* m_opening;  ///< In place of the start page, where it is known at once what to open.
    RecentPlaces* m_recent;
    CloneSession* m_cloning;
    SurveyStation* m_survey;
    ResolveStation* m_resolve;
    CheckStation* m_check;
    CheckSession* m_checking;
    TrialSession* m_trial;
    RecordStation* m_record;
    PushStation* m_push;
    SendSession* m_send;
    LogbookPage* m_logbook;
    LogbookSession* m_logbookSession;
    CollisionSession* m_collisions;
    JoinQueue* m_queue;
    MessageConventions m_conventions;
    std::optional<Signature> m_identity;
    KeyHints* m_hints;
    QPushButton* m_fetch;
    QMenu* m_recentMenu = nullptr;
    QList<QAction*> m_allActions;
    QAction* m_handBack = nullptr;    ///< Of what another program began.
    QList<QAction*> m_spliceActions;  ///< Enabled while a splice is under way.
    /// What follows once a clean join has been looked at, if nothing is found in it.
    enum class AfterLooking { stay, goOn, record };
    AfterLooking m_afterLooking = AfterLooking::stay;
    Station m_station = Station::survey;
    QTimer m_messageTimer;          ///< A half-written message is stored when typing pauses.
    QTimer m_clock;                 ///< "last asked 5 minutes ago" grows old by itself.
    bool m_isResolveStale = false;  ///< Something was written elsewhere than there.
    std::string m_placeInResolve;   ///< Where the person was while files come and go.
    QString m_progress;
    QString
        m_said;  ///< A word of what was just done, for a few seconds or until the next decision.
    std::size_t m_openWhenSaid = 0;
    QTimer m_saidTimer;
    bool m_closesWhenRecorded = false;
};
}  // namespace rope
