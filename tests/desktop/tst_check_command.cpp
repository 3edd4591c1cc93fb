// SPDX-License-Identifier: GPL-3.0-or-later
// The check command in the window, on real repositories.
#include "desktop/check/output_view.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/trial_words.h"
#include "tests/support/check_window.h"
#include "tests/support/window_application.h"

#include <QDirIterator>
#include <QLineEdit>
#include <QSettings>
#include <QStandardPaths>
#include <QTextBlock>
#include <Qsci/qsciscintilla.h>

#include <csignal>

using namespace rope;
using namespace rope::test;

namespace {
/// Both change a line of the plan; theirs adds lines to the report and a file.
void makeBranches(ScratchRepository& scratch, const char* shared = nullptr)
{
    scratch.write("plan.txt", "one\ntwo\nthree\n");
    scratch.write("report.py", "a = 1\nb = 2\nc = 3\nd = 4\ne = 5\n");
    if (shared != nullptr) {
        scratch.write(".rope-splice.toml", shared);
    }
    scratch.commit("base");
    scratch.git("branch -q theirs");
    scratch.git("checkout -q -b ours");
    scratch.write("plan.txt", "one\ntwo ours\nthree\n");
    scratch.write("report.py", "a = 0\nb = 2\nc = 3\nd = 4\ne = 5\n");
    scratch.commit("ours");
    scratch.git("checkout -q theirs");
    scratch.write("plan.txt", "one\ntwo theirs\nthree\n");
    scratch.write("report.py", "a = 1\nb = 2\nc = 3\nd = 4\ne = 5\nf = 6\n");
    scratch.write("new.txt", "new\nnew\nnew\n");
    scratch.commit("theirs");
    scratch.git("checkout -q ours");
}

/// A window at the Check station of such a splice.
class AtCheck : public CheckWindow
{
public:
    using CheckWindow::CheckWindow;

    [[nodiscard]] bool start() { return startJoining() && decideAndGoOn() && isKnown(); }
    /// Waits until it is known which files the result holds.
    [[nodiscard]] bool isKnown()
    {
        return driver.waitFor([&] {
            return !state().contains(QLatin1String("Looking"))
                   && !state().contains(QLatin1String("still open")) && !state().isEmpty();
        });
    }
    void write(const QString& command)
    {
        auto& field = driver.find<QLineEdit>("checkCommand");
        field.setFocus();
        field.selectAll();
        driver.type(command);
    }
    /// Writes a command, runs it, and gives how it went.
    QString run(const QString& command)
    {
        write(command);
        driver.press(Qt::Key_Return);
        return ended();
    }
    QString runAgain()
    {
        if (!isKnown()) {
            return QStringLiteral("not known");
        }
        driver.press(Qt::Key_F5);
        return ended();
    }
    QString ended()
    {
        const auto& button = driver.find<QPushButton>("runCheckButton");
        (void)driver.waitFor([&] { return button.text() == QLatin1String("Stop"); }, 2000);
        return driver.waitFor([&] { return button.text() != QLatin1String("Stop"); })
                   ? state()
                   : QStringLiteral("it does not end");
    }
    [[nodiscard]] QString state() { return driver.find<ElidedLabel>("checkState").fullText(); }
    [[nodiscard]] OutputView& output() { return driver.find<OutputView>("checkOutput"); }
    [[nodiscard]] QString said() { return output().toPlainText().trimmed(); }
    /// Answers what is asked about commands that the folder came with.
    void allowCommandsOfTheFolder()
    {
        auto& button = driver.find<QPushButton>("useSharedChecks");
        QVERIFY(driver.waitFor([&] { return button.isVisible(); }));
        driver.click("useSharedChecks");
        QVERIFY(driver.waitFor([&] { return !button.isVisible(); }));
    }
    void trigger(const char* action) { driver.find<QAction>(action).trigger(); }
    /// Another end of the splice than before: a line typed into the plan.
    [[nodiscard]] bool changeResult()
    {
        driver.press(Qt::Key_2, Qt::ControlModifier);
        driver.press(Qt::Key_2, Qt::AltModifier);
        driver.press(Qt::Key_3, Qt::ControlModifier);
        return isKnown();
    }
};

QString cacheFolder()
{
    return QStandardPaths::writableLocation(QStandardPaths::CacheLocation)
           + QStringLiteral("/trials");
}

int countOfFiles(const QString& folder)
{
    int count = 0;
    for (QDirIterator files(folder, QDir::Files, QDirIterator::Subdirectories); files.hasNext();
         files.next()) {
        ++count;
    }
    return count;
}
}  // namespace

class TestCheckCommand : public QObject
{
    Q_OBJECT
private slots:
    void init();
    void command_isKeptAndRunsOnTheResult();
    void failure_leadsToTheLines();
    void failure_isOldOrNew();
    void severalCommands_runInOrder();
    void emptyField_takesACommandAway();
    void sharedCommands_areAskedAbout();
    void commandsOfTheFolder_areAskedAbout_onceForEachText();
    void required_keepsFromRecording();
    void results_areRemembered();
    void stop_endsEverything();
    void linksLeftInTheCopy_areNotFollowed();
    void whatCannotRun_isASentence();
    void flood_keepsTheWindowAlive();
    void colours_areShownAndNothingElse();
    void openPlaces_keepItFromRunning();
    void otherWindow_runsNothing();
    void endingTheSplice_endsTheCommand();
    void submodules_onRequest();
    void copies_areRemovedOnRequest();
    void decisionsWhileItRuns_leaveItAlone();
    void words_sayHowItEnded();
};

void TestCheckCommand::init()
{
    QSettings().clear();
    QDir(cacheFolder()).removeRecursively();
}

void TestCheckCommand::command_isKeptAndRunsOnTheResult()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    const QByteArray before = scratch.fingerprint();
    {
        AtCheck check(scratch);
        QVERIFY(check.start());
        QVERIFY(!check.driver.find<QPushButton>("runCheckButton").isEnabled());
        const QString state =
            check.run(QStringLiteral("sh -c \"cat plan.txt new.txt; pwd; touch made\""));
        QVERIFY2(state.startsWith(QStringLiteral("✓ Passed in")), qPrintable(state));
        QVERIFY2(check.said().startsWith(QLatin1String("one\ntwo "))
                     && check.said().contains(QLatin1String("\nthree\nnew\n")),
                 qPrintable(check.said()));
        QVERIFY(check.said().section(QLatin1Char('\n'), -1).startsWith(cacheFolder()));
        QCOMPARE(check.driver.find<QLabel>("checkLeft").text().contains(QLatin1String("fails")),
                 false);
    }
    QCOMPARE(scratch.fingerprint(), before);
    QVERIFY(!QFile::exists(scratch.filePath("made")));
    QVERIFY(scratch.git("config rope-splice.check").startsWith("sh -c \"cat plan"));
    // It stands in the field again, and how it went; what was written last too.
    AtCheck again(scratch);
    QVERIFY(again.isAtCheck());
    QVERIFY(again.isKnown());
    QVERIFY(again.driver.find<QLineEdit>("checkCommand").text().startsWith(QLatin1String("sh -c")));
    QVERIFY2(again.state().contains(QLatin1String("Passed")), qPrintable(again.state()));
    QVERIFY(again.said().startsWith(QLatin1String("one\n")));
}

void TestCheckCommand::failure_leadsToTheLines()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    AtCheck check(scratch);
    QVERIFY(check.start());
    const QString state = check.run(QStringLiteral(
        "sh -c \"echo report.py:5: bad; echo new.txt:2:1 worse; echo other.c:3:; exit 3\""));
    QVERIFY2(state.startsWith(QStringLiteral("✗ Failed with exit status 3")), qPrintable(state));
    QVERIFY(check.driver.find<QLabel>("checkLeft").text().contains(QLatin1String("fails")));
    QCOMPARE(check.output().placeCount(), std::size_t{2});
    check.driver.press(Qt::Key_F8);
    QCOMPARE(check.path(), QStringLiteral("report.py"));
    int line = 0;
    int column = 0;
    const auto& code = check.driver.find<QsciScintilla>("read:codeEditor");
    code.getCursorPosition(&line, &column);
    QCOMPARE(line, 4);
    // A file that only one side has is taken up first.
    check.driver.press(Qt::Key_F8);
    QVERIFY(check.driver.waitFor([&] {
        code.getCursorPosition(&line, &column);
        return check.path() == QLatin1String("new.txt") && line == 1;
    }));
    check.driver.press(Qt::Key_F8, Qt::ShiftModifier);
    QCOMPARE(check.path(), QStringLiteral("report.py"));
    // By mouse: a click into the words.
    QTextCursor cursor = check.output().textCursor();
    cursor.setPosition(check.output().document()->findBlockByNumber(1).position() + 3);
    check.output().setTextCursor(cursor);
    QTest::mouseClick(
        check.output().viewport(), Qt::LeftButton, {}, check.output().cursorRect().center());
    QCOMPARE(check.path(), QStringLiteral("new.txt"));
}

void TestCheckCommand::failure_isOldOrNew()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    AtCheck check(scratch);
    QVERIFY(check.start());
    const auto verdictOf = [&](const QString& command) {
        if (!check.run(command).startsWith(QStringLiteral("✗"))) {
            return QStringLiteral("it did not fail");
        }
        check.driver.click("trySidesButton");
        (void)check.driver.waitFor([&] { return !check.driver.text("checkVerdict").isEmpty(); });
        return check.driver.text("checkVerdict");
    };
    QCOMPARE(verdictOf(QStringLiteral("test ! -e new.txt")),
             QStringLiteral("Fails on theirs as well"));
    QCOMPARE(verdictOf(QStringLiteral("sh -c \"echo said; exit 1\"")),
             QStringLiteral("Fails on theirs and ours as well"));
    QCOMPARE(verdictOf(QStringLiteral("sh -c \"! grep -q 0 report.py || ! grep -q f report.py\"")),
             QStringLiteral("Passes on both sides: merging them broke it"));
    // What it said there can be read, and the base can be tried too.
    check.trigger("allSidesAction");
    QVERIFY(check.ended().startsWith(QStringLiteral("✓ Passed")));
    check.driver.click("checkSide0");
    QVERIFY(check.state().startsWith(QStringLiteral("✗")));
    check.driver.click("checkSide3");
    QVERIFY(check.state().startsWith(QStringLiteral("✓")));
}

void TestCheckCommand::severalCommands_runInOrder()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    AtCheck check(scratch);
    QVERIFY(check.start());
    check.run(QStringLiteral("echo first"));
    check.driver.click("anotherCheckButton");
    check.run(QStringLiteral("sh -c \"echo second; exit 1\""));
    check.driver.click("anotherCheckButton");
    const QString state = check.run(QStringLiteral("echo third"));
    // The one that failed is shown; none was left out.
    QVERIFY2(state.startsWith(QStringLiteral("✗")), qPrintable(state));
    QCOMPARE(check.said(), QStringLiteral("second"));
    QCOMPARE(check.driver.find<QPushButton>("checkTab0").text(), QStringLiteral("✓ 1"));
    QCOMPARE(check.driver.find<QPushButton>("checkTab1").text(), QStringLiteral("✗ 2"));
    check.driver.click("checkTab2");
    QCOMPARE(check.said(), QStringLiteral("third"));
    QCOMPARE(check.driver.find<QLineEdit>("checkCommand").text(), QStringLiteral("echo third"));
    QCOMPARE(scratch.git("config --get-all rope-splice.check"),
             QByteArray("echo first\nsh -c \"echo second; exit 1\"\necho third"));
}

void TestCheckCommand::emptyField_takesACommandAway()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    scratch.git("config --add rope-splice.check true");
    scratch.git("config --add rope-splice.check false");
    AtCheck check(scratch);
    QVERIFY(check.start());
    check.allowCommandsOfTheFolder();
    check.write(QString(QChar::Space));
    check.driver.press(Qt::Key_3, Qt::ControlModifier);
    check.driver.find<QWidget>("checkList").setFocus();
    QVERIFY(check.driver.waitFor([&] {
        int exitCode = 0;
        return scratch.tryGit({QStringLiteral("config"),
                               QStringLiteral("--get-all"),
                               QStringLiteral("rope-splice.check")},
                              exitCode)
               == "false";
    }));
    QCOMPARE(check.driver.find<QLineEdit>("checkCommand").text(), QStringLiteral("false"));
}

void TestCheckCommand::sharedCommands_areAskedAbout()
{
    ScratchRepository scratch;
    makeBranches(scratch, "[[check]]\nrun = 'sh -c \"echo shared\"'\n");
    {
        AtCheck check(scratch);
        QVERIFY(check.start());
        QVERIFY(check.driver.waitFor([&] {
            return check.driver.text("sharedChecks").contains(QLatin1String("echo shared"));
        }));
        check.driver.press(Qt::Key_F5);
        QTest::qWait(300);
        QCOMPARE(countOfFiles(cacheFolder()), 0);
        // It says why, and leads to the answer.
        QVERIFY(check.driver.text("checkState").startsWith(QStringLiteral("Nothing runs before")));
        QVERIFY(check.driver.find<QPushButton>("useSharedChecks").hasFocus());
        check.driver.click("leaveSharedChecks");
        QVERIFY(!check.driver.find<QWidget>("sharedChecks").isVisible());
        check.driver.press(Qt::Key_F5);
        QCOMPARE(check.driver.text("checkState"), QStringLiteral("Enter a command first."));
        QVERIFY(check.driver.find<QLineEdit>("checkCommand").hasFocus());
        check.driver.click("askSharedAgain");
        QVERIFY(check.driver.find<QWidget>("sharedChecks").isVisible());
        check.driver.click("leaveSharedChecks");
    }
    {
        AtCheck check(scratch);
        QVERIFY(check.isAtCheck());
        QVERIFY(check.driver.waitFor(
            [&] { return check.driver.find<QWidget>("sharedChecks").isVisible(); }));
        check.driver.click("useSharedChecks");
        QVERIFY(check.runAgain().startsWith(QStringLiteral("✓")));
        QCOMPARE(check.said(), QStringLiteral("shared"));
        QVERIFY(check.driver.find<QLineEdit>("checkCommand").isReadOnly());
        // An own one comes before it.
        check.driver.click("anotherCheckButton");
        check.run(QStringLiteral("echo own"));
        check.driver.click("checkTab0");
        QCOMPARE(check.said(), QStringLiteral("own"));
    }
    // What they run now was not allowed by that.
    ScratchRepository other;
    makeBranches(other, "[[check]]\nrun = 'sh -c \"echo other\"'\n");
    AtCheck check(other);
    QVERIFY(check.start());
    QVERIFY(check.driver.waitFor(
        [&] { return check.driver.find<QWidget>("sharedChecks").isVisible(); }));
    // One that cannot be read is a sentence.
    ScratchRepository broken;
    makeBranches(broken, "[[check]\n");
    AtCheck unreadable(broken);
    QVERIFY(unreadable.start());
    QVERIFY2(unreadable.state().contains(QLatin1String("cannot be read")),
             qPrintable(unreadable.state()));
}

/// Whoever handed the folder over may have written its configuration.
void TestCheckCommand::commandsOfTheFolder_areAskedAbout_onceForEachText()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    scratch.git({QStringLiteral("config"),
                 QStringLiteral("rope-splice.check"),
                 QStringLiteral("echo handed\u202e over")});
    {
        AtCheck check(scratch);
        QVERIFY(check.start());
        // All of it is shown, with what cannot be seen marked.
        QVERIFY(check.driver.waitFor([&] {
            return check.driver.text("sharedChecks").contains(QLatin1String("echo handed"));
        }));
        QVERIFY(!check.driver.text("sharedChecks").contains(QChar(0x202e)));
        check.driver.press(Qt::Key_F5);
        QTest::qWait(300);
        QCOMPARE(countOfFiles(cacheFolder()), 0);
        check.driver.click("useSharedChecks");
        QVERIFY(check.runAgain().startsWith(QStringLiteral("✓")));
    }
    {
        AtCheck check(scratch);
        QVERIFY(check.isAtCheck());
        QVERIFY(check.runAgain().startsWith(QStringLiteral("✓")));
    }
    scratch.git("config rope-splice.check true");
    AtCheck check(scratch);
    QVERIFY(check.isAtCheck());
    QVERIFY(check.driver.waitFor(
        [&] { return check.driver.find<QWidget>("sharedChecks").isVisible(); }));
}

void TestCheckCommand::required_keepsFromRecording()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    scratch.git("config rope-splice.check true");
    AtCheck check(scratch);
    QVERIFY(check.start());
    check.allowCommandsOfTheFolder();
    check.trigger("requireCheckAction");
    const auto canRecord = [&] {
        check.driver.press(Qt::Key_4, Qt::ControlModifier);
        const bool can = check.driver.find<QPushButton>("recordButton").isEnabled();
        const QString why = check.driver.text("recordObstacle");
        check.driver.press(Qt::Key_3, Qt::ControlModifier);
        return can ? QStringLiteral("yes") : why;
    };
    QVERIFY2(canRecord().contains(QLatin1String("has not run")), qPrintable(canRecord()));
    QVERIFY(check.run(QStringLiteral("false")).startsWith(QStringLiteral("✗")));
    QVERIFY2(canRecord().contains(QLatin1String("fails")), qPrintable(canRecord()));
    QVERIFY(check.run(QStringLiteral("true")).startsWith(QStringLiteral("✓")));
    QCOMPARE(canRecord(), QStringLiteral("yes"));
    QVERIFY(check.driver.text("recordWhat").contains(QLatin1String("The check command passed")));
    QVERIFY(check.changeResult());
    QVERIFY2(canRecord().contains(QLatin1String("has not run")), qPrintable(canRecord()));
    // Where it is wanted, it can be run.
    check.driver.press(Qt::Key_4, Qt::ControlModifier);
    check.driver.press(Qt::Key_F5);
    QVERIFY(check.isAtCheck());
    QVERIFY2(check.ended().startsWith(QStringLiteral("✓")), qPrintable(check.state()));
    check.driver.press(Qt::Key_4, Qt::ControlModifier);
    check.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(check.driver.waitFor(
        [&] { return check.driver.find<QLabel>("recordedTitle").isVisible(); }));
    QCOMPARE(scratch.git("config rope-splice.checkRequired"), QByteArray("true"));
}

void TestCheckCommand::results_areRemembered()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    AtCheck check(scratch);
    QVERIFY(check.start());
    QVERIFY(check.run(QStringLiteral("grep -c two plan.txt")).startsWith(QStringLiteral("✓")));
    const QString said = check.said();
    QVERIFY(check.changeResult());
    QVERIFY2(check.state().contains(QLatin1String("not run on this result")),
             qPrintable(check.state()));
    QVERIFY(check.runAgain().startsWith(QStringLiteral("✓")));
    // Back to the result that it has run on: nothing needs to run.
    check.driver.press(Qt::Key_2, Qt::ControlModifier);
    check.driver.press(Qt::Key_Z, Qt::ControlModifier);
    check.driver.press(Qt::Key_3, Qt::ControlModifier);
    QVERIFY(check.isKnown());
    QVERIFY2(check.state().startsWith(QStringLiteral("✓")), qPrintable(check.state()));
    QCOMPARE(check.said(), said);
}

void TestCheckCommand::stop_endsEverything()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    AtCheck check(scratch);
    QVERIFY(check.start());
    check.write(QStringLiteral("sh -c \"setsid sleep 100 & echo $!; sleep 100\""));
    check.driver.press(Qt::Key_Return);
    QVERIFY(check.driver.waitFor([&] { return check.said().toInt() > 0; }));
    const pid_t child = check.said().toInt();
    QVERIFY(check.state().startsWith(QLatin1String("Running on the result")));
    QCOMPARE(check.driver.find<QPushButton>("runCheckButton").text(), QStringLiteral("Stop"));
    check.driver.press(Qt::Key_F5);
    QVERIFY2(check.ended().contains(QLatin1String("Stopped after")), qPrintable(check.state()));
    QVERIFY(::kill(child, 0) != 0);
    // It is no result: nothing of it is remembered as one.
    QVERIFY(!check.driver.find<QLabel>("checkLeft").text().contains(QLatin1String("fails")));
}

/// What a command leaves in its copy may lead out of it: nothing is written where it leads.
void TestCheckCommand::linksLeftInTheCopy_areNotFollowed()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    const ScratchRepository outside;
    const char* const kNames[] = {"alternates", "head", "config", "refs", "info/kept", "plan"};
    for (const char* name : kNames) {
        outside.write(name, "not to be touched\n");
    }
    const auto link = [&](const char* name, const char* inCopy) {
        return QStringLiteral("rm -rf %2; ln -s %1 %2; ")
            .arg(outside.filePath(name), QLatin1String(inCopy));
    };
    AtCheck check(scratch);
    QVERIFY(check.start());
    const QByteArray index = scratch.read(".git/index");
    const QString links = link("alternates", ".git/objects/info/alternates")
                          + link("head", ".git/HEAD") + link("config", ".git/config")
                          + link("refs", ".git/packed-refs") + link("plan", "plan.txt")
                          + QStringLiteral("rm -f .git/index; ln -s %1 .git/index")
                                .arg(scratch.filePath(".git/index"));
    QVERIFY(check.run(QStringLiteral("sh -c \"%1\"").arg(links)).startsWith(QStringLiteral("✓")));
    QVERIFY(check.changeResult());
    QVERIFY(check.run(QStringLiteral("grep -q two plan.txt")).startsWith(QStringLiteral("✓")));
    QVERIFY(
        check
            .run(QStringLiteral("sh -c \"rm -rf .git/objects/info; ln -s %1 .git/objects/info\"")
                     .arg(outside.filePath("info")))
            .startsWith(QStringLiteral("✓")));
    QVERIFY(check.changeResult());
    QVERIFY(check.run(QStringLiteral("git status")).startsWith(QStringLiteral("✓")));
    for (const char* name : kNames) {
        QCOMPARE(outside.read(name), QByteArray("not to be touched\n"));
    }
    QVERIFY(!QFile::exists(outside.filePath("info/alternates")));
    QCOMPARE(scratch.read(".git/index"), index);
}

void TestCheckCommand::whatCannotRun_isASentence()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    AtCheck check(scratch);
    QVERIFY(check.start());
    QVERIFY2(check.run(QStringLiteral("no-such-program-here x"))
                 .contains(QLatin1String("There is no program no-such-program-here")),
             qPrintable(check.state()));
    // What can be done stands below, whole.
    QVERIFY(check.output().placeholderText().endsWith(QLatin1String("./name.")));
    QVERIFY2(check.run(QStringLiteral("make && make test")).contains(QLatin1String("shell")),
             qPrintable(check.state()));
    QVERIFY2(check.run(QStringLiteral("make \"x")).contains(QLatin1String("quotation mark")),
             qPrintable(check.state()));
    QVERIFY2(check.run(QStringLiteral("<b>x</b> %1")).contains(QLatin1String("<b>x</b>")),
             qPrintable(check.state()));
    QVERIFY(check.driver.find<QLabel>("checkLeft").text().contains(QLatin1String("fails")));
}

void TestCheckCommand::flood_keepsTheWindowAlive()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    AtCheck check(scratch);
    QVERIFY(check.start());
    check.write(QStringLiteral("yes it goes on and on"));
    check.driver.press(Qt::Key_Return);
    QVERIFY(check.driver.waitFor([&] { return !check.said().isEmpty(); }));
    QElapsedTimer clock;
    clock.start();
    qint64 longest = 0;
    while (clock.elapsed() < 2500) {
        QElapsedTimer step;
        step.start();
        QApplication::processEvents(QEventLoop::AllEvents, 5);
        longest = std::max(longest, step.elapsed());
    }
    qInfo("longest stall %lld ms", longest);
    QVERIFY2(longest < 1000, qPrintable(QString::number(longest)));
    check.driver.press(Qt::Key_F5);
    QVERIFY(check.ended().contains(QLatin1String("Stopped")));
    QVERIFY(check.output().document()->blockCount() <= OutputView::kMostLines);
    QDirIterator outputs(cacheFolder() + QStringLiteral("/outputs"), QDir::Files);
    QVERIFY(outputs.hasNext());
    outputs.next();
    QVERIFY(outputs.fileInfo().size() < 51'100'000);
}

void TestCheckCommand::colours_areShownAndNothingElse()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    AtCheck check(scratch);
    QVERIFY(check.start());
    check.run(QStringLiteral("printf \"\\033[1;31mred\\033[0m "
                             "<b>plain</b>\\033]0;title\\007\\n10%%\\r99%%\\n\\303\\244\\n\""));
    QCOMPARE(check.said(), QStringLiteral("red <b>plain</b>\n99%\nä"));
    QTextCursor cursor(check.output().document());
    cursor.setPosition(1);
    QCOMPARE(cursor.charFormat().fontWeight(), int(QFont::Bold));
    QVERIFY(cursor.charFormat().foreground().color().red() > 200);
}

void TestCheckCommand::openPlaces_keepItFromRunning()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    scratch.git("config rope-splice.check true");
    AtCheck check(scratch);
    QVERIFY(check.startJoining());
    check.driver.press(Qt::Key_3, Qt::ControlModifier);
    QVERIFY2(check.state().contains(QLatin1String("1 place is still open")),
             qPrintable(check.state()));
    QVERIFY(!check.driver.find<QPushButton>("runCheckButton").isEnabled());
    check.driver.press(Qt::Key_F5);
    QTest::qWait(200);
    QCOMPARE(countOfFiles(cacheFolder()), 0);
}

void TestCheckCommand::otherWindow_runsNothing()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    scratch.git("config rope-splice.check true");
    AtCheck check(scratch);
    QVERIFY(check.start());
    AtCheck other(scratch);
    QVERIFY(other.isAtCheck());
    QVERIFY(!other.driver.find<QPushButton>("runCheckButton").isEnabled());
    QVERIFY(other.driver.find<QLineEdit>("checkCommand").isReadOnly());
}

void TestCheckCommand::endingTheSplice_endsTheCommand()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    AtCheck check(scratch);
    QVERIFY(check.start());
    check.write(QStringLiteral("sh -c \"echo $$; sleep 100\""));
    check.driver.press(Qt::Key_Return);
    QVERIFY(check.driver.waitFor([&] { return check.said().toInt() > 0; }));
    const pid_t program = check.said().toInt();
    check.trigger("putAwayAction");
    QVERIFY(check.driver.waitFor([&] { return ::kill(program, 0) != 0; }, 10'000));
}

void TestCheckCommand::submodules_onRequest()
{
    ScratchRepository below;
    below.write("inner.txt", "inner\n");
    below.commit("inner");
    ScratchRepository scratch;
    scratch.git({QStringLiteral("-c"),
                 QStringLiteral("protocol.file.allow=always"),
                 QStringLiteral("submodule"),
                 QStringLiteral("--quiet"),
                 QStringLiteral("add"),
                 below.folder(),
                 QStringLiteral("wind")});
    makeBranches(scratch);
    AtCheck check(scratch);
    QVERIFY(check.start());
    QVERIFY(check.run(QStringLiteral("cat wind/inner.txt")).startsWith(QStringLiteral("✗")));
    check.trigger("copySubmodulesAction");
    QVERIFY2(check.runAgain().startsWith(QStringLiteral("✓")), qPrintable(check.state()));
    QCOMPARE(check.said(), QStringLiteral("inner"));
}

void TestCheckCommand::copies_areRemovedOnRequest()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    AtCheck check(scratch);
    QVERIFY(check.start());
    QVERIFY(check.run(QStringLiteral("true")).startsWith(QStringLiteral("✓")));
    QVERIFY(countOfFiles(cacheFolder() + QStringLiteral("/copies")) > 0);
    check.trigger("removeCopiesAction");
    QVERIFY(check.driver.waitFor(
        [&] { return countOfFiles(cacheFolder() + QStringLiteral("/copies")) == 0; }));
    QVERIFY(check.runAgain().startsWith(QStringLiteral("✓")));
}

/// What runs is a shared command, which the next result may not have; the result changes meanwhile, and
/// another command is being written.
void TestCheckCommand::decisionsWhileItRuns_leaveItAlone()
{
    ScratchRepository scratch;
    makeBranches(scratch, "[[check]]\nrun = 'sh -c \"echo begun; sleep 2; echo done\"'\n");
    AtCheck check(scratch);
    QVERIFY(check.start());
    check.driver.click("useSharedChecks");
    check.driver.press(Qt::Key_F5);
    QVERIFY(check.driver.waitFor([&] { return check.said() == QLatin1String("begun"); }));
    check.driver.press(Qt::Key_2, Qt::ControlModifier);
    check.driver.press(Qt::Key_2, Qt::AltModifier);
    check.driver.press(Qt::Key_3, Qt::ControlModifier);
    check.driver.click("anotherCheckButton");
    check.write(QStringLiteral("echo mine"));
    QVERIFY2(check.ended().size() > 0, qPrintable(check.state()));
    QCOMPARE(check.driver.find<QLineEdit>("checkCommand").text(), QStringLiteral("echo mine"));
    // It ran on the result as it stood, and says nothing of the one that stands now.
    check.driver.press(Qt::Key_Return);
    check.ended();
    QCOMPARE(scratch.git("config --get-all rope-splice.check"), QByteArray("echo mine"));
    check.driver.press(Qt::Key_2, Qt::ControlModifier);
    check.driver.press(Qt::Key_Z, Qt::ControlModifier);
    check.driver.press(Qt::Key_3, Qt::ControlModifier);
    QVERIFY(check.isKnown());
    check.driver.click("checkTab1");
    QVERIFY2(check.state().startsWith(QStringLiteral("✓")), qPrintable(check.state()));
    QCOMPARE(check.said(), QStringLiteral("begun\ndone"));
}

void TestCheckCommand::words_sayHowItEnded()
{
    QCOMPARE(endedInWords({0, 0, false, 0, 400, 0, 0}), QStringLiteral("Passed in 0.4 s"));
    QCOMPARE(endedInWords({2, 0, false, 1, 75'000, 0, 0}),
             QStringLiteral("Failed with exit status 2 after 1 min 15 s; 1 process that it left "
                            "behind was ended"));
    QVERIFY(endedInWords({0, SIGSEGV, false, 0, 10, 0, 0}).contains(QLatin1String("Segmentation")));
    QVERIFY(endedInWords({0, 0, false, 0, 10, 90'000'000, 39'000'000})
                .contains(QLatin1String("beginning and the end")));
    QVERIFY(runningInWords(QStringLiteral("the result"), 12, 0).endsWith(QLatin1String("12 s")));
    QVERIFY(
        runningInWords(QStringLiteral("the result"), 200, 90).contains(QLatin1String("waiting")));
}

ROPE_TESTS(TestCheckCommand, rope::test::WindowApplication)
#include "tst_check_command.moc"
