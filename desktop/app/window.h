// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/course_bar.h"
#include "desktop/app/session.h"

#include <QMainWindow>
#include <QTimer>

class QMenu;
class QPushButton;
class QStackedWidget;

namespace rope {
class KeyHints;
class NoticeBar;
class RecordStation;
class ResolveStation;
class StartPage;
class SurveyStation;

/// The window: the course across the top, a station below it, keys at its foot. Wires stations to
/// the session; decides nothing itself.
class Window final : public QMainWindow
{
    Q_OBJECT
public:
    explicit Window(QWidget* parent = nullptr);
    void openRepository(const QString& folder);

protected:
    void closeEvent(QCloseEvent* event) override;

private:
    void addMenus();
    QAction* addAction(QMenu* menu,
                       const QString& text,
                       const char* objectName,
                       const QKeySequence& key,
                       std::function<void()> act);
    void connectSession();
    void connectStations();
    void goTo(Station station);
    void primaryAction();
    void chooseFolder();
    void onOpened();
    void onSpliceStarted(const JournalEntry& entry);
    void onSpliceEnded(bool wasAbandoned);
    void onChanged();
    void showFactsOfCourse();
    void showStatus();
    void rememberFolder(const QString& folder);
    void storePlace();
    [[nodiscard]] QStringList recentFolders() const;

    Session* m_session;
    CourseBar* m_course;
    NoticeBar* m_notice;
    QStackedWidget* m_stations;
    StartPage* m_startPage;
    SurveyStation* m_survey;
    ResolveStation* m_resolve;
    RecordStation* m_record;
    KeyHints* m_hints;
    QPushButton* m_fetch;
    QMenu* m_recentMenu = nullptr;
    QList<QAction*> m_allActions;
    QList<QAction*> m_spliceActions;  ///< Enabled while a splice is under way.
    Station m_station = Station::survey;
    QTimer m_messageTimer;  ///< A half-written message is stored when typing pauses.
    QString m_progress;
};
}  // namespace rope
