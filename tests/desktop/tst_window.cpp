// SPDX-License-Identifier: GPL-3.0-or-later
// The window as a whole, driven by keys and mouse on real repositories, checked with real git.
#include "core/logbook/journal.h"
#include "desktop/resolve/resolve_station.h"
#include "desktop/start/repository_card.h"
#include "desktop/survey/survey_station.h"
#include "desktop/widgets/side_text.h"
#include "desktop/widgets/theme.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/window_application.h"
#include "tests/support/window_driver.h"

#include <QAbstractItemView>
#include <QAccessible>
#include <QDialog>
#include <QFileDialog>
#include <QFileInfo>
#include <QHelpEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QRegularExpression>
#include <QSettings>
#include <QToolTip>
#include <Qsci/qsciscintilla.h>

using namespace rope;
using rope::test::ScratchRepository;
using rope::test::WindowApplication;
using rope::test::WindowDriver;

namespace {
#ifdef __SANITIZE_ADDRESS__
constexpr qint64 kMostStallMs = 10'000;
#else
constexpr qint64 kMostStallMs = 1000;
#endif

/// A window on a repository with one region, opened and forecast.
struct OpenWindow
{
    Window window;
    WindowDriver driver{window};

    explicit OpenWindow(const QString& folder)
    {
        driver.show();
        window.openRepository(folder);
    }
    [[nodiscard]] bool waitForPlan()
    {
        return WindowDriver::waitFor([this] {
            return driver.canStart() || !driver.find<QLabel>("planObstacle").text().isEmpty()
                   || !driver.find<QLabel>("planRemark").text().isEmpty()
                   || !driver.notice().isEmpty();
        });
    }
    [[nodiscard]] bool start()
    {
        if (!WindowDriver::waitFor([this] { return driver.canStart(); })) {
            return false;
        }
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        return WindowDriver::waitFor([this] { return driver.isAt("resolveKnot"); });
    }
    /// The first candidate for the only region, then on to Record.
    void decideAndGoToRecord()
    {
        driver.press(Qt::Key_1, Qt::AltModifier);
        driver.press(Qt::Key_4, Qt::ControlModifier);
    }
    [[nodiscard]] bool record()
    {
        driver.press(Qt::Key_4, Qt::ControlModifier);
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        return WindowDriver::waitFor(
            [this] { return driver.text("recordedTitle").startsWith(QLatin1String("Recorded")); },
            20'000);
    }
};

void followTheirs(ScratchRepository& scratch)
{
    scratch.git("config branch.ours.remote .");
    scratch.git("config branch.ours.merge refs/heads/theirs");
}

/// Diverged, one region, theirs is what ours follows.
void makeScene(ScratchRepository& scratch)
{
    test::makeDiverged(scratch);
    followTheirs(scratch);
}
}  // namespace

class TestWindow : public QObject
{
    Q_OBJECT
private slots:
    void cleanup();
    void init();
    void round_byKeys_recordsARealMerge();
    void openedBeforeShown_goesThereAtOnce();
    void openedBeforeShown_noRepository_startPage();
    void round_nothingChangesBeforeRecord();
    void round_cleanJoin_isShownFirst();
    void resume_afterClosing_findsEverything();
    void undo_reachesBeyondARestart();
    void typing_inAndOutsideRegions_reachesTheCommit();
    void undo_overTextAndDecisions();
    void lines_pickedAndEditsOutside_reachTheCommit();
    void pickedLines_areThereAfterAKill();
    void reopenAndLeaveOpen();
    void allOpen_takesOneSide();
    void question_isAskedInWords();
    void question_ofASubmodule_tellsWhatLiesBetween();
    void nextOpen_byKey_selectsOneRow();
    void keyboard_staysWithTheChoices();
    void mouse_candidateAndWorklist();
    void message_halfWritten_survives();
    void identity_missing_isAskedInPlace();
    void howManyAreOpen_isForgottenWithTheDecision();
    void hook_refusal_isShown();
    void otherRepository_isNotOpened_whileOneRecords();
    void branchMoved_isNotOverwritten();
    void abandon_canBeBroughtBack();
    void otherBranch_canBePicked();
    void obstacles_saySo_data();
    void obstacles_saySo();
    void screenReader_everythingHasAName();
    void openSplice_ofABranchThatIsCheckedOutLater_isListed();
    void keys_areThoseOfTheStation();
    void startPage_badFolder_saysSo();
    void startPage_recentRepository_opens();
    void startPage_goneRepository_isKeptUntilForgotten();
    void startPage_goneRepository_isFoundElsewhere();
    void startPage_remotes_areAskedOneAfterTheOther();
    void fetch_failing_saysSo();
    void oddNames_areShownPlainly();
    void largeFile_isDecidedByCandidates();
    void lastRegion_decided_leavesNoMarkBehindIt();
    void keys_actOnlyAtTheirStation();
    void recording_isFrozenAndCanBeStopped();
    void closing_whileItRecords_waits();
    void opening_anotherWhileItRecords_isRefused();
    void startPage_makesRepositoriesToTryItWith();
    void uncommitted_isCarriedAcrossOrCommittedElsewhere();
    void arrivals_areNoticed();
    void secondWindow_showsTheSpliceReadOnly();
    void startingAnew_asksAboutEarlierDecisions();
    void bulkDecision_manyRegions_isOneStep();
    void localMergeProgram_isAskedAbout();
    void unreadableJournal_isNoReasonNotToOpen();
    void longSubject_isCutOff();
};

/// Whatever a test did, the window must have gone on answering. Machines are noisy: only what nobody could
/// take for noise fails here; ./dev bench tells the figures.
void TestWindow::cleanup()
{
    const auto stall = static_cast<WindowApplication*>(qApp)->takeLongest();
    QVERIFY2(stall.milliseconds < kMostStallMs,
             qPrintable(QStringLiteral("%1 ms, %2").arg(stall.milliseconds).arg(stall.with)));
}

void TestWindow::init()
{
    QSettings().clear();
    QTest::failOnWarning(QRegularExpression(QStringLiteral("QObject|QSql|QProcess|QThread")));
}

void TestWindow::round_byKeys_recordsARealMerge()
{
    ScratchRepository scratch;
    makeScene(scratch);
    const QByteArray parents =
        scratch.git("rev-parse ours") + " " + scratch.git("rev-parse theirs");
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    QVERIFY(open.driver.status().startsWith(QLatin1String("1 still open")));
    open.driver.press(Qt::Key_1, Qt::AltModifier);
    QVERIFY(open.driver.status().startsWith(QLatin1String("Nothing is open")));
    QVERIFY(open.record());
    QCOMPARE(scratch.git("log -1 --format=%P ours"), parents);
    QVERIFY(scratch.git("log -1 --format=%s").startsWith("Merge theirs into ours"));
    QVERIFY(scratch.git("status --porcelain").isEmpty());
    QVERIFY(scratch.git("fsck --strict --no-dangling").isEmpty());
    // It can be reopened from the logbook: its commits stay.
    QCOMPARE(scratch.git("for-each-ref refs/rope-splice").count('\n'), 1);
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.text("planObstacle").contains(QLatin1String("nothing to do")); }));
}

void TestWindow::round_nothingChangesBeforeRecord()
{
    ScratchRepository scratch;
    makeScene(scratch);
    const QByteArray before = scratch.fingerprint();
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.decideAndGoToRecord();
    QVERIFY(open.driver.isAt("recordKnot"));
    QCOMPARE(scratch.fingerprint(), before);
}

void TestWindow::round_cleanJoin_isShownFirst()
{
    ScratchRepository scratch;
    makeScene(scratch);
    scratch.write("plan.txt", "one\ntwo\nthree\nfour\nfive\nsix\n");
    scratch.commit("take it back");
    OpenWindow open(scratch.folder());
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.canStart(); }));
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("recordKnot"); }));
    // What it brings is shown, file by file, and each can be opened.
    auto& files = open.driver.find<QListWidget>("recordedFiles");
    QVERIFY(WindowDriver::waitFor([&] { return files.count() == 2; }));
    QCOMPARE(files.item(0)->text(), QStringLiteral("new.txt  +1 −0"));
    files.setCurrentRow(0);
    QVERIFY(open.driver.find<QWidget>("recordedChange").isVisible());
    open.driver.press(Qt::Key_2, Qt::ControlModifier);
    QVERIFY(open.driver.text("resolveNote").contains(QLatin1String("merged cleanly")));
    open.driver.click("showJoinedButton");
    QCOMPARE(open.driver.find<QListView>("worklist").model()->rowCount(),
             3);  // new.txt and plan.txt from theirs, below a heading
    QVERIFY(open.record());
    QCOMPARE(scratch.read("new.txt"), QByteArray("from theirs\n"));
}

void TestWindow::resume_afterClosing_findsEverything()
{
    ScratchRepository scratch;
    makeScene(scratch);
    {
        OpenWindow open(scratch.folder());
        QVERIFY(open.start());
        open.driver.press(Qt::Key_E, Qt::ControlModifier);
        open.driver.type(QStringLiteral("hand-written "));
        open.window.close();
    }
    OpenWindow open(scratch.folder());
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("resolveKnot"); }));
    QVERIFY(open.driver.status().startsWith(QLatin1String("Nothing is open")));
    QVERIFY(open.record());
    QVERIFY(scratch.read("plan.txt").contains("hand-written two "));
}

void TestWindow::undo_reachesBeyondARestart()
{
    ScratchRepository scratch;
    makeScene(scratch);
    {
        OpenWindow open(scratch.folder());
        QVERIFY(open.start());
        open.driver.press(Qt::Key_1, Qt::AltModifier);
        open.driver.press(Qt::Key_E, Qt::ControlModifier);
        open.driver.type(QStringLiteral("first "));
        open.driver.type(QStringLiteral("second "));
        open.window.close();
    }
    OpenWindow open(scratch.folder());
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("resolveKnot"); }));
    const auto whole = [&] {
        return open.driver.find<QsciScintilla>("codeEditor").text();
    };
    QVERIFY(whole().contains(QLatin1String("first second ")));
    open.driver.press(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(whole().contains(QLatin1String("first ")));
    QVERIFY(!whole().contains(QLatin1String("second ")));
    open.driver.press(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(!whole().contains(QLatin1String("first ")));
    QVERIFY(open.driver.status().startsWith(QLatin1String("Undone")));
    open.driver.press(Qt::Key_Z, Qt::ControlModifier);  // and the candidate
    QTRY_VERIFY(open.driver.status().contains(QLatin1String("still open")));
    open.driver.press(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    open.driver.press(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(whole().contains(QLatin1String("first ")));
}

void TestWindow::typing_inAndOutsideRegions_reachesTheCommit()
{
    ScratchRepository scratch;
    makeScene(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.driver.take("Ours");
    open.driver.press(Qt::Key_E, Qt::ControlModifier);
    open.driver.press(Qt::Key_Home, Qt::ControlModifier);
    open.driver.type(QStringLiteral("zero "));
    open.driver.press(Qt::Key_End, Qt::ControlModifier);
    open.driver.type(QStringLiteral("seven"));
    open.driver.press(Qt::Key_Return);
    QVERIFY(open.record());
    QCOMPARE(scratch.read("plan.txt"),
             QByteArray("zero one\ntwo ours\nthree\nfour\nfive\nSIX\nseven\n"));
}

void TestWindow::lines_pickedAndEditsOutside_reachTheCommit()
{
    ScratchRepository scratch;
    makeScene(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.driver.press(Qt::Key_L, Qt::ControlModifier | Qt::ShiftModifier);
    auto& lines = open.driver.find<QListView>("linesView");
    for (int row = 0; row < lines.model()->rowCount(); ++row) {
        const QModelIndex index = lines.model()->index(row, 0);
        const QString said = index.data(Qt::AccessibleTextRole).toString();
        const bool isWanted =
            said.contains(QLatin1String("two ours")) || said.contains(QLatin1String("two theirs"));
        if (isWanted != said.startsWith(QLatin1String("taken"))
            && said.contains(QLatin1String("two"))) {
            lines.setCurrentIndex(index);
            QTest::keyClick(&lines, Qt::Key_Space);
        }
    }
    QVERIFY(open.driver.text("takenLines").startsWith(QLatin1String("2 of")));
    open.driver.click("takeCandidateButton");
    QVERIFY(open.driver.status().startsWith(QLatin1String("Nothing is open")));
    QVERIFY(open.record());
    const QByteArray result = scratch.read("plan.txt");
    QVERIFY(result.contains("two ours\n") && result.contains("two theirs\n"));
    QVERIFY(scratch.git("log -1 --format=%B").contains("own choice of lines"));
}

void TestWindow::pickedLines_areThereAfterAKill()
{
    ScratchRepository scratch;
    makeScene(scratch);
    QByteArray text;
    {
        OpenWindow open(scratch.folder());
        QVERIFY(open.start());
        open.driver.press(Qt::Key_L, Qt::ControlModifier | Qt::ShiftModifier);
        auto& lines = open.driver.find<QListView>("linesView");
        lines.setCurrentIndex(lines.model()->index(1, 0));
        QTest::keyClick(&lines, Qt::Key_Space);
        QTest::keyClick(&lines, Qt::Key_Return);
        text = open.driver.find<QsciScintilla>("codeEditor").text().toUtf8();
    }
    // The window went without being closed; what was decided is in the journal.
    OpenWindow open(scratch.folder());
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("resolveKnot"); }));
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.text("worklistSummary").startsWith(QLatin1String("0 open")); }));
    QCOMPARE(open.driver.find<QsciScintilla>("codeEditor").text().toUtf8(), text);
    const auto& worklist = open.driver.find<QListView>("worklist");
    QVERIFY(worklist.model()
                ->index(1, 0)
                .data(Qt::AccessibleTextRole)
                .toString()
                .contains(QLatin1String("own choice of lines")));
    QVERIFY(open.record());
    QCOMPARE(scratch.read("plan.txt"), text);
}

void TestWindow::undo_overTextAndDecisions()
{
    ScratchRepository scratch;
    makeScene(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.driver.press(Qt::Key_1, Qt::AltModifier);
    open.driver.press(Qt::Key_E, Qt::ControlModifier);
    open.driver.type(QStringLiteral("xyz"));
    open.driver.press(Qt::Key_Z, Qt::ControlModifier);  // the typing
    QCOMPARE(open.driver.status(), QStringLiteral("Undone: typing in region 1 of plan.txt"));
    QVERIFY(open.driver.text("worklistSummary").startsWith(QLatin1String("0 open")));
    open.driver.press(Qt::Key_Z, Qt::ControlModifier);  // the decision
    QVERIFY(open.driver.text("worklistSummary").startsWith(QLatin1String("1 open")));
    open.driver.press(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    open.driver.press(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(open.record());
    QVERIFY(scratch.read("plan.txt").contains("xyz"));
}

void TestWindow::reopenAndLeaveOpen()
{
    ScratchRepository scratch;
    makeScene(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.driver.click("takeCandidateButton");
    QCOMPARE(open.driver.find<QPushButton>("leaveOpenButton").text(), QStringLiteral("Reopen"));
    open.driver.click("leaveOpenButton");
    QVERIFY(open.driver.status().startsWith(QLatin1String("1 still open")));
    open.driver.press(Qt::Key_4, Qt::ControlModifier);
    QVERIFY(!open.driver.find<QPushButton>("recordButton").isEnabled());
    QVERIFY(open.driver.text("recordObstacle").contains(QLatin1String("1 still open")));
}

void TestWindow::allOpen_takesOneSide()
{
    ScratchRepository scratch;
    makeScene(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.driver.find<QAction>("allTheirsAction").trigger();
    QVERIFY(open.record());
    QVERIFY(scratch.read("plan.txt").contains("two theirs\n"));
}

void TestWindow::nextOpen_byKey_selectsOneRow()
{
    ScratchRepository scratch;
    makeScene(scratch);
    scratch.write("pic.bin", QByteArray("ours\0", 5));
    scratch.commit("ours: a picture");
    scratch.git("switch -q theirs");
    scratch.write("pic.bin", QByteArray("theirs\0", 7));
    scratch.commit("theirs: another");
    scratch.git("switch -q ours");
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    const auto& list = open.driver.find<QListView>("worklist");
    for (int i = 0; i < 3; ++i) {
        // Held while the key acts, as a person holds it.
        QTest::keyPress(QApplication::focusWidget(), Qt::Key_Control, Qt::ControlModifier);
        open.driver.press(Qt::Key_J, Qt::ControlModifier);
        QTest::keyRelease(QApplication::focusWidget(), Qt::Key_Control);
        QCOMPARE(list.selectionModel()->selectedRows().size(), 1);
    }
}

void TestWindow::keyboard_staysWithTheChoices()
{
    ScratchRepository scratch;
    makeScene(scratch);
    scratch.write("a.bin", QByteArray("ours\0", 5));
    scratch.commit("ours: a picture");
    scratch.git("switch -q theirs");
    scratch.write("a.bin", QByteArray("theirs\0", 7));
    scratch.commit("theirs: another");
    scratch.git("switch -q ours");
    const auto focus = [] {
        return QApplication::focusWidget() == nullptr ? QString()
                                                      : QApplication::focusWidget()->objectName();
    };
    {
        OpenWindow open(scratch.folder());
        QVERIFY(open.start());
        QCOMPARE(focus(), QStringLiteral("answerList"));
        open.driver.press(Qt::Key_Return);  // answers it
        open.driver.press(Qt::Key_J, Qt::ControlModifier);
        QCOMPARE(focus(), QStringLiteral("candidateList"));
        open.driver.press(Qt::Key_K, Qt::ControlModifier);
        open.driver.press(Qt::Key_Return);
        open.driver.press(Qt::Key_K, Qt::ControlModifier);
        open.window.close();
    }
    OpenWindow open(scratch.folder());
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("resolveKnot"); }));
    QVERIFY(focus() == QLatin1String("answerList") || focus() == QLatin1String("candidateList"));
    // A filter with nothing to undo leaves the key to the decisions.
    open.driver.find<QLineEdit>("worklistFilter").setFocus();
    open.driver.press(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY2(open.driver.status().startsWith(QLatin1String("Undone")),
             qPrintable(open.driver.status()));
}

void TestWindow::question_ofASubmodule_tellsWhatLiesBetween()
{
    ScratchRepository library;
    library.write("a", "1\n");
    library.commit("library: first");
    const QByteArray first = library.git("rev-parse HEAD");
    library.write("a", "2\n");
    library.commit("library: ours' way");
    library.git("branch ours-way");
    library.git("checkout -q --detach " + first);
    library.write("b", "1\n");
    library.commit("library: theirs' way");
    library.git("branch theirs-way");
    ScratchRepository scratch;
    scratch.git("-c protocol.file.allow=always submodule add -q " + library.folder().toUtf8()
                + " lib");
    const auto point = [&](const QByteArray& to, const char* subject) {
        scratch.git("-C lib checkout -q " + to);
        scratch.git("add lib");
        scratch.commit(subject);
    };
    point(first, "base");
    scratch.git("switch -q -c theirs");
    point("origin/theirs-way", "theirs");
    scratch.git("switch -q -c ours main");
    point("origin/ours-way", "ours");
    followTheirs(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    const auto& view = open.driver.find<QWidget>("versionsView");
    const auto says = [&](const char* words) {
        for (const QLabel* label : view.findChildren<QLabel*>()) {
            if (label->text().contains(QLatin1String(words))) {
                return true;
            }
        }
        return false;
    };
    QVERIFY(WindowDriver::waitFor([&] { return says("library: theirs' way"); }));
    QVERIFY(says("library: ours' way"));
    QVERIFY(says("Neither contains the other: ours has 1 commit of its own, theirs 1."));
}

void TestWindow::question_isAskedInWords()
{
    ScratchRepository scratch;
    makeScene(scratch);
    scratch.write("pic.bin", QByteArray("ours\0", 5));
    scratch.remove("keep.txt");
    scratch.commit("ours: a picture, and keep.txt goes");
    scratch.git("switch -q theirs");
    scratch.write("pic.bin", QByteArray("theirs\0", 7));
    scratch.write("keep.txt", "kept and edited\n");
    scratch.commit("theirs: another picture");
    scratch.git("switch -q ours");
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    QVERIFY(open.driver.text("questionText")
                .contains(QLatin1String("ours deleted this file, theirs edited it")));
    QVERIFY(WindowDriver::waitFor([&] {
        return open.driver.text("questionFacts").contains(QLatin1String("theirs: another picture"));
    }));
    const auto versions = open.driver.find<QWidget>("versionsView").findChildren<SideText*>();
    QCOMPARE(versions.size(), 1);  // what theirs made of it; ours has no such file
    QCOMPARE(versions.front()->toPlainText(), QStringLiteral("kept and edited"));
    QVERIFY(!versions.front()->remarks().isEmpty());  // its change is marked
    open.driver.click("giveAnswerButton");
    open.driver.press(Qt::Key_J, Qt::ControlModifier);
    QVERIFY(
        open.driver.text("questionText").contains(QLatin1String("cannot be merged line by line")));
    open.driver.press(Qt::Key_3, Qt::AltModifier);  // keep both
    open.driver.press(Qt::Key_J, Qt::ControlModifier);
    open.driver.press(Qt::Key_1, Qt::AltModifier);
    QVERIFY(open.record());
    QCOMPARE(scratch.read("keep.txt"), QByteArray("kept and edited\n"));
    QCOMPARE(scratch.read("pic.bin"), QByteArray("ours\0", 5));
    QCOMPARE(scratch.read("pic.theirs.bin"), QByteArray("theirs\0", 7));
}

void TestWindow::mouse_candidateAndWorklist()
{
    ScratchRepository scratch;
    makeScene(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    auto& worklist = open.driver.find<QListView>("worklist");
    QTest::mouseClick(worklist.viewport(),
                      Qt::LeftButton,
                      {},
                      worklist.visualRect(worklist.model()->index(1, 0)).center());
    auto& candidates = open.driver.find<QListView>("candidateList");
    QTest::mouseClick(candidates.viewport(),
                      Qt::LeftButton,
                      {},
                      candidates.visualRect(candidates.model()->index(2, 0)).center());
    QVERIFY(open.driver.find<QPushButton>("takeCandidateButton")
                .text()
                .startsWith(QStringLiteral("Use candidate 3")));
    QVERIFY(!open.driver.find<QTextEdit>("candidatePreview").toPlainText().isEmpty());
    open.driver.click("takeCandidateButton");
    QVERIFY(open.driver.status().startsWith(QLatin1String("Nothing is open")));
    auto& filter = open.driver.find<QLineEdit>("worklistFilter");
    filter.setText(QStringLiteral("no such path"));
    QCOMPARE(worklist.model()->rowCount(), 0);
}

void TestWindow::message_halfWritten_survives()
{
    ScratchRepository scratch;
    makeScene(scratch);
    {
        OpenWindow open(scratch.folder());
        QVERIFY(open.start());
        open.decideAndGoToRecord();
        open.driver.find<QPlainTextEdit>("messageEdit")
            .setPlainText(QStringLiteral("Half a message"));
        open.window.close();
    }
    OpenWindow open(scratch.folder());
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("recordKnot"); }));
    QCOMPARE(open.driver.find<QPlainTextEdit>("messageEdit").toPlainText(),
             QStringLiteral("Half a message"));
}

void TestWindow::identity_missing_isAskedInPlace()
{
    ScratchRepository scratch;
    makeScene(scratch);
    scratch.git("config --unset user.name");
    scratch.git("config --unset user.email");
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.decideAndGoToRecord();
    QVERIFY(!open.driver.find<QPushButton>("recordButton").isEnabled());
    open.driver.find<QLineEdit>("identityName").setText(QStringLiteral("Tao Lindqvist"));
    open.driver.find<QLineEdit>("identityEmail").setText(QStringLiteral("tao@slackwater.example"));
    open.driver.click("recordButton");
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.text("recordedTitle").startsWith(QLatin1String("Recorded")); }));
    QCOMPARE(scratch.git("log -1 --format=%an.%ae"),
             QByteArray("Tao Lindqvist.tao@slackwater.example"));
}

void TestWindow::howManyAreOpen_isForgottenWithTheDecision()
{
    ScratchRepository scratch;
    makeScene(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(open.driver.status().startsWith(QLatin1String("1 place is still open")));
    open.driver.press(Qt::Key_1, Qt::AltModifier);
    QVERIFY2(!open.driver.status().contains(QLatin1String("still open")),
             qPrintable(open.driver.status()));
}

void TestWindow::hook_refusal_isShown()
{
    ScratchRepository scratch;
    makeScene(scratch);
    scratch.addHook("commit-msg", "echo 'a ticket number is missing' >&2; exit 1");
    const QByteArray before = scratch.fingerprint();
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.decideAndGoToRecord();
    open.driver.click("recordButton");
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.notice().contains(QLatin1String("commit-msg hook refused")); }));
    QVERIFY(open.driver.find<QPlainTextEdit>("noticeDetails")
                .toPlainText()
                .contains(QLatin1String("ticket number")));
    QCOMPARE(scratch.fingerprint(), before);
    scratch.remove(".git/hooks/commit-msg");
    QVERIFY(open.record());  // nothing was lost: the same splice records now
}

/// In both orders: opened first and recorded before it is open, and opened while a recording runs.
void TestWindow::otherRepository_isNotOpened_whileOneRecords()
{
    ScratchRepository other;
    makeScene(other);
    for (const bool isOpenedFirst : {true, false}) {
        ScratchRepository scratch;
        makeScene(scratch);
        scratch.addHook("commit-msg", "sleep 1; echo 'not yet' >&2; exit 1");
        const QByteArray before = scratch.fingerprint();
        OpenWindow open(scratch.folder());
        QVERIFY(open.start());
        open.decideAndGoToRecord();
        // Until it has been looked whether there is uncommitted work, a press waits for that.
        QVERIFY(
            WindowDriver::waitFor([&] { return open.driver.text("recordObstacle").isEmpty(); }));
        if (isOpenedFirst) {
            open.window.openRepository(other.folder());
            open.driver.click("recordButton");
        } else {
            open.driver.click("recordButton");
            open.window.openRepository(other.folder());
        }
        QVERIFY2(WindowDriver::waitFor([&] {
                     return open.driver.notice().contains(QLatin1String("commit-msg hook refused"));
                 }),
                 qPrintable(open.driver.notice()));
        QCOMPARE(scratch.fingerprint(), before);
        // The splice is still there, and is recorded where it was begun.
        scratch.remove(".git/hooks/commit-msg");
        QVERIFY(open.record());
        QVERIFY(scratch.fingerprint() != before);
    }
}

void TestWindow::branchMoved_isNotOverwritten()
{
    ScratchRepository scratch;
    makeScene(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.driver.press(Qt::Key_1, Qt::AltModifier);
    const QByteArray moved = scratch.commit("made on the command line meanwhile");
    // It is noticed without being asked for.
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.notice().contains(QLatin1String("has moved")); }));
    open.driver.press(Qt::Key_4, Qt::ControlModifier);
    open.driver.click("recordButton");
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.notice().contains(QLatin1String("Nothing was overwritten")); }));
    QCOMPARE(scratch.git("rev-parse ours"), moved);
    open.window.close();
    // Carried on from where the branch stands now, the decision is still there.
    OpenWindow again(scratch.folder());
    QVERIFY(WindowDriver::waitFor(
        [&] { return again.driver.notice().contains(QLatin1String("has moved")); }));
    again.driver.click("noticeActionButton");
    QVERIFY(WindowDriver::waitFor([&] { return again.driver.isAt("recordKnot"); }));
    QCOMPARE(again.driver.notice(), QStringLiteral("1 decision was carried over."));
    QVERIFY(again.record());
    QCOMPARE(again.driver.notice(), QString());  // it went with its splice
}

void TestWindow::abandon_canBeBroughtBack()
{
    ScratchRepository scratch;
    makeScene(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.driver.press(Qt::Key_1, Qt::AltModifier);
    open.driver.find<QAction>("putAwayAction").trigger();
    QVERIFY(open.driver.isAt("surveyKnot"));
    open.driver.click("noticeActionButton");
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("resolveKnot"); }));
    QVERIFY(open.driver.status().startsWith(QLatin1String("Nothing is open")));
}

void TestWindow::otherBranch_canBePicked()
{
    ScratchRepository scratch;
    makeScene(scratch);
    scratch.git("switch -q -c apart main");
    scratch.write("apart.txt", "apart\n");
    scratch.commit("apart");
    scratch.git("switch -q ours");
    OpenWindow open(scratch.folder());
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.startLabel() == QLatin1String("Start: 1 to decide"); }));
    auto& list = open.driver.find<QListView>("branchList");
    for (int row = 0; row < list.model()->rowCount(); ++row) {
        if (list.model()->index(row, 0).data().toString() == QLatin1String("apart")) {
            QTest::mouseClick(list.viewport(),
                              Qt::LeftButton,
                              {},
                              list.visualRect(list.model()->index(row, 0)).center());
        }
    }
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.startLabel() == QLatin1String("Start: merges cleanly"); }));
    QCOMPARE(open.driver.text("planWhat"), QStringLiteral("Bring apart into ours"));
}

void TestWindow::obstacles_saySo_data()
{
    QTest::addColumn<QString>("scene");
    QTest::addColumn<QString>("words");
    const auto row = [](const char* scene, const char* words) {
        QTest::newRow(scene) << QString::fromLatin1(scene) << QString::fromLatin1(words);
    };
    row("bare", "is bare");
    row("empty", "no commit yet");
    row("detached", "on no branch");
    row("unfinished", "begun on the command line");
    row("unrelated", "no commit in common");
    row("ahead", "nothing to do");
    row("alone", "no other branch");
    row("shallow", "newest part of the history");
    row("missing-object", "was not found in this repository");
}

void TestWindow::obstacles_saySo()
{
    QFETCH(QString, scene);
    QFETCH(QString, words);
    ScratchRepository scratch(scene == QLatin1String("bare") ? QStringList{QStringLiteral("--bare")}
                                                             : QStringList{});
    QString folder = scratch.folder();
    const QTemporaryDir other;
    if (scene == QLatin1String("alone")) {
        scratch.commit("first");
    } else if (scene != QLatin1String("bare") && scene != QLatin1String("empty")) {
        makeScene(scratch);
    }
    if (scene == QLatin1String("detached")) {
        scratch.git("checkout -q --detach");
    } else if (scene == QLatin1String("unfinished")) {
        int ignored = 0;
        scratch.git("config sequence.editor true");
        scratch.tryGit(
            {QStringLiteral("rebase"), QStringLiteral("--exec=true"), QStringLiteral("theirs")},
            ignored);
    } else if (scene == QLatin1String("unrelated")) {
        scratch.git("switch -q --orphan apart");
        scratch.commit("another beginning");
        scratch.git("branch -q -D ours main");
        scratch.git("branch -q --set-upstream-to=theirs");
    } else if (scene == QLatin1String("ahead")) {
        scratch.git("branch -f theirs main");
    } else if (scene == QLatin1String("shallow")) {
        folder = other.filePath(QStringLiteral("cut"));
        scratch.git({QStringLiteral("clone"),
                     QStringLiteral("-q"),
                     QStringLiteral("--depth=1"),
                     QStringLiteral("--no-single-branch"),
                     QStringLiteral("file://") + scratch.folder(),
                     folder});
    } else if (scene == QLatin1String("missing-object")) {
        const QByteArray blob = scratch.git("rev-parse theirs:plan.txt");
        scratch.remove((".git/objects/" + blob.left(2) + "/" + blob.mid(2)).constData());
    }
    OpenWindow open(folder);
    QVERIFY(open.waitForPlan());
    if (scene == QLatin1String("shallow")) {
        auto& list = open.driver.find<QListView>("branchList");
        for (int row = 0; row < list.model()->rowCount(); ++row) {
            if (list.model()->index(row, 0).data().toString() == QLatin1String("origin/theirs")) {
                list.setCurrentIndex(list.model()->index(row, 0));
            }
        }
    }
    QVERIFY2(WindowDriver::waitFor(
                 [&] {
                     return (open.driver.text("planObstacle") + open.driver.text("planRemark"))
                         .contains(words);
                 },
                 20'000),
             qPrintable(open.driver.text("planObstacle") + open.driver.notice()));
    QCOMPARE(open.driver.canStart(),
             scene == QLatin1String("uncommitted"));  // that waits until Record
}

namespace {
/// What a screen reader would meet without a name, and what shows markup.
QStringList namelessIn(const QWidget& root)
{
    QStringList nameless;
    for (QWidget* widget : root.findChildren<QWidget*>()) {
        const auto* label = qobject_cast<QLabel*>(widget);
        const bool saysOrShows =
            label != nullptr && !(label->text().isEmpty() && label->pixmap().isNull());
        const bool isMet = widget->isVisible()
                           && ((widget->focusPolicy() & Qt::TabFocus) != 0 || saysOrShows
                               || qobject_cast<QAbstractItemView*>(widget) != nullptr);
        if (!isMet) {
            continue;
        }
        QAccessibleInterface* const interface = QAccessible::queryAccessibleInterface(widget);
        const QString name = interface->text(QAccessible::Name);
        const QString words = name + interface->text(QAccessible::Description);
        if (name.isEmpty() || words.contains(QLatin1String("</"))) {
            nameless << QStringLiteral("%1 %2 [%3]")
                            .arg(QLatin1String(widget->metaObject()->className()),
                                 widget->objectName(),
                                 words);
        }
    }
    return nameless;
}

/// Whether a screen reader comes to a widget from the window down.
bool isReached(QAccessibleInterface* from, const QWidget* widget)
{
    if (from == nullptr || from->object() == widget) {
        return from != nullptr;
    }
    for (int i = 0; i < from->childCount(); ++i) {
        if (isReached(from->child(i), widget)) {
            return true;
        }
    }
    return false;
}

/// Whether a station is there for a screen reader.
bool isTold(const QWidget& station)
{
    auto* interface = QAccessible::queryAccessibleInterface(const_cast<QWidget*>(&station));
    return !interface->state().invisible;
}
}  // namespace

void TestWindow::screenReader_everythingHasAName()
{
    ScratchRepository scratch;
    makeScene(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.waitForPlan());
    const auto check = [&](const char* station) {
        const QStringList nameless = namelessIn(open.window);
        if (!nameless.isEmpty()) {
            QFAIL(qPrintable(QLatin1String(station) + QLatin1String(": ")
                             + nameless.join(QLatin1String("; "))));
        }
    };
    check("survey");
    QVERIFY(open.start());
    check("resolve");
    QVERIFY(isTold(*open.window.findChild<ResolveStation*>()));
    QVERIFY(!isTold(*open.window.findChild<SurveyStation*>()));
    auto* const whole = QAccessible::queryAccessibleInterface(&open.window);
    QVERIFY(isReached(whole, &open.driver.find<QListView>("worklist")));
    QVERIFY(!isReached(whole, &open.driver.find<QListView>("branchList")));
    open.driver.press(Qt::Key_L, Qt::ControlModifier | Qt::ShiftModifier);
    check("lines");
    open.driver.press(Qt::Key_L, Qt::ControlModifier | Qt::ShiftModifier);
    open.driver.press(Qt::Key_1, Qt::AltModifier);
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("checkKnot"); }));
    check("check");
    QVERIFY(WindowDriver::waitFor([&] {  // until it has looked, it says so and stays
        open.driver.press(Qt::Key_Return, Qt::ControlModifier);
        return open.driver.isAt("recordKnot");
    }));
    check("record");
    QVERIFY(!isTold(*open.window.findChild<ResolveStation*>()));
    Window start;
    start.show();
    const QStringList nameless = namelessIn(start);
    QVERIFY2(nameless.isEmpty(), qPrintable(nameless.join(QLatin1String("; "))));
}

/// Its branch was not checked out when the window opened; it is now.
void TestWindow::openSplice_ofABranchThatIsCheckedOutLater_isListed()
{
    ScratchRepository scratch;
    makeScene(scratch);
    {
        OpenWindow first(scratch.folder());
        QVERIFY(first.start());
    }
    scratch.git("switch -q -c elsewhere main");
    OpenWindow open(scratch.folder());
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.text("planRemark").startsWith(QLatin1String("elsewhere")); }));
    scratch.git("switch -q ours");
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.startLabel() == QStringLiteral("Go on with it"); }));
    QVERIFY(open.driver.isAt("surveyKnot"));
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("resolveKnot"); }));
}

void TestWindow::keys_areThoseOfTheStation()
{
    ScratchRepository scratch;
    makeScene(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.waitForPlan());
    const auto keysShown = [&] {
        open.driver.press(Qt::Key_F1);
        auto& dialog = open.driver.find<QDialog>("keysDialog");
        QStringList words;
        for (const QLabel* label : dialog.findChildren<QLabel*>()) {
            words << label->text();
        }
        QTest::keyClick(&dialog, Qt::Key_Escape);
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        open.window.activateWindow();
        (void)QTest::qWaitForWindowActive(&open.window, 2000);
        return words;
    };
    QStringList words = keysShown();
    QVERIFY(words.contains(QStringLiteral("Survey")));
    QVERIFY(words.contains(QStringLiteral("start with this plan")));
    QVERIFY(words.contains(QStringLiteral("ours: your branch")));  // on the second page
    QVERIFY(!words.contains(QStringLiteral("Use candidate 1")));
    QVERIFY(words.contains(QStringLiteral("Fetch")));
    QCOMPARE(open.window.windowTitle(),
             QFileInfo(scratch.folder()).fileName() + QStringLiteral(" · Rope Splice"));
    QVERIFY(open.start());
    QVERIFY(open.window.windowTitle().endsWith(QStringLiteral(": theirs into ours · Rope Splice")));
    words = keysShown();
    QVERIFY(words.contains(QStringLiteral("Resolve")));
    QVERIFY(words.contains(QStringLiteral("Use candidate 1")));
    open.driver.find<QAction>("aboutAction").trigger();
    bool saysVersion = false;
    for (const QLabel* label : open.driver.find<QDialog>("aboutDialog").findChildren<QLabel*>()) {
        saysVersion = saysVersion || label->text().startsWith(QLatin1String("Rope Splice 0."));
    }
    QVERIFY(saysVersion);
}

void TestWindow::startPage_badFolder_saysSo()
{
    const QTemporaryDir folder;
    OpenWindow open(folder.path());
    QVERIFY(WindowDriver::waitFor([&] {
        return open.driver.notice().contains(QLatin1String("is not in a git repository"));
    }));
    QVERIFY(open.driver.find<QPushButton>("openRepositoryButton").isVisible());
}

void TestWindow::startPage_recentRepository_opens()
{
    ScratchRepository scratch;
    makeScene(scratch);
    {
        OpenWindow open(scratch.folder());
        QVERIFY(open.waitForPlan());
    }
    Window window;
    WindowDriver driver(window);
    driver.show();
    auto& card = driver.find<RepositoryCard>("repositoryCard");
    QCOMPARE(card.folder(), scratch.folder());
    QVERIFY(WindowDriver::waitFor(
        [&] { return card.words().contains(QLatin1String("no splice open")); }));
    QTest::mouseClick(&card, Qt::LeftButton);
    QVERIFY(WindowDriver::waitFor([&] { return driver.canStart(); }));
}

void TestWindow::startPage_goneRepository_isKeptUntilForgotten()
{
    QString folder;
    {
        ScratchRepository scratch;
        makeScene(scratch);
        folder = scratch.folder();
        OpenWindow open(folder);
        QVERIFY(open.waitForPlan());
    }
    Window window;
    WindowDriver driver(window);
    driver.show();
    auto* card = &driver.find<RepositoryCard>("repositoryCard");
    QCOMPARE(card->folder(), folder);
    QVERIFY(WindowDriver::waitFor([&] { return card->isGone(); }));
    QVERIFY(card->words().contains(QLatin1String("The folder is not there")));
    card->setFocus();
    QTest::keyClick(card, Qt::Key_Delete);
    for (const RepositoryCard* left : window.findChildren<RepositoryCard*>()) {
        QVERIFY(left->folder() != folder);
    }
    QVERIFY(!QSettings().value(QStringLiteral("recent")).toStringList().contains(folder));
}

void TestWindow::startPage_goneRepository_isFoundElsewhere()
{
    const QTemporaryDir around;
    const QString before = around.filePath(QStringLiteral("before"));
    const QString after = around.filePath(QStringLiteral("after"));
    ScratchRepository scratch;
    makeScene(scratch);
    scratch.git("clone -q . " + before.toUtf8());
    {
        OpenWindow open(before);
        QVERIFY(open.waitForPlan());
    }
    QVERIFY(QDir().rename(before, after));
    Window window;
    WindowDriver driver(window);
    driver.show();
    auto* card = &driver.find<RepositoryCard>("repositoryCard");
    QCOMPARE(card->folder(), before);
    QVERIFY(WindowDriver::waitFor([&] { return card->isGone(); }));
    driver.click("findPlaceButton");
    auto* dialog = window.findChild<QFileDialog*>();
    QVERIFY(dialog != nullptr);
    emit dialog->fileSelected(after);  // as choosing it does
    dialog->reject();
    QVERIFY(WindowDriver::waitFor([&] {
        const auto cards = window.findChildren<RepositoryCard*>();
        return std::any_of(cards.begin(), cards.end(), [&](const RepositoryCard* one) {
            return one->folder() == after && !one->isGone() && one->isVisible();
        });
    }));
    QVERIFY(!QSettings().value(QStringLiteral("recent")).toStringList().contains(before));
}

void TestWindow::startPage_remotes_areAskedOneAfterTheOther()
{
    ScratchRepository remote;
    makeScene(remote);
    const QTemporaryDir folder;
    remote.git("clone -q " + remote.folder().toUtf8() + " " + folder.path().toUtf8() + "/clone");
    {
        OpenWindow open(folder.path() + QStringLiteral("/clone"));
        QVERIFY(open.waitForPlan());
    }
    remote.write("later.txt", "1\n");
    remote.commit("arrived later");
    Window window;
    WindowDriver driver(window);
    driver.show();
    auto& card = driver.find<RepositoryCard>("repositoryCard");
    QVERIFY(
        WindowDriver::waitFor([&] { return card.words().contains(QLatin1String("level with")); }));
    driver.click("askAllButton");
    QVERIFY(WindowDriver::waitFor(
        [&] { return card.words().contains(QLatin1String("1 behind origin/ours")); }));
}

void TestWindow::fetch_failing_saysSo()
{
    ScratchRepository scratch;
    makeScene(scratch);
    scratch.git("remote add origin /no/such/place");
    OpenWindow open(scratch.folder());
    QVERIFY(open.waitForPlan());
    open.driver.press(Qt::Key_R, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.notice().contains(QLatin1String("is not there")); }));
    // With a remote that answers, the forecast follows what came in.
    const QTemporaryDir shared;
    scratch.git({QStringLiteral("clone"),
                 QStringLiteral("-q"),
                 QStringLiteral("--bare"),
                 scratch.folder(),
                 shared.filePath(QStringLiteral("s.git"))});
    scratch.git({QStringLiteral("remote"),
                 QStringLiteral("set-url"),
                 QStringLiteral("origin"),
                 shared.filePath(QStringLiteral("s.git"))});
    open.driver.click("fetchButton");
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.text("factsSecond").contains(QLatin1String("just now")); }));
}

void TestWindow::oddNames_areShownPlainly()
{
    ScratchRepository scratch;
    makeScene(scratch);
    scratch.write("<b>bold</b>\n\"q\".txt", "x\n");
    scratch.commit("<img src=x>");
    scratch.git("switch -q theirs");
    scratch.write("<b>bold</b>\n\"q\".txt", "y\n");
    scratch.commit("both add an odd name");
    scratch.git({QStringLiteral("update-ref"),
                 QStringLiteral("refs/heads/--help"),
                 QStringLiteral("theirs")});
    scratch.git("switch -q ours");
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    const auto* model = open.driver.find<QListView>("worklist").model();
    QVERIFY(model->index(0, 0).data().toString().contains(
        QStringLiteral("<b>bold</b>\u240a\"q\".txt")));
    open.driver.press(Qt::Key_1, Qt::AltModifier);
    open.driver.press(Qt::Key_J, Qt::ControlModifier);
    open.driver.press(Qt::Key_1, Qt::AltModifier);
    QVERIFY(open.record());
    QVERIFY(!scratch.read("<b>bold</b>\n\"q\".txt").isEmpty());
}

void TestWindow::largeFile_isDecidedByCandidates()
{
    ScratchRepository scratch;
    const QByteArray bulk = QByteArray(99, 'x').append('\n').repeated(170'000);
    scratch.write("large.txt", "first\n" + bulk);
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("large.txt", "theirs\n" + bulk);
    scratch.commit("theirs");
    scratch.git("switch -q -c ours main");
    scratch.write("large.txt", "ours\n" + bulk);
    scratch.commit("ours");
    followTheirs(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    QVERIFY(open.driver.text("resolveNote")
                .contains(QLatin1String("too large to be edited here (17 MB)")));
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.find<QPushButton>("takeCandidateButton").isEnabled(); }));
    open.driver.press(Qt::Key_1, Qt::AltModifier);
    QVERIFY(open.record());
    QVERIFY(scratch.read("large.txt").startsWith("theirs\nxxx"));
    QVERIFY(scratch.git("status --porcelain").isEmpty());
}

void TestWindow::lastRegion_decided_leavesNoMarkBehindIt()
{
    ScratchRepository scratch;
    scratch.write("end.txt", "one\ntwo\nthree\n");
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("end.txt", "one\ntheirs\n");
    scratch.commit("theirs");
    scratch.git("switch -q -c ours main");
    scratch.write("end.txt", "one\nours\n");
    scratch.commit("ours");
    followTheirs(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    auto& editor = open.driver.find<QsciScintilla>("codeEditor");
    QVERIFY(editor.markersAtLine(1) != 0);
    open.driver.press(Qt::Key_1, Qt::AltModifier);
    QCOMPARE(editor.markersAtLine(editor.lines() - 1), 0U);
    // The rail says in words where a line came from.
    const QPoint onRail(editor.marginWidth(0) + 4, 50);
    QHelpEvent help(QEvent::ToolTip, onRail, editor.viewport()->mapToGlobal(onRail));
    QApplication::sendEvent(editor.viewport(), &help);
    QVERIFY(QToolTip::text().startsWith(QLatin1String("from "))
            || QToolTip::text() == QLatin1String("unchanged"));
}

void TestWindow::keys_actOnlyAtTheirStation()
{
    ScratchRepository scratch;
    makeScene(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.decideAndGoToRecord();
    const QString decided = open.driver.find<QListWidget>("decisionList").item(0)->text();
    const QString message = open.driver.find<QPlainTextEdit>("messageEdit").toPlainText();
    open.driver.press(Qt::Key_2, Qt::AltModifier);
    open.driver.press(Qt::Key_Backspace, Qt::ControlModifier);
    open.driver.press(Qt::Key_1, Qt::ControlModifier);  // nor at Survey
    open.driver.press(Qt::Key_2, Qt::AltModifier);
    open.driver.press(Qt::Key_4, Qt::ControlModifier);
    QCOMPARE(open.driver.find<QListWidget>("decisionList").item(0)->text(), decided);
    QCOMPARE(open.driver.find<QPlainTextEdit>("messageEdit").toPlainText(), message);
    for (const char* action :
         {"candidate2Action", "undoAction", "allOursAction", "writeOwnAction"}) {
        QVERIFY2(!open.driver.find<QAction>(action).isEnabled(), action);
    }
}

void TestWindow::recording_isFrozenAndCanBeStopped()
{
    ScratchRepository scratch;
    makeScene(scratch);
    scratch.addHook("pre-merge-commit", "touch .git/in-hook; sleep 1000");
    const QByteArray before = scratch.fingerprint();
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.decideAndGoToRecord();
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor([&] { return QFile::exists(scratch.filePath(".git/in-hook")); }));
    // Neither keys nor clicks change what is being recorded, wherever one goes.
    open.driver.press(Qt::Key_2, Qt::ControlModifier);
    open.driver.press(Qt::Key_2, Qt::AltModifier);
    QVERIFY(!open.driver.find<QPushButton>("leaveOpenButton").isEnabled());
    QVERIFY(!open.driver.find<QAction>("putAwayAction").isEnabled());
    open.driver.type(QStringLiteral("x"));
    QVERIFY(open.driver.find<QPushButton>("stopRecordingButton")
                .isVisibleTo(open.driver.find<QWidget>("stopRecordingButton").parentWidget()));
    open.window.findChild<QPushButton*>(QStringLiteral("stopRecordingButton"))->click();
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.notice().contains(QLatin1String("was stopped")); }));
    QCOMPARE(scratch.fingerprint(), before);
    scratch.remove(".git/hooks/pre-merge-commit");
    QVERIFY(open.record());
    QCOMPARE(scratch.read("plan.txt").count("theirs"), qsizetype{1});
}

void TestWindow::closing_whileItRecords_waits()
{
    ScratchRepository scratch;
    makeScene(scratch);
    scratch.addHook("pre-merge-commit",
                    "touch .git/in-hook; while [ ! -e .git/go-on ]; do sleep 0.1; done");
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.decideAndGoToRecord();
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor([&] { return QFile::exists(scratch.filePath(".git/in-hook")); }));
    QVERIFY(!open.window.close());
    QVERIFY(open.window.isVisible());
    QVERIFY(open.driver.notice().contains(QLatin1String("closes as soon as")));
    scratch.write(".git/go-on", "");
    QVERIFY(WindowDriver::waitFor([&] { return !open.window.isVisible(); }));
    QCOMPARE(scratch.git("rev-list --merges --count ours"), QByteArray("1"));
    QVERIFY(scratch.git("status --porcelain").isEmpty());
}

void TestWindow::opening_anotherWhileItRecords_isRefused()
{
    ScratchRepository scratch;
    makeScene(scratch);
    ScratchRepository other;
    makeScene(other);
    scratch.addHook("pre-merge-commit",
                    "touch .git/in-hook; while [ ! -e .git/go-on ]; do sleep 0.1; done");
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.decideAndGoToRecord();
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor([&] { return QFile::exists(scratch.filePath(".git/in-hook")); }));
    open.window.openRepository(other.folder());
    QVERIFY(open.driver.notice().contains(QLatin1String("Recording is under way")));
    scratch.write(".git/go-on", "");
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.text("recordedTitle").startsWith(QLatin1String("Recorded")); }));
    open.window.openRepository(other.folder());
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("surveyKnot"); }));
    QVERIFY(open.start());
}

void TestWindow::openedBeforeShown_goesThereAtOnce()
{
    ScratchRepository scratch;
    makeScene(scratch);
    Window window;
    WindowDriver driver{window};
    window.openRepository(scratch.folder());
    driver.show();
    QVERIFY(driver.find<QLabel>("openingNote").isVisible());
    QVERIFY(!driver.find<QWidget>("recentCards").isVisible());
    QVERIFY(WindowDriver::waitFor([&] { return driver.canStart(); }));
    QVERIFY(driver.isAt("surveyKnot"));
    QVERIFY(!driver.find<QLabel>("openingNote").isVisible());
}

void TestWindow::openedBeforeShown_noRepository_startPage()
{
    const QTemporaryDir folder;
    Window window;
    WindowDriver driver{window};
    window.openRepository(folder.path());
    driver.show();
    QVERIFY(WindowDriver::waitFor([&] { return driver.find<QWidget>("recentCards").isVisible(); }));
    QVERIFY(!driver.notice().isEmpty());
}

void TestWindow::startPage_makesRepositoriesToTryItWith()
{
    const QTemporaryDir data;
    const QByteArray before = qgetenv("XDG_DATA_HOME");
    qputenv("XDG_DATA_HOME", data.path().toUtf8());
    Window window;
    WindowDriver driver(window);
    driver.show();
    driver.click("tryDemoButton");
    driver.find<QPushButton>("tryDemoButton").click();  // an impatient second press makes no second one
    QVERIFY(WindowDriver::waitFor([&] {
        return driver.isAt("surveyKnot") && driver.startLabel().contains(QLatin1String("decide"));
    }));
    QVERIFY(driver.text("factsFirst").contains(QLatin1String("slackwater")));
    QCOMPARE(QDir(data.filePath(QStringLiteral("rope-splice"))).entryList(QDir::Dirs | QDir::NoDotAndDotDot),
             QStringList(QStringLiteral("demo")));
    driver.find<QAction>("teammateAction").trigger();
    QVERIFY(WindowDriver::waitFor(
        [&] { return driver.notice().contains(QLatin1String("W. Otieno sent")); }));
    qputenv("XDG_DATA_HOME", before);
}

void TestWindow::uncommitted_isCarriedAcrossOrCommittedElsewhere()
{
    ScratchRepository scratch;
    makeScene(scratch);
    scratch.write("keep.txt", "edited and not committed\n");
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.decideAndGoToRecord();
    QVERIFY(open.driver.text("recordWork").contains(QLatin1String("carried across")));
    scratch.commit("committed elsewhere");
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.notice().contains(QLatin1String("has moved")); }));
    open.driver.click("noticeActionButton");
    QVERIFY(WindowDriver::waitFor([&] {
        return open.driver.notice().contains(QLatin1String("1 decision was carried over"));
    }));
    QVERIFY(open.record());
}

void TestWindow::arrivals_areNoticed()
{
    ScratchRepository scratch;
    makeScene(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.driver.press(Qt::Key_1, Qt::AltModifier);
    // Somebody fetches on the command line: theirs goes on.
    scratch.git("switch -q theirs");
    scratch.git("switch -q ours");
    const QByteArray commit = scratch.commitUpon("theirs");
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.notice().contains(QLatin1String("Commits arrived on theirs")); }));
    open.driver.click("noticeActionButton");
    QVERIFY(WindowDriver::waitFor([&] {
        return open.driver.notice().contains(QLatin1String("1 decision was carried over"));
    }));
    QVERIFY(open.record());
    QCOMPARE(scratch.git("rev-parse ours^2"), commit);
}

void TestWindow::secondWindow_showsTheSpliceReadOnly()
{
    ScratchRepository scratch;
    makeScene(scratch);
    // The other window is another process: its number in the journal is one that lives.
    QProcess other;
    other.start(QStringLiteral("sleep"), {QStringLiteral("1000")});
    QVERIFY(other.waitForStarted());
    {
        OpenWindow first(scratch.folder());
        QVERIFY(first.start());
        first.window.close();
    }
    const std::string folder =
        (scratch.folder() + QStringLiteral("/.git/rope-splice")).toStdString();
    const auto journal = std::move(Journal::open(folder)).value();
    const std::string splice = journal->splices(SpliceState::open)->front().plan.id;
    QVERIFY(journal->holdSplice(splice, std::to_string(other.processId()) + "-other"));
    OpenWindow second(scratch.folder());
    QVERIFY(WindowDriver::waitFor(
        [&] { return second.driver.notice().contains(QLatin1String("Another window")); }));
    second.driver.press(Qt::Key_1, Qt::AltModifier);
    QVERIFY(second.driver.status().startsWith(QLatin1String("1 still open")));
    QVERIFY(journal->decisions(splice)->empty());
    second.driver.click("noticeActionButton");
    QVERIFY(WindowDriver::waitFor([&] {
        return second.driver.isAt("resolveKnot")
               && second.driver.find<QAction>("candidate1Action").isEnabled();
    }));
    second.driver.press(Qt::Key_1, Qt::AltModifier);
    QVERIFY(second.driver.status().startsWith(QLatin1String("Nothing is open")));
    // And the other one takes it back.
    QVERIFY(journal->holdSplice(splice, std::to_string(other.processId()) + "-other"));
    QVERIFY(WindowDriver::waitFor(
        [&] { return second.driver.notice().contains(QLatin1String("Another window")); }));
    other.kill();
    other.waitForFinished();
}

void TestWindow::startingAnew_asksAboutEarlierDecisions()
{
    ScratchRepository scratch;
    makeScene(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    open.driver.press(Qt::Key_1, Qt::AltModifier);
    open.driver.find<QAction>("putAwayAction").trigger();
    QVERIFY(WindowDriver::waitFor([&] {
        return open.window.findChild<QPushButton*>(QStringLiteral("bringBackButton0")) != nullptr;
    }));
    open.driver.click("noticeCloseButton");
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.canStart(); }));
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(open.driver.notice().contains(QLatin1String("put away with decisions")));
    {
        // Another window's start page tells of it.
        Window other;
        other.show();
        const auto* card = other.findChild<RepositoryCard*>();
        QVERIFY(WindowDriver::waitFor(
            [&] { return card->words().contains(QLatin1String("1 splice put away: theirs")); }));
    }
    open.driver.show();                       // the keyboard is its again
    open.driver.click("noticeSecondButton");  // start clean
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("resolveKnot"); }));
    QVERIFY(open.driver.status().startsWith(QLatin1String("1 still open")));
    // The first one can be brought back whatever else is open.
    open.driver.press(Qt::Key_1, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor([&] {
        const auto* button =
            open.window.findChild<QPushButton*>(QStringLiteral("bringBackButton0"));
        return button != nullptr && button->isVisible();
    }));
    open.window.findChild<QPushButton*>(QStringLiteral("bringBackButton0"))->click();
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("resolveKnot"); }));
    QVERIFY(open.driver.status().startsWith(QLatin1String("Nothing is open")));
}

void TestWindow::bulkDecision_manyRegions_isOneStep()
{
    ScratchRepository scratch;
    QByteArray base;
    QByteArray ours;
    QByteArray theirs;
    for (int i = 0; i < 400; ++i) {
        const QByteArray number = QByteArray::number(i);
        base += "line " + number + "\nkept " + number + "\n";
        ours += "ours " + number + "\nand more\nkept " + number + "\n";
        theirs += "theirs " + number + "\nkept " + number + "\n";
    }
    scratch.write("many.txt", base);
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("many.txt", theirs);
    scratch.commit("theirs");
    scratch.git("switch -q -c ours main");
    scratch.write("many.txt", ours);
    scratch.commit("ours");
    followTheirs(scratch);
    OpenWindow open(scratch.folder());
    QVERIFY(open.start());
    auto& editor = open.driver.find<QsciScintilla>("codeEditor");
    const QString before = editor.text();
    open.driver.press(Qt::Key_O, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(open.driver.status().startsWith(QLatin1String("Nothing is open")));
    QCOMPARE(editor.text().toUtf8(), ours);
    QVERIFY(!editor.annotation(0).isEmpty() || editor.lines() > 0);
    open.driver.press(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(open.driver.status(), QStringLiteral("Undone: answers for 400 places"));
    QVERIFY(open.driver.text("worklistSummary").startsWith(QLatin1String("400 open")));
    QCOMPARE(editor.text(), before);
    open.driver.press(Qt::Key_T, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(editor.text().toUtf8(), theirs);
}

void TestWindow::localMergeProgram_isAskedAbout()
{
    ScratchRepository scratch;
    const QByteArray witness = scratch.filePath(".git/it-ran").toUtf8();
    scratch.write(".gitattributes", "plan.txt merge=mine\n");
    makeScene(scratch);
    scratch.git(QStringList{QStringLiteral("config"),
                            QStringLiteral("merge.mine.driver"),
                            QStringLiteral("touch ") + QString::fromUtf8(witness)
                                + QStringLiteral("; exit 1")});
    OpenWindow open(scratch.folder());
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.notice().contains(QString::fromUtf8(witness)); }));
    QVERIFY(!QFile::exists(QString::fromUtf8(witness)));
    open.driver.click("noticeActionButton");
    QVERIFY(WindowDriver::waitFor([&] { return QFile::exists(QString::fromUtf8(witness)); }));
    // Asked once for each repository and command.
    OpenWindow again(scratch.folder());
    QVERIFY(WindowDriver::waitFor([&] { return again.driver.canStart(); }));
    QCOMPARE(again.driver.notice(), QString());
}

void TestWindow::unreadableJournal_isNoReasonNotToOpen()
{
    ScratchRepository scratch;
    makeScene(scratch);
    scratch.write(".git/rope-splice/journal.sqlite", QByteArray(5000, 'j'));
    OpenWindow open(scratch.folder());
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.notice().contains(QLatin1String("could not be read")); }));
    QVERIFY(open.start());
}

void TestWindow::longSubject_isCutOff()
{
    ScratchRepository scratch;
    makeScene(scratch);
    scratch.git("switch -q theirs");
    scratch.git(QStringList{QStringLiteral("commit"),
                            QStringLiteral("-q"),
                            QStringLiteral("--allow-empty"),
                            QStringLiteral("-F"),
                            QStringLiteral("-")},
                QByteArray(1'000'000, 'x'));
    scratch.git("switch -q ours");
    OpenWindow open(scratch.folder());
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.canStart(); }));
    const auto& table = open.driver.find<QAbstractItemView>("incomingTable");
    bool isCut = false;
    for (int column = 0; column < table.model()->columnCount(); ++column) {
        const QModelIndex index = table.model()->index(0, column);
        QVERIFY(index.data().toString().size() < 1000);
        QVERIFY(index.data(Qt::ToolTipRole).toString().size() < 5000);
        isCut = isCut || index.data().toString().endsWith(QStringLiteral("…"));
    }
    QVERIFY(isCut);
}

ROPE_TESTS(TestWindow, WindowApplication)
#include "tst_window.moc"
