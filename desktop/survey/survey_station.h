// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/survey/branch_list.h"
#include "desktop/survey/plan_panel.h"
#include "desktop/survey/survey_view.h"

#include <QWidget>

class QSplitter;
class QTabBar;
class QStackedWidget;

namespace rope {
class CommitTable;
class OverlapTable;
class RopeChart;

/// The station that shows where both sides stand and what joining them would mean.
class SurveyStation final : public QWidget
{
    Q_OBJECT
public:
    explicit SurveyStation(QWidget* parent);

    /// Shows a repository as it stands; the forecast follows by setForecast().
    void showFacts(std::shared_ptr<const SurveyFacts> facts, const std::string& theirsRef);
    /// Takes over what changed in a place that is shown already, keeping the branch that was picked.
    void updateFacts(std::shared_ptr<const SurveyFacts> facts, bool areForecastsStale);
    /// The forecast of the branch picked now, or of another one for the list.
    void setForecast(const std::string& ref, std::shared_ptr<const SurveyForecast> forecast);
    void setForecastFailure(const std::string& ref, const QString& sentence);
    /// How far the forecast of a branch is, in words.
    void setForecastProgress(const std::string& ref, const QString& text);
    /// Whether a splice is under way: then it is gone on with, not started.
    void setSpliceUnderWay(const std::string& theirsName);
    void start();

    [[nodiscard]] const std::string& theirsRef() const { return m_theirsRef; }
    [[nodiscard]] std::shared_ptr<const SurveyForecast> forecast() const { return m_forecast; }
    [[nodiscard]] QString status() const;

signals:
    void branchPicked(const std::string& ref);
    void startRequested();
    void resumeRequested();
    /// A splice that was put away is to be gone on with.
    void bringBackRequested(const std::string& id);

private:
    [[nodiscard]] std::vector<PutAwayRow> putAwayRows() const;
    void showPlan();
    void showForecast();

    BranchList* m_branches;
    RopeChart* m_chart;
    QTabBar* m_tabs;
    QStackedWidget* m_tables;
    OverlapTable* m_overlap;
    CommitTable* m_incoming;
    CommitTable* m_outgoing;
    PlanPanel* m_plan;
    std::shared_ptr<const SurveyFacts> m_facts;
    std::shared_ptr<const SurveyForecast> m_forecast;
    std::string m_theirsRef;
    std::string m_underWay;
    QString m_failure;
};
}  // namespace rope
