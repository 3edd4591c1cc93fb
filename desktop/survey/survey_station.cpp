// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/survey/survey_station.h"

#include "desktop/commits/commit_reader.h"
#include "desktop/commits/commit_table.h"
#include "desktop/commits/two_changes_view.h"
#include "desktop/survey/change_tables.h"
#include "desktop/survey/collision_view.h"
#include "desktop/survey/plan_panel.h"
#include "desktop/survey/rebase_words.h"
#include "desktop/widgets/page_stack.h"
#include "desktop/widgets/pane_splitter.h"
#include "desktop/widgets/measures.h"
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
SurveyStation::SurveyStation(QWidget* parent)
    : StationPage(parent)
    , m_viewTabs(new QTabBar(this))
    , m_views(new PageStack(this))
    , m_collisions(new CollisionView(m_views))
    , m_ownView(new QWidget(m_views))
    , m_branches(new BranchList(m_ownView))
    , m_centre(new QWidget(m_ownView))
    , m_chart(new RopeChart(m_centre))
    , m_tabs(new QTabBar(m_centre))
    , m_tables(new PageStack(m_centre))
    , m_overlapPage(new PaneSplitter(
          Qt::Vertical, {45, 55}, tr("Line between files and their changes"), m_tables))
    , m_files(new QWidget(m_overlapPage))
    , m_overlap(new OverlapTable(m_files))
    , m_changes(new TwoChangesView("overlap", m_overlapPage))
    , m_incomingPage(
          new PaneSplitter(Qt::Vertical, {40, 60}, tr("Line between list and commit"), m_tables))
    , m_incoming(new CommitTable("incomingTable", m_incomingPage))
    , m_incomingReader(new CommitReader(Strand::theirs, "incomingReader", m_incomingPage))
    , m_outgoingPage(
          new PaneSplitter(Qt::Vertical, {40, 60}, tr("Line between list and commit"), m_tables))
    , m_outgoing(new CommitTable("outgoingTable", m_outgoingPage))
    , m_outgoingReader(new CommitReader(Strand::ours, "outgoingReader", m_outgoingPage))
    , m_plan(new PlanPanel(m_ownView))
{
    m_viewTabs->setObjectName(QStringLiteral("surveyViews"));
    m_viewTabs->setDrawBase(false);
    m_viewTabs->setExpanding(false);
    m_viewTabs->addTab(tr("Your branch"));
    m_viewTabs->addTab(tr("Who collides with whom"));
    m_views->addWidget(m_ownView);
    layOwnView();
    m_views->addWidget(m_collisions);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(m_viewTabs);
    column->addWidget(makeRule(Qt::Horizontal, this));
    column->addWidget(m_views, 1);
    connect(m_viewTabs, &QTabBar::currentChanged, this, [this](int view) {
        m_views->setCurrentIndex(view);
        emit viewChanged();
    });
    connect(m_branches, &BranchList::branchPicked, this, &SurveyStation::pick);
    connect(m_branches, &BranchList::intoPicked, this, &SurveyStation::intoPicked);
    connect(m_branches, &BranchList::deleteRequested, this, &SurveyStation::deleteRequested);
    connect(m_branches, &BranchList::queueToggled, this, &SurveyStation::queueToggled);
    connect(m_plan, &PlanPanel::queueToggled, this, &SurveyStation::queueToggled);
    connect(m_plan, &PlanPanel::startRequested, this, &SurveyStation::act);
    connect(m_plan, &PlanPanel::putAwayRequested, this, &SurveyStation::putAwayRequested);
    connect(m_plan, &PlanPanel::abandonRequested, this, &SurveyStation::abandonRequested);
    connect(m_plan, &PlanPanel::commitRequested, this, &SurveyStation::commitRequested);
    connect(m_plan, &PlanPanel::bringBackRequested, this, &SurveyStation::bringBackRequested);
    connect(
        m_plan, &PlanPanel::bringWorkBackRequested, this, &SurveyStation::bringWorkBackRequested);
    connect(m_plan, &PlanPanel::alwaysToggled, this, [this](bool isAlways) {
        emit alwaysToggled(isAlways ? m_theirsRef : std::string());
    });
    connect(m_plan, &PlanPanel::choiceChanged, this, [this] {
        m_methodByHand = m_plan->method();
        showPlan();
    });
}

void SurveyStation::pick(const std::string& ref)
{
    if (ref == m_theirsRef && !showsBegun()) {
        return;
    }
    choose(ref);
    m_pickedRef = ref;
    m_pickedInto = m_facts->into.ref;
    m_looksElsewhere = true;
    m_branches->select(ref);
    m_methodByHand = -1;
    m_forecast.reset();
    m_failure.clear();
    showForecast();
    emit branchPicked(ref);
}

/// What is read below is always a commit of the branch that is chosen.
void SurveyStation::choose(const std::string& ref)
{
    if (ref != m_theirsRef) {
        for (CommitReader* reader : {m_incomingReader, m_outgoingReader}) {
            reader->showWaiting({});
            reader->hide();
        }
    }
    m_theirsRef = ref;
}

void SurveyStation::setQueue(std::vector<std::string> refs)
{
    m_queue = std::move(refs);
    m_branches->setQueue(m_queue);
    showPlan();
}

bool SurveyStation::showsCollisions() const
{
    return m_views->currentWidget() == m_collisions;
}

/// The two panes at the sides are as wide as their words ask, and leave the middle the greater part.
void SurveyStation::fitPanes()
{
    m_branches->setFixedWidth(widthOfPane(*this, 248, 26));
    m_plan->setFixedWidth(widthOfPane(*this, 290, 32));
}

void SurveyStation::resizeEvent(QResizeEvent* event)
{
    StationPage::resizeEvent(event);
    fitPanes();
}

void SurveyStation::layOwnView()
{
    m_plan->setAutoFillBackground(true);
    m_plan->setBackgroundRole(QPalette::Base);
    m_tabs->setObjectName(QStringLiteral("surveyTabs"));
    m_tabs->setDrawBase(false);
    m_tabs->setExpanding(false);
    for (const QString& name : {tr("Overlap"), tr("Incoming"), tr("Outgoing")}) {
        m_tabs->addTab(name);
    }
    layOverlapPage();
    layCommitPage(m_incomingPage, m_incoming, m_incomingReader);
    layCommitPage(m_outgoingPage, m_outgoing, m_outgoingReader);
    for (PaneSplitter* page : {m_overlapPage, m_incomingPage, m_outgoingPage}) {
        m_tables->addWidget(page);
    }
    connect(m_tabs, &QTabBar::currentChanged, this, [this](int tab) {
        m_tables->setCurrentIndex(tab);
        for (CommitTable* table : {m_incoming, m_outgoing}) {
            const bool isIn = table->isVisible() && table->model()->rowCount() > 0;
            if (isIn && !table->currentIndex().isValid()) {
                table->selectRow(0);
            }
        }
    });
    m_centre->setAutoFillBackground(true);
    m_centre->setBackgroundRole(QPalette::Base);
    auto* middle = new QVBoxLayout(m_centre);
    middle->setContentsMargins(0, 0, 0, 0);
    middle->setSpacing(0);
    middle->addWidget(m_chart);
    middle->addWidget(makeRule(Qt::Horizontal, this));
    middle->addWidget(m_tabs);
    middle->addWidget(makeRule(Qt::Horizontal, this));
    middle->addWidget(m_tables, 1);
    m_chart->setFixedHeight(m_chart->sizeHint().height());
    auto* row = new QHBoxLayout(m_ownView);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    row->addWidget(m_branches);
    row->addWidget(makeRule(Qt::Vertical, this));
    row->addWidget(m_centre, 1);
    row->addWidget(makeRule(Qt::Vertical, this));
    row->addWidget(m_plan);
}

/// Files that both sides changed, and below it what each made of the one that is picked.
void SurveyStation::layOverlapPage()
{
    auto* column = new QVBoxLayout(m_files);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(10, 4, 10, 4);
    head->setSpacing(10);
    m_noOverlap = makeLabel(tr("No file was changed on both sides."), TextRole::muted, m_files);
    m_noOverlap->setObjectName(QStringLiteral("noOverlap"));
    m_noOverlap->setContentsMargins(12, 10, 12, 10);
    m_noOverlap->hide();
    QLineEdit* filter = makeFilter(tr("Filter files"), "overlapFilter", m_files);
    m_ownFirst = new QCheckBox(tr("Yours first"), m_files);
    m_ownFirst->setObjectName(QStringLiteral("ownFilesFirst"));
    setPlainToolTip(*m_ownFirst,
                    tr("Files that commits of your own changed, told by your address."));
    head->addWidget(filter, 1);
    head->addWidget(m_ownFirst);
    column->addLayout(head);
    column->addWidget(m_noOverlap);
    column->addWidget(m_overlap, 1);
    connect(filter, &QLineEdit::textChanged, m_overlap, &OverlapTable::setFilter);
    connect(m_ownFirst, &QCheckBox::toggled, m_overlap, &OverlapTable::setOwnFirst);
    m_overlapPage->addWidget(m_files);
    m_overlapPage->addWidget(m_changes);
    m_changes->hide();
    connect(m_overlap, &OverlapTable::filePicked, this, [this](std::size_t file) {
        m_changes->clear();
        m_changes->show();
        emit changesRequested(shownForecast(), file);
    });
}

void SurveyStation::showChanges(const FileReading& ours, const FileReading& theirs)
{
    m_changes->showChanges(ours, theirs);
}

/// Commits above, the one that is picked below.
void SurveyStation::layCommitPage(PaneSplitter* page, CommitTable* table, CommitReader* reader)
{
    page->addWidget(table);
    page->addWidget(reader);
    reader->hide();
    connect(table, &CommitTable::commitPicked, this, [this, reader](const ObjectId& commit) {
        if (commit.isNull() || commit == reader->commit()) {
            return;
        }
        reader->showWaiting(commit);
        reader->show();
        emit readingRequested(commit);
    });
}

void SurveyStation::showReading(const CommitReading& reading)
{
    for (CommitReader* reader : {m_incomingReader, m_outgoingReader}) {
        if (reader->commit() == reading.commit.id) {
            reader->showCommit(reading, m_facts->readAt);
        }
    }
}

void SurveyStation::showFacts(std::shared_ptr<const SurveyFacts> facts,
                              const std::string& theirsRef)
{
    m_facts = std::move(facts);
    choose(theirsRef);
    m_forecast.reset();
    m_begunForecast.reset();
    m_looksElsewhere = false;
    m_rebase.reset();
    m_effort.reset();
    m_rebaseFailure.clear();
    m_failure.clear();
    m_branches->showBranches(*m_facts);
    m_branches->select(theirsRef);
    showForecast();
}

void SurveyStation::setForecast(const std::string& ref,
                                std::shared_ptr<const SurveyForecast> forecast)
{
    setBranchForecast(ref, outcomeOf(forecast->forecast));
    if (ref == m_theirsRef) {
        m_forecast = std::move(forecast);
        m_effort.reset();
        showForecast();
    }
}

void SurveyStation::setBegunForecast(std::shared_ptr<const SurveyForecast> forecast)
{
    m_begunForecast = std::move(forecast);
    if (showsBegun()) {
        m_branches->select({});  // what is shown is none of theirs
    }
    showForecast();
}

bool SurveyStation::showsBegun() const
{
    return m_facts && m_facts->canTakeBegun() && m_begunForecast && !m_looksElsewhere;
}

const std::shared_ptr<const SurveyForecast>& SurveyStation::shownForecast() const
{
    return showsBegun() ? m_begunForecast : m_forecast;
}

void SurveyStation::setRebase(const std::string& ref, std::shared_ptr<const SurveyRebase> rebase)
{
    if (ref == m_theirsRef) {
        m_rebase = std::move(rebase);
        showPlan();
    }
}

void SurveyStation::setEffort(const std::string& ref, std::shared_ptr<const Effort> effort)
{
    if (ref == m_theirsRef && m_forecast && !showsBegun()) {
        m_effort = std::move(effort);
        m_overlap->showBest(overlapRows(*m_forecast, m_effort.get()));
        showPlan();
    }
}

void SurveyStation::showOverlap(const SurveyForecast& forecast)
{
    auto rows = overlapRows(forecast, showsBegun() ? nullptr : m_effort.get());
    m_ownFirst->setVisible(
        std::any_of(rows.begin(), rows.end(), [](const OverlapRow& row) { return row.isOwn; }));
    m_noOverlap->setVisible(rows.empty());
    m_overlap->setVisible(!rows.empty());
    m_overlap->showRows(std::move(rows));
}

void SurveyStation::setRebaseFailure(const std::string& ref, const QString& sentence)
{
    if (ref == m_theirsRef) {
        m_rebaseFailure = sentence;
        showPlan();
    }
}

void SurveyStation::setBranchForecast(const std::string& ref, const PairOutcome& outcome)
{
    const Branch* branch = m_facts ? m_facts->branch(ref) : nullptr;
    if (branch == nullptr || ref == m_facts->into.ref) {
        return;
    }
    m_branches->setForecast(
        ref,
        {groupOf(outcome),
         forecastInWords(outcome),
         forecastInShort(outcome),
         outcome.open,
         otherWayInWords(outcome, shown(m_facts->into.name), shown(branch->name))});
}

void SurveyStation::setArrived(const std::set<std::string>& refs, const std::string& mainRef)
{
    const Branch* const main = m_facts ? m_facts->branch(mainRef) : nullptr;
    m_branches->setArrived(refs, main != nullptr ? shown(main->name) : QString());
}

void SurveyStation::setForecastFailure(const std::string& ref, const QString& sentence)
{
    m_branches->setForecast(
        ref, {BranchGroup::open, tr("no forecast"), tr("no forecast"), 0, {}});
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

void SurveyStation::setBehind(bool isBehind)
{
    m_isBehind = isBehind;
    showPlan();
}

void SurveyStation::setSpliceUnderWay(const std::string& theirsName)
{
    m_underWay = theirsName;
    showPlan();
}

void SurveyStation::act()
{
    if (!m_plan->canStart()) {
        return;
    }
    if (!m_underWay.empty()) {
        emit resumeRequested();
    } else if (m_facts->canTakeBegun()) {
        emit takeBegunRequested();
    } else {
        emit startRequested(choice());
    }
}

void SurveyStation::showForecast()
{
    const auto& forecast = shownForecast();
    if (!forecast) {
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
    const QString theirsName = showsBegun()        ? begunName(*m_facts->begun)
                               : theirs != nullptr ? shown(theirs->name)
                                                   : QString();
    m_changes->hide();
    m_changes->setNames(shown(m_facts->into.name), theirsName);
    showOverlap(*forecast);
    std::map<ObjectId, QString> known;
    for (const auto& [commit, own] : forecast->equalInOurs) {
        known[commit] = tr("already in ours as %1").arg(shown(own.brief()));
    }
    m_incoming->showCommits(forecast->theirsCommits, m_facts->readAt, known);
    m_outgoing->showCommits(forecast->oursCommits, m_facts->readAt);
    m_tabs->setTabText(0,
                       tr("Overlap %1 of %2 files")
                           .arg(m_overlap->rowCount())
                           .arg(touchedFileCount(forecast->forecast)));
    m_tabs->setTabText(1, tr("Incoming %1").arg(forecast->forecast.divergence.theirsOnly.size()));
    m_tabs->setTabText(2, tr("Outgoing %1").arg(forecast->forecast.divergence.oursOnly.size()));
    showPlan();
}

/// Where a rebase is planned, what becomes of each commit.
void SurveyStation::showOutgoing()
{
    if (m_forecast) {
        m_outgoing->setRemarks(isRebasePlanned() && m_rebase ? remarksOf(*m_rebase)
                                                             : std::map<ObjectId, QString>());
    }
}

/// With what the method that is taken would make.
void SurveyStation::showChart()
{
    const bool joinsBranches = !showsBegun() || m_facts->begun->kind == UnfinishedWork::merge
                               || m_facts->begun->kind == UnfinishedWork::rebase;
    m_chart->setVisible(joinsBranches);
    if (showsBegun()) {
        m_chart->setModel(joinsBranches ? begunChart() : RopeChartModel());
        return;
    }
    const Branch* theirs = m_facts->branch(m_theirsRef);
    if (!m_forecast) {
        return;
    }
    m_chart->setModel(chartModel(*m_forecast,
                                 shown(m_facts->into.name),
                                 theirs != nullptr ? shown(theirs->name) : QString(),
                                 m_facts->branches,
                                 static_cast<SpliceKind>(std::max(m_plan->method(), 0)),
                                 m_rebase.get(),
                                 m_facts->readAt));
}

/// Of a begun merge or rebase.
RopeChartModel SurveyStation::begunChart() const
{
    const BegunJoin& begun = *m_facts->begun;
    const bool isRebase = begun.kind == UnfinishedWork::rebase;
    RopeChartModel model = chartModel(*m_begunForecast,
                                      shown(begun.lineName),
                                      begunName(begun),
                                      m_facts->branches,
                                      isRebase ? SpliceKind::rebase : SpliceKind::merge,
                                      nullptr,
                                      m_facts->readAt);
    if (isRebase) {
        model.rewritten = 1 + begun.next.size();
        model.outcomeTitle =
            tr("%1 still to be rewritten").arg(countOf(model.rewritten, "commit", "commits"));
    }
    return model;
}

void SurveyStation::updateFacts(std::shared_ptr<const SurveyFacts> facts, bool areForecastsStale)
{
    const bool wasBegun = showsBegun();
    m_facts = std::move(facts);
    const bool isPicked =
        m_pickedInto == m_facts->into.ref && m_facts->branch(m_pickedRef) != nullptr;
    const std::string wanted = isPicked ? m_pickedRef : m_facts->proposedTheirs();
    if (wanted != m_theirsRef || areForecastsStale) {
        showFacts(m_facts, wanted);
    } else if (showsBegun() != wasBegun) {
        showForecast();
    } else {
        showPlan();
    }
}

QString SurveyStation::status() const
{
    if (showsCollisions()) {
        return m_collisions->status();
    }
    if (!m_forecast || m_forecast->forecast.divergence.relation != Relation::diverged) {
        return {};
    }
    return tr("%1 merged cleanly")
        .arg(countOf(m_forecast->forecast.joinedFileCount(), "file", "files"));
}

std::vector<KeyHint> SurveyStation::hints() const
{
    if (showsCollisions()) {
        return {{tr("Arrows"), tr("next pair")},
                {tr("Ctrl+J"), tr("next pair that collides")},
                {tr("Enter"), tr("read the regions")},
                {tr("Ctrl+C"), tr("copy a note")}};
    }
    return {{tr("Ctrl+R"), tr("fetch")}, {tr("Ctrl+Enter"), tr("start with this plan")}};
}

std::vector<KeyHint> SurveyStation::keys() const
{
    return {{tr("Ctrl+Enter"), tr("start with this plan")},
            {tr("Up, Down"), tr("another branch, in the list")},
            {tr("Space"), tr("merge this branch later, in the list")},
            {tr("Left, Right"), tr("from knot to knot, in the chart")},
            {tr("Arrows"), tr("another pair, in who collides with whom")},
            {tr("Ctrl+J, Ctrl+K"), tr("the next, previous pair that collides")},
            {tr("Enter, Escape"), tr("read the regions of the pair, and back")},
            {tr("Ctrl+C"), tr("copy a note for both, there")}};
}
}  // namespace rope
