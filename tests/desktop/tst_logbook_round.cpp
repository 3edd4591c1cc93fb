// SPDX-License-Identifier: GPL-3.0-or-later
// The logbook in the window, on real repositories: what was decided, rolling back and forward, reopening
// before and after the push, taking out again.
#include "desktop/facts/logbook_view.h"
#include "desktop/widgets/theme.h"
#include "tests/support/shared_team.h"
#include "tests/support/window_application.h"
#include "tests/support/window_driver.h"

#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QRadioButton>
#include <QSettings>
#include <QTabBar>

using namespace rope;
using namespace rope::test;

namespace {
constexpr const char* kOurs = "one\ntwo yours\nthree\nfour\nfive\nsix\nseven\neight\nnine\n";
constexpr const char* kTheirs = "one\ntwo theirs\nthree\nfour\nfive\nsix\nseven\neight\nnine\n";

/// Both have named the second line; a window in which that is joined.
class Round
{
public:
    Round()
        : driver(window)
    {
        team.youCommit("two", "two yours", "Name the second");
        team.teammateSends("two", "two theirs", "Name the second as well");
        team.yours().git("fetch -q");
        before = team.yours().git("rev-parse main");
        window.resize(1280, 800);
        driver.show();
        window.openRepository(team.yours().folder());
    }

    [[nodiscard]] QByteArray tip() const { return team.yours().git("rev-parse main"); }
    [[nodiscard]] QByteArray text() const { return team.yours().git("show main:plan.txt") + '\n'; }

    /// Decides for the candidate, and records.
    [[nodiscard]] bool join(const char* candidate)
    {
        if (!driver.waitFor([&] { return driver.canStart(); })) {
            return false;
        }
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        return driver.waitFor([&] { return driver.isAt("resolveKnot"); }) && decide(candidate);
    }
    /// The same with one more commit of yours, as a rebase.
    [[nodiscard]] bool rebase(const char* candidate)
    {
        team.youCommit("nine", "nine yours", "Name the ninth");
        const bool isThere = driver.waitFor([&] {
            const auto* method = window.findChild<QRadioButton*>(QStringLiteral("planMethod1"));
            return method != nullptr && method->isEnabled() && driver.canStart()
                   && driver.find<QTabBar>("surveyTabs").tabText(2) == QStringLiteral("Outgoing 2");
        });
        if (!isThere) {
            return false;
        }
        auto& method = driver.find<QRadioButton>("planMethod1");
        QTest::mouseClick(&method, Qt::LeftButton, {}, QPoint(8, method.height() / 2));
        return join(candidate);
    }
    /// Another one may have been looked at before.
    void chooseFirst()
    {
        auto& list = driver.find<QListView>("spliceList");
        const QRect first = list.visualRect(list.model()->index(0, 0));
        QTest::mouseClick(list.viewport(), Qt::LeftButton, {}, first.center());
    }
    /// Opens again what the logbook's first row tells of in these words.
    [[nodiscard]] bool reopen(const QString& words)
    {
        if (!openLogbook(words)) {
            return false;
        }
        chooseFirst();
        const bool canReopen = driver.waitFor(
            [&] { return driver.text("reopenWords").contains(QStringLiteral("recorded on top")); });
        if (!canReopen) {
            return false;
        }
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        return driver.waitFor([&] { return driver.isAt("resolveKnot"); });
    }
    [[nodiscard]] bool decide(const char* candidate)
    {
        driver.take(candidate);
        return record();
    }
    [[nodiscard]] bool record()
    {
        driver.press(Qt::Key_4, Qt::ControlModifier);
        const bool isReady = driver.waitFor([&] {
            return driver.isAt("recordKnot")
                   && driver.find<QPushButton>("recordButton").isEnabled();
        });
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        return isReady && driver.waitFor([&] {
            const QString title = driver.text("recordedTitle");
            return (title.startsWith(QStringLiteral("Recorded as"))
                    || title.contains(QStringLiteral("rewritten")))
                   && driver.find<QLabel>("recordedTitle").isVisible();
        });
    }
    [[nodiscard]] bool push()
    {
        driver.press(Qt::Key_5, Qt::ControlModifier);
        const bool canPush = driver.waitFor([&] {
            return driver.isAt("pushKnot") && driver.find<QPushButton>("pushButton").isEnabled();
        });
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        return canPush && driver.waitFor([&] { return team.shared("rev-parse main") == tip(); });
    }
    /// Opens the logbook; waits for a first row with these words.
    [[nodiscard]] bool openLogbook(const QString& words)
    {
        if (!driver.find<QListView>("spliceList").isVisible()) {
            driver.press(Qt::Key_L, Qt::ControlModifier);
        }
        const bool isThere = driver.waitFor([&] { return row(0).contains(words); }, 20'000);
        if (!isThere) {
            qWarning() << row(0) << row(1);
        }
        return isThere;
    }
    [[nodiscard]] QString row(int index)
    {
        const auto* model = driver.find<QListView>("spliceList").model();
        return index < model->rowCount()
                   ? model->index(index, 0).data(Qt::AccessibleTextRole).toString()
                   : QString();
    }
    [[nodiscard]] QString decision(int index)
    {
        const auto* model = driver.find<QListView>("loggedDecisions").model();
        return index < model->rowCount()
                   ? model->index(index, 0).data(Qt::AccessibleTextRole).toString()
                   : QString();
    }

    SharedTeam team;
    QByteArray before;
    Window window;
    WindowDriver driver;
};
}  // namespace

class TestLogbookRound : public QObject
{
    Q_OBJECT
private slots:
    void init();
    void lists_whatWasDecided_andOffered();
    void filter_findsByWords();
    void rollBack_andForward();
    void rollBack_carriesUncommittedWork();
    void rollBack_withLaterCommits_namesThem();
    void reopenUnsent_takesItsPlace();
    void reopenUnsent_carriesLaterCommitsAlong();
    void reopenSent_goesOnTop();
    void reopenSent_isJoinedToLaterCommits();
    void reopenSentRebase_goesOnTop();
    void sent_isTakenOutAgain();
    void sentRebase_isTakenOutAgain();
    void sent_onlyCommitsAreTakenOut();
    void putAway_isBroughtBack();
    void abandoned_isOfferedNoMore_butTheLogbookBringsItBack();
    void keptWorkOfNoJournal_isBroughtBack_andDeletedWhenToldTo();
    void unknownJournal_isAskedAboutOnce();
    void rollBack_thatCannotBe_changesNothing();
};

void TestLogbookRound::init()
{
    QSettings().clear();
}

void TestLogbookRound::lists_whatWasDecided_andOffered()
{
    Round round;
    QVERIFY(round.driver.waitFor([&] { return round.driver.canStart(); }));
    QVERIFY(round.openLogbook(QString()));
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("logbookNote").contains(QStringLiteral("No splice yet"));
    }));
    round.driver.press(Qt::Key_L, Qt::ControlModifier);
    QVERIFY(round.driver.isAt("surveyKnot"));
    QVERIFY(round.join("Ours"));
    QVERIFY(round.openLogbook(QStringLiteral("origin/main into main, merge commit")));
    QVERIFY(round.row(0).contains(QStringLiteral("1 decided, recorded")));
    QVERIFY(round.driver.waitFor([&] { return !round.decision(0).isEmpty(); }));
    QVERIFY2(round.decision(0).contains(QStringLiteral("plan.txt, line 2")),
             qPrintable(round.decision(0)));
    QVERIFY(round.decision(0).contains(QStringLiteral("Also offered: ")));
    QVERIFY2(round.decision(0).contains(QStringLiteral("Base")), qPrintable(round.decision(0)));
}

void TestLogbookRound::filter_findsByWords()
{
    Round round;
    QVERIFY(round.join("Theirs"));
    QVERIFY(round.openLogbook(QStringLiteral("merge commit")));
    auto& filter = round.driver.find<QLineEdit>("logbookFilter");
    const auto rows = [&] {
        return round.driver.find<QListView>("spliceList").model()->rowCount();
    };
    for (const char* const words : {"plan.txt", "Otieno", "origin/main", "recorded", "plan main"}) {
        filter.setText(QString::fromUtf8(words));
        QCOMPARE(rows(), 1);
    }
    filter.setText(QString::fromUtf8(round.tip().left(9)));
    QCOMPARE(rows(), 1);
    filter.setText(QStringLiteral("plan.txt nowhere"));
    QCOMPARE(rows(), 0);
    QVERIFY(round.driver.text("logbookNote").contains(QStringLiteral("No splice has")));
}

void TestLogbookRound::rollBack_andForward()
{
    Round round;
    QVERIFY(round.join("Theirs"));
    const QByteArray joined = round.tip();
    QVERIFY(round.openLogbook(QStringLiteral("recorded")));
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.find<QPushButton>("rollBackButton").isEnabled(); }));
    round.driver.click("rollBackButton");
    QVERIFY(round.driver.waitFor([&] { return round.tip() == round.before; }));
    QCOMPARE(round.team.yours().git("status --porcelain"), QByteArray());
    QCOMPARE(round.team.yours().read("plan.txt"), QByteArray(kOurs));
    QVERIFY(round.openLogbook(QStringLiteral("rolled back")));
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.find<QPushButton>("rollBackButton").text()
               == QStringLiteral("Bring back");
    }));
    // Nothing lets the commit go meanwhile.
    round.team.yours().git("reflog expire --expire=now --all");
    round.team.yours().git("gc -q --prune=now");
    round.driver.click("rollBackButton");
    QVERIFY(round.driver.waitFor([&] { return round.tip() == joined; }));
    QCOMPARE(round.team.yours().git("status --porcelain"), QByteArray());
    QVERIFY(round.openLogbook(QStringLiteral("recorded")));
}

void TestLogbookRound::rollBack_carriesUncommittedWork()
{
    Round round;
    QVERIFY(round.join("Theirs"));
    round.team.yours().write("notes.txt", "kept, and more\n");
    QVERIFY(round.openLogbook(QStringLiteral("recorded")));
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.find<QPushButton>("rollBackButton").isEnabled(); }));
    round.driver.click("rollBackButton");
    QVERIFY(round.driver.waitFor([&] { return round.tip() == round.before; }));
    QVERIFY(round.driver.waitFor(
        [&] { return round.team.yours().git("status --porcelain") == " M notes.txt"; }));
    QCOMPARE(round.team.yours().read("notes.txt"), QByteArray("kept, and more\n"));
}

void TestLogbookRound::rollBack_withLaterCommits_namesThem()
{
    Round round;
    QVERIFY(round.join("Theirs"));
    round.team.youCommit("nine", "nine, later", "Go on from there");
    QVERIFY(round.openLogbook(QStringLiteral("recorded")));
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("rollBackWords").contains(QStringLiteral("Go on from there"));
    }));
    QVERIFY(!round.driver.find<QPushButton>("rollBackButton").isVisible());
}

void TestLogbookRound::reopenUnsent_takesItsPlace()
{
    Round round;
    QVERIFY(round.join("Theirs"));
    const QByteArray first = round.tip();
    const QByteArray text = round.text();
    QVERIFY(round.openLogbook(QStringLiteral("recorded")));
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.find<QPushButton>("reopenButton").isVisible(); }));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    QVERIFY(round.driver.status().contains(QStringLiteral("Nothing is open")));
    QVERIFY(round.decide("Ours"));
    QVERIFY(round.tip() != first);
    QVERIFY(round.text() != text);
    QCOMPARE(round.team.yours().git("rev-parse main^1"), round.before);
    QCOMPARE(round.team.yours().git("rev-parse main^2"),
             round.team.yours().git("rev-parse origin/main"));
    QVERIFY(round.openLogbook(QStringLiteral("recorded")));
    QVERIFY(round.driver.waitFor([&] {
        return round.row(1).contains(QStringLiteral("replaced by ")
                                     + QString::fromUtf8(round.tip().left(7)));
    }));
    // Rolled back, the first stands again, and nothing has taken its place.
    round.driver.press(Qt::Key_Up);
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.find<QPushButton>("rollBackButton").isVisible(); }));
    round.driver.click("rollBackButton");
    QVERIFY(round.driver.waitFor([&] { return round.tip() == first; }));
    QVERIFY(round.openLogbook(QStringLiteral("rolled back")));
    QVERIFY(round.row(1).contains(QStringLiteral("1 decided, recorded")));
}

void TestLogbookRound::reopenUnsent_carriesLaterCommitsAlong()
{
    Round round;
    QVERIFY(round.join("Theirs"));
    round.team.youCommit("nine", "nine, later", "Go on from there");
    const QByteArray later = round.tip();
    const QByteArray text = round.text();
    QVERIFY(round.openLogbook(QStringLiteral("recorded")));
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("reopenWords").contains(QStringLiteral("is carried along"))
               && round.driver.text("reopenWords").contains(QStringLiteral("Go on from there"));
    }));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    QVERIFY(round.decide("Ours"));
    QVERIFY(round.driver.text("recordedTitle")
                .endsWith(QStringLiteral(", and 1 commit carried along")));
    QVERIFY(round.tip() != later && round.text() != text);
    QVERIFY(round.text().contains("nine, later"));
    QCOMPARE(round.team.yours().git("log -1 --format=%s"), QByteArray("Go on from there"));
    QCOMPARE(round.team.yours().git("rev-parse main^^1"), round.before);
    QCOMPARE(round.team.yours().git("status --porcelain"), QByteArray());
    // And once more, now that its commit is below another one.
    const QByteArray second = round.tip();
    QVERIFY(round.openLogbook(QStringLiteral("recorded")));
    QVERIFY(
        round.driver.waitFor([&] { return round.row(1).contains(QStringLiteral("replaced")); }));
    round.driver.press(Qt::Key_Up);  // the one that was reopened is the one shown
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.find<QPushButton>("reopenButton").isVisible(); }));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    QVERIFY(round.decide("Theirs"));
    QCOMPARE(round.text(), text);
    QCOMPARE(round.team.yours().git("rev-list --count origin/main..main"), QByteArray("3"));
    // Rolled back, what it took the place of stands again, with what stood upon it.
    QVERIFY(round.openLogbook(QStringLiteral("recorded")));
    QVERIFY(
        round.driver.waitFor([&] { return round.row(2).contains(QStringLiteral("replaced")); }));
    round.driver.press(Qt::Key_Up);
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.find<QPushButton>("rollBackButton").isVisible(); }));
    round.driver.click("rollBackButton");
    QVERIFY(round.driver.waitFor([&] { return round.tip() == second; }));
}

void TestLogbookRound::reopenSent_isJoinedToLaterCommits()
{
    Round round;
    QVERIFY(round.join("Theirs"));
    QVERIFY(round.push());
    round.team.youCommit("nine", "nine, later", "Go on from there");
    const QByteArray later = round.tip();
    const QByteArray text = round.text();
    QVERIFY(round.openLogbook(QStringLiteral("pushed")));
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("reopenWords").contains(QStringLiteral("recorded on top"));
    }));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    QVERIFY(round.decide("Ours"));
    QCOMPARE(round.team.yours().git("rev-parse main^"), later);
    QVERIFY(round.text() != text && round.text().contains("nine, later"));
    QCOMPARE(round.team.yours().git("diff --shortstat main^ main"),
             QByteArray(" 1 file changed, 1 insertion(+), 1 deletion(-)"));
    // And once more, with another commit upon that.
    round.team.youCommit("five", "five, later", "Go on again");
    const QByteArray second = round.tip();
    QVERIFY(round.reopen(QStringLiteral("correction")));
    QVERIFY(round.decide("Theirs"));
    QCOMPARE(round.team.yours().git("rev-parse main^"), second);
    QCOMPARE(round.text(), QByteArray(text).replace("five", "five, later"));
    QCOMPARE(round.team.yours().git("status --porcelain"), QByteArray());
}

void TestLogbookRound::reopenSentRebase_goesOnTop()
{
    Round round;
    QVERIFY(round.rebase("Theirs"));
    const QByteArray text = round.text();
    QVERIFY(round.push());
    const QByteArray sent = round.tip();
    QVERIFY(round.reopen(QStringLiteral("pushed")));
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("sinceWhen").contains(QStringLiteral("conflict started with"));
    }));
    // Nothing is decided otherwise yet.
    round.driver.press(Qt::Key_4, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.isAt("recordKnot")
               && round.driver.find<QPushButton>("recordButton").isEnabled();
    }));
    QCOMPARE(round.driver.find<QListView>("recordedFiles").model()->rowCount(), 0);
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.notice().contains(QStringLiteral("change nothing")); }));
    QCOMPARE(round.tip(), sent);
    round.driver.press(Qt::Key_2, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    round.driver.take("Ours");
    round.driver.press(Qt::Key_4, Qt::ControlModifier);
    // Told against what it stands on.
    QVERIFY(round.driver.waitFor([&] {
        const auto* files = round.driver.find<QListView>("recordedFiles").model();
        return files->rowCount() == 1
               && files->index(0, 0).data().toString().endsWith(QStringLiteral("+1 −1"));
    }));
    QVERIFY(round.record());
    QCOMPARE(round.team.yours().git("rev-parse main^"), sent);
    QCOMPARE(round.team.yours().git("rev-list --parents -1 main").split(' ').size(), 2);
    QVERIFY(round.text() != text && round.text().contains("nine yours"));
    QVERIFY(round.team.yours().git("log -1 --format=%s").startsWith("Correct the rebase of"));
    QVERIFY(round.push());
    // With what came after it.
    round.team.youCommit("five", "five, later", "Go on from there");
    const QByteArray later = round.tip();
    QVERIFY(round.reopen(QStringLiteral("correction")));
    QVERIFY(round.decide("Theirs"));
    QCOMPARE(round.team.yours().git("rev-parse main^"), later);
    QCOMPARE(round.text(), QByteArray(text).replace("five", "five, later"));
    QCOMPARE(round.team.yours().git("status --porcelain"), QByteArray());
    QVERIFY(round.openLogbook(QStringLiteral("1 decided, recorded")));
    round.chooseFirst();
    QVERIFY(
        round.driver.waitFor([&] { return round.decision(0).contains(QStringLiteral("theirs")); }));
}

void TestLogbookRound::reopenSent_goesOnTop()
{
    Round round;
    QVERIFY(round.join("Theirs"));
    const QByteArray first = round.tip();
    const QByteArray text = round.text();
    QVERIFY(round.push());
    QVERIFY(round.openLogbook(QStringLiteral("pushed")));
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("reopenWords").contains(QStringLiteral("recorded on top"));
    }));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    QVERIFY(round.decide("Ours"));
    QCOMPARE(round.team.yours().git("rev-parse main^"), first);
    QCOMPARE(round.team.yours().git("rev-list --parents -1 main").split(' ').size(), 2);
    QVERIFY(round.text() != text);
    QVERIFY(round.text() == kOurs || round.text() == kTheirs);
    QVERIFY(round.team.yours().git("log -1 --format=%s").startsWith("Correct the merge of"));
    QVERIFY(round.push());
    QCOMPARE(round.team.yours().git("status --porcelain"), QByteArray());
}

void TestLogbookRound::sent_isTakenOutAgain()
{
    Round round;
    QVERIFY(round.join("Theirs"));
    QVERIFY(round.push());
    round.team.youCommit("nine", "nine, later", "Go on from there");
    const QByteArray later = round.tip();
    QVERIFY(round.openLogbook(QStringLiteral("pushed")));
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("rollBackWords").contains(QStringLiteral("not bring that back"));
    }));
    round.driver.click("rollBackButton");
    if (!round.driver.waitFor([&] { return round.driver.isAt("recordKnot"); }, 8000)) {
        QFAIL(qPrintable(round.driver.notice()));
    }
    QCOMPARE(round.tip(), later);
    QVERIFY(round.record());
    QCOMPARE(round.team.yours().git("rev-parse main^"), later);
    QCOMPARE(round.text(), QByteArray(kOurs).replace("nine", "nine, later"));
    QVERIFY(round.team.yours().git("log -1 --format=%s").startsWith("Revert \"Merge"));
    QVERIFY(round.openLogbook(QStringLiteral("reverted")));
    round.driver.press(Qt::Key_Down);
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("rollBackWords").contains(QStringLiteral("reverted it already"));
    }));
    QVERIFY(!round.driver.find<QPushButton>("rollBackButton").isVisible());
}

void TestLogbookRound::sentRebase_isTakenOutAgain()
{
    Round round;
    QVERIFY(round.rebase("Ours"));
    QCOMPARE(round.team.yours().git("log -2 --format=%s main"),
             QByteArray("Name the ninth\nName the second"));
    QVERIFY(round.push());
    const QByteArray sent = round.tip();
    QVERIFY(round.openLogbook(QStringLiteral("pushed")));
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("rollBackWords")
            .contains(QStringLiteral("each of its commits"));
    }));
    round.driver.click("rollBackButton");
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("recordKnot"); }));
    QVERIFY(round.record());
    QCOMPARE(round.team.yours().git("rev-parse main~2"), sent);
    QCOMPARE(round.text(), round.team.yours().git("show origin/main~2:plan.txt") + '\n');
    QCOMPARE(round.team.yours().git("log -2 --format=%s main"),
             QByteArray("Revert \"Name the second\"\nRevert \"Name the ninth\""));
    QVERIFY(round.openLogbook(QStringLiteral("reverted")));
}

/// What a checkout or a roll forward ends at, something else has made.
void TestLogbookRound::sent_onlyCommitsAreTakenOut()
{
    for (const auto& [kind, isTakenOut] : {std::pair(SpliceKind::merge, true),
                                           std::pair(SpliceKind::rebase, true),
                                           std::pair(SpliceKind::correction, true),
                                           std::pair(SpliceKind::rebaseCorrection, true),
                                           std::pair(SpliceKind::pick, true),
                                           std::pair(SpliceKind::revert, true),
                                           std::pair(SpliceKind::switchLine, false),
                                           std::pair(SpliceKind::rollForward, false),
                                           std::pair(SpliceKind::bringBack, false)}) {
        LoggedSplice sent;
        sent.entry.plan.kind = kind;
        sent.state = LogState::sent;
        sent.isSent = true;
        sent.isAtTip = true;
        sent.isCheckedOut = true;
        QCOMPARE(actionsOf(sent).back == LogActions::Back::takeOut, isTakenOut);
    }
}

void TestLogbookRound::putAway_isBroughtBack()
{
    Round round;
    QVERIFY(round.driver.waitFor([&] { return round.driver.canStart(); }));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    round.driver.press(Qt::Key_1, Qt::AltModifier);
    QVERIFY(round.openLogbook(QStringLiteral("open")));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.isAt("resolveKnot"));
    round.driver.find<QAction>("putAwayAction").trigger();
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("surveyKnot"); }));
    QVERIFY(round.openLogbook(QStringLiteral("put away")));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    QVERIFY(round.driver.status().contains(QStringLiteral("Nothing is open")));
}

void TestLogbookRound::abandoned_isOfferedNoMore_butTheLogbookBringsItBack()
{
    Round round;
    const QByteArray head = round.team.yours().git("rev-parse HEAD");
    QVERIFY(round.driver.waitFor([&] { return round.driver.canStart(); }));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    round.driver.press(Qt::Key_1, Qt::AltModifier);
    // From Survey, where it says that it is under way.
    round.driver.press(Qt::Key_1, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.startLabel() == QStringLiteral("Go on with it"); }));
    round.driver.click("abandonButton");
    QVERIFY(round.driver.notice().contains(QStringLiteral("is abandoned")));
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.startLabel() == QStringLiteral("Start: 1 to decide"); }));
    QVERIFY(!round.driver.find<QWidget>("abandonButton").isVisible());
    QVERIFY(round.window.findChild<QPushButton*>(QStringLiteral("bringBackButton0")) == nullptr);
    QCOMPARE(round.team.yours().git("rev-parse HEAD"), head);
    // Begun again, nothing of it is carried over or asked about.
    round.driver.click("noticeCloseButton");
    QVERIFY(round.driver.waitFor([&] { return round.driver.canStart(); }));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY2(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }),
             qPrintable(round.driver.notice()));
    QCOMPARE(round.driver.notice(), QString());
    QVERIFY(round.driver.status().startsWith(QStringLiteral("1 still open")));
    round.driver.find<QAction>("abandonAction").trigger();
    QVERIFY(round.openLogbook(QStringLiteral("abandoned")));
    auto& list = round.driver.find<QAbstractItemView>("spliceList");
    QCOMPARE(list.model()->rowCount(), 2);
    QTest::mouseClick(list.viewport(),
                      Qt::LeftButton,
                      {},
                      list.visualRect(list.model()->index(1, 0)).center());
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY2(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }),
             qPrintable(round.driver.notice() + round.row(0) + round.row(1)));
    QVERIFY(round.driver.status().contains(QStringLiteral("Nothing is open")));
}

/// Work that an earlier version set aside, or whose journal is gone.
void TestLogbookRound::keptWorkOfNoJournal_isBroughtBack_andDeletedWhenToldTo()
{
    Round round;
    const auto yours = round.team.yours();
    yours.write("notes.txt", "set aside once\n");
    const QByteArray work = yours.git("stash create");
    yours.git("checkout -q notes.txt");
    yours.git(("update-ref refs/rope-splice/splice-9/work " + work).constData());
    QVERIFY(round.driver.waitFor([&] { return round.driver.canStart(); }));
    round.driver.press(Qt::Key_L, Qt::ControlModifier);
    QVERIFY(
        round.driver.waitFor([&] { return round.driver.find<QWidget>("keptList").isVisible(); }));
    round.driver.click("bringKeptBack");
    QVERIFY(round.driver.waitFor([&] { return yours.read("notes.txt") == "set aside once\n"; }));
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.text("recordedTitle") == QStringLiteral("Your work is back"); }));
    const auto kept = [&] {
        return yours.git("for-each-ref --format=%(objectname) refs/rope-splice/splice-9");
    };
    QCOMPARE(kept(), work);  // nobody said that it may go
    round.driver.press(Qt::Key_L, Qt::ControlModifier);
    QVERIFY(
        round.driver.waitFor([&] { return round.driver.find<QWidget>("keptList").isVisible(); }));
    round.driver.click("deleteKept");
    QVERIFY(round.driver.waitFor([&] { return kept().isEmpty(); }));
    QVERIFY(round.driver.waitFor([&] { return !round.driver.notice().isEmpty(); }));
    round.driver.click("noticeActionButton");
    QVERIFY(round.driver.waitFor([&] { return kept() == work; }));
}

/// A journal that this user's state does not know: nothing in it is used unasked, nothing of it is lost.
void TestLogbookRound::unknownJournal_isAskedAboutOnce()
{
    Round round;
    QVERIFY(round.driver.waitFor([&] { return round.driver.canStart(); }));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    round.window.close();
    const QByteArray own = qgetenv("XDG_STATE_HOME");
    const QTemporaryDir other;
    qputenv("XDG_STATE_HOME", other.path().toUtf8());
    for (const bool isFirst : {true, false}) {
        Window window;
        WindowDriver driver(window);
        driver.show();
        window.openRepository(round.team.yours().folder());
        if (isFirst) {
            QVERIFY(driver.waitFor(
                [&] { return driver.notice().contains(QStringLiteral("does not know")); }));
            QVERIFY(!driver.isAt("resolveKnot"));
            // Who puts the question away and goes on is asked again, not left without an answer.
            driver.click("noticeCloseButton");
            QVERIFY(driver.waitFor([&] { return driver.canStart(); }));
            driver.press(Qt::Key_Return, Qt::ControlModifier);
            QVERIFY(driver.notice().contains(QStringLiteral("does not know")));
            driver.click("noticeActionButton");
        }
        QVERIFY(driver.waitFor([&] { return driver.isAt("resolveKnot"); }));
    }
    qputenv("XDG_STATE_HOME", own);
}

void TestLogbookRound::rollBack_thatCannotBe_changesNothing()
{
    Round round;
    QVERIFY(round.join("Theirs"));
    const QByteArray joined = round.tip();
    QVERIFY(round.openLogbook(QStringLiteral("recorded")));
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.find<QPushButton>("rollBackButton").isEnabled(); }));
    // Another program is at work on the index.
    round.team.yours().write(".git/index.lock", "");
    round.driver.click("rollBackButton");
    QVERIFY(round.driver.waitFor([&] { return !round.driver.notice().isEmpty(); }));
    QCOMPARE(round.tip(), joined);
    QFile::remove(round.team.yours().folder() + QStringLiteral("/.git/index.lock"));
    QCOMPARE(round.team.yours().git("status --porcelain"), QByteArray());
    QVERIFY(round.openLogbook(QStringLiteral("recorded")));
}

ROPE_TESTS(TestLogbookRound, rope::test::WindowApplication)
#include "tst_logbook_round.moc"
