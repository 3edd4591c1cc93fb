// SPDX-License-Identifier: GPL-3.0-or-later
// Merges of the history in the logbook, whoever made them: what is odd, what was decided, reopening; and
// what they say was decided, offered when the same is met again.
#include "desktop/result/result_view.h"
#include "desktop/survey/survey_station.h"
#include "desktop/widgets/code_view.h"
#include "desktop/widgets/theme.h"
#include "tests/support/begun_merge.h"
#include "tests/support/window_application.h"
#include "tests/support/window_driver.h"

#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QSettings>

using namespace rope;
using namespace rope::test;

namespace {
/// A merge that a person finished with git alone: decided for theirs, and with a line slipped in.
void mergeByHand(ScratchRepository& scratch, bool slipsIn)
{
    makeClashingBranches(scratch);
    beginMerge(scratch);
    scratch.git("checkout --theirs plan.txt tide.txt");
    const QByteArray plan = scratch.read("plan.txt");
    scratch.write("plan.txt",
                  slipsIn ? QByteArray(plan).replace("\n7\n", "\n7\nslipped in\n")
                          : QByteArray(plan).replace("\n12 theirs\n", "\n12 ours\n"));
    scratch.commit("Merge theirs by hand");
}

struct Round
{
    explicit Round(ScratchRepository& scratch)
        : driver(window)
    {
        window.resize(1280, 800);
        driver.show();
        window.openRepository(scratch.folder());
    }
    /// Begins to merge theirs, where something is to be decided.
    [[nodiscard]] bool startWithTheirs()
    {
        const bool isOpen = driver.waitFor(
            [&] { return driver.find<QListView>("branchList").model()->rowCount() > 0; });
        window.findChild<SurveyStation*>()->pick("refs/heads/theirs");
        const bool canStart = isOpen && driver.waitFor([&] {
            return driver.canStart() && driver.startLabel().contains(QStringLiteral("to decide"));
        });
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        return canStart && driver.waitFor([&] { return driver.isAt("resolveKnot"); });
    }
    [[nodiscard]] bool openLogbook()
    {
        const bool isOpen = driver.waitFor(
            [&] { return driver.find<QListView>("branchList").model()->rowCount() > 0; });
        driver.press(Qt::Key_L, Qt::ControlModifier);
        return isOpen;
    }
    [[nodiscard]] QString row(const char* list, int index)
    {
        const auto* model = driver.find<QListView>(list).model();
        return index < model->rowCount()
                   ? model->index(index, 0).data(Qt::AccessibleTextRole).toString()
                   : QString();
    }
    /// Waits for a first merge with these words, and chooses it.
    [[nodiscard]] bool choose(const QString& words)
    {
        const bool isThere =
            driver.waitFor([&] { return row("mergeList", 0).contains(words); }, 20'000);
        if (!isThere) {
            qWarning() << row("mergeList", 0) << driver.text("mergesCount");
            return false;
        }
        auto& list = driver.find<QListView>("mergeList");
        list.setFocus();
        list.setCurrentIndex(list.model()->index(0, 0));
        return driver.waitFor([&] { return !row("loggedDecisions", 0).isEmpty(); });
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
            return driver.text("recordedTitle").startsWith(QStringLiteral("Recorded as"))
                   && driver.find<QLabel>("recordedTitle").isVisible();
        });
    }

    Window window;
    WindowDriver driver;
};
}  // namespace

class TestMergesRound : public QObject
{
    Q_OBJECT
private slots:
    void init();
    void slippedIn_isShown_andReopened();
    void writtenInTheWindow_isNoRiddle();
    void chosen_comesBack_afterTheBranchMoved();
    void fine_isRemembered();
    void all_areListed_andNamedOnesRead();
    void sent_isReopenedOnTop();
    void furtherDown_isReopened_withWhatStandsUponIt();
    void decidedBefore_isOffered();
};

void TestMergesRound::init()
{
    QSettings().clear();
}

void TestMergesRound::slippedIn_isShown_andReopened()
{
    ScratchRepository scratch;
    mergeByHand(scratch, true);
    const QByteArray merge = scratch.git("rev-parse HEAD");
    Round round(scratch);
    QVERIFY(round.openLogbook());
    QVERIFY(round.choose(QStringLiteral("a line that comes from neither side")));
    QVERIFY2(round.row("loggedDecisions", 0).contains(QStringLiteral("plan.txt, line 8")),
             qPrintable(round.row("loggedDecisions", 0)));
    QVERIFY(round.row("loggedDecisions", 0).contains(QStringLiteral("slipped in")));
    QVERIFY(round.row("loggedDecisions", 1).contains(QStringLiteral("theirs")));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    round.driver.take("Ours");  // the first region, after all
    QVERIFY(round.record());
    QVERIFY(scratch.git("rev-parse HEAD") != merge);
    QCOMPARE(scratch.git("rev-list --count HEAD"), QByteArray("4"));  // in its place
    const QByteArray plan = scratch.git("show HEAD:plan.txt");
    QVERIFY2(plan.contains("\n2 ours\n") && plan.contains("\n12 theirs\n"), plan.constData());
    QVERIFY(plan.contains("slipped in"));
}

/// What a person wrote in a splice is known here; the same line in another's merge is a riddle.
void TestMergesRound::writtenInTheWindow_isNoRiddle()
{
    ScratchRepository scratch;
    makeClashingBranches(scratch);
    Round round(scratch);
    QVERIFY(round.startWithTheirs());
    // Outside of every conflict: at the end of a line that both sides left as it was.
    const auto views = round.window.findChildren<ResultView*>();
    const auto seen = std::find_if(
        views.begin(), views.end(), [](const ResultView* view) { return view->isVisible(); });
    QVERIFY(seen != views.end());
    auto& code = *(*seen)->findChild<CodeView*>();
    const std::string text = code.bytes(0, code.size());
    const std::size_t at = text.find("\n7\n");
    QVERIFY2(at != std::string::npos, text.c_str());
    code.placeCaret(at + 2);
    code.editor()->setFocus();
    QTest::keyClicks(code.editor(), QStringLiteral(" written here"));
    round.driver.press(Qt::Key_O, Qt::ControlModifier | Qt::ShiftModifier);
    round.driver.press(Qt::Key_J, Qt::ControlModifier);
    round.driver.press(Qt::Key_O, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(round.driver.waitFor(
        [&] { return round.driver.status().startsWith(QStringLiteral("Nothing is open")); }));
    QVERIFY(round.record());
    QVERIFY(scratch.git("show HEAD:plan.txt").contains("7 written here"));
    QVERIFY(round.openLogbook());
    QVERIFY2(round.driver.waitFor([&] {
        return round.driver.text("mergesCount").contains(QStringLiteral("nothing odd"));
    }),
             qPrintable(round.driver.text("mergesCount") + round.row("mergeList", 0)));
    QVERIFY(round.window.close());
    // Somebody whose journal does not know of it is told.
    // A second time where the window's journal was just being closed.
    QTRY_VERIFY(QDir(scratch.folder() + QStringLiteral("/.git/rope-splice")).removeRecursively());
    Round other(scratch);
    QVERIFY(other.openLogbook());
    QVERIFY(other.choose(QStringLiteral("a line that comes from neither side")));
}

/// The history is read anew then; what a person looks at is to stay.
void TestMergesRound::chosen_comesBack_afterTheBranchMoved()
{
    ScratchRepository scratch;
    mergeByHand(scratch, true);
    Round round(scratch);
    QVERIFY(round.openLogbook());
    QVERIFY(round.choose(QStringLiteral("a line that comes from neither side")));
    const auto& list = round.driver.find<QListView>("mergeList");
    const QString title = round.driver.text("loggedTitle");
    bool wasEmptied = false;
    connect(list.model(), &QAbstractItemModel::modelReset, this, [&] {
        wasEmptied = wasEmptied || list.model()->rowCount() == 0;
    });
    scratch.write("elsewhere.txt", "later\n");
    scratch.commit("later");
    QVERIFY(round.driver.waitFor([&] { return wasEmptied; }));
    QVERIFY(round.driver.waitFor([&] { return list.currentIndex().isValid(); }));
    QCOMPARE(round.driver.text("loggedTitle"), title);
    QVERIFY(round.driver.waitFor([&] { return !round.row("loggedDecisions", 0).isEmpty(); }));
}

void TestMergesRound::fine_isRemembered()
{
    ScratchRepository scratch;
    mergeByHand(scratch, true);
    {
        Round round(scratch);
        QVERIFY(round.openLogbook());
        QVERIFY(round.choose(QStringLiteral("a line that comes from neither side")));
        round.driver.click("rollBackButton");
        QVERIFY(round.driver.waitFor([&] { return round.row("mergeList", 0).isEmpty(); }));
    }
    Round round(scratch);
    QVERIFY(round.openLogbook());
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("mergesCount").contains(QStringLiteral("1 merge read, nothing odd"));
    }));
    round.driver.find<QCheckBox>("onlyOdd").setChecked(false);
    QVERIFY(round.choose(QStringLiteral("ignored: a line that comes from neither side")));
    round.driver.click("rollBackButton");
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("mergesCount").contains(QStringLiteral("1 odd in 1 read"));
    }));
}

void TestMergesRound::all_areListed_andNamedOnesRead()
{
    ScratchRepository scratch;
    mergeByHand(scratch, false);
    scratch.git("branch aside");
    scratch.git("switch -q --detach main");
    scratch.git("merge -q -s ours --no-edit theirs -m other");
    const QByteArray other = scratch.git("rev-parse HEAD");
    scratch.git("switch -q ours");
    Round round(scratch);
    QVERIFY(round.openLogbook());
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("mergesCount").contains(QStringLiteral("1 merge read, nothing odd"));
    }));
    QVERIFY(round.row("mergeList", 0).isEmpty());
    round.driver.find<QCheckBox>("onlyOdd").setChecked(false);
    QVERIFY(round.choose(QStringLiteral("3 decided")));
    auto& filter = round.driver.find<QLineEdit>("logbookFilter");
    filter.setFocus();
    filter.setText(QString::fromLatin1(other.left(10)));
    round.driver.press(Qt::Key_Return);
    QVERIFY(round.driver.waitFor(
        [&] { return round.row("mergeList", 0).contains(QString::fromLatin1(other.left(7))); }));
    filter.setText(QStringLiteral("main"));
    round.driver.press(Qt::Key_Return);  // no merge: said so, and nothing else
    QVERIFY(round.driver.waitFor([&] { return !round.driver.notice().isEmpty(); }));
}

void TestMergesRound::sent_isReopenedOnTop()
{
    ScratchRepository scratch;
    mergeByHand(scratch, false);
    const QByteArray merge = scratch.git("rev-parse HEAD");
    scratch.git("update-ref refs/remotes/origin/ours HEAD");
    Round round(scratch);
    QVERIFY(round.openLogbook());
    round.driver.find<QCheckBox>("onlyOdd").setChecked(false);
    QVERIFY(round.choose(QStringLiteral("3 decided")));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    round.driver.take("Ours");
    QVERIFY(round.record());
    QCOMPARE(scratch.git("rev-parse HEAD^"), merge);
    QCOMPARE(scratch.git("diff --name-only HEAD^ HEAD"), QByteArray("plan.txt"));
}

void TestMergesRound::furtherDown_isReopened_withWhatStandsUponIt()
{
    ScratchRepository scratch;
    mergeByHand(scratch, true);
    scratch.write("later.txt", "later\n");
    scratch.commit("Go on from there");
    const QByteArray later = scratch.git("rev-parse HEAD");
    Round round(scratch);
    QVERIFY(round.openLogbook());
    QVERIFY(round.choose(QStringLiteral("a line that comes from neither side")));
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("reopenWords").contains(QStringLiteral("are carried along"));
    }));
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    round.driver.take("Ours");
    QVERIFY(round.record());
    QVERIFY(scratch.git("rev-parse HEAD") != later);
    QCOMPARE(scratch.git("rev-list --count HEAD"), QByteArray("5"));
    QCOMPARE(scratch.git("log -2 --format=%s"),
             QByteArray("Go on from there\nMerge theirs by hand"));
    const QByteArray plan = scratch.git("show HEAD:plan.txt");
    QVERIFY2(plan.contains("\n2 ours\n") && plan.contains("slipped in"), plan.constData());
    QCOMPARE(scratch.git("status --porcelain"), QByteArray());
}

/// The same is met again on another branch: what the merge says was decided is offered, not taken.
void TestMergesRound::decidedBefore_isOffered()
{
    ScratchRepository scratch;
    makeClashingBranches(scratch);
    scratch.git("branch again");
    beginMerge(scratch);
    scratch.git("checkout --theirs plan.txt");
    scratch.write("tide.txt", "low\nhigh, as both want\n");
    scratch.commit("Merge theirs by hand");
    const QByteArray merge = scratch.git("rev-parse --short HEAD");
    {
        Round round(scratch);
        QVERIFY(round.openLogbook());  // reads the merges, and learns from them
        QVERIFY(round.driver.waitFor([&] {
            return round.driver.text("mergesCount").contains(QStringLiteral("1 merge read"));
        }));
    }
    scratch.git("switch -q again");
    Round round(scratch);
    QVERIFY(round.startWithTheirs());
    QVERIFY(round.driver.waitFor([&] {
        return round.row("candidateList", 0)
            .contains(QStringLiteral("Theirs, as in ") + QString::fromLatin1(merge));
    }));
    QVERIFY(round.driver.waitFor([&] {
        return round.driver.text("sinceWhen").contains(QStringLiteral("The conflict started with"));
    }));
}

ROPE_TESTS(TestMergesRound, rope::test::WindowApplication)
#include "tst_merges_round.moc"
