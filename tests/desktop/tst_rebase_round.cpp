// SPDX-License-Identifier: GPL-3.0-or-later
// A rebase in the window, from the plan to what was recorded, on real repositories.
#include "desktop/widgets/theme.h"
#include "tests/support/shared_team.h"
#include "tests/support/window_application.h"
#include "tests/support/window_driver.h"

#include <QLabel>
#include <QListView>
#include <QRadioButton>
#include <QSettings>
#include <QTableView>
#include <Qsci/qsciscintilla.h>

using namespace rope;
using namespace rope::test;

namespace {
/// Three commits of yours: the first clashes with theirs, the second is in theirs already beside more,
/// the third goes on from the first.
class Team : public SharedTeam
{
public:
    Team()
    {
        youCommit("two", "two yours", "Name the second");
        youCommit("five", "five of both", "Name the fifth");
        youCommit("two yours", "two yours, at last", "Name the second at last");
        teammate().write("plan.txt",
                         teammate()
                             .read("plan.txt")
                             .replace("two", "two theirs")
                             .replace("five", "five of both")
                             .replace("nine", "NINE"));
        teammate().commit("Name all of them");
        teammate().git("push -q origin HEAD");
    }
    [[nodiscard]] QByteArray log(const char* format) const
    {
        return yours().git({QStringLiteral("log"),
                            QStringLiteral("--reverse"),
                            QStringLiteral("--format=") + QString::fromUtf8(format),
                            QStringLiteral("origin/main..main")});
    }
};

class OpenRebase
{
public:
    explicit OpenRebase(const QString& folder)
        : driver(window)
    {
        window.resize(1280, 800);
        driver.show();
        window.openRepository(folder);
    }

    /// With what the remote has now.
    [[nodiscard]] bool plan()
    {
        if (!driver.waitFor([&] { return driver.find<QLabel>("planWhat").text().size() > 0; })) {
            return false;
        }
        driver.press(Qt::Key_R, Qt::ControlModifier);
        return driver.waitFor([&] { return isRebasePossible(); });
    }
    [[nodiscard]] bool isRebasePossible()
    {
        const auto* button = window.findChild<QRadioButton*>(QStringLiteral("planMethod1"));
        return button != nullptr && button->isEnabled()
               && !button->accessibleDescription().contains(QStringLiteral("reckoned"));
    }
    [[nodiscard]] QString consequence()
    {
        return driver.find<QRadioButton>("planMethod1").accessibleDescription();
    }
    void chooseRebase()
    {
        auto& button = driver.find<QRadioButton>("planMethod1");
        QTest::mouseClick(&button, Qt::LeftButton, {}, QPoint(8, button.height() / 2));
        QApplication::processEvents();
    }
    [[nodiscard]] bool start()
    {
        if (!plan()) {
            return false;
        }
        chooseRebase();
        if (!driver.waitFor([&] { return driver.canStart(); })) {
            return false;
        }
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        return driver.waitFor([&] { return driver.isAt("resolveKnot"); });
    }
    /// The first commit for theirs, and the third, which meets what that made, for yours.
    [[nodiscard]] bool decideBoth()
    {
        driver.press(Qt::Key_T, Qt::AltModifier);
        const bool isAsked = waitForRow(QStringLiteral("3 of 3: Name the second at last 1 open"));
        driver.press(Qt::Key_J, Qt::ControlModifier);
        driver.take("Ours");
        return isAsked;
    }
    /// Rows of the worklist, as a screen reader gets them.
    [[nodiscard]] QStringList rows()
    {
        const auto* model = driver.find<QListView>("worklist").model();
        QStringList all;
        for (int row = 0; row < model->rowCount(); ++row) {
            all << model->index(row, 0).data(Qt::AccessibleTextRole).toString().simplified();
        }
        return all;
    }
    [[nodiscard]] bool waitForRow(const QString& words)
    {
        const bool isThere =
            driver.waitFor([&] { return !rows().filter(words).isEmpty(); }, 20'000);
        if (!isThere) {
            qWarning() << rows();
        }
        return isThere;
    }
    void clickRow(const QString& words, int which = 0)
    {
        auto& list = driver.find<QListView>("worklist");
        const QStringList all = rows();
        for (int row = 0; row < all.size(); ++row) {
            if (all[row].contains(words) && which-- == 0) {
                list.scrollTo(list.model()->index(row, 0));
                QTest::mouseClick(list.viewport(),
                                  Qt::LeftButton,
                                  {},
                                  list.visualRect(list.model()->index(row, 0)).center());
                QApplication::processEvents();
                return;
            }
        }
        qFatal("no row %s", qPrintable(words));
    }
    Window window;
    WindowDriver driver;
};
}  // namespace

class TestRebaseRound : public QObject
{
    Q_OBJECT
private slots:
    void init();
    void threeCommits_secondBecomesEmpty_firstIsDecidedAgain();
    void undo_bringsDecisionsOfLaterCommitsBack();
    void resume_findsEveryDecision();
    void cleanRebase_isRecordedAtOnce_andSent();
    void shared_commitsAreWarnedOf();
    void nothingLeft_movesTheBranch();
    void uncommittedWork_isCarriedAcross();
    void check_readsWhatTheRebaseEndsIn();
};

void TestRebaseRound::init()
{
    QSettings().clear();
}

void TestRebaseRound::threeCommits_secondBecomesEmpty_firstIsDecidedAgain()
{
    const Team team;
    const QByteArray before = team.yours().git("rev-parse main");
    OpenRebase open(team.yours().folder());
    QVERIFY(open.plan());
    QVERIFY2(open.consequence().contains(QStringLiteral("Rewrites your 3 commits")),
             qPrintable(open.consequence()));
    QVERIFY2(open.consequence().contains(QStringLiteral("1 becomes empty")),
             qPrintable(open.consequence()));
    QVERIFY(open.start());
    QVERIFY(open.waitForRow(QStringLiteral("1 of 3: Name the second")));
    QVERIFY(open.waitForRow(QStringLiteral("2 of 3: Name the fifth empty, skipped")));
    QCOMPARE(team.yours().git("rev-parse main"), before);
    // The first for theirs; then the third meets what that made.
    QVERIFY(open.decideBoth());
    QVERIFY(open.driver.waitFor(
        [&] { return open.driver.status().contains(QStringLiteral("Nothing is open")); }));
    // The first is decided again, for yours: then the third fits by itself.
    open.clickRow(QStringLiteral("two"));
    QVERIFY(open.driver.waitFor([&] { return open.driver.isAt("resolveKnot"); }));
    open.driver.take("Ours");
    QVERIFY(open.driver.waitFor([&] {
        return open.rows()
                   .filter(QStringLiteral("3 of 3: Name the second at last 1 open"))
                   .isEmpty()
               && open.driver.status().contains(QStringLiteral("Nothing is open"));
    }));
    open.driver.press(Qt::Key_4, Qt::ControlModifier);
    QVERIFY(open.driver.isAt("recordKnot"));
    QVERIFY(open.driver.waitFor(
        [&] { return open.driver.find<QPushButton>("recordButton").isEnabled(); }));
    QCOMPARE(team.yours().git("rev-parse main"), before);
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(open.driver.waitFor([&] {
        return open.driver.text("recordedTitle") == QStringLiteral("2 commits rewritten");
    }));
    QVERIFY(open.driver.text("recordedDetails")
                .contains(QStringLiteral("left out: its change is there already")));
    QCOMPARE(team.log("%s"), QByteArray("Name the second\nName the second at last"));
    QVERIFY(
        open.driver.text("recordedDetails").contains(QString::fromUtf8(before.left(7)).left(6)));
    QCOMPARE(team.yours().read("plan.txt"),
             QByteArray("one\ntwo yours, at last\nthree\nfour\nfive of both\nsix\nseven\neight\n"
                        "NINE\n"));
    QCOMPARE(team.yours().git("status --porcelain"), QByteArray());
    team.yours().git("fsck --strict");
}

void TestRebaseRound::undo_bringsDecisionsOfLaterCommitsBack()
{
    const Team team;
    OpenRebase open(team.yours().folder());
    QVERIFY(open.start());
    QVERIFY(open.decideBoth());
    const auto isAllDecided = [&] {
        return open.driver.status().contains(QStringLiteral("Nothing is open"));
    };
    QVERIFY(open.driver.waitFor(isAllDecided));
    const QStringList decided = open.rows();
    open.clickRow(QStringLiteral("two"));
    open.driver.take("Ours");
    QVERIFY(open.driver.waitFor([&] { return open.rows() != decided; }));
    QTest::qWait(600);  // later commits are laid anew when deciding pauses
    open.driver.press(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(open.driver.waitFor(isAllDecided));
    if (!open.driver.waitFor([&] { return open.rows() == decided; }, 10'000)) {
        qWarning() << open.rows() << decided;
        QFAIL("the decision did not come back");
    }
}

void TestRebaseRound::resume_findsEveryDecision()
{
    const Team team;
    QStringList decided;
    {
        OpenRebase open(team.yours().folder());
        QVERIFY(open.start());
        QVERIFY(open.decideBoth());
        QVERIFY(open.driver.waitFor(
            [&] { return open.driver.status().contains(QStringLiteral("Nothing is open")); }));
        QTest::qWait(600);
        decided = open.rows();
    }
    OpenRebase again(team.yours().folder());
    QVERIFY(again.driver.waitFor([&] { return again.driver.isAt("resolveKnot"); }));
    QVERIFY(again.driver.waitFor([&] { return again.rows() == decided; }));
}

void TestRebaseRound::cleanRebase_isRecordedAtOnce_andSent()
{
    const SharedTeam team;
    team.youCommit("two", "two yours", "Name the second");
    team.teammateSends("nine", "NINE", "Shout the last");
    OpenRebase open(team.yours().folder());
    QVERIFY(open.plan());
    QVERIFY2(open.consequence().contains(QStringLiteral("same files as the merge")),
             qPrintable(open.consequence()));
    open.chooseRebase();
    QVERIFY(open.driver.waitFor([&] { return open.driver.canStart(); }));
    QCOMPARE(open.driver.startLabel(), QStringLiteral("Start: merges cleanly"));
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(open.driver.waitFor([&] { return open.driver.isAt("recordKnot"); }));
    QVERIFY(open.driver.waitFor(
        [&] { return open.driver.find<QPushButton>("recordButton").isEnabled(); }));
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(open.driver.waitFor(
        [&] { return open.driver.text("recordedTitle") == QStringLiteral("1 commit rewritten"); }));
    QCOMPARE(team.yours().git("log --format=%s -2"), QByteArray("Name the second\nShout the last"));
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(open.driver.waitFor([&] { return open.driver.isAt("pushKnot"); }));
    QVERIFY(open.driver.waitFor(
        [&] { return open.driver.find<QPushButton>("pushButton").isEnabled(); }));
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(open.driver.waitFor(
        [&] { return team.shared("log --format=%s -1 main") == "Name the second"; }));
}

void TestRebaseRound::shared_commitsAreWarnedOf()
{
    const SharedTeam team;
    team.youCommit("two", "two yours", "Name the second");
    team.yours().git("push -q origin HEAD:review");
    team.teammateSends("nine", "NINE", "Shout the last");
    OpenRebase open(team.yours().folder());
    QVERIFY(open.plan());
    QVERIFY2(open.consequence().contains(QStringLiteral("1 commit is on origin/review already")),
             qPrintable(open.consequence()));
}

void TestRebaseRound::nothingLeft_movesTheBranch()
{
    const SharedTeam team;
    team.youCommit("two", "two of both", "Name the second");
    team.teammateSends("two", "two of both", "The same, made again");
    OpenRebase open(team.yours().folder());
    QVERIFY(open.plan());
    open.chooseRebase();
    QVERIFY(open.driver.waitFor(
        [&] { return open.driver.startLabel() == QStringLiteral("Move to theirs"); }));
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(open.driver.waitFor([&] {
        return team.yours().git("rev-parse main") == team.yours().git("rev-parse origin/main");
    }));
    QCOMPARE(team.yours().git("status --porcelain"), QByteArray());
}

void TestRebaseRound::uncommittedWork_isCarriedAcross()
{
    const Team team;
    team.yours().write("plan.txt", team.yours().read("plan.txt").replace("seven", "seven, soon"));
    OpenRebase open(team.yours().folder());
    QVERIFY(open.start());
    QVERIFY(open.decideBoth());
    open.driver.press(Qt::Key_4, Qt::ControlModifier);
    QVERIFY(open.driver.waitFor([&] {
        return open.driver.isAt("recordKnot")
               && open.driver.find<QPushButton>("recordButton").isEnabled();
    }));
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(open.driver.waitFor(
        [&] { return open.driver.text("recordedTitle") == QStringLiteral("1 commit rewritten"); }));
    QVERIFY(open.driver.waitFor(
        [&] { return team.yours().git("status --porcelain") == " M plan.txt"; }));
    QVERIFY(team.yours().read("plan.txt").contains("seven, soon"));
    QVERIFY(!team.yours().git("show main:plan.txt").contains("soon"));
}

void TestRebaseRound::check_readsWhatTheRebaseEndsIn()
{
    const Team team;
    OpenRebase open(team.yours().folder());
    QVERIFY(open.start());
    QVERIFY(open.decideBoth());
    open.driver.press(Qt::Key_3, Qt::ControlModifier);
    QVERIFY(open.driver.waitFor([&] { return open.driver.isAt("checkKnot"); }));
    QVERIFY(open.driver.waitFor([&] {
        return open.driver.find<QsciScintilla>("read:codeEditor")
            .text()
            .contains(QStringLiteral("NINE"));
    }));
    QVERIFY(open.driver.find<QsciScintilla>("read:codeEditor")
                .text()
                .contains(QStringLiteral("at last")));
    QVERIFY(open.driver.find<QsciScintilla>("read:codeEditor").isReadOnly());
}

ROPE_TESTS(TestRebaseRound, rope::test::WindowApplication)
#include "tst_rebase_round.moc"
