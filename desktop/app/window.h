// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/window_parts.h"

#include <QMainWindow>

#include <functional>

class QMenu;

namespace rope {
class RecordWiring;
class SurveyWiring;
struct FactsChange;
struct FoundPlace;

/// The window: the course across the top, a station below it, keys at its foot. Makes its parts and joins them;
/// what belongs to one station stands in that station's wiring, where the person is in the navigator.
class Window final : public QMainWindow
{
    Q_OBJECT
public:
    explicit Window(QWidget* parent = nullptr);
    void openRepository(const QString& folder);
    /// Adds a menu in which one plays the teammate of the demo in that folder.
    void addDemoMenu(const QString& folder);

signals:
    /// What a person prefers has changed.
    void preferencesChanged();

protected:
    void closeEvent(QCloseEvent* event) override;
    void changeEvent(QEvent* event) override;
    void showEvent(QShowEvent* event) override;

private:
    void makeParts();
    void layOut();
    void joinParts();
    void connectPlace();
    void restoreState();

    void addMenus();
    void addRepositoryMenu();
    void addSpliceMenu();
    QAction* addAction(QMenu* menu,
                       const QString& text,
                       const char* objectName,
                       const QKeySequence& key,
                       std::function<void()> act);
    void fillRecentMenu();
    void enableActions();
    void showOwnKeys();

    void chooseFolder();
    /// To the start page, with the address at hand.
    void goToClone() const;
    void fetchOrAskAll() const;
    void toLogbookAndBack() const;
    void takePreferences();
    void onOpened(const FoundPlace& found);
    void onFactsChanged(const FactsChange& change);
    void onRecordingOver();
    void fitScreen();

    WindowParts m_parts;
    SurveyWiring* m_surveying = nullptr;
    RecordWiring* m_recording = nullptr;
    QMenu* m_recentMenu = nullptr;
    QString m_demoFolder;  ///< Where the teammate is played; empty: there is no demo.
    QList<QAction*> m_allActions;
    QAction* m_handBack = nullptr;    ///< Of what another program began.
    QList<QAction*> m_spliceActions;  ///< Enabled while a splice is under way.
    bool m_closesWhenRecorded = false;
};
}  // namespace rope
