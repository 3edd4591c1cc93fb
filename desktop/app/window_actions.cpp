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
    const auto addRegion =
        [&](const QString& text, const char* name, const QString& key, std::function<void()> act) {
            m_regionActions << addAction(region, text, name, QKeySequence(key), std::move(act));
        };
    addRegion(
        tr("Next open"), "nextOpenAction", tr("Ctrl+J"), [this] { m_resolve->goToNextOpen(1); });
    addRegion(tr("Previous open"), "previousOpenAction", tr("Ctrl+K"), [this] {
        m_resolve->goToNextOpen(-1);
    });
    region->addSeparator();
    for (int number = 1; number <= 9; ++number) {
        const QByteArray name = "candidate" + QByteArray::number(number) + "Action";
        addRegion(tr("Use candidate %1").arg(number),
                  name.constData(),
                  tr("Alt+%1").arg(number),
                  [this, number] { m_resolve->takeCandidate(number - 1); });
    }
    addRegion(
        tr("Write my own"), "writeOwnAction", tr("Ctrl+E"), [this] { m_resolve->writeOwn(); });
    addRegion(tr("Leave open, or reopen"), "reopenAction", tr("Ctrl+Backspace"), [this] {
        m_resolve->reopenOrSkip();
    });
    region->addSeparator();
    addRegion(tr("All open in this file: ours"), "allOursAction", tr("Ctrl+Alt+O"), [this] {
        m_resolve->decideAllOpen(FileChoice::ours);
    });
    addRegion(tr("All open in this file: theirs"), "allTheirsAction", tr("Ctrl+Alt+T"), [this] {
        m_resolve->decideAllOpen(FileChoice::theirs);
    });
    region->addSeparator();
    addRegion(tr("Undo"), "undoAction", tr("Ctrl+Z"), [this] { m_resolve->undo(); });
    addRegion(tr("Redo"), "redoAction", tr("Ctrl+Shift+Z"), [this] { m_resolve->redo(); });

    QMenu* help = menuBar()->addMenu(tr("&Help"));
    addAction(help, tr("Keys"), "keysAction", QKeySequence(Qt::Key_F1), [this] {
        showKeys(m_allActions, this);
    });
}
}  // namespace rope
