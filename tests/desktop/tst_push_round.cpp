// SPDX-License-Identifier: GPL-3.0-or-later
// The round with teammates on a shared remote, driven by keys and mouse in the window: fetch, carry
// across, resolve, record, push, the refused push and what follows it; checked with real git.
#include "core/logbook/journal.h"
#include "desktop/course/place_session.h"
#include "desktop/push/push_station.h"
#include "desktop/survey/commit_first_dialog.h"
#include "desktop/widgets/theme.h"
#include "tests/support/remote_servers.h"
#include "tests/support/shared_team.h"
#include "tests/support/window_application.h"
#include "tests/support/window_driver.h"

#include <QAbstractItemView>
#include <QComboBox>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QRadioButton>
#include <QSettings>
#include <QTabBar>
#include <QTextEdit>
#include <QTreeWidget>

using namespace rope;
using rope::test::SharedTeam;
using rope::test::WindowDriver;

namespace {
constexpr int kWaitMs = 10'000;
template <typename Predicate>
bool waitFor(Predicate predicate, int ms = kWaitMs)
{
    return WindowDriver::waitFor(predicate, ms);
}

struct Round
{
    Window window;
    WindowDriver driver{window};

    explicit Round(const SharedTeam& team)
    {
        driver.show();
        window.openRepository(team.yours().folder());
        QVERIFY(waitFor(
            [this] {
                return driver.isAt("surveyKnot")
                       && driver.find<QListView>("branchList").model()->rowCount() > 0;
            },
            10'000));
    }
    [[nodiscard]] bool waitForPlan(const char* label)
    {
        return waitFor([this, label] {
            return driver.canStart() && driver.startLabel().contains(QLatin1String(label));
        });
    }
    void fetch()
    {
        driver.press(Qt::Key_R, Qt::ControlModifier);
        QVERIFY(waitFor([this] {
            return driver.find<QPushButton>("fetchButton").text() == QLatin1String("Fetch");
        }));
    }
    void start(const char* label = "decide")
    {
        QVERIFY(waitForPlan(label));
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        QVERIFY(waitFor([this] { return isUnderWay(); }));
    }
    /// A splice is at Resolve, or beyond where nothing is to be decided.
    [[nodiscard]] bool isUnderWay()
    {
        return driver.isAt("resolveKnot") || driver.isAt("checkKnot")
               || (driver.isAt("recordKnot") && driver.find<QWidget>("recordButton").isVisible());
    }
    /// Takes the first candidate for all that is open.
    void decideAll()
    {
        for (int guard = 0; guard < 20 && driver.isAt("resolveKnot")
                            && !driver.status().startsWith(QLatin1String("Nothing is open"));
             ++guard) {
            driver.press(Qt::Key_1, Qt::AltModifier);
            driver.press(Qt::Key_J, Qt::ControlModifier);
            QTest::qWait(20);
        }
    }
    void pick(const char* branch) { QVERIFY(driver.pickBranch(branch)); }
    /// Joins into another own branch from now on.
    void joinInto(const char* branch)
    {
        auto& into = driver.find<QComboBox>("intoBranch");
        const int index = into.findText(QLatin1String(branch));
        QVERIFY(index >= 0);
        into.setCurrentIndex(index);
        emit into.activated(index);
        QVERIFY(waitFor(
            [this, branch] { return driver.text("planWhat").endsWith(QLatin1String(branch)); }));
    }
    /// Takes the candidate of that name for the place at hand.
    void take(const char* label)
    {
        const auto& list = driver.find<QListView>("candidateList");
        for (int row = 0; row < list.model()->rowCount(); ++row) {
            const QString name = list.model()->index(row, 0).data().toString();
            if (name.section(QStringLiteral(" · "), 0, 0) == QLatin1String(label)) {
                driver.press(static_cast<Qt::Key>(Qt::Key_1 + row), Qt::AltModifier);
                return;
            }
        }
        QFAIL("no such candidate");
    }
    /// What the worklist lists.
    [[nodiscard]] QString rows()
    {
        const auto* model = driver.find<QListView>("worklist").model();
        QStringList labels;
        for (int row = 0; row < model->rowCount(); ++row) {
            labels << model->index(row, 0).data().toString();
        }
        return labels.join(QLatin1Char('|'));
    }
    void record()
    {
        driver.press(Qt::Key_4, Qt::ControlModifier);
        QVERIFY2(
            waitFor([this] { return driver.find<QPushButton>("recordButton").isEnabled(); }),
            qPrintable(driver.text("recordObstacle") + driver.status() + driver.notice() + rows()));
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        QVERIFY(waitFor([this] {
            return driver.find<QLabel>("recordedTitle").isVisible()
                   && (driver.text("recordedTitle").startsWith(QLatin1String("Recorded"))
                       || driver.text("recordedTitle").endsWith(QLatin1String("moved forward")));
        }));
    }
    void goToPush()
    {
        driver.press(Qt::Key_5, Qt::ControlModifier);
        QVERIFY(waitFor([this] {
            return driver.isAt("pushKnot") && driver.find<QPushButton>("pushButton").isEnabled();
        }));
    }
    void push()
    {
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        QVERIFY(waitFor([this] {
            const auto& notNow = driver.find<QPushButton>("notNowButton");
            return driver.find<QWidget>("pushAnswer").isVisible()
                   && (!notNow.isVisible() || notNow.isEnabled());
        }));
    }
    [[nodiscard]] QString answer() { return driver.text("pushAnswerTitle"); }
    void choose(const char* radio)
    {
        auto& button = driver.find<QRadioButton>(radio);
        QTest::mouseClick(&button, Qt::LeftButton, {}, QPoint(8, button.height() / 2));
        QApplication::processEvents();
    }
};

/// Your merge is recorded, and a teammate sends before you do.
void recordThenBeOvertaken(const SharedTeam& team, Round& round)
{
    round.start();
    round.decideAll();
    round.record();
    team.teammateSends("eight", "eight of theirs", "Meanwhile");
    round.goToPush();
    round.push();
}

/// The work that is not committed touches what theirs changed as well.
void makeClashingWork(const SharedTeam& team)
{
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("eight", "eight of theirs", "Theirs");
    team.yours().git("fetch -q");
    team.yours().write("plan.txt", team.yours().read("plan.txt").replace("eight", "eight, mine"));
}
}  // namespace

class TestPushRound : public QObject
{
    Q_OBJECT
private slots:
    void init();
    void round_recordPushProof();
    void refusedPush_inPlace_carriesDecisions();
    void refusedThreeTimes_untilItArrives();
    void refusedPush_onTop_keepsTheFirst();
    void refusedByHook_showsItsWords();
    void unreachable_saysSo();
    void newBranch_followsItAfterwards();
    void mergedBranch_canBeRemoved();
    void afterPush_ownBranchGoes_andMainIsGoneTo();
    void afterPush_saysWhetherItMergesIntoTheTeamsMain();
    void rewrittenBranch_isSentInPlace_withALease();
    void rewrittenBranch_refused_offersTheLeaseFirst();
    void rewrittenBranch_movedOnMeanwhile_isNotReplaced();
    void otherBranch_isJoinedInto_filesStay();
    void otherBranch_isMovedForward_filesStay();
    void otherBranch_spliceIsThereAfterClosing();
    void fetchesAtOpening_ifPreferred();
    void queue_leadsOn();
    void hostileRemote_isShownAsPlainText();
    void deletedAndRewritten_areTold();
    void looksBeforeRecording_off_recordsAtOnce();
    void nothingToSend_saysSo();
    void carryAcross_staysUncommitted();
    void carryAcross_clashIsAGroupOfItsOwn();
    void carryAcross_clashInAFastForward_isForecastAndDecided();
    void carryAcross_isThereAfterARestart();
    void setAside_isBroughtBack();
    void commitFirst_thenPlan();
    void commit_whereNothingComesIn();
    void recorded_isRolledBack_untilItIsPushed();
    void commitFirst_someChangesOfAFile();
    void fileInTheWay_isKeptBeside();
    void fastForward_movesTheBranch();
    void fastForward_asAMergeCommit();
    void editedMeanwhile_isJoinedAgain();
    void openedAgain_whileWorkIsJoined_joinsIt();
    void clone_fromTheStartPage_opens();
    void clone_badAddress_saysSo();
    void collisions_areWorkedOut();
    void incomingCommit_isRead();
    void overlap_opensBothChanges();
    void password_isAskedInTheWindow();
};

void TestPushRound::init()
{
    QSettings().clear();
}

void TestPushRound::round_recordPushProof()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("two", "two of theirs", "Theirs");
    Round round(team);
    QVERIFY(waitFor([&] { return !round.driver.find<QLabel>("planObstacle").text().isEmpty(); }));
    round.fetch();  // the first view was stale
    round.start();
    round.decideAll();
    round.record();
    QVERIFY(team.yours().git("status --porcelain").isEmpty());
    // What was recorded leads on to Push.
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.isAt("pushKnot"));
    QVERIFY(waitFor([&] {
        return round.driver.find<QPushButton>("pushButton").text()
               == QLatin1String("Push 2 commits");
    }));
    QCOMPARE(round.driver.text("pushHeading"),
             QStringLiteral("What will be pushed to origin/main"));
    QCOMPARE(round.driver.find<QAbstractItemView>("sendTable").model()->rowCount(), 2);
    QVERIFY(round.driver.status().contains(QStringLiteral("main is 2 ahead of and 0 behind")));
    round.push();
    const QByteArray tip = team.yours().git("rev-parse HEAD");
    QCOMPARE(team.shared("rev-parse main"), tip);
    QVERIFY2(round.answer().startsWith(QStringLiteral("origin/main is at %1 now, the same as yours")
                                           .arg(QString::fromLatin1(tip.left(7)))),
             qPrintable(round.answer()));
    QVERIFY(waitFor([&] {
        return round.driver.text("pushObstacle").contains(QStringLiteral("Nothing to push"));
    }));
}

void TestPushRound::refusedPush_inPlace_carriesDecisions()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("two", "two of theirs", "Theirs");
    team.yours().git("fetch -q");
    Round round(team);
    recordThenBeOvertaken(team, round);
    const QByteArray first = team.yours().git("rev-parse HEAD");
    QCOMPARE(round.answer(),
             QStringLiteral("origin refused the push: it has 1 commit you do not have."));
    const QString text = round.driver.text("pushAnswerText");
    QVERIFY2(text.contains(QStringLiteral("Were Otieno pushed"))
                 && text.contains(QStringLiteral("“Meanwhile”"))
                 && text.contains(QStringLiteral("nothing is lost")),
             qPrintable(text));
    QVERIFY2(
        round.driver.text("inPlaceWords").contains(QStringLiteral("Your 1 decision carries over")),
        qPrintable(round.driver.text("inPlaceWords")));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(waitFor([&] { return round.isUnderWay(); }));
    QVERIFY(round.driver.isAt("recordKnot"));  // all decisions found their place
    round.record();
    const QByteArray second = team.yours().git("rev-parse HEAD");
    QVERIFY(first != second);
    QCOMPARE(team.yours().git("rev-list --count --merges HEAD"), QByteArray("1"));
    QCOMPARE(team.yours().git("rev-parse HEAD^2"), team.yours().git("rev-parse origin/main"));
    round.goToPush();
    round.push();
    QVERIFY(round.answer().contains(QStringLiteral("same as yours")));
    QCOMPARE(team.shared("rev-parse main"), second);
    QVERIFY(team.yours().read("plan.txt").contains("eight of theirs"));
    // The one that was not sent is not lost.
    QVERIFY(
        team.yours().git("for-each-ref --format=%(objectname) refs/rope-splice").contains(first));
    QVERIFY(team.yours().git("status --porcelain").isEmpty());
}

void TestPushRound::refusedThreeTimes_untilItArrives()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("two", "two of theirs", "Theirs");
    team.yours().git("fetch -q");
    Round round(team);
    recordThenBeOvertaken(team, round);
    const std::pair<const char*, const char*> more[] = {{"five", "five of theirs"},
                                                        {"nine", "nine of theirs"}};
    for (const auto& [before, after] : more) {
        QVERIFY(round.answer().startsWith(QStringLiteral("origin refused")));
        round.driver.press(Qt::Key_Return, Qt::ControlModifier);
        QVERIFY(waitFor([&] { return round.isUnderWay(); }));
        round.decideAll();
        round.record();
        team.teammateSends(before, after, "Once more");
        round.goToPush();
        round.push();
    }
    QVERIFY(round.answer().startsWith(QStringLiteral("origin refused")));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(waitFor([&] { return round.isUnderWay(); }));
    round.decideAll();
    round.record();
    round.goToPush();
    round.push();
    QVERIFY(round.answer().contains(QStringLiteral("same as yours")));
    QCOMPARE(team.yours().git("rev-list --count --merges HEAD"), QByteArray("1"));
    for (const char* line : {"five of theirs", "eight of theirs", "nine of theirs"}) {
        QVERIFY(team.yours().read("plan.txt").contains(line));
    }
}

void TestPushRound::refusedPush_onTop_keepsTheFirst()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("two", "two of theirs", "Theirs");
    team.yours().git("fetch -q");
    Round round(team);
    recordThenBeOvertaken(team, round);
    const QByteArray first = team.yours().git("rev-parse HEAD");
    round.driver.click("joinOnTopButton");
    QVERIFY(waitFor([&] { return round.isUnderWay(); }));
    round.decideAll();
    round.record();
    QCOMPARE(team.yours().git("rev-parse HEAD^1"), first);
    QCOMPARE(team.yours().git("rev-list --count --merges HEAD"), QByteArray("2"));
    round.goToPush();
    round.push();
    QVERIFY(round.answer().contains(QStringLiteral("same as yours")));
}

void TestPushRound::refusedByHook_showsItsWords()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    QFile hook(team.address() + QStringLiteral("/hooks/pre-receive"));
    QVERIFY(hook.open(QIODevice::WriteOnly));
    hook.write("#!/bin/sh\nprintf 'Not on <b>Fridays</b>\\033[31m, please.\\n' >&2\nexit 1\n");
    hook.close();
    hook.setPermissions(QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
    Round round(team);
    round.goToPush();
    round.push();
    QCOMPARE(round.answer(), QStringLiteral("origin refused the push."));
    round.driver.click("pushDetailsButton");
    const QString words = round.driver.find<QPlainTextEdit>("pushAnswerDetails").toPlainText();
    QVERIFY2(words.contains(QStringLiteral("Not on <b>Fridays</b>")), qPrintable(words));
    QVERIFY(!words.contains(QChar(0x1b)));
    QVERIFY(!round.driver.find<QPushButton>("joinOnTopButton").isVisible());
    round.driver.click("notNowButton");
    QVERIFY(!round.driver.find<QWidget>("pushAnswer").isVisible());
}

void TestPushRound::unreachable_saysSo()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.yours().git("remote set-url origin git://127.0.0.1:1/gone.git");
    Round round(team);
    round.goToPush();
    round.push();
    QCOMPARE(round.answer(), QStringLiteral("origin does not answer."));
    QVERIFY(round.driver.find<QPushButton>("pushButton").isEnabled());  // it can be tried again
}

void TestPushRound::newBranch_followsItAfterwards()
{
    const SharedTeam team;
    team.yours().git("switch -q -c tide-windows");
    team.youCommit("two", "two of yours", "Mine");
    Round round(team);
    round.goToPush();
    QVERIFY(round.driver.text("pushHeading").contains(QStringLiteral("a new branch there")));
    round.push();
    QVERIFY(round.answer().contains(QStringLiteral("same as yours")));
    QCOMPARE(team.shared("rev-parse tide-windows"), team.yours().git("rev-parse HEAD"));
    QCOMPARE(team.yours().git("rev-parse --abbrev-ref @{upstream}"),
             QByteArray("origin/tide-windows"));
}

/// main of yours with a change, and a branch that you and the team have, parted from it by one commit.
namespace {
void parkOnMain(const SharedTeam& team)
{
    team.yours().git("switch -q -c winter-fees");
    team.yours().write("fees.txt", "less\n");
    team.yours().commit("Winter fees");
    team.yours().git("push -q -u origin winter-fees");
    team.yours().git("switch -q main");
}
}  // namespace

void TestPushRound::afterPush_ownBranchGoes_andMainIsGoneTo()
{
    const SharedTeam team;
    parkOnMain(team);
    team.yours().git("switch -q -c release main");
    team.yours().write("notes.txt", "release\n");
    team.yours().commit("Release notes");
    team.teammateSends("two", "two of theirs", "Theirs");
    team.yours().git("fetch -q");
    Round round(team);
    round.pick("origin/winter-fees");
    QVERIFY(round.waitForPlan("merges cleanly"));
    QVERIFY2(round.driver.text("planOtherWay").contains(QStringLiteral("is clean too: 1 commit")),
             qPrintable(round.driver.text("planOtherWay")));
    round.start("merges cleanly");
    round.record();
    round.goToPush();
    round.push();
    QVERIFY(waitFor(
        [&] { return round.driver.find<QPushButton>("removeOwnBranchButton").isVisible(); }));
    round.driver.click("removeOwnBranchButton");
    QVERIFY(waitFor(
        [&] { return round.driver.text("afterPush").contains(QStringLiteral("deleted here")); }));
    QVERIFY(team.yours().git("for-each-ref refs/heads/winter-fees").isEmpty());
    team.yours().write("untracked.txt", "nobody's\n");
    team.yours().write("plan.txt", team.yours().read("plan.txt").replace("nine", "nine, edited"));
    // Sent after all that this window has asked: going there asks once more.
    team.teammateSends("three", "three of theirs", "Theirs, later");
    round.driver.click("goToMainButton");
    QVERIFY(waitFor([&] {
        return team.yours().git("rev-parse --abbrev-ref HEAD") == "main"
               && team.yours().git("log -1 --format=%s main") == "Theirs, later"
               && round.driver.isAt("surveyKnot");
    }));
    QVERIFY(waitFor(
        [&] { return team.yours().git("status --porcelain") == " M plan.txt\n?? untracked.txt"; }));
    QVERIFY(team.yours().read("plan.txt").contains("two of theirs"));
    QVERIFY(team.yours().read("plan.txt").contains("nine, edited"));
}

void TestPushRound::rewrittenBranch_isSentInPlace_withALease()
{
    const SharedTeam team;
    parkOnMain(team);
    team.yours().git("switch -q winter-fees");
    team.yours().git("commit -q --amend -m Fees,-better-said");
    Round round(team);
    round.goToPush();
    const QString words = round.driver.text("replaceWords");
    QVERIFY2(words.contains(QStringLiteral("1 commit by Maren Voss"))
                 && words.contains(QStringLiteral("“Winter fees”")),
             qPrintable(words));
    QVERIFY(
        waitFor([&] { return round.driver.find<QPushButton>("sendInPlaceButton").isEnabled(); }));
    round.driver.click("sendInPlaceButton");
    QVERIFY(waitFor([&] { return round.answer().contains(QStringLiteral("same as yours")); }));
    QCOMPARE(team.shared("rev-parse winter-fees"), team.yours().git("rev-parse HEAD"));
}

void TestPushRound::rewrittenBranch_movedOnMeanwhile_isNotReplaced()
{
    const SharedTeam team;
    parkOnMain(team);
    team.yours().git("switch -q winter-fees");
    team.yours().git("commit -q --amend -m Fees,-better-said");
    team.teammate().git("fetch -q");
    team.teammate().git("switch -q winter-fees");
    team.teammate().write("fees.txt", "less, and less\n");
    team.teammate().commit("Upon yours");
    team.teammate().git("push -q");
    const QByteArray theirs = team.shared("rev-parse winter-fees");
    Round round(team);
    round.goToPush();
    QVERIFY(
        waitFor([&] { return round.driver.find<QPushButton>("sendInPlaceButton").isEnabled(); }));
    round.driver.click("sendInPlaceButton");
    QVERIFY(waitFor([&] { return round.driver.find<QWidget>("pushAnswer").isVisible(); }));
    QVERIFY2(round.answer().startsWith(QStringLiteral("origin refused")),
             qPrintable(round.answer()));
    QCOMPARE(team.shared("rev-parse winter-fees"), theirs);
}

/// Joining one's own old commits would have them twice: it is not what is offered first.
void TestPushRound::rewrittenBranch_refused_offersTheLeaseFirst()
{
    const SharedTeam team;
    parkOnMain(team);
    team.yours().git("switch -q winter-fees");
    team.yours().git("commit -q --amend -m Fees,-better-said");
    Round round(team);
    round.goToPush();
    QVERIFY(
        waitFor([&] { return round.driver.find<QPushButton>("sendInPlaceButton").isEnabled(); }));
    round.driver.click("pushButton");
    QVERIFY(waitFor([&] { return round.driver.find<QWidget>("pushAnswer").isVisible(); }));
    for (auto* button : round.window.findChildren<QPushButton*>()) {
        const bool isFirst =
            button->isVisible() && button->property("role").toString() == QLatin1String("primary");
        QCOMPARE(isFirst, button->objectName() == QLatin1String("sendInPlaceButton"));
    }
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(waitFor([&] { return round.answer().contains(QStringLiteral("same as yours")); }));
    QCOMPARE(team.shared("rev-parse winter-fees"), team.yours().git("rev-parse HEAD"));
    QCOMPARE(team.yours().git("rev-list --count --merges HEAD"), QByteArray("0"));
}

void TestPushRound::otherBranch_isJoinedInto_filesStay()
{
    const SharedTeam team;
    parkOnMain(team);
    team.yours().git("switch -q -c elsewhere main");
    team.yours().write("plan.txt", team.yours().read("plan.txt").replace("five", "five, edited"));
    team.teammateSends("two", "two of theirs", "Theirs");
    team.yours().git("fetch -q");
    Round round(team);
    round.joinInto("winter-fees");
    round.pick("origin/main");
    QVERIFY(round.waitForPlan("merges cleanly"));
    QVERIFY(round.driver.text("planRemark").contains(QStringLiteral("stay as they are")));
    const QByteArray status = team.yours().git("status --porcelain");
    round.start("merges cleanly");
    round.record();
    QCOMPARE(team.yours().git("rev-parse winter-fees^2"),
             team.yours().git("rev-parse origin/main"));
    QCOMPARE(team.yours().git("rev-parse --abbrev-ref HEAD"), QByteArray("elsewhere"));
    QCOMPARE(team.yours().git("status --porcelain"), status);
    // What is sent is that branch.
    round.goToPush();
    round.push();
    QVERIFY(round.answer().contains(QStringLiteral("same as yours")));
    QCOMPARE(team.shared("rev-parse winter-fees"), team.yours().git("rev-parse winter-fees"));
}

void TestPushRound::otherBranch_isMovedForward_filesStay()
{
    const SharedTeam team;
    team.yours().git("switch -q -c elsewhere main");
    team.teammateSends("two", "two of theirs", "Theirs");
    team.yours().git("fetch -q");
    Round round(team);
    round.joinInto("main");
    round.pick("origin/main");
    round.start("Move forward");
    round.record();
    QCOMPARE(team.yours().git("rev-parse main"), team.yours().git("rev-parse origin/main"));
    QCOMPARE(team.yours().git("rev-parse --abbrev-ref HEAD"), QByteArray("elsewhere"));
    QVERIFY(team.yours().git("status --porcelain").isEmpty());
}

void TestPushRound::otherBranch_spliceIsThereAfterClosing()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.yours().git("switch -q -c elsewhere HEAD~1");
    team.teammateSends("two", "two of theirs", "Theirs");
    team.yours().git("fetch -q");
    {
        Round round(team);
        round.joinInto("main");
        round.pick("origin/main");
        round.start("to decide");
        QVERIFY(round.driver.isAt("resolveKnot"));
        round.driver.press(Qt::Key_1, Qt::AltModifier);
    }
    Round again(team);
    QVERIFY(waitFor([&] { return again.isUnderWay(); }));
    QVERIFY(again.driver.status().startsWith(QLatin1String("Nothing is open")));
    again.record();
    QCOMPARE(team.yours().git("rev-list --parents -n 1 main").count(' '), qsizetype{2});
    QCOMPARE(team.yours().git("rev-parse --abbrev-ref HEAD"), QByteArray("elsewhere"));
    QVERIFY(team.yours().git("status --porcelain").isEmpty());
}

void TestPushRound::fetchesAtOpening_ifPreferred()
{
    const SharedTeam team;
    team.teammateSends("two", "two of theirs", "Theirs");
    QSettings().setValue(QStringLiteral("preferences/fetchesAtOpening"), true);
    Round round(team);
    QVERIFY(waitFor([&] {
        return round.driver.notice().contains(
            QStringLiteral("origin/main: 1 commit by Were Otieno"));
    }));
    QSettings().remove(QStringLiteral("preferences"));
}

void TestPushRound::queue_leadsOn()
{
    const SharedTeam team;
    parkOnMain(team);
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("five", "five of theirs", "Theirs");
    team.yours().git("fetch -q");
    Round round(team);
    round.pick("origin/winter-fees");
    auto& list = round.driver.find<QListView>("branchList");
    list.setFocus();
    QTest::keyClick(&list, Qt::Key_Space);
    QVERIFY(round.driver.find<QPushButton>("takeOutButton0").isVisible());
    round.pick("origin/main");
    round.start("merges cleanly");
    round.record();
    auto& next = round.driver.find<QPushButton>("joinNextButton");
    QVERIFY(next.isVisible());
    QCOMPARE(next.text(), QStringLiteral("Merge origin/winter-fees next"));
    next.click();
    QVERIFY(round.driver.isAt("surveyKnot"));
    // A person is slower than the window, which looks again where the branch stands now.
    const auto tip = ObjectId::fromHex(team.yours().git("rev-parse HEAD").toStdString());
    const auto* place = round.window.findChild<PlaceSession*>();
    QVERIFY(waitFor([&] { return place->facts()->into.tip == *tip; }));
    round.start("merges cleanly");
    round.record();
    QVERIFY(!next.isVisible());
    QCOMPARE(team.yours().git("rev-list --count --merges HEAD"), QByteArray("2"));
}

void TestPushRound::hostileRemote_isShownAsPlainText()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    const auto& them = team.teammate();
    them.git("config user.name <img/src=x>\u202egro\u0007");
    them.write("a<b>&'\"\u202etxt", "new\n");
    them.write("--help", "an option\n");
    them.commit("<h1>Subject</h1> \u001b[31mred\n\n<script>x</script>");
    them.git("push -q");
    for (const char* name : {"<b>bold</b>", "-upload-pack=x", "Topic", "topic", "a/../b"}) {
        // Through plumbing: git's own commands refuse some of them, a hostile server does not.
        them.git({QStringLiteral("push"),
                  QStringLiteral("-q"),
                  QStringLiteral("origin"),
                  QStringLiteral("HEAD:refs/heads/") + QLatin1String(name)});
    }
    Round round(team);
    round.fetch();
    QVERIFY(!round.driver.notice().contains(QChar(0x202e)));
    QVERIFY(!round.driver.notice().contains(QChar(7)));
    round.start("merges cleanly");
    round.record();
    for (const QLabel* label : round.window.findChildren<QLabel*>()) {
        QVERIFY2(label->textFormat() == Qt::PlainText || label->text().isEmpty()
                     || !Qt::mightBeRichText(label->text()),
                 qPrintable(label->objectName() + label->text()));
        QVERIFY2(!label->text().contains(QChar(0x202e)) && !label->text().contains(QChar(27)),
                 qPrintable(label->text()));
    }
    QCOMPARE(team.yours().read("--help"), QByteArray("an option\n"));
    round.goToPush();
    round.push();
    QVERIFY(round.answer().contains(QStringLiteral("same as yours")));
}

void TestPushRound::deletedAndRewritten_areTold()
{
    const SharedTeam team;
    parkOnMain(team);
    team.yours().git("config fetch.prune true");
    team.teammateSends("two", "two of theirs", "Theirs");
    team.yours().git("fetch -q");
    team.teammate().git("commit -q --amend -m Said-otherwise");
    team.teammate().git("push -q --force");
    team.teammate().git("push -q origin :winter-fees");
    Round round(team);
    round.fetch();
    QVERIFY(waitFor([&] { return !round.driver.notice().isEmpty(); }));
    const QString told = round.driver.notice();
    QVERIFY2(told.contains(QStringLiteral("origin/main was rewritten: 1 commit that you had is gone"
                                          " from it, and it has 1 new one by Were Otieno.")),
             qPrintable(told));
    QVERIFY2(told.contains(QStringLiteral("origin/winter-fees is gone")), qPrintable(told));
}

void TestPushRound::looksBeforeRecording_off_recordsAtOnce()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("eight", "eight of theirs", "Theirs");
    team.yours().git("fetch -q");
    QSettings().setValue(QStringLiteral("preferences/looksBeforeRecording"), false);
    QSettings().setValue(QStringLiteral("preferences/signsOff"), true);
    Round round(team);
    QVERIFY(round.waitForPlan("merges cleanly"));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(waitFor(
        [&] { return round.driver.text("recordedTitle").startsWith(QLatin1String("Recorded")); }));
    QSettings().remove(QStringLiteral("preferences"));
    QVERIFY(team.yours().git("log -1 --format=%B").contains("Signed-off-by: Maren Voss"));
}

void TestPushRound::afterPush_saysWhetherItMergesIntoTheTeamsMain()
{
    const SharedTeam team;
    team.yours().git("switch -q -c late");
    team.youCommit("two", "two of yours", "Mine");
    team.yours().git("push -q -u origin late");
    team.youCommit("nine", "nine of yours", "Mine, too");
    Round round(team);
    const auto push = [&round] {
        round.driver.press(Qt::Key_5, Qt::ControlModifier);
        QVERIFY(waitFor([&] { return round.driver.find<QPushButton>("pushButton").isEnabled(); }));
        QVERIFY(round.driver.text("intoMain").isEmpty()
                || !round.driver.find<QLabel>("intoMain").isVisible());
        round.driver.click("pushButton");
        QVERIFY(waitFor([&] { return round.driver.find<QLabel>("intoMain").isVisible(); }));
    };
    push();
    QCOMPARE(round.driver.text("intoMain"),
             QStringLiteral("origin/late now merges cleanly into origin/main."));
    // The team's main moves on, in the same line.
    team.teammate().git("switch -q main");
    team.teammateSends("nine", "nine of theirs", "Theirs");
    team.yours().git("fetch -q");
    round.driver.press(Qt::Key_1, Qt::ControlModifier);
    team.youCommit("one", "one of yours", "Mine, again");
    QVERIFY(waitFor([&] {
        return round.driver.find<QTabBar>("surveyTabs").tabText(2) == QStringLiteral("Outgoing 3");
    }));
    push();
    QCOMPARE(round.driver.text("intoMain"),
             QStringLiteral("Merging origin/late into origin/main still gives 1 conflict."));
}

void TestPushRound::mergedBranch_canBeRemoved()
{
    const SharedTeam team;
    team.teammate().git("switch -q -c winter-fees");
    team.teammate().write("fees.txt", "less\n");
    team.teammate().commit("Winter fees");
    team.teammate().git("push -q -u origin winter-fees");
    team.youCommit("two", "two of yours", "Mine");
    team.yours().git("fetch -q");
    Round round(team);
    round.pick("origin/winter-fees");
    round.start("merges cleanly");
    round.record();
    round.goToPush();
    round.push();
    QVERIFY(
        waitFor([&] { return round.driver.find<QPushButton>("removeBranchButton").isVisible(); }));
    QCOMPARE(round.driver.find<QPushButton>("removeBranchButton").text(),
             QStringLiteral("Delete origin/winter-fees"));
    round.driver.click("removeBranchButton");
    QVERIFY(waitFor(
        [&] { return round.driver.text("afterPush").contains(QStringLiteral("is deleted")); }));
    QVERIFY(team.shared("for-each-ref refs/heads/winter-fees").isEmpty());
}

void TestPushRound::nothingToSend_saysSo()
{
    const SharedTeam team;
    Round round(team);
    round.driver.press(Qt::Key_5, Qt::ControlModifier);
    QVERIFY(waitFor([&] {
        return round.driver.text("pushObstacle").contains(QStringLiteral("Nothing to push"));
    }));
    QVERIFY(!round.driver.find<QPushButton>("pushButton").isEnabled());
}

void TestPushRound::carryAcross_staysUncommitted()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("two", "two of theirs", "Theirs");
    team.yours().git("fetch -q");
    team.yours().write("notes.txt", "kept, and more\n");
    Round round(team);
    QVERIFY(round.waitForPlan("decide"));
    QVERIFY(round.driver.find<QRadioButton>("planWork0").isChecked());
    round.start();
    round.decideAll();
    round.driver.press(Qt::Key_4, Qt::ControlModifier);
    QVERIFY(round.driver.text("recordWork").contains(QStringLiteral("carried across")));
    round.record();
    QCOMPARE(team.yours().git("status --porcelain"), QByteArray(" M notes.txt"));
    QCOMPARE(team.yours().read("notes.txt"), QByteArray("kept, and more\n"));
    QCOMPARE(team.yours().git("show HEAD:notes.txt"), QByteArray("kept"));
}

void TestPushRound::carryAcross_clashIsAGroupOfItsOwn()
{
    const SharedTeam team;
    makeClashingWork(team);
    Round round(team);
    round.start("merges cleanly");
    QVERIFY(
        waitFor([&] { return round.driver.status().startsWith(QStringLiteral("1 still open")); }));
    QVERIFY(round.driver.notice().contains(QStringLiteral("uncommitted work conflicts")));
    const auto* model = round.driver.find<QListView>("worklist").model();
    QStringList labels;
    for (int row = 0; row < model->rowCount(); ++row) {
        labels << model->index(row, 0).data().toString();
    }
    QVERIFY2(labels.contains(QStringLiteral("Your uncommitted work")),
             qPrintable(labels.join(QLatin1Char('|'))));
    round.driver.press(Qt::Key_J, Qt::ControlModifier);
    round.take("Ours");
    round.record();
    QVERIFY(team.yours().git("show HEAD:plan.txt").contains("eight of theirs"));
    QCOMPARE(team.yours().git("status --porcelain"), QByteArray(" M plan.txt"));
    QVERIFY(team.yours().read("plan.txt").contains("mine"));
}

void TestPushRound::carryAcross_clashInAFastForward_isForecastAndDecided()
{
    const SharedTeam team;
    team.teammateSends("eight", "eight of theirs", "Theirs");
    team.yours().git("fetch -q");
    QByteArray text = team.yours().read("plan.txt");
    team.yours().write("plan.txt", text.replace("eight", "eight of mine"));
    Round round(team);
    QVERIFY(round.waitForPlan("Move forward"));
    const auto says = [&round](const char* words) {
        const auto labels = round.window.findChildren<QLabel*>();
        return std::any_of(labels.begin(), labels.end(), [words](const QLabel* label) {
            return label->isVisible() && label->text().contains(QLatin1String(words));
        });
    };
    QVERIFY(waitFor([&] { return says("origin/main changes plan.txt, too."); }));
    round.start("Move forward");
    QVERIFY(
        waitFor([&] { return round.driver.status().startsWith(QStringLiteral("1 still open")); }));
    QVERIFY(!team.yours().git("show HEAD:plan.txt").contains("theirs"));
    round.driver.press(Qt::Key_J, Qt::ControlModifier);
    round.take("Ours");
    round.record();
    QCOMPARE(team.yours().git("rev-parse HEAD"), team.yours().git("rev-parse origin/main"));
    QCOMPARE(team.yours().git("status --porcelain"), QByteArray(" M plan.txt"));
    QVERIFY(team.yours().read("plan.txt").contains("eight of mine"));
}

void TestPushRound::carryAcross_isThereAfterARestart()
{
    const SharedTeam team;
    makeClashingWork(team);
    {
        Round round(team);
        round.start("merges cleanly");
        QVERIFY(waitFor(
            [&] { return round.driver.status().startsWith(QStringLiteral("1 still open")); }));
        round.driver.press(Qt::Key_J, Qt::ControlModifier);
        round.take("Ours");
        QVERIFY(round.driver.status().startsWith(QStringLiteral("Nothing is open")));
        QVERIFY(round.window.close());
    }
    Round round(team);
    QVERIFY(waitFor(
        [&] { return round.driver.status().startsWith(QStringLiteral("Nothing is open")); }));
    round.record();
    QVERIFY(team.yours().read("plan.txt").contains("mine"));
}

void TestPushRound::setAside_isBroughtBack()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("eight", "eight of theirs", "Theirs");
    team.yours().git("fetch -q");
    team.yours().write("notes.txt", "kept, and more\n");
    Round round(team);
    QVERIFY(round.waitForPlan("merges"));
    round.choose("planWork2");
    round.start("merges cleanly");
    round.record();
    QVERIFY(team.yours().git("status --porcelain").isEmpty());
    // git alone finds it too.
    QVERIFY(
        team.yours().git("for-each-ref --format=%(refname) refs/rope-splice").contains("/work"));
    round.driver.click("bringWorkBackButton");
    QVERIFY(waitFor(
        [&] { return round.driver.text("recordedTitle") == QStringLiteral("Your work is back"); }));
    QCOMPARE(team.yours().git("status --porcelain"), QByteArray(" M notes.txt"));
    QCOMPARE(team.yours().read("notes.txt"), QByteArray("kept, and more\n"));
    round.driver.press(Qt::Key_1, Qt::ControlModifier);
    QVERIFY(waitFor([&] {
        auto* button = round.window.findChild<QPushButton*>(QStringLiteral("bringWorkBackButton0"));
        return button == nullptr || !button->isVisible();
    }));
}

void TestPushRound::commitFirst_thenPlan()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("eight", "eight of theirs", "Theirs");
    team.yours().git("fetch -q");
    team.yours().write("notes.txt", "kept, and more\n");
    team.yours().write("plan.txt", team.yours().read("plan.txt").replace("five", "five, mine"));
    Round round(team);
    QVERIFY(round.waitForPlan("merges"));
    round.choose("planWork1");
    QVERIFY(round.driver.startLabel().startsWith(QStringLiteral("Choose what")));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(waitFor([&] {
        return round.window.findChild<QTreeWidget*>(QStringLiteral("commitFirstFiles")) != nullptr;
    }));
    auto& files = round.driver.find<QTreeWidget>("commitFirstFiles");
    QCOMPARE(files.topLevelItemCount(), 2);
    files.topLevelItem(1)->setCheckState(0, Qt::Unchecked);
    QVERIFY(!round.driver.find<QPushButton>("commitFirstButton").isEnabled());
    round.driver.find<QPlainTextEdit>("commitFirstMessage")
        .setPlainText(QStringLiteral("More notes"));
    round.driver.click("commitFirstButton");
    QVERIFY(waitFor([&] { return round.driver.notice().startsWith(QStringLiteral("Committed")); }));
    QCOMPARE(team.yours().git("show --format=%s --name-only HEAD"),
             QByteArray("More notes\n\nnotes.txt"));
    QCOMPARE(team.yours().git("status --porcelain"), QByteArray(" M plan.txt"));
    QVERIFY(team.yours().read("plan.txt").contains("five, mine"));
}

/// With nothing to merge there is a way to commit all the same.
void TestPushRound::commit_whereNothingComesIn()
{
    const SharedTeam team;
    team.yours().write("notes.txt", "kept, and more\n");
    Round round(team);
    QVERIFY(
        waitFor([&] { return round.driver.find<QPushButton>("commitWorkButton").isVisible(); }));
    QVERIFY(!round.driver.canStart());
    round.driver.click("commitWorkButton");
    QVERIFY(waitFor([&] {
        return round.window.findChild<QPlainTextEdit*>(QStringLiteral("commitFirstMessage"))
               != nullptr;
    }));
    round.driver.find<QPlainTextEdit>("commitFirstMessage")
        .setPlainText(QStringLiteral("More notes"));
    round.driver.click("commitFirstButton");
    QVERIFY(waitFor([&] { return round.driver.notice().startsWith(QStringLiteral("Committed")); }));
    QCOMPARE(team.yours().git("show --format=%s --name-only HEAD"),
             QByteArray("More notes\n\nnotes.txt"));
    QVERIFY(
        waitFor([&] { return !round.driver.find<QPushButton>("commitWorkButton").isVisible(); }));
}

/// Right after recording, as long as nobody else has it.
void TestPushRound::recorded_isRolledBack_untilItIsPushed()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("eight", "eight of theirs", "Theirs");
    team.yours().git("fetch -q");
    const QByteArray before = team.yours().git("rev-parse main");
    Round round(team);
    round.start("merges");
    round.record();
    QVERIFY(team.yours().git("rev-parse main") != before);
    round.driver.click("rollBackRecordedButton");
    QVERIFY(waitFor([&] { return team.yours().git("rev-parse main") == before; }));
    QCOMPARE(team.yours().git("status --porcelain"), QByteArray());
    round.driver.press(Qt::Key_1, Qt::ControlModifier);
    round.start("merges");
    round.record();
    QVERIFY(round.driver.find<QPushButton>("rollBackRecordedButton").isVisible());
    team.yours().git("push -q");
    QVERIFY(waitFor(
        [&] { return round.driver.find<QPushButton>("rollBackRecordedButton").isHidden(); }));
}

void TestPushRound::commitFirst_someChangesOfAFile()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("eight", "eight of theirs", "Theirs");
    team.yours().git("fetch -q");
    team.yours().write(
        "plan.txt",
        team.yours().read("plan.txt").replace("five", "five, mine").replace("nine", "nine, mine"));
    Round round(team);
    QVERIFY(round.waitForPlan("merges"));
    round.choose("planWork1");
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(waitFor([&] {
        return round.window.findChild<QTreeWidget*>(QStringLiteral("commitFirstFiles")) != nullptr;
    }));
    auto& files = round.driver.find<QTreeWidget>("commitFirstFiles");
    QCOMPARE(files.topLevelItem(0)->childCount(), 2);
    QCOMPARE(files.topLevelItem(0)->child(1)->text(0), QStringLiteral("line 9: nine, mine"));
    files.topLevelItem(0)->child(0)->setCheckState(0, Qt::Unchecked);
    round.driver.find<QPlainTextEdit>("commitFirstMessage").setPlainText(QStringLiteral("Nine"));
    round.driver.click("commitFirstButton");
    QVERIFY(waitFor([&] { return round.driver.notice().startsWith(QStringLiteral("Committed")); }));
    QVERIFY(team.yours().git("show HEAD:plan.txt").contains("five\nsix"));
    QVERIFY(team.yours().git("show HEAD:plan.txt").contains("nine, mine"));
    QVERIFY(team.yours().read("plan.txt").contains("five, mine"));
    QCOMPARE(team.yours().git("status --porcelain"), QByteArray(" M plan.txt"));
}

void TestPushRound::fileInTheWay_isKeptBeside()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammate().write("added.txt", "of theirs\n");
    team.teammateSends("eight", "eight of theirs", "Theirs");
    team.yours().git("fetch -q");
    team.yours().write("added.txt", "nobody's\n");
    Round round(team);
    round.start("merges cleanly");
    QVERIFY(waitFor([&] {
        return round.driver.isAt("recordKnot")
               && round.driver.find<QPushButton>("recordButton").isEnabled();
    }));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(waitFor([&] { return round.driver.notice().contains(QStringLiteral("added.txt")); }));
    round.driver.click("noticeActionButton");
    QVERIFY(
        waitFor([&] { return round.driver.notice().contains(QStringLiteral("added.txt.mine")); }));
    round.record();
    QCOMPARE(team.yours().read("added.txt"), QByteArray("of theirs\n"));
    QCOMPARE(team.yours().read("added.txt.mine"), QByteArray("nobody's\n"));
}

void TestPushRound::fastForward_movesTheBranch()
{
    const SharedTeam team;
    team.teammateSends("eight", "eight of theirs", "Theirs");
    team.yours().git("fetch -q");
    team.yours().write("notes.txt", "kept, and more\n");
    Round round(team);
    const QByteArray before = team.yours().git("rev-parse HEAD");
    round.start("Move forward: 1 commit");
    QCOMPARE(team.yours().git("rev-parse HEAD"), before);  // it is looked at first
    round.record();
    QCOMPARE(team.yours().git("rev-parse HEAD"), team.yours().git("rev-parse origin/main"));
    QCOMPARE(team.yours().git("status --porcelain"), QByteArray(" M notes.txt"));
    QVERIFY(team.yours().read("plan.txt").contains("eight of theirs"));
    QVERIFY(waitFor(
        [&] { return round.driver.notice().contains(QStringLiteral("moved forward from")); }));
    round.driver.click("noticeActionButton");
    QVERIFY(waitFor([&] { return team.yours().git("rev-parse HEAD") == before; }));
    QVERIFY(waitFor([&] { return team.yours().git("status --porcelain") == " M notes.txt"; }));
}

void TestPushRound::fastForward_asAMergeCommit()
{
    const SharedTeam team;
    team.teammateSends("eight", "eight of theirs", "Theirs");
    team.yours().git("fetch -q");
    Round round(team);
    QVERIFY(round.waitForPlan("Move forward"));
    round.choose("planMethod0");
    round.start("merges cleanly");
    round.record();
    QCOMPARE(team.yours().git("rev-list --count --merges HEAD"), QByteArray("1"));
    QCOMPARE(team.yours().git("rev-parse HEAD^{tree}"),
             team.yours().git("rev-parse origin/main^{tree}"));
}

void TestPushRound::editedMeanwhile_isJoinedAgain()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("eight", "eight of theirs", "Theirs");
    team.yours().git("fetch -q");
    team.yours().write("notes.txt", "kept, and more\n");
    Round round(team);
    round.start("merges cleanly");
    round.driver.press(Qt::Key_4, Qt::ControlModifier);
    QVERIFY(waitFor([&] { return round.driver.find<QPushButton>("recordButton").isEnabled(); }));
    QTest::qWait(300);
    team.yours().write("notes.txt", "kept, and much more\n");
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(waitFor([&] {
        return round.driver.notice().contains(QStringLiteral("has changed since it was merged"))
               || round.driver.find<QLabel>("recordedTitle").isVisible();
    }));
    if (!round.driver.find<QLabel>("recordedTitle").isVisible()) {
        round.record();
    }
    QCOMPARE(team.yours().read("notes.txt"), QByteArray("kept, and much more\n"));
    QCOMPARE(team.yours().git("status --porcelain"), QByteArray(" M notes.txt"));
}

void TestPushRound::openedAgain_whileWorkIsJoined_joinsIt()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("eight", "eight of theirs", "Theirs");
    team.yours().git("fetch -q");
    team.yours().write("notes.txt", "kept, and more\n");
    Round round(team);
    round.start("merges cleanly");
    QTest::qWait(215);  // deciding has paused: it is being joined
    round.window.openRepository(team.yours().folder());
    QVERIFY(waitFor([&] { return round.driver.isAt("surveyKnot"); }));
    QVERIFY(waitFor([&] { return round.isUnderWay(); }));
    round.record();
    QCOMPARE(team.yours().git("status --porcelain"), QByteArray(" M notes.txt"));
}

void TestPushRound::clone_fromTheStartPage_opens()
{
    const SharedTeam team;
    Window window;
    WindowDriver driver(window);
    driver.show();
    driver.press(Qt::Key_N, Qt::ControlModifier);
    auto& address = driver.find<QLineEdit>("cloneAddress");
    QVERIFY(address.hasFocus());
    QTest::keyClicks(&address, team.address());
    auto& folder = driver.find<QLineEdit>("cloneFolder");
    QVERIFY(folder.text().endsWith(QStringLiteral("/shared")));
    folder.setFocus();
    QVERIFY(waitFor([&] {
        return driver.text("cloneAnswer")
               == QStringLiteral("The address answers: 1 branch, main is the one it starts with.");
    }));
    folder.setText(team.folder() + QStringLiteral("/yours"));
    QVERIFY(!driver.find<QPushButton>("cloneButton").isEnabled());
    QVERIFY(driver.text("cloneFolderWords").contains(QStringLiteral("is there already")));
    folder.setText(team.folder() + QStringLiteral("/new"));
    driver.click("cloneButton");
    QVERIFY(waitFor([&] { return driver.isAt("surveyKnot"); }));
    QVERIFY(waitFor([&] { return window.windowTitle().startsWith(QStringLiteral("new")); }));
    QCOMPARE(SharedTeam::Clone(team.folder() + QStringLiteral("/new")).git("rev-parse HEAD"),
             team.shared("rev-parse main"));
}

void TestPushRound::clone_badAddress_saysSo()
{
    Window window;
    WindowDriver driver(window);
    driver.show();
    auto& address = driver.find<QLineEdit>("cloneAddress");
    address.setFocus();
    QTest::keyClicks(&address, QStringLiteral("/no/such/place"));
    driver.find<QLineEdit>("cloneFolder").setFocus();
    QVERIFY(waitFor(
        [&] { return driver.text("cloneAnswer").contains(QStringLiteral("is not there")); }));
}

void TestPushRound::collisions_areWorkedOut()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("two", "two of theirs", "Theirs");
    team.yours().git("fetch -q");
    Round round(team);
    QVERIFY(round.waitForPlan("decide"));
    round.driver.find<QTabBar>("surveyViews").setCurrentIndex(1);
    QVERIFY(waitFor([&] {
        return round.driver.text("collisionProgress") == QStringLiteral("All 1 pairs are known.");
    }));
    QCOMPARE(round.driver.text("collisionSummary"), QStringLiteral("1 pair conflicts, in 1 place"));
    QVERIFY(round.driver.status().contains(QStringLiteral("1 of 1 known pairs conflict")));
}

void TestPushRound::incomingCommit_isRead()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("two", "two of theirs", "Theirs, with\n\na reason");
    team.yours().git("fetch -q");
    Round round(team);
    QVERIFY(round.waitForPlan("decide"));
    round.driver.find<QTabBar>("surveyTabs").setCurrentIndex(1);
    auto& files = round.driver.find<QListWidget>("incomingReaderFiles");
    QVERIFY(waitFor([&] { return files.count() == 1; }));
    QCOMPARE(files.item(0)->text(), QStringLiteral("plan.txt  +1 −1"));
    const auto& reader = round.driver.find<QWidget>("incomingReader");
    QVERIFY(reader.findChild<QLabel*>(QStringLiteral("commitMessage"))
                ->text()
                .endsWith(QStringLiteral("a reason")));
}

void TestPushRound::overlap_opensBothChanges()
{
    const SharedTeam team;
    team.youCommit("two", "two of yours", "Mine");
    team.teammateSends("two", "two of theirs", "Theirs");
    team.yours().git("fetch -q");
    Round round(team);
    QVERIFY(round.waitForPlan("decide"));
    auto& table = round.driver.find<QAbstractItemView>("overlapTable");
    table.setFocus();
    round.driver.press(Qt::Key_Down);
    QVERIFY(waitFor([&] {
        return round.driver.text("overlapOursTitle") == QStringLiteral("ours · main · +1 −1");
    }));
    QCOMPARE(round.driver.text("overlapTheirsTitle"),
             QStringLiteral("theirs · origin/main · +1 −1"));
    const auto texts = round.driver.find<QWidget>("overlapTheirsChange").findChildren<QTextEdit*>();
    QCOMPARE(texts.size(), qsizetype{1});
    QVERIFY(texts.front()->toPlainText().contains(QStringLiteral("two of theirs")));
    QVERIFY(!texts.front()->toPlainText().contains(QStringLiteral("two of yours")));
}

void TestPushRound::password_isAskedInTheWindow()
{
    const SharedTeam team;
    team.shared("config http.receivepack true");
    QDir().mkpath(team.folder() + QStringLiteral("/private"));
    QVERIFY(QFile::link(team.address(), team.folder() + QStringLiteral("/private/shared.git")));
    rope::test::RemoteServers servers(team.folder());
    const QString address = servers.startHttp() + QStringLiteral("private/shared.git");
    team.yours().git(
        {QStringLiteral("remote"), QStringLiteral("set-url"), QStringLiteral("origin"), address});
    team.youCommit("two", "two of yours", "Mine");
    Round round(team);
    round.goToPush();
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    int asked = 0;
    QVERIFY(waitFor(
        [&] {
            if (auto* dialog = round.window.findChild<QDialog*>(QStringLiteral("askDialog"));
                dialog != nullptr && dialog->isVisible()) {
                auto* field = dialog->findChild<QLineEdit*>();
                const bool isSecret = field->echoMode() == QLineEdit::Password;
                field->setText(isSecret ? QStringLiteral("benpw") : QStringLiteral("ben"));
                ++asked;
                dialog->accept();
            }
            return round.driver.find<QWidget>("pushAnswer").isVisible();
        },
        30'000));
    QVERIFY2(round.answer().contains(QStringLiteral("same as yours")), qPrintable(round.answer()));
    QVERIFY(asked >= 2);
    QCOMPARE(team.shared("rev-parse main"), team.yours().git("rev-parse HEAD"));
}

ROPE_TESTS(TestPushRound, rope::test::WindowApplication)
#include "tst_push_round.moc"
