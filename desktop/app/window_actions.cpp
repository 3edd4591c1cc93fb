// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/about_dialog.h"
#include "desktop/app/keys_dialog.h"
#include "desktop/app/navigator.h"
#include "desktop/app/notices.h"
#include "desktop/app/preferences.h"
#include "desktop/app/window.h"
#include "desktop/check/check_station.h"
#include "desktop/course/place_session.h"
#include "desktop/course/recent_places.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/start/start_page.h"
#include "desktop/wording/shown_text.h"

#include <QApplication>
#include <QMenuBar>
#include <QProcess>

#include <utility>

namespace rope {
QAction* Window::addAction(QMenu* menu,
                           const QString& text,
                           const char* objectName,
                           const QKeySequence& key,
                           std::function<void()> act)
{
    auto* action = new QAction(text, this);
    action->setObjectName(QLatin1String(objectName));
    action->setShortcut(key);
    connect(action, &QAction::triggered, this, std::move(act));
    menu->addAction(action);
    m_allActions << action;
    return action;
}

void Window::addMenus()
{
    addRepositoryMenu();
    addSpliceMenu();
    QMenu* region = menuBar()->addMenu(tr("Re&gion"));
    region->addActions(m_parts.resolve->pageActions());

    QMenu* checking = menuBar()->addMenu(tr("&Check"));
    const QKeySequence runKey(Qt::Key_F5);
    m_spliceActions << addAction(
        checking, tr("Run the check command, or stop it"), "runCheckAction", runKey, [this] {
            m_parts.to->goTo(Station::check);
            m_parts.check->runOrStop();
        });
    checking->addActions(m_parts.check->pageActions());

    QMenu* help = menuBar()->addMenu(tr("&Help"));
    addAction(help, tr("Keys"), "keysAction", QKeySequence(Qt::Key_F1), [this] { showOwnKeys(); });
    addAction(help, tr("About Rope Splice"), "aboutAction", {}, [this] { showAbout(this); });
}

void Window::addRepositoryMenu()
{
    QMenu* menu = menuBar()->addMenu(tr("&Repository"));
    addAction(menu, tr("Open…"), "openAction", QKeySequence::Open, [this] { chooseFolder(); });
    addAction(menu, tr("Clone…"), "cloneAction", QKeySequence::New, [this] { goToClone(); });
    m_recentMenu = menu->addMenu(tr("Recent"));
    addAction(menu, tr("Fetch"), "fetchAction", tr("Ctrl+R"), [this] { fetchOrAskAll(); });
    addAction(menu, tr("Preferences…"), "preferencesAction", tr("Ctrl+,"), [this] {
        showPreferences(this, [this] { takePreferences(); });
    });
    addAction(menu, tr("Quit"), "quitAction", QKeySequence::Quit, [this] { close(); });
}

void Window::addSpliceMenu()
{
    QMenu* menu = menuBar()->addMenu(tr("&Splice"));
    addAction(menu, tr("Do the station's main action"), "primaryAction", tr("Ctrl+Return"), [this] {
        if (StationPage* const page = m_parts.to->page()) {
            page->act();
        }
    });
    menu->addSeparator();
    const auto addStation =
        [&](Station station, const QString& text, const char* name, const char* key) {
            return addAction(menu, text, name, QKeySequence(QLatin1String(key)), [this, station] {
                m_parts.to->goTo(station);
            });
        };
    addStation(Station::survey, tr("Go to Survey"), "surveyAction", "Ctrl+1");
    m_spliceActions << addStation(Station::resolve, tr("Go to Resolve"), "resolveAction", "Ctrl+2")
                    << addStation(Station::check, tr("Go to Check"), "checkAction", "Ctrl+3")
                    << addStation(Station::record, tr("Go to Record"), "recordAction", "Ctrl+4");
    addStation(Station::push, tr("Go to Push"), "pushAction", "Ctrl+5");
    addAction(menu, tr("Logbook, and back"), "logbookAction", tr("Ctrl+L"), [this] {
        toLogbookAndBack();
    });
    menu->addSeparator();
    m_spliceActions << addAction(menu, tr("Put this splice away"), "putAwayAction", {}, [this] {
        m_parts.splice->putAway();
    });
    m_spliceActions << addAction(menu, tr("Abandon this splice"), "abandonAction", {}, [this] {
        m_parts.splice->abandon();
    });
    m_handBack =
        addAction(menu, tr("Hand back to the command line…"), "handBackAction", {}, [this] {
            m_parts.notices->askAboutHandingBack();
        });
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

/// The folder was named on the command line, or made here: nothing that lies beside a repository is run by
/// itself.
void Window::addDemoMenu(const QString& folder)
{
    if (!std::exchange(m_demoFolder, folder).isEmpty()) {
        return;  // the menu is there already
    }
    QMenu* const demo = menuBar()->addMenu(tr("&Demo"));
    addAction(demo, tr("Let the teammate push"), "teammateAction", {}, [this] {
        auto* teammate = new QProcess(this);
        teammate->setProcessChannelMode(QProcess::MergedChannels);
        connect(teammate, &QProcess::finished, this, [this, teammate] {
            m_parts.notices->say(shownWords(teammate->readAll().toStdString()).trimmed());
            teammate->deleteLater();
        });
        connect(teammate, &QProcess::errorOccurred, this, [this, teammate] {
            m_parts.notices->say(
                tr("The teammate could not be played: %1").arg(teammate->errorString()));
            teammate->deleteLater();
        });
        teammate->start(m_demoFolder + QStringLiteral("/teammate-push"), {});
    });
}

/// The page's own keys first, in reading order; then those that work everywhere.
void Window::showOwnKeys()
{
    KeySection here;
    if (const StationPage* const page = m_parts.to->page()) {
        here.title = m_parts.to->isLogbookShown() ? tr("Logbook")
                     : page == m_parts.start      ? tr("Start")
                                                  : titleOf(m_parts.to->station());
        here.keys = page->keys();
        here.add(page->pageActions());
    }
    KeySection everywhere;
    everywhere.title = tr("Everywhere");
    everywhere.add(m_allActions);
    showKeys({here, everywhere}, this);
}
}  // namespace rope
