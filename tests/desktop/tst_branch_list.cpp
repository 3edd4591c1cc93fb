// SPDX-License-Identifier: GPL-3.0-or-later
// Survey's list of branches: its groups, what is folded, and what stays as it was when rows move.
#include "desktop/survey/branch_delegate.h"
#include "desktop/survey/branch_list.h"
#include "tests/support/test_program.h"

#include <QApplication>
#include <QLineEdit>
#include <QListView>
#include <QSignalSpy>
#include <QTest>

using namespace rope;

namespace {
SurveyFacts factsWith(int shared)
{
    SurveyFacts facts;
    const auto add = [&facts](const std::string& ref, const std::string& name, bool isShared) {
        Branch branch;
        branch.ref = ref;
        branch.name = name;
        branch.isShared = isShared;
        facts.branches.push_back(branch);
    };
    add("refs/heads/mine", "mine", false);
    add("refs/heads/other", "other", false);
    add("refs/remotes/origin/main", "origin/main", true);
    for (int i = 0; i < shared; ++i) {
        const std::string name = "origin/b" + std::to_string(i);
        add("refs/remotes/" + name, name, true);
    }
    facts.branches.front().upstreamRef = "refs/remotes/origin/main";
    facts.into.ref = facts.standing.ref = "refs/heads/mine";
    facts.into.name = facts.standing.name = "mine";
    return facts;
}

PairOutcome outcome(Relation relation, std::size_t open = 0)
{
    PairOutcome given;
    given.kind = open > 0 ? PairOutcome::Kind::collides : PairOutcome::Kind::joins;
    given.relation = relation;
    given.open = open;
    given.secondCommits = 2;
    return given;
}

BranchForecast forecastOf(const PairOutcome& given)
{
    return {groupOf(given), QStringLiteral("words"), QStringLiteral("short"), given.open, {}};
}

struct Shown
{
    BranchList list{nullptr};
    QListView& view = *list.findChild<QListView*>(QStringLiteral("branchList"));

    explicit Shown(const SurveyFacts& facts)
    {
        list.resize(260, 500);
        list.showBranches(facts);
        list.show();
    }
    /// Every row that is seen, headings in brackets.
    [[nodiscard]] QString rows() const { return seen().join(QLatin1Char('|')); }
    [[nodiscard]] QStringList seen() const
    {
        QStringList all;
        for (int row = 0; row < view.model()->rowCount(); ++row) {
            const QModelIndex index = view.model()->index(row, 0);
            if (!view.isRowHidden(row)) {
                all << (index.data(branchRefRole).isValid()
                            ? index.data().toString()
                            : QStringLiteral("[%1]").arg(index.data().toString()));
            }
        }
        return all;
    }
    [[nodiscard]] QModelIndex at(const char* name) const
    {
        for (int row = 0; row < view.model()->rowCount(); ++row) {
            if (view.model()->index(row, 0).data().toString() == QLatin1String(name)) {
                return view.model()->index(row, 0);
            }
        }
        return {};
    }
};
}  // namespace

class TestBranchList final : public QObject
{
    Q_OBJECT
private slots:
    void groups_followWhatIsToBeDone();
    void longGroups_areFolded_andOpenAtAPress();
    void pickedBranch_isSeenInAFoldedGroup();
    void filter_showsBranchesOfFoldedGroups();
    void forecasts_moveRows_andKeepWhatIsPicked();
    void anotherLook_keepsForecastsOfWhatHasNotMoved();
};

void TestBranchList::groups_followWhatIsToBeDone()
{
    Shown shown(factsWith(4));
    QCOMPARE(shown.rows(),
             QStringLiteral("[Proposed]|origin/main|[Calculating…]|origin/b0|origin/b1|origin/b2"
                            "|origin/b3|[Yours]|mine|other"));
    shown.list.setForecast("refs/remotes/origin/main", forecastOf(outcome(Relation::diverged, 9)));
    shown.list.setForecast("refs/remotes/origin/b0", forecastOf(outcome(Relation::oursAhead)));
    shown.list.setForecast("refs/remotes/origin/b1", forecastOf(outcome(Relation::theirsAhead)));
    shown.list.setForecast("refs/remotes/origin/b2", forecastOf(outcome(Relation::diverged, 3)));
    shown.list.setForecast("refs/remotes/origin/b3", forecastOf(outcome(Relation::unrelated)));
    QTRY_COMPARE(shown.rows(),
                 QStringLiteral("[Proposed]|origin/main|[Need decisions]|origin/b2|origin/b3"
                                "|[Merge cleanly]|origin/b1|[Already here]|origin/b0"
                                "|[Yours]|mine|other"));
    QCOMPARE(shown.at("origin/b2").data(branchOpenRole).toInt(), 3);
    QCOMPARE(shown.at("Need decisions").data(branchCountRole).toString(), QStringLiteral("2"));
    QVERIFY(shown.at("origin/main").data(branchTallRole).toBool());
}

void TestBranchList::longGroups_areFolded_andOpenAtAPress()
{
    Shown shown(factsWith(20));
    for (int i = 0; i < 20; ++i) {
        shown.list.setForecast("refs/remotes/origin/b" + std::to_string(i),
                               forecastOf(outcome(i < 2 ? Relation::theirsAhead
                                                        : Relation::oursAhead)));
    }
    const auto folded = QStringLiteral("[Proposed]|origin/main|[Merge cleanly]|origin/b0|origin/b1"
                                       "|[Already here]|[Yours]|mine|other");
    QTRY_COMPARE(shown.rows(), folded);
    const QModelIndex heading = shown.at("Already here");
    QCOMPARE(heading.data(Qt::AccessibleTextRole).toString(),
             QStringLiteral("Already here: 18 branches, folded"));
    QVERIFY(heading.data(branchNamesRole).toString().startsWith(QLatin1String("origin/b2, ")));
    QTest::mouseClick(
        shown.view.viewport(), Qt::LeftButton, {}, shown.view.visualRect(heading).center());
    QCOMPARE(shown.seen().size(), 9 + 18);
    // By the keyboard: arrows reach the heading, Space folds it again.
    shown.view.setCurrentIndex(shown.at("Already here"));
    QTest::keyClick(&shown.view, Qt::Key_Space);
    QCOMPARE(shown.rows(), folded);
}

void TestBranchList::pickedBranch_isSeenInAFoldedGroup()
{
    Shown shown(factsWith(20));
    shown.list.select("refs/remotes/origin/b7");
    for (int i = 0; i < 20; ++i) {
        shown.list.setForecast("refs/remotes/origin/b" + std::to_string(i),
                               forecastOf(outcome(Relation::oursAhead)));
    }
    QTRY_VERIFY(!shown.seen().contains(QStringLiteral("origin/b6")));
    QVERIFY(shown.seen().contains(QStringLiteral("origin/b7")));
    QCOMPARE(shown.view.currentIndex().data().toString(), QStringLiteral("origin/b7"));
}

void TestBranchList::filter_showsBranchesOfFoldedGroups()
{
    Shown shown(factsWith(20));
    for (int i = 0; i < 20; ++i) {
        shown.list.setForecast("refs/remotes/origin/b" + std::to_string(i),
                               forecastOf(outcome(Relation::oursAhead)));
    }
    QTRY_VERIFY(!shown.seen().contains(QStringLiteral("origin/b19")));
    auto& filter = *shown.list.findChild<QLineEdit*>(QStringLiteral("branchFilter"));
    filter.setText(QStringLiteral("B19"));
    QCOMPARE(shown.rows(), QStringLiteral("origin/b19"));
    filter.clear();
    QVERIFY(!shown.seen().contains(QStringLiteral("origin/b19")));
}

void TestBranchList::forecasts_moveRows_andKeepWhatIsPicked()
{
    Shown shown(factsWith(4));
    QSignalSpy picks(&shown.list, &BranchList::branchPicked);
    QTest::mouseClick(shown.view.viewport(),
                      Qt::LeftButton,
                      {},
                      shown.view.visualRect(shown.at("origin/b3")).center());
    QCOMPARE(picks.size(), 1);
    shown.list.setQueue({"refs/remotes/origin/b1"});
    shown.list.setForecast("refs/remotes/origin/b3", forecastOf(outcome(Relation::diverged, 1)));
    shown.list.setForecast("refs/remotes/origin/b1", forecastOf(outcome(Relation::diverged)));
    QTRY_VERIFY(shown.at("Merge cleanly").isValid());
    QCOMPARE(picks.size(), 1);
    QCOMPARE(shown.view.currentIndex().data().toString(), QStringLiteral("origin/b3"));
    QCOMPARE(shown.at("origin/b1").data(branchQueueRole).toString(), QStringLiteral("later: 1"));
}

void TestBranchList::anotherLook_keepsForecastsOfWhatHasNotMoved()
{
    const auto idOf = [](char digit) { return *ObjectId::fromHex(std::string(40, digit)); };
    SurveyFacts facts = factsWith(2);
    facts.into.tip = idOf('1');
    facts.branches[3].tip = idOf('2');
    facts.branches[4].tip = idOf('3');
    Shown shown(facts);
    shown.list.setForecast("refs/remotes/origin/b0", forecastOf(outcome(Relation::diverged, 2)));
    shown.list.setForecast("refs/remotes/origin/b1", forecastOf(outcome(Relation::diverged)));
    QTRY_VERIFY(shown.at("Merge cleanly").isValid());
    facts.branches[4].tip = idOf('4');
    shown.list.showBranches(facts);
    QCOMPARE(shown.rows(),
             QStringLiteral("[Proposed]|origin/main|[Need decisions]|origin/b0|[Calculating…]"
                            "|origin/b1|[Yours]|mine|other"));
    facts.into.tip = idOf('5');
    shown.list.showBranches(facts);
    QVERIFY(!shown.at("Need decisions").isValid());
}

ROPE_TESTS(TestBranchList, QApplication)
#include "tst_branch_list.moc"
