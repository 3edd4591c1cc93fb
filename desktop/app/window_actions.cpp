// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/app/keys_dialog.h"
#include "desktop/app/window.h"
#include "desktop/resolve/resolve_station.h"

#include <QApplication>
#include <QMenuBar>

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
    m_recentMenu = repository->addMenu(tr("Recent"));
    addAction(repository, tr("Fetch"), "fetchAction", tr("Ctrl+R"), [this] { m_place->fetch(); });
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
    m_spliceActions << addAction(splice, tr("Go to Record"), "recordAction", tr("Ctrl+4"), [this] {
        goTo(Station::record);
    });
    splice->addSeparator();
    m_spliceActions << addAction(
        splice, tr("Put this splice away"), "putAwayAction", {}, [this] { m_splice->putAway(); });

    QMenu* region = menuBar()->addMenu(tr("Re&gion"));
    for (QAction* action : m_resolve->actionsByGroup()) {
        region->addAction(action);
        m_allActions << action;
    }

    QMenu* help = menuBar()->addMenu(tr("&Help"));
    addAction(help, tr("Keys"), "keysAction", QKeySequence(Qt::Key_F1), [this] {
        showKeys(m_allActions, this);
    });
}
}  // namespace rope
