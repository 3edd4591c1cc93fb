// SPDX-License-Identifier: GPL-3.0-or-later
// What can be done at Resolve by key or menu. The station enables it: only where it is current, and the
// splice may be changed.
// Tested by tst_window.cpp.
#include "desktop/resolve/evidence_panel.h"
#include "desktop/resolve/reason_line.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/result/result_view.h"
#include "desktop/widgets/code_view.h"
#include "desktop/widgets/page_stack.h"

#include <QAction>

namespace rope {
namespace {
const QStringList kLookingActions{QStringLiteral("nextOpenAction"),
                                  QStringLiteral("previousOpenAction"),
                                  QStringLiteral("readingAction"),
                                  QStringLiteral("blanksAction"),
                                  QStringLiteral("findAction"),
                                  QStringLiteral("findNextAction"),
                                  QStringLiteral("findPreviousAction"),
                                  QStringLiteral("goToLineAction"),
                                  QStringLiteral("bracketAction"),
                                  QStringLiteral("copyPathAction"),
                                  QStringLiteral("openCopyAction"),
                                  QStringLiteral("nextPaneAction"),
                                  QStringLiteral("previousPaneAction")};
}

void ResolveStation::addKeyed(const QString& text,
                              const char* name,
                              const QString& key,
                              std::function<void()> act)
{
    auto* action = new QAction(text, this);
    action->setObjectName(QLatin1String(name));
    action->setShortcut(QKeySequence(key));
    connect(action, &QAction::triggered, this, std::move(act));
    m_actions << action;
}

/// In the order of the menu, with lines between what belongs together.
void ResolveStation::addActions()
{
    const auto addSeparator = [this] {
        auto* separator = new QAction(this);
        separator->setSeparator(true);
        m_actions << separator;
    };
    addKeyed(tr("Next open"), "nextOpenAction", tr("Ctrl+J"), [this] { goToNextOpen(1); });
    addKeyed(tr("Previous open"), "previousOpenAction", tr("Ctrl+K"), [this] { goToNextOpen(-1); });
    addSeparator();
    addDecidingActions();
    addLookingActions();
    addSeparator();
    addTextActions();
    addSeparator();
    addKeyed(tr("Next pane"), "nextPaneAction", tr("F6"), [this] { goToPane(1); });
    addKeyed(tr("Previous pane"), "previousPaneAction", tr("Shift+F6"), [this] { goToPane(-1); });
    addSeparator();
    addKeyed(tr("All open in this file: ours"), "allOursAction", tr("Ctrl+Shift+O"), [this] {
        decideAllOpen(FileChoice::ours);
    });
    addKeyed(tr("All open in this file: theirs"), "allTheirsAction", tr("Ctrl+Shift+T"), [this] {
        decideAllOpen(FileChoice::theirs);
    });
    addSeparator();
    addKeyed(tr("Undo"), "undoAction", tr("Ctrl+Z"), [this] { undo(); });
    addKeyed(tr("Redo"), "redoAction", tr("Ctrl+Shift+Z"), [this] { redo(); });
    enableActions();
}

void ResolveStation::addDecidingActions()
{
    for (int number = 1; number <= 9; ++number) {
        const QByteArray name = "candidate" + QByteArray::number(number) + "Action";
        addKeyed(tr("Use candidate %1").arg(number),
            name.constData(),
            tr("Alt+%1").arg(number),
            [this, number] { takeCandidate(number - 1); });
    }
    addKeyed(tr("Use ours"), "useOursAction", tr("Alt+O"), [this] { takeSide(FileChoice::ours); });
    addKeyed(tr("Use theirs"), "useTheirsAction", tr("Alt+T"), [this] { takeSide(FileChoice::theirs); });
    addKeyed(tr("Use both, ours first or theirs first"), "useBothAction", tr("Alt+B"), [this] {
        takeBoth();
    });
    addKeyed(tr("Use what is shown, and go to the next"), "useAndGoOnAction", tr("Alt+N"), [this] {
        takeLookedAtAndGoOn();
    });
    addKeyed(tr("Write my own"), "writeOwnAction", tr("Ctrl+E"), [this] { writeOwn(); });
    addKeyed(tr("Leave open, or reopen"), "reopenAction", tr("Ctrl+Backspace"), [this] {
        reopenOrSkip();
    });
    addKeyed(tr("Give a reason"), "reasonAction", tr("Ctrl+;"), [this] {
        if (m_reason->isVisible()) {
            m_reason->begin();
        }
    });
}

void ResolveStation::addLookingActions()
{
    addKeyed(tr("Compare with base or each other"), "readingAction", tr("Ctrl+T"), [this] {
        m_evidence->toggleReading();
    });
    addKeyed(tr("Pick single lines"), "linesAction", tr("Ctrl+Shift+L"), [this] {
        m_evidence->showLines(!m_evidence->areLinesShown());
    });
    addKeyed(tr("Show blanks and line ends"), "blanksAction", tr("Ctrl+."), [this] {
        m_areBlanksShown = !m_areBlanksShown;
        m_evidence->setBlanksShown(m_areBlanksShown);
    });
}

void ResolveStation::addTextActions()
{
    addKeyed(tr("Find"), "findAction", tr("Ctrl+F"), [this] { openFind(false); });
    addKeyed(tr("Find and replace"), "replaceAction", tr("Ctrl+H"), [this] { openFind(true); });
    addKeyed(tr("Find next"), "findNextAction", tr("F3"), [this] { m_result->findNext(1); });
    addKeyed(tr("Find previous"), "findPreviousAction", tr("Shift+F3"), [this] {
        m_result->findNext(-1);
    });
    addKeyed(tr("Go to line"), "goToLineAction", tr("Ctrl+G"), [this] { askForLine(); });
    addKeyed(tr("Go to the matching bracket"), "bracketAction", tr("Ctrl+M"), [this] {
        m_result->code().goToMatchingBracket();
    });
    addKeyed(tr("Comment, or take the comment away"), "commentAction", tr("Ctrl+/"), [this] {
        m_result->code().toggleComment();
        flush();
    });
    addKeyed(tr("Copy the path"), "copyPathAction", tr("Ctrl+Shift+C"), [this] { copyPath(); });
    addKeyed(tr("Open a copy in my editor"), "openCopyAction", tr("Ctrl+Shift+E"), [this] {
        openCopy();
    });
}

void ResolveStation::openFind(bool replaces)
{
    if (hasPlace() && m_result->shows(m_at.file)) {
        m_centre->setCurrentWidget(m_result);
        m_result->openFind(replaces);
    }
}

void ResolveStation::enableActions()
{
    for (QAction* action : m_actions) {
        // Looking is allowed where nothing may be changed.
        const bool isLooking = kLookingActions.contains(action->objectName());
        action->setEnabled(m_isCurrent && (m_isEditable || isLooking) && m_splice != nullptr);
    }
}

void ResolveStation::setCurrent(bool isCurrent)
{
    m_isCurrent = isCurrent;
    enableActions();
}

void ResolveStation::act()
{
    if (m_splice == nullptr) {
        return;
    }
    flush();
    if (const std::size_t open = m_splice->openCount(); open == 0) {
        emit doneRequested();
    } else {
        goToNextOpen(1);
        emit told(open == 1 ? tr("1 place is still open.")
                            : tr("%1 places are still open.").arg(open));
    }
}
}  // namespace rope
