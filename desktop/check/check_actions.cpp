// SPDX-License-Identifier: GPL-3.0-or-later
// CheckStation: what can be done here by key.
// Tested by tst_check_round.cpp.
#include "core/base/digest.h"
#include "desktop/check/check_list.h"
#include "desktop/check/check_station.h"
#include "desktop/check/run_pane.h"
#include "desktop/widgets/pane_splitter.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/wording/finding_words.h"
#include "desktop/wording/shown_text.h"

#include <QHBoxLayout>
#include <QListView>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
QAction* CheckStation::addAction(const QString& text,
                                 const char* objectName,
                                 const QKeySequence& key,
                                 std::function<void()> act)
{
    auto* action = new QAction(text, this);
    action->setObjectName(QLatin1String(objectName));
    action->setShortcut(key);
    connect(action, &QAction::triggered, this, std::move(act));
    m_actions << action;
    QWidget::addAction(action);
    return action;
}

void CheckStation::addActions()
{
    addAction(
        tr("Next finding"), "nextFindingAction", tr("Ctrl+J"), [this] { goToNextFinding(1); });
    addAction(tr("Previous finding"), "previousFindingAction", tr("Ctrl+K"), [this] {
        goToNextFinding(-1);
    });
    addAction(tr("Apply the suggested fix"), "mendAction", tr("Alt+1"), [this] { mend(); });
    addAction(tr("Ignore"), "fineAction", tr("Alt+2"), [this] { toggleFine(); });
    addAction(tr("What I receive, what the team receives, whole result"),
              "comparedAction",
              tr("Ctrl+T"),
              [this] {
                  m_read->setCompared(
                      static_cast<Compared>((static_cast<int>(m_read->compared()) + 1) % 3));
              });
    addAction(tr("Next change in the file"), "nextChangeAction", tr("Alt+Down"), [this] {
        m_read->goToChange(1);
    });
    addAction(tr("Previous change in the file"), "previousChangeAction", tr("Alt+Up"), [this] {
        m_read->goToChange(-1);
    });
    addAction(tr("To the region of this line, in Resolve"),
              "toRegionAction",
              tr("Alt+Left"),
              [this] { goToRegion(); });
    addAction(tr("Undo"), "checkUndoAction", QKeySequence::Undo, [this] { undo(); });
    addAction(tr("Redo"), "checkRedoAction", QKeySequence(tr("Ctrl+Shift+Z")), [this] { redo(); });
    addAction(tr("Find"), "checkFindAction", QKeySequence::Find, [this] {
        m_read->result().openFind(false);
    });
    m_tellsAll = addAction(tr("Show all kinds of findings"), "tellAllAction", {}, [] {});
    m_tellsAll->setCheckable(true);
    connect(m_tellsAll, &QAction::toggled, this, &CheckStation::tellsAllToggled);
}

void CheckStation::addRunActions()
{
    addAction(tr("Next place in the output"), "nextPlaceAction", QKeySequence(Qt::Key_F8), [this] {
        m_run->goToPlace(1);
    });
    addAction(tr("Previous place in the output"), "previousPlaceAction", tr("Shift+F8"), [this] {
        m_run->goToPlace(-1);
    });
    addAction(tr("Run it on both sides and the base, too"), "allSidesAction", {}, [this] {
        emit allSidesRequested();
    });
    addAction(tr("Write the check command"), "writeCheckAction", tr("Ctrl+Shift+L"), [this] {
        m_run->focusCommand();
    });
    QAction* required =
        addAction(tr("Require a pass before recording"), "requireCheckAction", {}, [] {});
    required->setCheckable(true);
    connect(required, &QAction::triggered, this, &CheckStation::requiredToggled);
    QAction* submodules =
        addAction(tr("Submodules in the scratch copy"), "copySubmodulesAction", {}, [] {});
    submodules->setCheckable(true);
    connect(submodules, &QAction::triggered, this, &CheckStation::submodulesToggled);
    addAction(tr("Remove all scratch copies"), "removeCopiesAction", {}, [this] {
        emit removeCopiesRequested();
    });
}
}  // namespace rope
