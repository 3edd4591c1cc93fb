// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/survey/plan_panel.h"

#include "desktop/widgets/plain_widgets.h"

#include <QVBoxLayout>

namespace rope {
PlanPanel::PlanPanel(QWidget* parent)
    : QWidget(parent)
    , m_what(makeLabel({}, TextRole::strong, this))
    , m_method(makeLabel({}, TextRole::normal, this))
    , m_consequence(makeLabel({}, TextRole::muted, this))
    , m_remark(makeLabel({}, TextRole::muted, this))
    , m_obstacle(makeLabel({}, TextRole::open, this))
    , m_promise(makeLabel(
          tr("Nothing in your branches, your files or on the remote changes until you record."),
          TextRole::muted,
          this))
    , m_start(makeButton({}, "startButton", ButtonRole::primary, this))
{
    m_what->setObjectName(QStringLiteral("planWhat"));
    m_obstacle->setObjectName(QStringLiteral("planObstacle"));
    m_remark->setObjectName(QStringLiteral("planRemark"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(14, 12, 14, 12);
    column->setSpacing(6);
    column->addWidget(makeLabel(tr("Plan"), TextRole::heading, this));
    column->addSpacing(4);
    column->addWidget(m_what);
    column->addSpacing(8);
    column->addWidget(m_method);
    column->addWidget(m_consequence);
    column->addWidget(m_remark);
    column->addSpacing(8);
    column->addWidget(m_obstacle);
    column->addStretch();
    column->addWidget(m_promise);
    column->addSpacing(4);
    column->addWidget(m_start);
    m_start->setEnabled(false);
    connect(m_start, &QPushButton::clicked, this, &PlanPanel::startRequested);
}

void PlanPanel::showPlan(const Plan& plan)
{
    m_what->setText(plan.theirs.isEmpty() ? QString()
                                          : tr("Bring %1 into %2").arg(plan.theirs, plan.ours));
    m_method->setText(plan.method);
    m_consequence->setText(plan.consequence);
    m_remark->setText(plan.remark);
    m_remark->setVisible(!plan.remark.isEmpty());
    m_obstacle->setText(plan.obstacle);
    m_obstacle->setVisible(!plan.obstacle.isEmpty());
    m_start->setText(plan.startLabel);
    m_start->setEnabled(plan.obstacle.isEmpty());
}

void PlanPanel::showProgress(const QString& text)
{
    m_consequence->setText(text);
    m_start->setEnabled(false);
}

bool PlanPanel::canStart() const
{
    return m_start->isEnabled();
}

QString PlanPanel::obstacle() const
{
    return m_obstacle->text();
}
}  // namespace rope
