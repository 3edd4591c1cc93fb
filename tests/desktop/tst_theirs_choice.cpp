// SPDX-License-Identifier: GPL-3.0-or-later
// Which branch the window proposes to bring in, and that it is never one that nobody chose.
#include "desktop/widgets/theme.h"
#include "tests/support/shared_team.h"
#include "tests/support/window_application.h"
#include "tests/support/window_driver.h"

#include <QCheckBox>
#include <QListView>
#include <QMenu>
#include <QRegularExpression>
#include <QSettings>

using namespace rope;
using rope::test::SharedTeam;
using rope::test::WindowDriver;

namespace {
/// The survey of your clone.
class Survey
{
public:
    explicit Survey(const SharedTeam& team)
        : driver(m_window)
    {
        m_window.resize(1280, 800);
        driver.show();
        m_window.openRepository(team.yours().folder());
    }
    /// Waits until that branch is the one to bring in.
    [[nodiscard]] bool proposes(const char* branch)
    {
        const QRegularExpression name(QLatin1String("\\b") + QLatin1String(branch)
                                      + QLatin1String("\\b"));
        return WindowDriver::waitFor([&] { return driver.text("planWhat").contains(name); },
                                     15'000);
    }
    [[nodiscard]] bool says(const char* label)
    {
        return WindowDriver::waitFor(
            [&] { return driver.startLabel().contains(QLatin1String(label)); }, 15'000);
    }
    [[nodiscard]] bool fetch()
    {
        driver.press(Qt::Key_R, Qt::ControlModifier);
        return WindowDriver::waitFor([&] {
            return driver.find<QPushButton>("fetchButton").text() == QLatin1String("Fetch");
        });
    }

private:
    Window m_window;

public:
    WindowDriver driver;
};

QModelIndex rowOf(WindowDriver& driver, const char* branch)
{
    const auto* model = driver.find<QListView>("branchList").model();
    for (int row = 0; row < model->rowCount(); ++row) {
        if (model->index(row, 0).data().toString() == QLatin1String(branch)) {
            return model->index(row, 0);
        }
    }
    return {};
}

/// Chooses from a branch's own menu; false where it has no such entry.
bool choose(WindowDriver& driver, const char* branch, const char* entry)
{
    auto& list = driver.find<QListView>("branchList");
    emit list.customContextMenuRequested(list.visualRect(rowOf(driver, branch)).center());
    auto* const menu = list.findChild<QMenu*>();
    const auto actions = menu != nullptr ? menu->actions() : QList<QAction*>();
    const auto found = std::find_if(actions.begin(), actions.end(), [entry](QAction* action) {
        return action->text().startsWith(QLatin1String(entry));
    });
    const bool isThere = found != actions.end();
    if (isThere) {
        (*found)->trigger();
    }
    delete menu;
    return isThere;
}

/// The teammate has sent a branch that is not ready, with work on it.
void sendHalfDone(const SharedTeam& team, const QByteArray& text)
{
    const auto teammate = team.teammate();
    teammate.git("switch -q -C half-done");
    teammate.write("notes.txt", text);
    teammate.commit("Not ready");
    teammate.git("push -q -f origin half-done");
    teammate.git("switch -q main");
}
}  // namespace

class TestTheirsChoice : public QObject
{
    Q_OBJECT
private slots:
    void init() { QSettings().clear(); }
    void nothingNew_noOtherBranchIsChosen();
    void followedMoves_isChosen_unlessAnotherIsPicked();
    void ownCopyWithoutNews_theTeamsMainIsChosen();
    void followsNothing_nothingIsChosen();
    void always_isKept_andTakenBack();
    void arrivedBranches_areMarked_andDeletedFromTheirMenu();
};

void TestTheirsChoice::nothingNew_noOtherBranchIsChosen()
{
    const SharedTeam team;
    sendHalfDone(team, "half\n");
    team.yours().git("fetch -q");
    const QByteArray head = team.yours().git("rev-parse HEAD");
    Survey survey(team);
    QVERIFY(survey.proposes("origin/main"));
    QVERIFY(survey.says("Nothing to bring in"));
    survey.driver.press(Qt::Key_Return, Qt::ControlModifier);
    survey.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QTest::qWait(500);
    QVERIFY(survey.driver.isAt("surveyKnot"));
    QVERIFY(survey.proposes("origin/main"));
    QCOMPARE(team.yours().git("rev-parse HEAD"), head);
}

void TestTheirsChoice::followedMoves_isChosen_unlessAnotherIsPicked()
{
    const SharedTeam team;
    sendHalfDone(team, "half\n");
    team.yours().git("fetch -q");
    Survey survey(team);
    QVERIFY(survey.says("Nothing to bring in"));
    team.teammateSends("eight", "eight of theirs", "Theirs");
    QVERIFY(survey.fetch());
    QVERIFY(survey.says("Move forward: 1 commit"));
    QVERIFY(survey.proposes("origin/main"));
    QVERIFY(survey.driver.pickBranch("origin/half-done"));
    QVERIFY(survey.proposes("origin/half-done"));
    team.teammateSends("five", "five of theirs", "Theirs again");
    QVERIFY(survey.fetch());
    QTest::qWait(500);
    QVERIFY(survey.proposes("origin/half-done"));  // somebody has picked it
}

void TestTheirsChoice::ownCopyWithoutNews_theTeamsMainIsChosen()
{
    const SharedTeam team;
    team.yours().git("switch -q -c winter-fees");
    team.youCommit("two", "two of yours", "Mine");
    team.yours().git("push -q -u origin winter-fees");
    sendHalfDone(team, "half\n");
    team.teammateSends("eight", "eight of theirs", "Theirs");
    team.yours().git("fetch -q");
    Survey survey(team);
    QVERIFY(survey.proposes("origin/main"));
    QVERIFY(survey.says("merges cleanly"));
    // A second working copy of yours has moved the copy on: that comes first.
    team.teammate().git("fetch -q");
    team.teammate().git("switch -q winter-fees");
    team.teammate().write("more.txt", "from elsewhere\n");
    team.teammate().commit("From elsewhere");
    team.teammate().git("push -q origin winter-fees");
    QVERIFY(survey.fetch());
    QVERIFY(survey.proposes("origin/winter-fees"));
}

void TestTheirsChoice::followsNothing_nothingIsChosen()
{
    const SharedTeam team;
    sendHalfDone(team, "half\n");
    team.yours().git("fetch -q");
    team.yours().git("switch -q --no-track -c mine");
    team.youCommit("two", "two of yours", "Mine");
    Survey survey(team);
    QVERIFY(survey.says("No branch is picked"));
    survey.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QTest::qWait(300);
    QVERIFY(survey.driver.isAt("surveyKnot"));
    QVERIFY(survey.driver.pickBranch("origin/half-done"));
    QVERIFY(survey.says("merges cleanly"));
}

void TestTheirsChoice::always_isKept_andTakenBack()
{
    const SharedTeam team;
    sendHalfDone(team, "half\n");
    team.yours().git("fetch -q");
    team.youCommit("two", "two of yours", "Mine");
    {
        Survey survey(team);
        QVERIFY(survey.says("Nothing to bring in"));
        QVERIFY(survey.driver.pickBranch("origin/half-done"));
        QVERIFY(survey.says("merges cleanly"));
        QCOMPARE(survey.driver.find<QCheckBox>("alwaysThis").text(),
                 QStringLiteral("Always bring this into main"));
        survey.driver.click("alwaysThis");
    }
    Survey survey(team);
    QVERIFY(survey.proposes("origin/half-done"));
    QVERIFY(WindowDriver::waitFor(
        [&] { return survey.driver.find<QCheckBox>("alwaysThis").isVisible(); }));
    QVERIFY(survey.driver.find<QCheckBox>("alwaysThis").isChecked());
    survey.driver.click("alwaysThis");
    QVERIFY(survey.proposes("origin/main"));
}

void TestTheirsChoice::arrivedBranches_areMarked_andDeletedFromTheirMenu()
{
    const SharedTeam team;
    sendHalfDone(team, "half\n");
    team.yours().git("switch -q -c two-beds");
    team.youCommit("two", "two beds", "Two beds");
    team.yours().git("push -q -u origin two-beds");
    team.yours().git("switch -q main");
    // A review merges it, by a merge commit.
    const auto teammate = team.teammate();
    teammate.git("fetch -q");
    teammate.git("merge -q --no-ff -m Merged origin/two-beds");
    teammate.git("push -q origin main");
    Survey survey(team);
    QVERIFY(survey.says("Nothing to bring in"));
    QVERIFY(!choose(survey.driver, "origin/two-beds", "Delete"));
    QVERIFY(survey.fetch());
    const auto words = [&survey](const char* branch) {
        return rowOf(survey.driver, branch).data(Qt::AccessibleTextRole).toString();
    };
    const QString mark = QStringLiteral("all in origin/main");
    QVERIFY(WindowDriver::waitFor(
        [&] { return words("two-beds").contains(mark) && words("origin/two-beds").contains(mark); }));
    QVERIFY(!words("origin/half-done").contains(mark));
    QVERIFY(!choose(survey.driver, "origin/half-done", "Delete"));
    QVERIFY(!choose(survey.driver, "main", "Delete"));  // one stands on it

    QVERIFY(choose(survey.driver, "origin/two-beds", "Delete origin/two-beds on the remote"));
    QVERIFY(survey.driver.notice().contains(QLatin1String("All of it is in origin/main")));
    QVERIFY(team.shared("branch --list two-beds").contains("two-beds"));  // not unasked
    survey.driver.click("noticeActionButton");
    QVERIFY(WindowDriver::waitFor([&] { return team.shared("branch --list two-beds").isEmpty(); }));
    QVERIFY(WindowDriver::waitFor(
        [&] { return survey.driver.notice().contains(QLatin1String("is deleted on origin")); }));
    QVERIFY(WindowDriver::waitFor([&] { return !rowOf(survey.driver, "origin/two-beds").isValid(); }));

    QVERIFY(WindowDriver::waitFor([&] { return words("two-beds").contains(mark); }));
    QVERIFY(choose(survey.driver, "two-beds", "Delete two-beds here"));
    survey.driver.click("noticeActionButton");
    QVERIFY(WindowDriver::waitFor(
        [&] { return team.yours().git("branch --list two-beds").isEmpty(); }));
    QVERIFY(WindowDriver::waitFor([&] { return !rowOf(survey.driver, "two-beds").isValid(); }));
}

ROPE_TESTS(TestTheirsChoice, rope::test::WindowApplication)
#include "tst_theirs_choice.moc"
