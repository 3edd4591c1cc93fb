// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/about_dialog.h"
#include "desktop/app/keys_dialog.h"
#include "desktop/app/notices.h"
#include "desktop/app/preferences.h"
#include "desktop/app/window.h"
#include "desktop/check/check_station.h"
#include "desktop/record/record_station.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/wording/merge_words.h"

#include <QApplication>
#include <QMenuBar>
#include <QProcess>

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
    QMenu* repository = menuBar()->addMenu(tr("&Repository"));
    addAction(
        repository, tr("Open…"), "openAction", QKeySequence::Open, [this] { chooseFolder(); });
    addAction(repository, tr("Clone…"), "cloneAction", QKeySequence::New, [this] { goToStart(); });
    m_recentMenu = repository->addMenu(tr("Recent"));
    addAction(repository, tr("Fetch"), "fetchAction", tr("Ctrl+R"), [this] {
        if (m_place->folder().isEmpty()) {
            m_recent->askAll();
        } else {
            m_place->fetch();
        }
    });
    addAction(repository, tr("Preferences…"), "preferencesAction", tr("Ctrl+,"), [this] {
        showPreferences(this, [this] {
            setMessageParts();
            m_resolve->setSideways(Preferences::read().scrollsEvidenceSideways);
            m_record->setLeavesNotes(Preferences::read().leavesNotes);
        });
    });
    addAction(repository, tr("Quit"), "quitAction", QKeySequence::Quit, [this] { close(); });

    QMenu* splice = menuBar()->addMenu(tr("&Splice"));
    addAction(
        splice, tr("Do the station's main action"), "primaryAction", tr("Ctrl+Return"), [this] {
            primaryAction();
        });
    splice->addSeparator();
    addAction(splice, tr("Go to Survey"), "surveyAction", tr("Ctrl+1"), [this] {
        goTo(Station::survey);
    });
    m_spliceActions << addAction(
        splice, tr("Go to Resolve"), "resolveAction", tr("Ctrl+2"), [this] {
            goTo(Station::resolve);
        });
    m_spliceActions << addAction(
        splice, tr("Go to Check"), "checkAction", tr("Ctrl+3"), [this] { goTo(Station::check); });
    m_spliceActions << addAction(splice, tr("Go to Record"), "recordAction", tr("Ctrl+4"), [this] {
        goTo(Station::record);
    });
    addAction(
        splice, tr("Go to Push"), "pushAction", tr("Ctrl+5"), [this] { goTo(Station::push); });
    addAction(splice, tr("Logbook, and back"), "logbookAction", tr("Ctrl+L"), [this] {
        if (isLogbookShown()) {
            goTo(m_station);
        } else {
            showLogbook();
        }
    });
    splice->addSeparator();
    m_spliceActions << addAction(
        splice, tr("Put this splice away"), "putAwayAction", {}, [this] { m_splice->putAway(); });
    m_handBack =
        addAction(splice, tr("Hand back to the command line…"), "handBackAction", {}, [this] {
            m_notices->askAboutHandingBack();
        });

    QMenu* region = menuBar()->addMenu(tr("Re&gion"));
    for (QAction* action : m_resolve->actionsByGroup()) {
        region->addAction(action);
    }

    QMenu* checking = menuBar()->addMenu(tr("&Check"));
    m_spliceActions << addAction(checking,
                                 tr("Run the check command, or stop it"),
                                 "runCheckAction",
                                 QKeySequence(Qt::Key_F5),
                                 [this] {
                                     goTo(Station::check);
                                     m_check->runOrStop();
                                 });
    for (QAction* action : m_check->stationActions()) {
        checking->addAction(action);
    }

    QMenu* help = menuBar()->addMenu(tr("&Help"));
    addAction(help, tr("Keys"), "keysAction", QKeySequence(Qt::Key_F1), [this] { showOwnKeys(); });
    addAction(help, tr("About Rope Splice"), "aboutAction", {}, [this] { showAbout(this); });
}

/// The folder was named on the command line: nothing that lies beside a repository is run by itself.
void Window::addDemoMenu(const QString& folder)
{
    QMenu* demo = menuBar()->addMenu(tr("&Demo"));
    addAction(demo, tr("Let the teammate push"), "teammateAction", {}, [this, folder] {
        auto* teammate = new QProcess(this);
        teammate->setProcessChannelMode(QProcess::MergedChannels);
        connect(teammate, &QProcess::finished, this, [this, teammate] {
            m_notices->say(shownWords(teammate->readAll().toStdString()).trimmed());
            teammate->deleteLater();
        });
        connect(teammate, &QProcess::errorOccurred, this, [this, teammate] {
            m_notices->say(tr("The teammate could not be played: %1").arg(teammate->errorString()));
            teammate->deleteLater();
        });
        teammate->start(folder + QStringLiteral("/teammate-push"), {});
    });
}

/// This station's keys first, in reading order; then those that work everywhere.
void Window::showOwnKeys()
{
    KeySection here;
    if (m_place->folder().isEmpty()) {
        here.title = tr("Start");
        here.keys = {{tr("Arrows"), tr("from card to card")},
                     {tr("Enter"), tr("open the card")},
                     {tr("Letters"), tr("filter")},
                     {tr("Delete"), tr("forget a gone one")}};
    } else if (isLogbookShown()) {
        here.title = tr("Logbook");
        here.keys = {{tr("Ctrl+Enter"), tr("reopen, or go on with what was put away")},
                     {tr("Up, Down"), tr("another splice, another decision")},
                     {tr("Ctrl+J, Ctrl+K"), tr("the next, previous decision")},
                     {tr("F6"), tr("the next list")},
                     {tr("Ctrl+L"), tr("back to the station")}};
    } else if (m_station == Station::survey) {
        here.title = tr("Survey");
        here.keys = {{tr("Ctrl+Enter"), tr("start with this plan")},
                     {tr("Up, Down"), tr("another branch, in the list")},
                     {tr("Space"), tr("join this branch later, in the list")},
                     {tr("Left, Right"), tr("from knot to knot, in the chart")},
                     {tr("Arrows"), tr("another pair, in who collides with whom")},
                     {tr("Ctrl+J, Ctrl+K"), tr("the next, previous pair that collides")},
                     {tr("Enter, Escape"), tr("read the regions of the pair, and back")},
                     {tr("Ctrl+C"), tr("copy a note for both, there")}};
    } else if (m_station == Station::resolve) {
        here.title = tr("Resolve");
        here.keys = {{tr("Ctrl+Enter"), tr("use what is looked at")},
                     {tr("Up, Down"), tr("look at another candidate")},
                     {tr("Enter"), tr("use it")},
                     {tr("Escape"), tr("out of the result, to the worklist")},
                     {tr("Shift+Up, Down"), tr("choose several, in the worklist")},
                     {tr("Space"), tr("take or leave a line, in Lines")},
                     {tr("Alt+Up, Down"), tr("move a line, in Lines")},
                     {tr("Left, Right"), tr("choice of a part, in Lines")}};
        here.add(m_resolve->actionsByGroup());
    } else if (m_station == Station::check) {
        here.title = tr("Check");
        here.keys = {{tr("Ctrl+Enter"), tr("run the check command, then go on to Record")},
                     {tr("Enter"), tr("follow the place at the cursor, in the output")},
                     {tr("Escape"), tr("out of the text, to the list")}};
        here.add(m_check->stationActions());
    } else if (m_station == Station::push) {
        here.title = tr("Push");
        here.keys = {{tr("Ctrl+Enter"), tr("push, or join again what was refused")}};
    } else {
        here.title = tr("Record");
        here.keys = {{tr("Ctrl+Enter"), tr("record")}};
    }
    KeySection everywhere;
    everywhere.title = tr("Everywhere");
    everywhere.add(m_allActions);
    showKeys({here, everywhere}, this);
}
}  // namespace rope
