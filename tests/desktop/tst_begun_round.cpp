// SPDX-License-Identifier: GPL-3.0-or-later
// A merge, rebase or cherry-pick that was begun with git and left half-done, taken over in the window,
// finished there or handed back.
#include "desktop/widgets/side_text.h"
#include "desktop/widgets/theme.h"
#include "tests/support/begun_merge.h"
#include "tests/support/window_application.h"
#include "tests/support/window_driver.h"

#include <QLabel>
#include <QPlainTextEdit>
#include <QSettings>

using namespace rope;
using namespace rope::test;

namespace {
/// A repository in which a merge is begun: one file of two decided and staged, own work beside it.
void makeHalfDone(ScratchRepository& scratch)
{
    makeClashingBranches(scratch);
    scratch.write("own.txt", "own, not committed\n");
    beginMerge(scratch);
    scratch.write("tide.txt", "low\nhigh of both\n");
    scratch.git("add tide.txt");
}

/// The first row of a list that says something; invalid: none does.
QModelIndex rowWith(const QListView& list, const QString& words)
{
    for (int row = 0; row < list.model()->rowCount(); ++row) {
        const QModelIndex index = list.model()->index(row, 0);
        if (index.data(Qt::AccessibleTextRole).toString().contains(words)
            || index.data().toString().contains(words)) {
            return index;
        }
    }
    return {};
}

/// A window that has it open.
struct Round
{
    explicit Round(ScratchRepository& scratch)
        : driver(window)
    {
        window.resize(1280, 800);
        driver.show();
        window.openRepository(scratch.folder());
    }
    [[nodiscard]] bool takeOver()
    {
        if (!driver.waitFor([&] {
                return driver.canStart() && driver.startLabel() == QStringLiteral("Take it over");
            })) {
            return false;
        }
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        return driver.waitFor([&] { return driver.isAt("resolveKnot"); });
    }
    /// Reads anew what somebody has gone on with, as the refusal to record offers.
    [[nodiscard]] bool readAgain()
    {
        const bool isOffered = driver.waitFor(
            [&] { return driver.notice().contains(QStringLiteral("somebody went on")); });
        driver.click("noticeActionButton");
        return isOffered && driver.waitFor([&] {
            return driver.notice().contains(QStringLiteral("nothing is open"));
        });
    }
    [[nodiscard]] bool record()
    {
        driver.press(Qt::Key_4, Qt::ControlModifier);
        const bool isReady = driver.waitFor([&] {
            return driver.isAt("recordKnot")
                   && driver.find<QPushButton>("recordButton").isEnabled();
        });
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        return isReady;
    }
    [[nodiscard]] bool isRecorded()
    {
        return driver.waitFor([&] {
            return driver.text("recordedTitle").startsWith(QStringLiteral("Recorded as"))
                   && driver.find<QLabel>("recordedTitle").isVisible();
        });
    }
    /// Goes on to the next open region and takes a candidate there.
    void decideNext(const char* candidate)
    {
        driver.press(Qt::Key_J, Qt::ControlModifier);
        driver.take(candidate);
    }
    void handBack() { driver.find<QAction>("handBackAction").trigger(); }

    Window window;
    WindowDriver driver;
};
}  // namespace

class TestBegunRound : public QObject
{
    Q_OBJECT
private slots:
    void init();
    void halfResolved_isFinished();
    void openedAgain_goesOn();
    void handedBack_asItWasFound();
    void handedBack_withDecisions_andTakenAgain();
    void wentOnMeanwhile_isReadAgain();
    void wentOnMeanwhile_otherFilesAreReadAgain();
    void endedMeanwhile_isTold();
    void rebase_isFinished();
    void rebase_editOfAnotherFile_staysInAllThatFollows();
    void rebase_openedAgain_handedBack();
    void cherryPick_isFinished();
    void otherKinds_areTold();
    void putByHand_comesAlong();
};

void TestBegunRound::init()
{
    QSettings().clear();
}

void TestBegunRound::halfResolved_isFinished()
{
    ScratchRepository scratch;
    makeHalfDone(scratch);
    const QByteArray before = begunFingerprint(scratch);
    Round round(scratch);
    QVERIFY(round.takeOver());
    QVERIFY2(round.driver.notice().contains(QStringLiteral("Taken over: 1 decision read")),
             qPrintable(round.driver.notice()));
    QVERIFY(round.driver.notice().contains(QStringLiteral("2 still open")));
    round.driver.take("Ours");
    round.decideNext("Theirs");
    QCOMPARE(begunFingerprint(scratch), before);
    QVERIFY(round.record());
    QVERIFY(round.isRecorded());
    QVERIFY(!QFile::exists(scratch.filePath(".git/MERGE_HEAD")));
    QCOMPARE(scratch.git("status --porcelain"), QByteArray(" M own.txt"));
    QCOMPARE(scratch.read("own.txt"), QByteArray("own, not committed\n"));
    QCOMPARE(scratch.git("show ours:tide.txt"), QByteArray("low\nhigh of both"));
    QVERIFY(scratch.git("show ours:plan.txt").contains("\n2 ours\n"));
    QVERIFY(scratch.git("show ours:plan.txt").contains("\n12 theirs\n"));
    QCOMPARE(scratch.git("rev-parse ours^2"), scratch.git("rev-parse theirs"));
}

void TestBegunRound::openedAgain_goesOn()
{
    ScratchRepository scratch;
    makeHalfDone(scratch);
    {
        Round round(scratch);
        QVERIFY(round.takeOver());
        round.driver.press(Qt::Key_T, Qt::AltModifier);
    }
    Round round(scratch);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    round.decideNext("Theirs");
    QVERIFY(round.record());
    QVERIFY(round.isRecorded());
    QVERIFY(scratch.git("show ours:plan.txt").contains("\n2 theirs\n"));
    QVERIFY(scratch.git("show ours:plan.txt").contains("\n12 theirs\n"));
    QCOMPARE(scratch.git("show ours:tide.txt"), QByteArray("low\nhigh of both"));
}

void TestBegunRound::handedBack_asItWasFound()
{
    ScratchRepository scratch;
    makeHalfDone(scratch);
    const QByteArray before = begunFingerprint(scratch);
    Round round(scratch);
    QVERIFY(round.takeOver());
    round.driver.press(Qt::Key_T, Qt::AltModifier);
    round.handBack();
    round.driver.click("noticeActionButton");
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("surveyKnot"); }));
    QCOMPARE(begunFingerprint(scratch), before);
    // What was decided comes back with it.
    QVERIFY(round.takeOver());
    round.decideNext("Theirs");
    QVERIFY(round.record());
    QVERIFY(round.isRecorded());
}

void TestBegunRound::handedBack_withDecisions_andTakenAgain()
{
    ScratchRepository scratch;
    makeHalfDone(scratch);
    Round round(scratch);
    QVERIFY(round.takeOver());
    round.driver.press(Qt::Key_T, Qt::AltModifier);
    round.handBack();
    round.driver.click("noticeSecondButton");
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.notice().contains(QStringLiteral("Handed back")); }));
    const QByteArray plan = scratch.read("plan.txt");
    QVERIFY(plan.contains("\n2 theirs\n") && plan.contains("<<<<<<< ours\n12 ours\n"));
    QVERIFY(QFile::exists(scratch.filePath(".git/MERGE_HEAD")));
    QCOMPARE(scratch.read("own.txt"), QByteArray("own, not committed\n"));
    QVERIFY(round.takeOver());
    QVERIFY(round.driver.notice().contains(QStringLiteral("1 still open")));
    round.decideNext("Ours");
    round.handBack();
    round.driver.click("noticeSecondButton");
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("surveyKnot"); }));
    scratch.git("commit -q --no-edit");
    QVERIFY(scratch.git("show ours:plan.txt").contains("\n12 ours\n"));
    QCOMPARE(scratch.git("status --porcelain"), QByteArray(" M own.txt"));
}

void TestBegunRound::wentOnMeanwhile_isReadAgain()
{
    ScratchRepository scratch;
    makeHalfDone(scratch);
    Round round(scratch);
    QVERIFY(round.takeOver());
    round.driver.press(Qt::Key_T, Qt::AltModifier);
    round.decideNext("Theirs");
    scratch.write("tide.txt", "low\nhigh of somebody\n");
    QVERIFY(round.record());
    QVERIFY(round.readAgain());
    QVERIFY(round.record());
    QVERIFY(round.isRecorded());
    QCOMPARE(scratch.git("show ours:tide.txt"), QByteArray("low\nhigh of somebody"));
    QVERIFY(scratch.git("show ours:plan.txt").contains("\n12 theirs\n"));
}

// Of files that only one side has, or none, what stands there now counts as well.
void TestBegunRound::wentOnMeanwhile_otherFilesAreReadAgain()
{
    ScratchRepository scratch;
    makeHalfDone(scratch);
    scratch.write("fees.txt", "fee 16\nfee 20\nfee 26\n");
    scratch.write("extra.txt", "extra\n");
    scratch.git("add fees.txt extra.txt");
    Round round(scratch);
    QVERIFY(round.takeOver());
    round.driver.press(Qt::Key_T, Qt::AltModifier);
    round.decideNext("Theirs");
    scratch.write("fees.txt", "fee 16\nfee 20\nfee 27\n");
    scratch.write("extra.txt", "extra, later\n");
    scratch.git("add fees.txt extra.txt");
    QVERIFY(round.record());
    QVERIFY(round.readAgain());
    QVERIFY(round.record());
    QVERIFY(round.isRecorded());
    QCOMPARE(scratch.git("show ours:fees.txt"), QByteArray("fee 16\nfee 20\nfee 27"));
    QCOMPARE(scratch.git("show ours:extra.txt"), QByteArray("extra, later"));
}

void TestBegunRound::endedMeanwhile_isTold()
{
    ScratchRepository scratch;
    makeHalfDone(scratch);
    Round round(scratch);
    QVERIFY(round.takeOver());
    scratch.git("merge --abort");
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.notice().contains(QStringLiteral("was ended on the command line"));
    }));
}

namespace {
/// A rebase of three commits that has stopped at the first; own work beside it.
void makeBegunRebase(ScratchRepository& scratch)
{
    makeClashingBranches(scratch);
    scratch.write("later.txt", "later\n");
    scratch.commit("a file of its own");
    scratch.write("plan.txt",
                  scratch.read("plan.txt").replace("\n12 ours\n", "\n12 ours, later\n"));
    scratch.commit("the twelfth again");
    int exitCode = 0;
    scratch.tryGit({QStringLiteral("rebase"), QStringLiteral("theirs")}, exitCode);
    QCOMPARE(exitCode, 1);
    scratch.write("own.txt", "own, not committed\n");
}
}  // namespace

void TestBegunRound::rebase_isFinished()
{
    ScratchRepository scratch;
    makeBegunRebase(scratch);
    scratch.write("tide.txt", "low\nhigh of both\n");
    scratch.git("add tide.txt");
    Round round(scratch);
    QVERIFY(round.takeOver());
    QVERIFY2(round.driver.notice().contains(QStringLiteral("Taken over: 1 decision read")),
             qPrintable(round.driver.notice()));
    // The commit's own side, in both regions; then the last commit fits by itself.
    round.driver.take("Ours");
    round.decideNext("Ours");
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.status().contains(QStringLiteral("Nothing is open")); }));
    QVERIFY(round.record());
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("recordedTitle") == QStringLiteral("3 commits rewritten")
               && round.driver.find<QLabel>("recordedTitle").isVisible();
    }));
    QCOMPARE(scratch.git("log --format=%s theirs..ours"),
             QByteArray("the twelfth again\na file of its own\nours"));
    QCOMPARE(scratch.git("rev-parse --abbrev-ref HEAD"), QByteArray("ours"));
    QCOMPARE(scratch.git("status --porcelain"), QByteArray(" M own.txt"));
    QCOMPARE(scratch.git("show ours:tide.txt"), QByteArray("low\nhigh of both"));
    QVERIFY(scratch.git("show ours:plan.txt").contains("\n12 ours, later\n"));
    QVERIFY(!QFile::exists(scratch.filePath(".git/rebase-merge")));
}

/// A file that nobody asks about was edited and staged: it belongs to the first commit, and later ones are
/// laid on it, however often they are laid anew.
void TestBegunRound::rebase_editOfAnotherFile_staysInAllThatFollows()
{
    ScratchRepository scratch;
    makeBegunRebase(scratch);
    scratch.write("fees.txt", "fee 16\nfee 20\nfee 26\n");
    scratch.git("add fees.txt");
    Round round(scratch);
    QVERIFY(round.takeOver());
    round.driver.take("Ours");
    round.decideNext("Ours");
    round.decideNext("Ours");
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.status().contains(QStringLiteral("Nothing is open")); }));
    QVERIFY(round.record());
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("recordedTitle") == QStringLiteral("3 commits rewritten")
               && round.driver.find<QLabel>("recordedTitle").isVisible();
    }));
    for (const char* const commit : {"ours~2", "ours~1", "ours"}) {
        QVERIFY2(scratch.git((QByteArray("show ") + commit + ":fees.txt").constData())
                     .endsWith("fee 26"),
                 commit);
    }
    QCOMPARE(scratch.git("status --porcelain"), QByteArray(" M own.txt"));
}

void TestBegunRound::rebase_openedAgain_handedBack()
{
    ScratchRepository scratch;
    makeBegunRebase(scratch);
    const QByteArray before = begunFingerprint(scratch);
    {
        Round round(scratch);
        QVERIFY(round.takeOver());
        round.driver.take("Ours");
    }
    QCOMPARE(begunFingerprint(scratch), before);
    Round round(scratch);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    round.decideNext("Ours");
    round.decideNext("Ours");
    round.handBack();
    round.driver.click("noticeSecondButton");
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.notice().contains(QStringLiteral("Handed back")); }));
    QCOMPARE(scratch.git("diff --name-only --diff-filter=U"), QByteArray());
    QVERIFY(scratch.read("plan.txt").contains("\n2 ours\n"));
    scratch.git("-c core.editor=true stash -q -- own.txt");
    scratch.git("-c core.editor=true rebase --continue");
    QCOMPARE(scratch.git("log --format=%s theirs..ours"),
             QByteArray("the twelfth again\na file of its own\nours"));
}

void TestBegunRound::cherryPick_isFinished()
{
    ScratchRepository scratch;
    makeClashingBranches(scratch);
    int exitCode = 0;
    scratch.tryGit({QStringLiteral("cherry-pick"), QStringLiteral("theirs")}, exitCode);
    QCOMPARE(exitCode, 1);
    Round round(scratch);
    QVERIFY(round.takeOver());
    round.driver.press(Qt::Key_T, Qt::AltModifier);
    round.decideNext("Theirs");
    round.decideNext("Theirs");
    QVERIFY(round.record());
    QVERIFY(round.isRecorded());
    QCOMPARE(scratch.git("log -1 --format=%s ours"), QByteArray("theirs"));
    QCOMPARE(scratch.git("rev-list --count main..ours"), QByteArray("2"));
    QVERIFY(scratch.git("status").endsWith("working tree clean"));
}

void TestBegunRound::otherKinds_areTold()
{
    ScratchRepository scratch;
    makeClashingBranches(scratch);
    int exitCode = 0;
    scratch.git("config sequence.editor true");
    scratch.tryGit({QStringLiteral("rebase"),
                    QStringLiteral("-i"),
                    QStringLiteral("--exec"),
                    QStringLiteral("true"),
                    QStringLiteral("theirs")},
                   exitCode);
    Round round(scratch);
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("planObstacle")
            .contains(QStringLiteral("It does more on its way than laying one commit"));
    }));
    QVERIFY(!round.driver.canStart());
}

// What was added and removed by hand comes along, can be answered otherwise, and outlives a restart.
void TestBegunRound::putByHand_comesAlong()
{
    ScratchRepository scratch;
    makeHalfDone(scratch);
    scratch.write("extra.txt", "extra\n");
    scratch.git("add extra.txt");
    scratch.git("rm -q -f tide.txt");
    const QByteArray before = begunFingerprint(scratch);
    {
        Round round(scratch);
        QVERIFY(round.takeOver());
        QVERIFY2(round.driver.notice().contains(QStringLiteral("2 still open")),
                 qPrintable(round.driver.notice()));
        auto& list = round.driver.find<QListView>("worklist");
        const QModelIndex row = rowWith(list, QStringLiteral("removed by hand"));
        QVERIFY(row.isValid());
        list.scrollTo(row);
        QTest::mouseClick(list.viewport(), Qt::LeftButton, {}, list.visualRect(row).center());
        QVERIFY2(round.driver.waitFor([&] {
            return round.driver.text("questionText").contains(QStringLiteral("removed this file"));
        }),
                 qPrintable(row.data(Qt::AccessibleTextRole).toString()));
        round.driver.press(Qt::Key_2, Qt::AltModifier);  // theirs
        const QModelIndex added = rowWith(list, QStringLiteral("put there by hand"));
        QTest::mouseClick(list.viewport(), Qt::LeftButton, {}, list.visualRect(added).center());
        QVERIFY(round.driver.waitFor([&] {
            const auto texts = round.window.findChildren<SideText*>();
            return std::any_of(texts.begin(), texts.end(), [](const SideText* text) {
                return text->accessibleName().contains(QStringLiteral("In your files"));
            });
        }));
        QCOMPARE(begunFingerprint(scratch), before);
    }
    Round round(scratch);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    round.decideNext("Ours");
    round.decideNext("Theirs");
    QVERIFY(round.record());
    QVERIFY(round.isRecorded());
    QCOMPARE(scratch.git("show ours:extra.txt"), QByteArray("extra"));
    QCOMPARE(scratch.git("show ours:tide.txt"), scratch.git("show theirs:tide.txt"));
    QCOMPARE(scratch.read("tide.txt").trimmed(), scratch.git("show theirs:tide.txt"));
    QCOMPARE(scratch.git("status --porcelain"), QByteArray(" M own.txt"));
}

ROPE_TESTS(TestBegunRound, rope::test::WindowApplication)
#include "tst_begun_round.moc"
