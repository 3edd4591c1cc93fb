// SPDX-License-Identifier: GPL-3.0-or-later
// Why something was decided, from the line below the candidates to the note that a teammate reads: driven
// in the window, checked with real git.
#include "desktop/survey/survey_station.h"
#include "desktop/widgets/theme.h"
#include "tests/support/begun_merge.h"
#include "tests/support/shared_team.h"
#include "tests/support/window_application.h"
#include "tests/support/window_driver.h"

#include <QCheckBox>
#include <QLineEdit>
#include <QListView>
#include <QSettings>

using namespace rope;
using namespace rope::test;

namespace {
const QString kWhy = QStringLiteral("the tide comes first");

struct Round
{
    explicit Round(const QString& folder)
        : driver(window)
    {
        window.resize(1280, 800);
        driver.show();
        window.openRepository(folder);
    }
    [[nodiscard]] bool start(const char* theirs)
    {
        const bool canStart = driver.pickBranch(theirs) && driver.waitFor([&] {
            return driver.canStart() && driver.startLabel().contains(QStringLiteral("decide"));
        });
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        return canStart && driver.waitFor([&] { return driver.isAt("resolveKnot"); });
    }
    [[nodiscard]] QLineEdit& why() { return driver.find<QLineEdit>("reasonEdit"); }
    void sayWhy(const QString& words)
    {
        driver.press(Qt::Key_Semicolon, Qt::ControlModifier);
        QVERIFY(why().hasFocus());
        driver.type(words);
    }
    void decideAll()
    {
        for (int guard = 0; guard < 9 && !isDecided(); ++guard) {
            driver.take("Theirs");
            driver.press(Qt::Key_J, Qt::ControlModifier);
        }
        QVERIFY(isDecided());
    }
    [[nodiscard]] bool isDecided()
    {
        return driver.status().startsWith(QLatin1String("Nothing is open"));
    }
    [[nodiscard]] QCheckBox& leaveNotes() { return driver.find<QCheckBox>("leaveNotesBox"); }
    [[nodiscard]] bool goToRecord()
    {
        driver.press(Qt::Key_4, Qt::ControlModifier);
        return driver.waitFor([&] {
            return driver.isAt("recordKnot")
                   && driver.find<QPushButton>("recordButton").isEnabled();
        });
    }
    [[nodiscard]] bool record()
    {
        driver.press(Qt::Key_Return, Qt::ControlModifier);
        return driver.waitFor([&] {
            return driver.text("recordedTitle").startsWith(QStringLiteral("Recorded as"))
                   && driver.find<QLabel>("recordedTitle").isVisible();
        });
    }
    [[nodiscard]] QString row(const char* list, int index)
    {
        const auto* model = driver.find<QListView>(list).model();
        return index < model->rowCount()
                   ? model->index(index, 0).data(Qt::AccessibleTextRole).toString()
                   : QString();
    }
    /// Whether a row of the list tells of this.
    [[nodiscard]] bool tells(const char* list, const QString& words)
    {
        for (int i = 0; i < driver.find<QListView>(list).model()->rowCount(); ++i) {
            if (row(list, i).contains(words)) {
                return true;
            }
        }
        return false;
    }

    Window window;
    WindowDriver driver;
};

QByteArray noteOnTip(ScratchRepository& scratch)
{
    int exitCode = 0;
    return scratch.tryGit({QStringLiteral("notes"),
                           QStringLiteral("--ref=rope-splice/decisions"),
                           QStringLiteral("show")},
                          exitCode);
}
}  // namespace

class TestReasonsRound : public QObject
{
    Q_OBJECT
private slots:
    void init();
    void reason_isKept_recorded_andShown();
    void withoutReason_nothingIsLeft_unlessWished();
    void wish_canBeTakenBack();
    void sent_isReadByTheTeammate_andDisagreementsTold();
};

void TestReasonsRound::init()
{
    QSettings().clear();
}

void TestReasonsRound::reason_isKept_recorded_andShown()
{
    ScratchRepository scratch;
    makeClashingBranches(scratch);
    {
        Round first(scratch.folder());
        QVERIFY(first.start("theirs"));
        QVERIFY(first.why().text().isEmpty());
        first.sayWhy(kWhy);
        // Enter gives the keyboard back; the next place has no reason, this one keeps its own.
        first.driver.press(Qt::Key_Return);
        QVERIFY(!first.why().hasFocus());
        first.driver.press(Qt::Key_J, Qt::ControlModifier);
        QVERIFY(first.why().text().isEmpty());
        first.driver.press(Qt::Key_K, Qt::ControlModifier);
        QCOMPARE(first.why().text(), kWhy);
    }
    Round round(scratch.folder());
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    QCOMPARE(round.why().text(), kWhy);
    round.decideAll();
    QVERIFY(round.goToRecord());
    QVERIFY(round.leaveNotes().isVisible() && round.leaveNotes().isChecked());
    QVERIFY(round.record());
    QVERIFY2(noteOnTip(scratch).contains(kWhy.toUtf8()), noteOnTip(scratch).constData());

    round.driver.press(Qt::Key_L, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] { return round.tells("loggedDecisions", kWhy); }));
    // Reopened, it is still said.
    round.driver.press(Qt::Key_Return, Qt::ControlModifier);
    QVERIFY(round.driver.waitFor([&] { return round.driver.isAt("resolveKnot"); }));
    QVERIFY(round.driver.waitFor([&] {
        round.driver.press(Qt::Key_J, Qt::ControlModifier);
        return round.why().text() == kWhy;
    }));
}

void TestReasonsRound::withoutReason_nothingIsLeft_unlessWished()
{
    for (const bool isWished : {false, true}) {
        ScratchRepository scratch;
        makeClashingBranches(scratch);
        Round round(scratch.folder());
        QVERIFY(round.start("theirs"));
        round.decideAll();
        QVERIFY(round.goToRecord());
        QVERIFY(!round.leaveNotes().isChecked());
        if (isWished) {
            round.leaveNotes().click();
        }
        QVERIFY(round.record());
        QCOMPARE(scratch.git("for-each-ref refs/notes").isEmpty(), !isWished);
    }
}

void TestReasonsRound::wish_canBeTakenBack()
{
    ScratchRepository scratch;
    makeClashingBranches(scratch);
    Round round(scratch.folder());
    QVERIFY(round.start("theirs"));
    round.sayWhy(kWhy);
    round.driver.press(Qt::Key_Escape);
    round.decideAll();
    QVERIFY(round.goToRecord());
    round.leaveNotes().click();
    QVERIFY(!round.leaveNotes().isChecked());
    QVERIFY(round.record());
    QVERIFY(scratch.git("for-each-ref refs/notes").isEmpty());
}

void TestReasonsRound::sent_isReadByTheTeammate_andDisagreementsTold()
{
    const SharedTeam team;
    team.teammate().write("plan.txt",
                          "one\ntwo of Were\nthree\nfour\nfive\nsix\nseven\neight\nnine\n");
    team.teammate().commit("Were's two");
    team.teammate().git("push -q origin main");
    team.yours().git("switch -q -c fees");
    team.yours().write("plan.txt",
                       "one\ntwo of Maren\nthree\nfour\nfive\nsix\nseven\neight\nnine\n");
    team.yours().commit("Maren's two");
    team.yours().git("fetch -q");
    {
        Round round(team.yours().folder());
        QVERIFY(round.start("origin/main"));
        round.sayWhy(kWhy);
        round.driver.press(Qt::Key_Return);
        round.decideAll();
        QVERIFY(round.goToRecord());
        QVERIFY(round.record());
        round.driver.press(Qt::Key_5, Qt::ControlModifier);
        QVERIFY(round.driver.waitFor(
            [&] { return round.driver.find<QPushButton>("pushButton").isEnabled(); }));
        round.driver.press(Qt::Key_Return, Qt::ControlModifier);
        QVERIFY(round.driver.waitFor([&] {
            return round.driver.text("pushAnswerText")
                .contains(QStringLiteral("1 note of decisions"));
        }));
    }
    Round there(team.teammate().folder());
    QVERIFY(there.driver.waitFor(
        [&] { return there.driver.find<QListView>("branchList").model()->rowCount() > 0; }));
    there.driver.press(Qt::Key_R, Qt::ControlModifier);
    QVERIFY(there.driver.waitFor([&] {
        return !team.teammate().git("for-each-ref refs/remotes/origin/fees").isEmpty()
               && there.driver.find<QPushButton>("fetchButton").text() == QLatin1String("Fetch");
    }));
    // She writes the merge anew with her own line, and takes the note along.
    team.teammate().git("switch -q -c anew origin/fees");
    team.teammate().write("plan.txt",
                          "one\ntwo of Maren\nthree\nfour\nfive\nsix\nseven\neight\nnine\n");
    team.teammate().git("commit -q -a --amend --no-edit");
    team.teammate().git("update-ref refs/notes/rope-splice/decisions "
                        "refs/notes/rope-splice-of/origin/decisions");
    team.teammate().git("notes --ref=rope-splice/decisions copy origin/fees HEAD");

    const auto read = [&](const char* merge) {
        auto& filter = there.driver.find<QLineEdit>("logbookFilter");
        filter.setFocus();
        filter.setText(QString::fromUtf8(
            team.teammate().git({QStringLiteral("rev-parse"), QLatin1String(merge)})));
        there.driver.press(Qt::Key_Return);
        const QString name = filter.text().left(7);
        const bool isListed =
            there.driver.waitFor([&] { return there.row("mergeList", 0).contains(name); });
        auto& list = there.driver.find<QListView>("mergeList");
        list.setFocus();
        list.setCurrentIndex(list.model()->index(0, 0));
        return isListed && there.driver.waitFor([&] {
            return there.driver.text("loggedFacts").startsWith(name)
                   && there.tells("loggedDecisions", kWhy);
        });
    };
    there.driver.press(Qt::Key_L, Qt::ControlModifier);
    there.driver.find<QCheckBox>("onlyOdd").setChecked(false);
    QVERIFY(read("origin/fees"));
    QVERIFY2(there.driver.text("loggedFacts").endsWith(QStringLiteral("with a note")),
             qPrintable(there.driver.text("loggedFacts")));
    QVERIFY(read("anew"));
    QVERIFY(there.driver.waitFor([&] {
        return there.driver.text("loggedFacts").contains(QStringLiteral("disagrees in 1 place"));
    }));
    QVERIFY(there.tells("loggedDecisions", QStringLiteral("The note says: theirs")));
}

ROPE_TESTS(TestReasonsRound, rope::test::WindowApplication)
#include "tst_reasons_round.moc"
