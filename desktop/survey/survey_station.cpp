// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/survey/survey_station.h"

#include "desktop/survey/change_tables.h"
#include "desktop/survey/plan_panel.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/rope_chart.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/obstacles.h"
#include "desktop/wording/relative_time.h"

#include <QHBoxLayout>
#include <QStackedWidget>
#include <QTabBar>
#include <QVBoxLayout>

namespace rope {
SurveyStation::SurveyStation(QWidget* parent)
    : QWidget(parent)
    , m_branches(new BranchList(this))
    , m_chart(new RopeChart(this))
    , m_tabs(new QTabBar(this))
    , m_tables(new QStackedWidget(this))
    , m_overlap(new OverlapTable(this))
    , m_incoming(new CommitTable("incomingTable", this))
    , m_outgoing(new CommitTable("outgoingTable", this))
    , m_plan(new PlanPanel(this))
{
    m_branches->setFixedWidth(248);
    m_plan->setFixedWidth(290);
    m_plan->setAutoFillBackground(true);
    m_plan->setBackgroundRole(QPalette::Base);
    m_tabs->setObjectName(QStringLiteral("surveyTabs"));
    m_tabs->setDrawBase(false);
    m_tabs->setExpanding(false);
    for (const QString& name : {tr("Overlap"), tr("Incoming"), tr("Outgoing")}) {
        m_tabs->addTab(name);
    }
    for (QWidget* table : {static_cast<QWidget*>(m_overlap),
                           static_cast<QWidget*>(m_incoming),
                           static_cast<QWidget*>(m_outgoing)}) {
        m_tables->addWidget(table);
    }
    connect(m_tabs, &QTabBar::currentChanged, m_tables, &QStackedWidget::setCurrentIndex);
    auto* centre = new QWidget(this);
    centre->setAutoFillBackground(true);
    centre->setBackgroundRole(QPalette::Base);
    auto* middle = new QVBoxLayout(centre);
    middle->setContentsMargins(0, 0, 0, 0);
    middle->setSpacing(0);
    middle->addWidget(m_chart);
    middle->addWidget(makeRule(Qt::Horizontal, this));
    middle->addWidget(m_tabs);
    middle->addWidget(makeRule(Qt::Horizontal, this));
    middle->addWidget(m_tables, 1);
    m_chart->setFixedHeight(m_chart->sizeHint().height());
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    row->addWidget(m_branches);
    row->addWidget(makeRule(Qt::Vertical, this));
    row->addWidget(centre, 1);
    row->addWidget(makeRule(Qt::Vertical, this));
    row->addWidget(m_plan);
    connect(m_branches, &BranchList::branchPicked, this, [this](const std::string& ref) {
        if (ref != m_theirsRef) {
            m_theirsRef = ref;
            m_forecast.reset();
            m_failure.clear();
            showForecast();
            emit branchPicked(ref);
        }
    });
    connect(m_plan, &PlanPanel::startRequested, this, &SurveyStation::start);
    connect(m_plan, &PlanPanel::bringBackRequested, this, &SurveyStation::bringBackRequested);
}

void SurveyStation::showFacts(std::shared_ptr<const SurveyFacts> facts,
                              const std::string& theirsRef)
{
    m_facts = std::move(facts);
    m_theirsRef = theirsRef;
    m_forecast.reset();
    m_failure.clear();
    m_branches->showBranches(*m_facts);
    m_branches->select(theirsRef);
    showForecast();
}

void SurveyStation::setForecast(const std::string& ref,
                                std::shared_ptr<const SurveyForecast> forecast)
{
    if (ref != (m_facts ? m_facts->standing.ref : std::string())) {
        m_branches->setForecast(
            ref, {forecastInWords(forecast->forecast), !forecast->forecast.isClean()});
    }
    if (ref == m_theirsRef) {
        m_forecast = std::move(forecast);
        showForecast();
    }
}

void SurveyStation::setForecastFailure(const std::string& ref, const QString& sentence)
{
    m_branches->setForecast(ref, {tr("no forecast"), true});
    if (ref == m_theirsRef) {
        m_failure = sentence;
        showPlan();
    }
}

void SurveyStation::setForecastProgress(const std::string& ref, const QString& text)
{
    if (ref == m_theirsRef && !m_forecast && m_failure.isEmpty() && m_underWay.empty()) {
        m_plan->showProgress(tr("Forecasting… %1").arg(text));
    }
}

void SurveyStation::setSpliceUnderWay(const std::string& theirsName)
{
    m_underWay = theirsName;
    showPlan();
}

void SurveyStation::start()
{
    if (!m_plan->canStart()) {
        return;
    }
    if (m_underWay.empty()) {
        emit startRequested();
    } else {
        emit resumeRequested();
    }
}

void SurveyStation::showForecast()
{
    if (!m_forecast) {
        m_chart->setModel({});
        m_overlap->showRows({});
        m_incoming->showCommits({}, 0);
        m_outgoing->showCommits({}, 0);
        for (int tab = 0; tab < 3; ++tab) {
            m_tabs->setTabText(tab,
                               std::array{tr("Overlap"),
                                          tr("Incoming"),
                                          tr("Outgoing")}[static_cast<std::size_t>(tab)]);
        }
        showPlan();
        return;
    }
    const Branch* theirs = m_facts->branch(m_theirsRef);
    const QString theirsName = theirs != nullptr ? shown(theirs->name) : QString();
    m_chart->setModel(
        chartModel(*m_forecast, shown(m_facts->standing.name), theirsName, m_facts->readAt));
    m_overlap->showRows(overlapRows(m_forecast->forecast));
    m_incoming->showCommits(m_forecast->theirsCommits, m_facts->readAt, m_forecast->equalInOurs);
    m_outgoing->showCommits(m_forecast->oursCommits, m_facts->readAt);
    m_tabs->setTabText(0,
                       tr("Overlap %1 of %2 files")
                           .arg(m_overlap->rowCount())
                           .arg(touchedFileCount(m_forecast->forecast)));
    m_tabs->setTabText(1, tr("Incoming %1").arg(m_forecast->forecast.divergence.theirsOnly.size()));
    m_tabs->setTabText(2, tr("Outgoing %1").arg(m_forecast->forecast.divergence.oursOnly.size()));
    showPlan();
}

void SurveyStation::showPlan()
{
    if (!m_facts) {
        return;
    }
    PlanPanel::Plan plan;
    const Branch* theirs = m_facts->branch(m_theirsRef);
    plan.ours = shown(m_facts->standing.name);
    plan.theirs = theirs != nullptr ? shown(theirs->name) : QString();
    plan.startLabel = tr("Start");
    if (!m_underWay.empty()) {
        plan.theirs = shown(m_underWay);
        plan.method = tr("A splice is under way");
        plan.consequence = tr("Your decisions are kept. “Put this splice away” in the Splice menu "
                              "leaves it for later.");
        plan.startLabel = tr("Go on with it");
        plan.putAway = putAwayRows();
        m_plan->showPlan(plan);
        return;
    }
    const Forecast* forecast = m_forecast ? &m_forecast->forecast : nullptr;
    plan.obstacle = m_failure.isEmpty() ? startObstacle(*m_facts, forecast) : m_failure;
    plan.isGoodNews = forecast != nullptr && m_failure.isEmpty()
                      && (forecast->divergence.relation == Relation::oursAhead
                          || forecast->divergence.relation == Relation::same
                          || forecast->divergence.relation == Relation::theirsAhead);
    plan.putAway = putAwayRows();
    if (theirs == nullptr) {
        plan.remark =
            m_facts->branches.size() < 2
                ? tr("There is no other branch here yet. Fetch brings in the shared ones.")
                : QString();
    } else if (m_facts->branch(m_facts->standing.ref) != nullptr
               && m_facts->branch(m_facts->standing.ref)->upstreamRef.empty()) {
        plan.remark =
            tr("%1 follows no shared branch, so pick the one to bring in.").arg(plan.ours);
    }
    if (forecast == nullptr && m_failure.isEmpty() && theirs != nullptr) {
        m_plan->showPlan(plan);
        m_plan->showProgress(tr("Forecasting…"));
        return;
    }
    if (forecast != nullptr && forecast->divergence.relation == Relation::diverged) {
        if (const QString uncommitted = obstacleOfUncommitted(m_facts->uncommitted);
            !uncommitted.isEmpty()) {
            plan.remark = uncommitted + tr(" You can look and decide before that.");
        }
        plan.method = tr("Merge commit");
        plan.consequence = tr("Adds 1 commit with two parents. No commit is rewritten.");
        const std::size_t open = forecast->openCount();
        plan.startLabel =
            open == 0 ? tr("Start: joins cleanly") : tr("Start: %1 to decide").arg(open);
        if (!forecast->join.nameClashes.empty()) {
            plan.remark = nameClashInWords(forecast->join.nameClashes.front());
        }
        if (forecast->divergence.bases.size() > 1) {
            plan.remark = tr("The histories criss-cross: there are %1 best common ancestors. They "
                             "were joined to one base first; where they clash, the base shows both "
                             "between markers.")
                              .arg(forecast->divergence.bases.size());
        }
    }
    m_plan->showPlan(plan);
}

std::vector<PutAwayRow> SurveyStation::putAwayRows() const
{
    std::vector<PutAwayRow> rows;
    for (const PutAwaySplice& splice : m_facts->putAway) {
        rows.push_back({splice.id,
                        tr("%1 into %2, put away %3")
                            .arg(shown(splice.theirsName),
                                 shown(splice.oursName),
                                 relativeTime(splice.putAwayAt, m_facts->readAt))});
    }
    return rows;
}

void SurveyStation::updateFacts(std::shared_ptr<const SurveyFacts> facts, bool areForecastsStale)
{
    m_facts = std::move(facts);
    const bool isGone = m_facts->branch(m_theirsRef) == nullptr;
    if (isGone || areForecastsStale) {
        showFacts(m_facts, isGone ? m_facts->proposedTheirs() : m_theirsRef);
    } else {
        showPlan();
    }
}

QString SurveyStation::status() const
{
    if (!m_forecast || m_forecast->forecast.divergence.relation != Relation::diverged) {
        return {};
    }
    return tr("%1 joined without a question")
        .arg(countOf(m_forecast->forecast.joinedFileCount(), "file", "files"));
}
}  // namespace rope
