// SPDX-License-Identifier: GPL-3.0-or-later
// What can be done where one stands in the result: the menu of its text, and what it shares with the
// window's.
// Tested by tst_resolve_station.cpp.
#include "desktop/resolve/evidence_panel.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/result/result_view.h"
#include "desktop/widgets/code_view.h"
#include "desktop/widgets/page_stack.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/shown_text.h"

#include <QAction>
#include <QClipboard>
#include <QGuiApplication>
#include <QInputDialog>
#include <QMenu>

namespace rope {
QAction* ResolveStation::actionNamed(const char* name) const
{
    for (QAction* action : m_actions) {
        if (action->objectName() == QLatin1String(name)) {
            return action;
        }
    }
    ROPE_ASSERT(false, "no such action");
    return nullptr;
}

QMenu* ResolveStation::makeResultMenu()
{
    auto* menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("resultMenu"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto addOwn = [&](std::initializer_list<const char*> names) {
        for (const char* name : names) {
            menu->addAction(actionNamed(name));
        }
        menu->addSeparator();
    };
    addOwn({"undoAction", "redoAction"});
    CodeView& code = m_result->code();
    const auto addText = [&](const QString& text, bool isEnabled, void (CodeView::*slot)()) {
        QAction* action = menu->addAction(text);
        action->setEnabled(isEnabled);
        connect(action, &QAction::triggered, &code, slot);
    };
    const bool isSelected = !code.selectedBytes().empty();
    addText(tr("Cut"), isSelected && m_isEditable, &CodeView::cut);
    addText(tr("Copy"), isSelected, &CodeView::copy);
    addText(tr("Paste"), m_isEditable, &CodeView::paste);
    addText(tr("Select all"), true, &CodeView::selectAll);
    menu->addSeparator();
    if (hasPlace() && !isQuestion() && m_side->currentWidget() == m_evidence) {
        const auto& candidates = m_evidence->candidates();
        const SplicedText& text = *m_splice->files()[m_at.file].text;
        const RegionTexts texts = text.join().regionTexts(text.regionOf(m_at.slot));
        for (std::size_t i = 0; i < candidates.size() && i < 9; ++i) {
            QString label = labelOf(candidates[i], texts);
            label.replace(QLatin1Char('&'), QLatin1String("&&"));
            QAction* action = menu->addAction(tr("Use %1: %2").arg(i + 1).arg(label));
            action->setEnabled(m_isEditable);
            connect(action, &QAction::triggered, this, [this, i] {
                takeCandidate(static_cast<int>(i));
            });
        }
        addOwn({"linesAction"});
    }
    addOwn({"reopenAction"});
    addOwn({"findAction", "goToLineAction", "bracketAction", "commentAction"});
    addOwn({"copyPathAction", "openCopyAction"});
    return menu;
}

void ResolveStation::askForLine()
{
    if (!hasPlace() || !m_result->shows(m_at.file)) {
        return;
    }
    auto* dialog = new QInputDialog(this);
    dialog->setObjectName(QStringLiteral("goToLineDialog"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setInputMode(QInputDialog::IntInput);
    dialog->setWindowTitle(tr("Go to line"));
    dialog->setLabelText(tr("Line, of %1").arg(m_result->code().lineCount()));
    dialog->setIntRange(1, m_result->code().lineCount());
    dialog->setIntValue(m_result->code().lineAt(m_result->code().caret()) + 1);
    connect(dialog, &QInputDialog::intValueSelected, this, [this](int line) {
        if (hasPlace() && m_result->shows(m_at.file)) {
            m_result->code().goToLine(line - 1);
            m_result->code().focusText();
        }
    });
    dialog->open();
}

void ResolveStation::copyPath()
{
    if (hasPlace()) {
        const RepoPath& path = m_splice->files()[m_at.file].outcome->path;
        QGuiApplication::clipboard()->setText(shown(path));
        emit told(tr("Copied: %1").arg(shownPath(path)));
    }
}

void ResolveStation::openCopy()
{
    if (hasPlace() && m_result->shows(m_at.file)) {
        flush();
        const SpliceFile& file = m_splice->files()[m_at.file];
        emit copyRequested(QString::fromStdString(file.outcome->path),
                           QByteArray::fromStdString(file.text->wholeText()));
    }
}

void ResolveStation::takeOverCopy(const QString& path, const QByteArray& bytes)
{
    if (!hasPlace() || !m_isEditable || !m_result->shows(m_at.file)
        || m_splice->files()[m_at.file].outcome->path != path.toStdString()) {
        emit told(tr("%1 was changed in your editor, but is not shown here now. Go there and save "
                     "it once more to take it over.")
                      .arg(shownPath(path.toStdString())));
        return;
    }
    m_result->hideCandidate();
    m_result->code().typeOver(bytes.toStdString());
    flush();
    emit told(tr("Taken over from your editor. Ctrl+Z takes it back"));
}
}  // namespace rope
