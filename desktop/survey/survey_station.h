// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "core/join/collisions.h"
#include "desktop/facts/survey_view.h"
#include "desktop/survey/branch_list.h"
#include "desktop/survey/plan_panel.h"
#include "desktop/widgets/station_page.h"

class QCheckBox;
class QLabel;
class QSplitter;
class QTabBar;

namespace rope {
class PageStack;
class CollisionView;
class CommitReader;
class PaneSplitter;
class CommitTable;
class TwoChangesView;
struct CommitReading;
struct FileReading;
class OverlapTable;
class RopeChart;

/// How a person wants to begin.
struct StartChoice
{
    SpliceKind method = SpliceKind::merge;
    std::optional<WorkPlan> work;  ///< Nothing: there is no uncommitted work.
    bool keepsEmptied = false;     ///< Of a rebase: commits of which nothing is left.
    bool isNothingLeft = false;    ///< Of a rebase: no commit is left to be written anew.
};

/// The station that shows where both sides stand and what joining them would mean.
class SurveyStation final : public StationPage
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
    /// That of what another program has begun here: shown until a branch is picked.
    void setBegunForecast(std::shared_ptr<const SurveyForecast> forecast);
    /// What stands first in each conflict, for the branch picked now.
    void setEffort(const std::string& ref, std::shared_ptr<const Effort> effort);
    /// What a rebase in the place of a merge commit would be, for the branch picked now.
    void setRebase(const std::string& ref, std::shared_ptr<const SurveyRebase> rebase);
    void setRebaseFailure(const std::string& ref, const QString& sentence);
    /// What joining a branch would be, in short, for the list.
    void setBranchForecast(const std::string& ref, const PairOutcome& outcome);
    /// Branches that have arrived in the team's main.
    void setArrived(const std::set<std::string>& refs, const std::string& mainRef);
    /// Branches that are to be joined later, next first.
    void setQueue(std::vector<std::string> refs);
    /// Looks at another branch, as if it had been picked in the list.
    void pick(const std::string& ref);
    void setForecastFailure(const std::string& ref, const QString& sentence);
    /// What a commit of either list changed.
    void showReading(const CommitReading& reading);
    void showChanges(const FileReading& ours, const FileReading& theirs);
    /// How far the forecast of a branch is, in words.
    void setForecastProgress(const std::string& ref, const QString& text);
    /// Whether a splice is under way: then it is gone on with, not started.
    void setSpliceUnderWay(const std::string& theirsName);
    /// What is shown may be out of date: until it is not, nothing can be started.
    void setBehind(bool isBehind);
    /// Starts with the plan that is shown, or goes on with what is under way.
    void act() override;

    /// What was picked has been brought in: from now on what is proposed is chosen again.
    void forgetPick() { m_pickedRef.clear(); }
    [[nodiscard]] const std::string& theirsRef() const { return m_theirsRef; }
    [[nodiscard]] std::shared_ptr<const SurveyForecast> forecast() const { return m_forecast; }
    [[nodiscard]] QString status() const override;
    [[nodiscard]] std::vector<KeyHint> hints() const override;
    [[nodiscard]] std::vector<KeyHint> keys() const override;
    [[nodiscard]] CollisionView& collisions() { return *m_collisions; }
    [[nodiscard]] bool showsCollisions() const;

signals:
    /// The other of the two views is shown: one's own branch, or who collides with whom.
    void viewChanged();
    void branchPicked(const std::string& ref);
    /// What is picked is to be brought into this branch always, or (empty) not any more.
    void alwaysToggled(const std::string& ref);
    /// Another own branch is to be joined into.
    void intoPicked(const std::string& ref);
    /// A branch is to be joined later, or not any more.
    void queueToggled(const std::string& ref);
    /// A branch that has arrived in the team's main is to be deleted.
    void deleteRequested(const std::string& ref);
    /// A commit is to be read; see showReading().
    void readingRequested(const rope::ObjectId& commit);
    /// What either side made of a file of the forecast is to be read; see showChanges().
    void changesRequested(std::shared_ptr<const rope::SurveyForecast> forecast, std::size_t file);
    void startRequested(const rope::StartChoice& choice);
    void resumeRequested();
    void putAwayRequested();
    void abandonRequested();
    /// Uncommitted work is to be committed, and nothing else.
    void commitRequested();
    /// What another program has begun here is to be gone on with.
    void takeBegunRequested();
    /// A splice that was put away is to be gone on with.
    void bringBackRequested(const std::string& id);
    /// Work that was set aside is to come back.
    void bringWorkBackRequested(const std::string& id);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void fitPanes();
    [[nodiscard]] std::vector<PlanOption> methodsFor(const Forecast& forecast) const;
    [[nodiscard]] bool isRebasePlanned() const;
    void showOutgoing();
    void choose(const std::string& ref);
    /// Uncommitted files, by name; false where there are none here.
    bool addWork(PlanPanel::Plan& plan) const;
    void addWorkPlans(const Forecast& forecast, PlanPanel::Plan& plan) const;
    void showOverlap(const SurveyForecast& forecast);
    static void addRemarks(const Forecast& forecast, PlanPanel::Plan& plan);
    void addLeft(PlanPanel::Plan& plan) const;
    void addAlways(const Branch& theirs, PlanPanel::Plan& plan) const;
    [[nodiscard]] QString startLabel(const Forecast& forecast) const;
    [[nodiscard]] StartChoice choice() const;
    void layOverlapPage();
    void layCommitPage(PaneSplitter* page, CommitTable* table, CommitReader* reader);
    void showPlan();
    void showBegun(PlanPanel::Plan plan);
    void showForecast();
    void showChart();
    [[nodiscard]] bool showsBegun() const;
    /// What is told of; null: it is not known yet.
    [[nodiscard]] const std::shared_ptr<const SurveyForecast>& shownForecast() const;
    [[nodiscard]] RopeChartModel begunChart() const;

    void layOwnView();
    QTabBar* m_viewTabs;
    PageStack* m_views;
    CollisionView* m_collisions;
    QWidget* m_ownView;  ///< Branches, the shape and what it is made of, and the plan.
    BranchList* m_branches;
    QWidget* m_centre;
    RopeChart* m_chart;
    QTabBar* m_tabs;
    PageStack* m_tables;
    PaneSplitter* m_overlapPage;
    QWidget* m_files;
    OverlapTable* m_overlap;
    QCheckBox* m_ownFirst = nullptr;
    QLabel* m_noOverlap = nullptr;
    TwoChangesView* m_changes;
    PaneSplitter* m_incomingPage;
    CommitTable* m_incoming;
    CommitReader* m_incomingReader;
    PaneSplitter* m_outgoingPage;
    CommitTable* m_outgoing;
    CommitReader* m_outgoingReader;
    PlanPanel* m_plan;
    std::shared_ptr<const SurveyFacts> m_facts;
    std::shared_ptr<const SurveyForecast> m_forecast;
    std::shared_ptr<const SurveyForecast> m_begunForecast;
    bool m_looksElsewhere = false;  ///< A branch was picked since.
    std::shared_ptr<const SurveyRebase> m_rebase;
    std::shared_ptr<const Effort> m_effort;
    QString m_rebaseFailure;  ///< Why it is not known; empty: it is not known yet.
    std::string m_theirsRef;
    std::string m_pickedRef;   ///< What the person picked in this sitting; empty: nothing.
    std::string m_pickedInto;  ///< For which own branch.
    std::string m_underWay;
    bool m_isBehind = false;
    std::vector<std::string> m_queue;
    int m_methodByHand = -1;  ///< The method that the person took for this branch.
    QString m_failure;
};
}  // namespace rope
