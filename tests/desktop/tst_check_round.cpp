// SPDX-License-Identifier: GPL-3.0-or-later
// The Check station in the window, on real repositories.
#include "desktop/check/check_list.h"
#include "desktop/widgets/plain_widgets.h"
#include "desktop/widgets/theme.h"
#include "tests/support/check_window.h"
#include "tests/support/window_application.h"

#include <QListView>
#include <QRegularExpression>
#include <QSettings>
#include <Qsci/qsciscintilla.h>

using namespace rope;
using namespace rope::test;

namespace {
constexpr const char* kPassage = "def free_slots(day, lock):\n    return lock.slots(day)\n";
constexpr const char* kReport = "from passage import free_slots\n\n\ndef report(day, lock):\n"
                                "    return len(free_slots(day, lock))\n\n\n"
                                "def heading(day):\n    return day.isoformat()\n";

QByteArray renamed(QByteArray text)
{
    return text.replace("free_slots", "passage_slots");
}

/// Ours renames a function; theirs calls it anew, in a file that both changed and in one of its own.
void makeBranches(ScratchRepository& scratch)
{
    scratch.write("passage.py", kPassage);
    scratch.write("report.py", kReport);
    scratch.write("plan.txt", "one\ntwo\nthree\n");
    scratch.commit("base");
    scratch.git("branch -q theirs");
    scratch.git("checkout -q -b ours");
    scratch.write("passage.py", renamed(kPassage));
    scratch.write("report.py", renamed(kReport));
    scratch.write("plan.txt", "one\ntwo ours\nthree\n");
    scratch.commit("Call them passage slots");
    scratch.git("checkout -q theirs");
    scratch.write("report.py",
                  QByteArray(kReport)
                      + "\n\ndef outlook(day, lock):\n    return free_slots(day, lock)\n");
    scratch.write("tomorrow.py", "from passage import free_slots\n\nprint(free_slots(1, 2))\n");
    scratch.write("plan.txt", "one\ntwo theirs\nthree\n");
    scratch.commit("An outlook");
    scratch.git("checkout -q ours");
}

class OpenCheck : public CheckWindow
{
public:
    using CheckWindow::CheckWindow;

    /// Starts joining theirs, decides the only region, and goes on.
    [[nodiscard]] bool start() { return startJoining() && decideAndGoOn() && hasFinding(); }
    [[nodiscard]] bool goOn()
    {
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        return isAtCheck() && hasFinding();
    }
    [[nodiscard]] bool hasFinding()
    {
        return driver.waitFor([&] { return title().size() > 0; });
    }

    [[nodiscard]] QString title()
    {
        return driver.find<QWidget>("findingBar").isVisible() ? driver.text("findingTitle")
                                                              : QString();
    }
    [[nodiscard]] QString text() { return driver.find<QsciScintilla>("read:codeEditor").text(); }
    /// Rows of the list, as a screen reader gets them.
    [[nodiscard]] QStringList rows()
    {
        const auto* model = driver.find<QListView>("checkList").model();
        QStringList all;
        for (int row = 0; row < model->rowCount(); ++row) {
            all << model->index(row, 0).data(Qt::AccessibleTextRole).toString();
        }
        return all;
    }
    [[nodiscard]] int count(const QString& beginning)
    {
        return static_cast<int>(rows()
                                    .filter(QRegularExpression(
                                        QLatin1Char('^') + QRegularExpression::escape(beginning)))
                                    .size());
    }
    void choose(const QString& beginning)
    {
        auto& list = driver.find<QListView>("checkList");
        const QStringList all = rows();
        for (int row = 0; row < all.size(); ++row) {
            if (all[row].startsWith(beginning)) {
                list.scrollTo(list.model()->index(row, 0));
                QTest::mouseClick(list.viewport(),
                                  Qt::LeftButton,
                                  {},
                                  list.visualRect(list.model()->index(row, 0)).center());
                return;
            }
        }
        qFatal("no row %s", qPrintable(beginning));
    }
};
}  // namespace

class TestCheckRound : public QObject
{
    Q_OBJECT
private slots:
    void init();
    void wrongCleanJoin_isFoundMendedAndRecorded();
    void mend_isUndone_andOutlivesAKill();
    void fine_isRemembered_andTakenBack();
    void readThrough_ticksOff_whatWasSeen();
    void views_areSwitchedByOneKey();
    void typing_isADecision();
    void region_isJumpedBackTo();
    void cleanJoinWithFindings_goesNoFurtherThanCheck();
    void secondRound_carriesMendAndMarks();
    void oneSidedFiles_areListedApart();
    void fileThatBothHaveAlike_isToldOf();
    void allKinds_areToldOnRequest();
    void oddNames_areShownAsTheyAre();
    void otherWindow_readsAndChangesNothing();
};

void TestCheckRound::init()
{
    QSettings().clear();
}

void TestCheckRound::wrongCleanJoin_isFoundMendedAndRecorded()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    OpenCheck open(scratch);
    QVERIFY(open.start());
    QCOMPARE(open.title(), QStringLiteral("Name is gone: free_slots"));
    QVERIFY(WindowDriver::waitFor([&] {
        return open.driver.text("findingWords").contains(QStringLiteral("Call them passage slots"))
               && open.driver.text("findingWords").contains(QStringLiteral("An outlook"));
    }));
    // Three new lines of theirs use the name, two of them in a file that only theirs has.
    QCOMPARE(open.count(QStringLiteral("Name is gone")), 3);
    for (int left = 2; left >= 0; --left) {
        QVERIFY(WindowDriver::waitFor(
            [&] { return open.driver.find<QPushButton>("mendButton").isVisible(); }));
        open.driver.press(Qt::Key_1, Qt::AltModifier);
        QVERIFY(WindowDriver::waitFor(
            [&] { return open.count(QStringLiteral("Name is gone")) == left; }));
        open.driver.press(Qt::Key_J, Qt::ControlModifier);
    }
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor([&] {
        return open.driver.isAt("recordKnot")
               && open.driver.find<QPushButton>("recordButton").isEnabled();
    }));
    QVERIFY(!open.driver.find<QWidget>("recordFindings").isVisible());
    // Nothing found is left, but not all that came in was read: the knot stays empty.
    QCOMPARE(open.driver.find<KnotButton>("checkKnot").state(), KnotState::ahead);
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.find<QLabel>("recordedTitle").isVisible(); }));
    QCOMPARE(open.driver.find<KnotButton>("checkKnot").state(), KnotState::ahead);
    QVERIFY(!scratch.git("show HEAD:report.py").contains("free_slots"));
    QCOMPARE(scratch.git("show HEAD:tomorrow.py"),
             QByteArray("from passage import passage_slots\n\nprint(passage_slots(1, 2))"));
    QVERIFY(scratch.git("status --porcelain").isEmpty());
}

void TestCheckRound::mend_isUndone_andOutlivesAKill()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    {
        OpenCheck open(scratch);
        QVERIFY(open.start());
        open.choose(QStringLiteral("Name is gone: free_slots · ours renamed it to passage_slots; "
                                   "theirs uses it in a new line · tomorrow.py:3"));
        QVERIFY(
            WindowDriver::waitFor([&] { return open.text().contains(QLatin1String("print")); }));
        QVERIFY(WindowDriver::waitFor([&] {
            open.driver.press(Qt::Key_1, Qt::AltModifier);
            return open.text().contains(QLatin1String("print(passage_slots"));
        }));
        open.driver.press(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(open.text().contains(QLatin1String("print(free_slots")));
        QVERIFY(
            WindowDriver::waitFor([&] { return open.count(QStringLiteral("Name is gone")) == 3; }));
        open.driver.press(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(open.text().contains(QLatin1String("print(passage_slots")));
    }  // nothing is stored by closing: each change was when it was made
    OpenCheck again(scratch);
    QVERIFY(WindowDriver::waitFor([&] { return again.driver.isAt("checkKnot"); }));
    QVERIFY(
        WindowDriver::waitFor([&] { return again.count(QStringLiteral("Name is gone")) == 2; }));
    again.choose(QStringLiteral("Nothing to read"));
    again.choose(QStringLiteral("tomorrow.py"));
    QVERIFY(WindowDriver::waitFor(
        [&] { return again.text().contains(QLatin1String("print(passage_slots")); }));
    again.driver.press(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(again.text().contains(QLatin1String("print(free_slots")));
}

void TestCheckRound::fine_isRemembered_andTakenBack()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    {
        OpenCheck open(scratch);
        QVERIFY(open.start());
        open.driver.press(Qt::Key_2, Qt::AltModifier);
        QVERIFY(WindowDriver::waitFor(
            [&] { return open.rows().filter(QStringLiteral("ignored by you")).size() == 1; }));
    }
    OpenCheck again(scratch);
    QVERIFY(WindowDriver::waitFor([&] {
        return again.driver.isAt("checkKnot")
               && again.rows().filter(QStringLiteral("ignored by you")).size() == 1;
    }));
    again.choose(QStringLiteral("Name is gone: free_slots · ignored by you"));
    QCOMPARE(again.driver.find<QPushButton>("fineButton").text(),
             QStringLiteral("Stop ignoring it"));
    QVERIFY(!again.driver.find<QPushButton>("mendButton").isVisible());
    again.driver.click("fineButton");
    QVERIFY(WindowDriver::waitFor(
        [&] { return again.rows().filter(QStringLiteral("ignored by you")).isEmpty(); }));
}

void TestCheckRound::readThrough_ticksOff_whatWasSeen()
{
    ScratchRepository scratch;
    QByteArray lines;
    const auto with = [&lines](const char* before, const char* after) {
        QByteArray changed = lines;
        return changed.replace(before, after);
    };
    for (int i = 0; i < 300; ++i) {
        lines += "line " + QByteArray::number(i) + "\n";
    }
    scratch.write("long.txt", lines);
    scratch.commit("base");
    scratch.git("branch -q theirs");
    scratch.git("checkout -q -b ours");
    scratch.write("long.txt", with("line 1\n", "ours 1\n"));
    scratch.commit("ours");
    scratch.git("checkout -q theirs");
    scratch.write("long.txt",
                  with("line 10\n", "theirs 10\n").replace("line 280\n", "theirs 280\n"));
    scratch.commit("theirs");
    scratch.git("checkout -q ours");
    OpenCheck open(scratch);
    QVERIFY(open.driver.pickBranch("theirs"));
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.canStart(); }));
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("recordKnot"); }));
    open.driver.press(Qt::Key_3, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor([&] { return open.path() == QStringLiteral("long.txt"); }));
    open.driver.click("receiveTab");
    // Hurrying through is not reading: what is in view has to rest for a second.
    QTest::qWait(1300);
    QCOMPARE(open.count(QStringLiteral("long.txt · merged · not read yet")), 1);  // half is below
    for (int i = 0; i < 2; ++i) {
        open.driver.press(Qt::Key_Down, Qt::AltModifier);
    }
    QTest::qWait(400);
    QCOMPARE(open.count(QStringLiteral("long.txt · merged · not read yet")), 1);
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.count(QStringLiteral("long.txt · merged · read")) == 1; }));
    QVERIFY(open.rows().filter(QStringLiteral("1 of 1 file read")).size() == 1);
    QVERIFY(open.driver.text("checkLeft").startsWith(QLatin1String("Nothing left")));
    open.driver.press(Qt::Key_4, Qt::ControlModifier);
    QCOMPARE(open.driver.find<KnotButton>("checkKnot").state(), KnotState::done);
    open.driver.press(Qt::Key_3, Qt::ControlModifier);
    // What is written into it afterwards has not been read.
    open.driver.find<QsciScintilla>("read:codeEditor").setFocus();
    open.driver.type(QStringLiteral("x"));
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.count(QStringLiteral("long.txt · merged · not read yet")) == 1; }));
}

void TestCheckRound::views_areSwitchedByOneKey()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    OpenCheck open(scratch);
    QVERIFY(open.start());
    QVERIFY(WindowDriver::waitFor([&] {
        return open.driver.text("readAgainst") == QStringLiteral("result against theirs");
    }));
    auto& editor = open.driver.find<QsciScintilla>("read:codeEditor");
    const auto newLines = [&] {
        QList<int> lines;
        for (int line = 0; line < editor.lines(); ++line) {
            if ((editor.markersAtLine(line) & (1U << 15U)) != 0) {
                lines << line;
            }
        }
        return lines;
    };
    QVERIFY(WindowDriver::waitFor([&] { return newLines() == QList<int>({0, 4}); }));
    open.driver.press(Qt::Key_T, Qt::ControlModifier);
    QCOMPARE(open.driver.text("readAgainst"), QStringLiteral("as it will be recorded"));
    QVERIFY(newLines().isEmpty());
    open.driver.press(Qt::Key_T, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor([&] { return newLines() == QList<int>({9, 10, 11, 12}); }));
}

void TestCheckRound::typing_isADecision()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    OpenCheck open(scratch);
    QVERIFY(open.start());
    open.choose(QStringLiteral("plan.txt"));
    QVERIFY(WindowDriver::waitFor([&] { return open.text().startsWith(QLatin1String("one")); }));
    open.driver.find<QsciScintilla>("read:codeEditor").setFocus();
    open.driver.press(Qt::Key_End);
    open.driver.type(QStringLiteral(" more"));
    open.driver.press(Qt::Key_2, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("resolveKnot"); }));
    const auto& worklist = *open.driver.find<QListView>("worklist").model();
    QStringList rows;
    for (int row = 0; row < worklist.rowCount(); ++row) {
        rows << worklist.index(row, 0).data().toString();
    }
    QVERIFY2(rows.contains(QStringLiteral("one more")), qPrintable(rows.join(QLatin1Char('|'))));
}

void TestCheckRound::region_isJumpedBackTo()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    OpenCheck open(scratch);
    QVERIFY(open.start());
    open.choose(QStringLiteral("plan.txt"));
    QVERIFY(WindowDriver::waitFor([&] { return open.text().startsWith(QLatin1String("one")); }));
    open.driver.find<QsciScintilla>("read:codeEditor").setFocus();
    open.driver.press(Qt::Key_Down);
    open.driver.press(Qt::Key_Left, Qt::AltModifier);
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("resolveKnot"); }));
    QVERIFY(open.driver.find<QListView>("candidateList").isVisible());
}

void TestCheckRound::cleanJoinWithFindings_goesNoFurtherThanCheck()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    scratch.git("checkout -q theirs");
    scratch.write("plan.txt", "one\ntwo\nthree\n");
    scratch.commit("The plan as it was");
    scratch.git("checkout -q ours");
    OpenCheck open(scratch);
    QVERIFY(open.driver.pickBranch("theirs"));
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.canStart(); }));
    open.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(open.isAtCheck() && open.hasFinding());
    QTest::qWait(500);
    QVERIFY(open.driver.isAt("checkKnot"));
    // Who goes on all the same is told again.
    open.driver.press(Qt::Key_4, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor([&] { return open.driver.isAt("recordKnot"); }));
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.find<QLabel>("recordFindings").isVisible(); }));
    QVERIFY2(
        open.driver.text("recordFindings")
            .contains(QStringLiteral("3 things to look at, such as: Name is gone: free_slots")),
        qPrintable(open.driver.text("recordFindings")));
    open.driver.click("lookAtFindingsButton");
    QVERIFY(WindowDriver::waitFor([&] {
        return open.driver.isAt("checkKnot")
               && open.title() == QStringLiteral("Name is gone: free_slots");
    }));
}

void TestCheckRound::secondRound_carriesMendAndMarks()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    OpenCheck open(scratch);
    QVERIFY(open.start());
    open.driver.press(Qt::Key_2, Qt::AltModifier);  // report.py is fine
    QVERIFY(WindowDriver::waitFor([&] { return open.path() == QStringLiteral("tomorrow.py"); }));
    QVERIFY(WindowDriver::waitFor([&] {
        open.driver.press(Qt::Key_1, Qt::AltModifier);
        return open.text().startsWith(QLatin1String("from passage import passage_slots"));
    }));
    // Theirs goes on meanwhile: the splice is carried on with all of that.
    scratch.git("checkout -q theirs");
    scratch.write("later.txt", "later\n");
    scratch.commit("later");
    scratch.git("checkout -q ours");
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.driver.notice().contains(QStringLiteral("arrived on theirs")); }));
    open.driver.click("noticeActionButton");
    QVERIFY(WindowDriver::waitFor([&] {
        return open.driver.notice().contains(QStringLiteral("found their place"))
               || open.rows().filter(QStringLiteral("later.txt")).size() == 1
               || open.rows().filter(QStringLiteral("3 files that only one side")).size() == 1;
    }));
    open.driver.press(Qt::Key_3, Qt::ControlModifier);
    QVERIFY(WindowDriver::waitFor([&] {
        return open.rows().filter(QStringLiteral("ignored by you")).size() == 1
               && open.count(QStringLiteral("Name is gone")) == 2;
    }));
}

void TestCheckRound::oneSidedFiles_areListedApart()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    OpenCheck open(scratch);
    QVERIFY(open.start());
    QCOMPARE(open.count(QStringLiteral("Nothing to read · 2 files")), 1);
    QCOMPARE(open.count(QStringLiteral("passage.py")), 0);
    open.choose(QStringLiteral("Nothing to read"));
    QCOMPARE(open.count(QStringLiteral("passage.py")), 1);
    open.choose(QStringLiteral("passage.py"));
    QVERIFY(WindowDriver::waitFor(
        [&] { return open.text().startsWith(QLatin1String("def passage_slots")); }));
    QVERIFY(!open.driver.find<QPushButton>("tickButton").isVisible());
}

void TestCheckRound::fileThatBothHaveAlike_isToldOf()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    for (const char* branch : {"theirs", "ours"}) {
        scratch.git("checkout -q " + QByteArray(branch));
        scratch.write("alike.txt", "the same\n");
        scratch.commit("alike");
    }
    OpenCheck open(scratch);
    QVERIFY(open.start());
    QCOMPARE(
        open.count(QStringLiteral("Nothing to read · 2 files that only one side changed, 1 file "
                                  "that both have alike")),
        1);
    open.choose(QStringLiteral("Nothing to read"));
    QCOMPARE(open.count(QStringLiteral("alike.txt")), 1);
    open.choose(QStringLiteral("alike.txt"));
    QVERIFY(WindowDriver::waitFor([&] {
        return open.driver.text("readNote")
            .contains(QStringLiteral("both sides have the same file"));
    }));
}

/// Of a kind that is told on request only: nothing is left of theirs' change of a file.
void TestCheckRound::allKinds_areToldOnRequest()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    {
        OpenCheck open(scratch);
        QVERIFY(open.start());
        open.driver.press(Qt::Key_2, Qt::ControlModifier);
        const auto& candidates = open.driver.find<QListView>("candidateList");
        for (int row = 0; row < candidates.model()->rowCount(); ++row) {
            if (candidates.model()->index(row, 0).data().toString().startsWith(
                    QLatin1String("Ours"))) {
                open.driver.press(static_cast<Qt::Key>(Qt::Key_1 + row), Qt::AltModifier);
            }
        }
        open.driver.press(Qt::Key_3, Qt::ControlModifier);
        QVERIFY(
            WindowDriver::waitFor([&] { return open.count(QStringLiteral("Name is gone")) == 3; }));
        const auto before = open.rows().filter(QStringLiteral("plan.txt")).size();
        auto& all = open.driver.find<QAction>("tellAllAction");
        QVERIFY(!all.isChecked());
        all.trigger();
        QVERIFY(WindowDriver::waitFor(
            [&] { return open.rows().filter(QStringLiteral("plan.txt")).size() == before + 1; }));
    }
    // It is so in the next window too, until it is wished otherwise.
    OpenCheck again(scratch);
    auto& all = again.driver.find<QAction>("tellAllAction");
    QVERIFY(all.isChecked());
    QVERIFY(again.driver.waitFor([&] { return again.driver.isAt("checkKnot"); }));
    QVERIFY(WindowDriver::waitFor(
        [&] { return again.rows().filter(QStringLiteral("plan.txt")).size() == 2; }));
    all.trigger();
    QVERIFY(WindowDriver::waitFor(
        [&] { return again.rows().filter(QStringLiteral("plan.txt")).size() == 1; }));
}

void TestCheckRound::oddNames_areShownAsTheyAre()
{
    const QString name = QStringLiteral("a <b>bold<\\b>\n--help 'x' \u202e.py");
    ScratchRepository scratch;
    makeBranches(scratch);
    scratch.git("checkout -q theirs");
    scratch.git("mv tomorrow.py other.py");
    QVERIFY(QFile::rename(scratch.folder() + QStringLiteral("/other.py"),
                          scratch.folder() + QLatin1Char('/') + name));
    scratch.git("add -A");
    scratch.git("commit -q -m <i>odd</i>");
    scratch.git("checkout -q ours");
    OpenCheck open(scratch);
    QVERIFY(open.start());
    const QStringList odd = open.rows().filter(QStringLiteral("<b>bold"));
    QVERIFY(!odd.isEmpty());
    for (const QString& row : odd) {
        QVERIFY2(!row.contains(QLatin1Char('\n')), qPrintable(row));
    }
    open.choose(odd.front());
    QVERIFY(WindowDriver::waitFor([&] { return open.text().contains(QLatin1String("print")); }));
    QVERIFY(open.path().contains(QStringLiteral("<b>bold")));
    QVERIFY(WindowDriver::waitFor([&] {
        open.driver.press(Qt::Key_1, Qt::AltModifier);
        return open.text().contains(QLatin1String("passage_slots"));
    }));
}

void TestCheckRound::otherWindow_readsAndChangesNothing()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    OpenCheck first(scratch);
    QVERIFY(first.start());
    OpenCheck second(scratch);
    QVERIFY(WindowDriver::waitFor(
        [&] { return second.driver.isAt("checkKnot") && second.title().size() > 0; }));
    const QString before = second.text();
    QVERIFY(!second.driver.find<QPushButton>("mendButton").isEnabled());
    second.driver.press(Qt::Key_1, Qt::AltModifier);
    second.driver.press(Qt::Key_2, Qt::AltModifier);
    second.driver.type(QStringLiteral("x"));
    QTest::qWait(300);
    QCOMPARE(second.text(), before);
    QVERIFY(second.rows().filter(QStringLiteral("ignored by you")).isEmpty());
}

ROPE_TESTS(TestCheckRound, rope::test::WindowApplication)
#include "tst_check_round.moc"
