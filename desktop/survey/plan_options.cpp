// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/survey/plan_options.h"

#include "desktop/widgets/plain_widgets.h"

#include <QButtonGroup>
#include <QRadioButton>
#include <QVBoxLayout>

namespace rope {
PlanOptions::PlanOptions(const char* objectName, QWidget* parent)
    : QWidget(parent)
    , m_buttons(new QButtonGroup(this))
{
    setObjectName(QLatin1String(objectName));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(2);
    connect(m_buttons, &QButtonGroup::idClicked, this, &PlanOptions::chosenByHand);
}

void PlanOptions::setOptions(const std::vector<PlanOption>& options, int chosen)
{
    const bool hadFocus = isAncestorOf(focusWidget()) && focusWidget()->hasFocus();
    for (QWidget* child : findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly)) {
        child->hide();
        child->deleteLater();  // it may be the one that is telling of a click
        if (auto* button = qobject_cast<QRadioButton*>(child)) {
            m_buttons->removeButton(button);
        }
    }
    for (const PlanOption& option : options) {
        auto* button = new QRadioButton(option.label, this);
        button->setObjectName(objectName() + QString::number(option.id));
        button->setEnabled(option.isPossible);
        button->setAccessibleDescription(
            option.warning.isEmpty()
                ? option.consequence
                : QStringLiteral("%1 %2").arg(option.consequence, option.warning));
        m_buttons->addButton(button, option.id);
        layout()->addWidget(button);
        addWords(option.consequence, TextRole::muted, option.isPossible);
        addWords(option.warning, TextRole::open, option.isPossible);
    }
    QAbstractButton* taken = m_buttons->button(chosen);
    for (const PlanOption& option : options) {
        if ((taken == nullptr || !taken->isEnabled()) && option.isPossible) {
            taken = m_buttons->button(option.id);
        }
    }
    if (taken != nullptr && taken->isEnabled()) {
        taken->setChecked(true);
        if (hadFocus) {
            taken->setFocus();
        }
    }
}

void PlanOptions::addWords(const QString& words, TextRole role, bool isPossible)
{
    if (words.isEmpty()) {
        return;
    }
    auto* label = makeLabel(words, role, this);
    label->setEnabled(isPossible);
    label->setContentsMargins(22, 0, 0, 6);
    layout()->addWidget(label);
}

int PlanOptions::chosen() const
{
    return m_buttons->checkedId();
}
}  // namespace rope
