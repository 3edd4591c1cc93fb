// SPDX-License-Identifier: GPL-3.0-or-later
// SurveyStation: the plan of the branch that is picked, and how it begins.
// Tested by tst_window.cpp.
#include "desktop/commits/commit_reader.h"
#include "desktop/commits/commit_table.h"
#include "desktop/commits/two_changes_view.h"
#include "desktop/survey/change_tables.h"
#include "desktop/survey/collision_view.h"
#include "desktop/survey/plan_panel.h"
#include "desktop/survey/rebase_words.h"
#include "desktop/survey/survey_station.h"
#include "desktop/widgets/page_stack.h"
#include "desktop/widgets/pane_splitter.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/rope_chart.h"
#include "desktop/wording/forecast_words.h"
#include "desktop/wording/obstacles.h"
#include "desktop/wording/relative_time.h"
#include "desktop/wording/shown_text.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QTabBar>
#include <QVBoxLayout>

#include <algorithm>

namespace rope {
namespace {
PlanOption
option(SpliceKind kind, const QString& label, const QString& consequence, bool isPossible)
{
    return {static_cast<int>(kind), label, consequence, isPossible};
}

QString workWarning(const std::vector<RepoPath>& both, const QString& theirs)
{
    if (both.empty()) {
        return {};
    }
    constexpr std::size_t kMostNamed = 2;
    QStringList names;
    for (std::size_t i = 0; i < std::min(both.size(), kMostNamed); ++i) {
        names << shownPath(both[i]);
    }
    if (both.size() > kMostNamed) {
        names << SurveyStation::tr("%1 more").arg(both.size() - kMostNamed);
    }
    return SurveyStation::tr("%1 changes %2, too. Where your changes conflict with it, you decide "
                             "before anything is recorded.")
        .arg(theirs, names.join(QStringLiteral(", ")));
}
}  // namespace

/// What another program has begun, to be gone on with here.
void SurveyStation::showBegun(PlanPanel::Plan plan)
{
    plan.ours = shown(m_facts->begun->lineName);
    plan.theirs = begunName(*m_facts->begun);
    plan.title = finishingInWords(*m_facts->begun);
    plan.method = tr("A merge is under way in your files");
    plan.consequence =
        tr("%1 Taking it over reads what is decided in the files. They stay as they are until "
           "you record, and it can be handed back at any moment.")
            .arg(begunInWords(*m_facts->begun));
    plan.startLabel = tr("Take it over");
    addLeft(plan);
    m_plan->showPlan(plan);
    showChart();
}

void SurveyStation::showPlan()
{
    if (!m_facts) {
        return;
    }
    PlanPanel::Plan plan;
    const Branch* theirs = m_facts->branch(m_theirsRef);
    plan.ours = shown(m_facts->into.name);
    for (const std::string& ref : m_queue) {
        const Branch* later = m_facts->branch(ref);
        plan.queue.push_back(
            {ref, later == nullptr ? tr("a branch that is gone") : shown(later->name)});
    }
    plan.theirs = theirs != nullptr ? shown(theirs->name) : QString();
    plan.startLabel = tr("Start");
    if (!m_underWay.empty()) {
        plan.theirs = shown(m_underWay);
        plan.method = tr("A splice is under way");
        plan.consequence = tr("Your decisions are kept.");
        plan.isUnderWay = true;
        plan.startLabel = tr("Go on with it");
        addLeft(plan);
        m_plan->showPlan(plan);
        return;
    }
    if (m_isBehind) {
        m_plan->showPlan(plan);
        m_plan->showProgress(tr("Looking at the branches…"));
        return;
    }
    if (m_facts->canTakeBegun()) {
        showBegun(plan);
        return;
    }
    const Forecast* forecast = m_forecast ? &m_forecast->forecast : nullptr;
    plan.obstacle = m_failure.isEmpty() ? startObstacle(*m_facts, forecast) : m_failure;
    plan.isGoodNews = forecast != nullptr && m_failure.isEmpty()
                      && (forecast->divergence.relation == Relation::oursAhead
                          || forecast->divergence.relation == Relation::same);
    addLeft(plan);
    (void)addWork(plan);
    if (theirs == nullptr) {
        plan.remark =
            m_facts->branches.size() < 2
                ? tr("There is no other branch here yet. Fetch gets the shared ones.")
                : tr("%1 has no upstream branch: pick the branch to merge.").arg(plan.ours);
        plan.startLabel = tr("No branch is picked");
    } else {
        addAlways(*theirs, plan);
    }
    if (plan.isGoodNews) {
        plan.startLabel = tr("Nothing to bring in");
    }
    if (forecast == nullptr && m_failure.isEmpty() && theirs != nullptr) {
        m_plan->showPlan(plan);
        m_plan->showProgress(tr("Forecasting…"));
        return;
    }
    const bool canJoin = forecast != nullptr && plan.obstacle.isEmpty();
    if (canJoin) {
        plan.methods = methodsFor(*forecast);
        plan.chosenMethod = m_methodByHand;
        addWorkPlans(*forecast, plan);
        addRemarks(*forecast, plan);
        plan.effort = m_effort ? effortInWords(*m_effort) : QString();
        if (const PairOutcome outcome = outcomeOf(*forecast); outcome.open == 0) {
            // The same conflicts the other way round are no news.
            plan.otherWay = otherWayInWords(outcome, plan.ours, plan.theirs);
        }
        m_plan->showPlan(plan);  // what is possible decides what is taken
        plan.startLabel = startLabel(*forecast);
        plan.offersToKeepEmptied =
            isRebasePlanned() && m_rebase && m_rebase->forecast.emptiedCount() > 0;
        if (isRebasePlanned() && !m_rebase) {
            plan.obstacle = tr("Calculating the rebase…");
            plan.isGoodNews = true;
        }
    }
    m_plan->showPlan(plan);
    showOutgoing();
    showChart();
}

/// Another branch than the one that is proposed can be made the one that always is.
void SurveyStation::addAlways(const Branch& theirs, PlanPanel::Plan& plan) const
{
    plan.isAlways = m_facts->always == theirs.ref;
    const bool isProposed = theirs.ref == m_facts->proposedTheirs();
    if (plan.isAlways || !isProposed) {
        plan.alwaysLabel = tr("Always bring this into %1").arg(plan.ours);
    }
}

bool SurveyStation::isRebasePlanned() const
{
    return m_plan->method() == static_cast<int>(SpliceKind::rebase);
}

std::vector<PlanOption> SurveyStation::methodsFor(const Forecast& forecast) const
{
    const bool isAhead = forecast.divergence.relation == Relation::theirsAhead;
    const PlanOption forward =
        option(SpliceKind::fastForward,
               tr("Fast-forward"),
               isAhead ? tr("Your branch moves on to their newest commit; no commit is added.")
                       : tr("Not possible: both sides have new commits."),
               isAhead);
    const PlanOption merge =
        option(SpliceKind::merge,
               tr("Merge commit"),
               isAhead ? tr("Adds 1 commit with two parents, though your branch could simply move.")
                       : tr("Adds 1 commit with two parents. No commit is rewritten."),
               true);
    if (isAhead) {
        return {forward, merge};
    }
    PlanOption rebase = option(SpliceKind::rebase, tr("Rebase"), m_rebaseFailure, false);
    if (m_rebase) {
        const QString ours = shown(m_facts->into.name);
        rebase.consequence = rebaseInWords(*m_rebase, forecast, ours);
        rebase.warning = rebaseWarning(*m_rebase, ours, m_facts->readAt);
        rebase.isPossible = true;
    } else if (m_rebaseFailure.isEmpty()) {
        rebase.consequence = tr("Rewrites your commits on top of theirs. Calculating…");
        rebase.isPossible = m_methodByHand == static_cast<int>(SpliceKind::rebase);
    }
    return {merge, rebase, forward};
}

void SurveyStation::addWorkPlans(const Forecast& forecast, PlanPanel::Plan& plan) const
{
    if (m_facts->isElsewhere()) {
        plan.remark = tr("You are on %1. Your files and uncommitted changes stay as they are; "
                         "hooks that need the files are not run.")
                          .arg(shown(m_facts->standing.name));
        return;
    }
    if (!addWork(plan)) {
        return;
    }
    plan.offersCommit = false;  // one of the ways below
    plan.workPlans = {{static_cast<int>(WorkPlan::carry),
                       tr("Carry them across"),
                       tr("They stay uncommitted and are merged with the result."),
                       true,
                       workWarning(uncommittedAlsoIn(forecast, *m_facts), plan.theirs)},
                      {static_cast<int>(WorkPlan::commitFirst),
                       tr("Commit them first…"),
                       tr("All of them or some, as a commit of your own."),
                       true},
                      {static_cast<int>(WorkPlan::setAside),
                       tr("Set them aside, bring them back after"),
                       tr("They are kept, and come back when you ask for them."),
                       true}};
}

bool SurveyStation::addWork(PlanPanel::Plan& plan) const
{
    const std::size_t count = m_facts->uncommittedCount();
    if (count == 0 || m_facts->isElsewhere()) {
        return false;
    }
    QStringList names;
    for (const UncommittedFile& file : m_facts->uncommitted) {
        if (!file.isUntracked) {
            names << shownPath(file.path);
        }
    }
    constexpr qsizetype kMostNamed = 12;
    plan.workToolTip = names.mid(0, kMostNamed).join(QLatin1Char('\n'));
    plan.workHeading = countOf(count, "uncommitted file", "uncommitted files");
    plan.offersCommit = true;
    return true;
}

void SurveyStation::addRemarks(const Forecast& forecast, PlanPanel::Plan& plan)
{
    const auto add = [&plan](const QString& remark) {
        plan.remark += (plan.remark.isEmpty() ? QString() : QStringLiteral(" ")) + remark;
    };
    if (!forecast.join.nameClashes.empty()) {
        add(nameClashInWords(forecast.join.nameClashes.front()));
    }
    if (forecast.divergence.bases.size() > 1) {
        add(tr("The histories criss-cross: there are %1 best common ancestors. They were merged "
               "into one base first; where they conflict, the base shows both between markers.")
                .arg(forecast.divergence.bases.size()));
    }
}

QString SurveyStation::startLabel(const Forecast& forecast) const
{
    if (m_plan->workPlan() == static_cast<int>(WorkPlan::commitFirst)
        && m_facts->uncommittedCount() > 0 && !m_facts->isElsewhere()) {
        return tr("Choose what to commit…");
    }
    if (m_plan->method() == static_cast<int>(SpliceKind::fastForward)) {
        return tr("Move forward: %1")
            .arg(countOf(forecast.divergence.theirsOnly.size(), "commit", "commits"));
    }
    if (isRebasePlanned() && m_rebase) {
        return rebaseStartLabel(m_rebase->forecast);
    }
    const std::size_t open = forecast.openCount();
    return open == 0 ? tr("Start: merges cleanly") : tr("Start: %1 to decide").arg(open);
}

StartChoice SurveyStation::choice() const
{
    return {static_cast<SpliceKind>(std::max(m_plan->method(), 0)),
            m_facts->uncommittedCount() == 0 || m_facts->isElsewhere()
                ? std::optional<WorkPlan>{}
                : std::optional(static_cast<WorkPlan>(std::max(m_plan->workPlan(), 0))),
            m_plan->keepsEmptied(),
            m_rebase != nullptr && m_rebase->forecast.laid.empty()};
}

void SurveyStation::addLeft(PlanPanel::Plan& plan) const
{
    for (const PutAwaySplice& splice : m_facts->putAway) {
        plan.putAway.push_back({splice.id,
                                tr("%1 into %2, put away %3")
                                    .arg(shown(splice.theirsName),
                                         shown(splice.oursName),
                                         relativeTime(splice.putAwayAt, m_facts->readAt))});
    }
    for (const PutAwaySplice& splice : m_facts->setAside) {
        plan.setAside.push_back(
            {splice.id,
             tr("Your uncommitted work on %1, set aside %2")
                 .arg(shown(splice.oursName), relativeTime(splice.putAwayAt, m_facts->readAt))});
    }
}
}  // namespace rope
