// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/survey/plan_panel.h"

#include "desktop/widgets/measures.h"
#include "desktop/widgets/plain_widgets.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
PlanPanel::PlanPanel(QWidget* parent)
    : QWidget(parent)
    , m_what(makeLabel({}, TextRole::strong, this))
    , m_method(makeLabel({}, TextRole::normal, this))
    , m_consequence(makeLabel({}, TextRole::muted, this))
    , m_methods(new PlanOptions("planMethod", this))
    , m_keepsEmptied(new QCheckBox(tr("Keep commits that become empty"), this))
    , m_workHeading(makeLabel({}, TextRole::heading, this))
    , m_workPlans(new PlanOptions("planWork", this))
    , m_leaving(new QWidget(this))
    , m_commitWork(makeButton(tr("Commit…"), "commitWorkButton", ButtonRole::plain, this))
    , m_effort(makeLabel({}, TextRole::normal, this))
    , m_otherWay(makeLabel({}, TextRole::muted, this))
    , m_remark(makeLabel({}, TextRole::muted, this))
    , m_obstacle(makeLabel({}, TextRole::open, this))
    , m_always(new QCheckBox(this))
    , m_promise(makeLabel(
          tr("Nothing in your branches, your files or on the remote changes until you record."),
          TextRole::muted,
          this))
    , m_start(makeButton({}, "startButton", ButtonRole::primary, this))
    , m_queueHeading(makeLabel(tr("To be merged later"), TextRole::heading, this))
    , m_queue(new QWidget(this))
    , m_putAwayHeading(makeLabel(tr("Put away"), TextRole::heading, this))
    , m_putAway(new QWidget(this))
{
    m_putAway->setObjectName(QStringLiteral("putAwayList"));
    m_queue->setObjectName(QStringLiteral("queueList"));
    for (QWidget* list : {m_putAway, m_queue}) {
        auto* rows = new QVBoxLayout(list);
        rows->setContentsMargins(0, 0, 0, 0);
        rows->setSpacing(4);
    }
    m_effort->setObjectName(QStringLiteral("planEffort"));
    m_otherWay->setObjectName(QStringLiteral("planOtherWay"));
    m_what->setObjectName(QStringLiteral("planWhat"));
    m_obstacle->setObjectName(QStringLiteral("planObstacle"));
    m_remark->setObjectName(QStringLiteral("planRemark"));
    // In a small window the ways to go scroll; the button that starts always stands.
    auto* ways = new QWidget(this);
    auto* column = new QVBoxLayout(ways);
    column->setContentsMargins(14, 12, 14, 0);
    column->setSpacing(6);
    column->addWidget(makeLabel(tr("Plan"), TextRole::heading, this));
    column->addSpacing(4);
    column->addWidget(m_what);
    column->addSpacing(8);
    column->addWidget(m_method);
    column->addWidget(m_consequence);
    column->addWidget(m_leaving);
    column->addWidget(m_methods);
    column->addWidget(m_keepsEmptied);
    m_keepsEmptied->setObjectName(QStringLiteral("keepEmptied"));
    column->addSpacing(6);
    column->addWidget(m_workHeading);
    column->addWidget(m_workPlans);
    column->addWidget(m_commitWork, 0, Qt::AlignLeft);
    column->addWidget(m_otherWay);
    column->addWidget(m_remark);
    column->addSpacing(8);
    column->addWidget(m_obstacle);
    column->addStretch();
    column->addWidget(m_queueHeading);
    column->addWidget(m_queue);
    column->addWidget(m_putAwayHeading);
    column->addWidget(m_putAway);
    auto* scroll = new QScrollArea(this);
    m_scroll = scroll;
    scroll->setObjectName(QStringLiteral("planScroll"));
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidgetResizable(true);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setWidget(ways);
    ways->setBackgroundRole(QPalette::Base);
    scroll->viewport()->setBackgroundRole(QPalette::Base);
    auto* foot = new QVBoxLayout;
    foot->setContentsMargins(14, 8, 14, 12);
    foot->setSpacing(10);
    m_always->setObjectName(QStringLiteral("alwaysThis"));
    foot->addWidget(m_effort);
    foot->addWidget(m_always);
    foot->addWidget(m_promise);
    foot->addWidget(m_start);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    all->addWidget(scroll, 1);
    all->addLayout(foot);
    m_start->setEnabled(false);
    layLeaving();
    showPlan({});
    connect(m_methods, &PlanOptions::chosenByHand, this, &PlanPanel::choiceChanged);
    connect(m_workPlans, &PlanOptions::chosenByHand, this, &PlanPanel::choiceChanged);
    connect(m_always, &QCheckBox::clicked, this, &PlanPanel::alwaysToggled);
    connect(m_commitWork, &QPushButton::clicked, this, &PlanPanel::commitRequested);
    connect(m_start, &QPushButton::clicked, this, &PlanPanel::startRequested);
}

/// Where the pane is narrower than its words ask, what does not wrap is reached by a bar.
void PlanPanel::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    m_scroll->setHorizontalScrollBarPolicy(width() < atFont(*this, 290) ? Qt::ScrollBarAsNeeded
                                                                        : Qt::ScrollBarAlwaysOff);
}

void PlanPanel::layLeaving()
{
    auto* putAway = makeButton(tr("Put it away"), "putAwayButton", ButtonRole::plain, m_leaving);
    auto* abandon = makeButton(tr("Abandon it"), "abandonButton", ButtonRole::plain, m_leaving);
    setPlainToolTip(*putAway, tr("It is listed here, to be brought back."));
    setPlainToolTip(*abandon, tr("It is listed in the logbook only, which can bring it back."));
    auto* row = new QHBoxLayout(m_leaving);
    row->setContentsMargins(0, 4, 0, 4);
    row->addWidget(putAway);
    row->addWidget(abandon);
    row->addStretch();
    connect(putAway, &QPushButton::clicked, this, &PlanPanel::putAwayRequested);
    connect(abandon, &QPushButton::clicked, this, &PlanPanel::abandonRequested);
}

void PlanPanel::showPlan(const Plan& plan)
{
    m_what->setText(!plan.title.isEmpty() ? plan.title
                    : plan.theirs.isEmpty() || plan.theirs == plan.ours
                        ? QString()
                        : tr("Bring %1 into %2").arg(plan.theirs, plan.ours));
    m_method->setText(plan.method);
    m_method->setVisible(!plan.method.isEmpty());
    m_consequence->setText(plan.consequence);
    m_consequence->setVisible(!plan.consequence.isEmpty());
    m_leaving->setVisible(plan.isUnderWay);
    m_methods->setOptions(plan.methods, plan.chosenMethod);
    m_methods->setVisible(!plan.methods.empty());
    m_keepsEmptied->setVisible(plan.offersToKeepEmptied);
    m_workHeading->setText(plan.workHeading);
    setPlainToolTip(*m_workHeading, plan.workToolTip);
    m_workHeading->setVisible(!plan.workHeading.isEmpty());
    m_commitWork->setVisible(plan.offersCommit);
    m_workPlans->setOptions(plan.workPlans, workPlan());
    m_workPlans->setVisible(!plan.workPlans.empty());
    m_effort->setText(plan.effort);
    m_effort->setVisible(!plan.effort.isEmpty());
    m_otherWay->setText(plan.otherWay);
    m_otherWay->setVisible(!plan.otherWay.isEmpty());
    m_remark->setText(plan.remark);
    m_remark->setVisible(!plan.remark.isEmpty());
    m_obstacle->setText(plan.obstacle);
    m_obstacle->setVisible(!plan.obstacle.isEmpty());
    setTextRole(m_obstacle, plan.isGoodNews ? TextRole::normal : TextRole::open);
    // A name may hold what would make a letter of it a key.
    m_always->setText(QString(plan.alwaysLabel).replace(QLatin1Char('&'), QLatin1String("&&")));
    m_always->setVisible(!plan.alwaysLabel.isEmpty());
    m_always->setChecked(plan.isAlways);
    showPutAway(plan);
    m_start->setText(plan.startLabel);
    m_start->setEnabled(plan.obstacle.isEmpty() && !plan.theirs.isEmpty());
}

void PlanPanel::showPutAway(const Plan& plan)
{
    for (QWidget* list : {m_putAway, m_queue}) {
        for (QWidget* row : list->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly)) {
            row->hide();
            row->deleteLater();  // it may be the one whose button is telling of a click
        }
    }
    addPutAway(m_putAway,
               plan.setAside,
               tr("Bring back"),
               "bringWorkBackButton",
               &PlanPanel::bringWorkBackRequested);
    addPutAway(m_putAway,
               plan.putAway,
               tr("Bring back"),
               "bringBackButton",
               &PlanPanel::bringBackRequested);
    addPutAway(m_queue, plan.queue, tr("Take out"), "takeOutButton", &PlanPanel::queueToggled);
    m_queueHeading->setVisible(!plan.queue.empty());
    m_queue->setVisible(!plan.queue.empty());
    const bool isAny = !plan.putAway.empty() || !plan.setAside.empty();
    m_putAwayHeading->setVisible(isAny);
    m_putAway->setVisible(isAny);
}

void PlanPanel::addPutAway(QWidget* list,
                           const std::vector<PutAwayRow>& rows,
                           const QString& label,
                           const char* buttonName,
                           void (PlanPanel::*signal)(const std::string&))
{
    constexpr std::size_t kMostShown = 4;  // the newest; more are in the logbook's journal
    for (std::size_t i = 0; i < std::min(rows.size(), kMostShown); ++i) {
        auto* row = new QWidget(list);
        const QByteArray name = buttonName + QByteArray::number(static_cast<int>(i));
        auto* button = makeButton(label, name.constData(), ButtonRole::plain, row);
        button->setAccessibleDescription(rows[i].words);
        auto* layout = new QHBoxLayout(row);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->addWidget(makeLabel(rows[i].words, TextRole::muted, row), 1);
        layout->addWidget(button);
        list->layout()->addWidget(row);
        connect(button, &QPushButton::clicked, this, [this, signal, id = rows[i].id] {
            emit(this->*signal)(id);
        });
    }
}

void PlanPanel::showProgress(const QString& text)
{
    m_consequence->setText(text);
    m_consequence->setVisible(!text.isEmpty());
    m_start->setEnabled(false);
}

bool PlanPanel::keepsEmptied() const
{
    return m_keepsEmptied->isVisibleTo(this) && m_keepsEmptied->isChecked();
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
