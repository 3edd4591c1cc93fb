// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_reasons_round.cpp.
#include "desktop/resolve/reason_line.h"

#include "desktop/widgets/plain_widgets.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLineEdit>

namespace rope {
namespace {
constexpr int kMostLetters = 500;
}  // namespace

ReasonLine::ReasonLine(QWidget* parent)
    : QWidget(parent)
    , m_edit(new QLineEdit(this))
{
    m_edit->setObjectName(QStringLiteral("reasonEdit"));
    m_edit->setAccessibleName(tr("Why you decided so"));
    m_edit->setPlaceholderText(tr("why? kept in the logbook (Ctrl+;)"));
    m_edit->setToolTip(tr("Kept with the decision, and in a git note if you choose so at Record."));
    m_edit->setMaxLength(kMostLetters);
    m_edit->installEventFilter(this);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 0, 12, 8);
    auto* label = makeLabel(tr("Why"), TextRole::muted, this);
    label->setBuddy(m_edit);
    row->addWidget(label);
    row->addWidget(m_edit, 1);
    connect(m_edit, &QLineEdit::textEdited, this, [this](const QString& text) {
        emit given(text.trimmed());
    });
    connect(m_edit, &QLineEdit::returnPressed, this, &ReasonLine::left);
}

void ReasonLine::showReason(const QString& reason)
{
    if (m_edit->text().trimmed() != reason) {
        m_edit->setText(reason);
        m_edit->setCursorPosition(0);
    }
}

void ReasonLine::begin()
{
    m_edit->setFocus();
    m_edit->end(false);
}

bool ReasonLine::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::KeyPress
        && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        emit left();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}
}  // namespace rope
