// SPDX-License-Identifier: GPL-3.0-or-later
// The station on splices made in memory: editor and splice must stay in step whatever is typed.
#include "desktop/resolve/resolve_station.h"
#include "desktop/resolve/worklist.h"
#include "desktop/result/typing_steps.h"
#include "desktop/widgets/code_view.h"
#include "desktop/widgets/side_text.h"
#include "desktop/widgets/theme.h"
#include "desktop/wording/shown_text.h"
#include "tests/support/random_texts.h"
#include "tests/support/test_program.h"

#include <QApplication>
#include <QInputMethodEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QMenu>
#include <QPushButton>
#include <QSignalSpy>
#include <QTest>
#include <QTextEdit>

using namespace rope;

namespace {
std::shared_ptr<const Forecast>
forecastOf(const std::string& base, const std::string& ours, const std::string& theirs)
{
    auto forecast = std::make_shared<Forecast>();
    FileOutcome file;
    file.path = "file.txt";
    file.base = file.ours = file.theirs = FileVersion{};
    file.text = std::make_shared<const TextJoin>(std::move(joinTexts(base, ours, theirs)).value());
    forecast->join.files = {file};
    return forecast;
}

enum class Preview { here, inResult };

/// A station showing one file, and the splice below it. The result holds the splice's own text unless
/// candidates are previewed in it.
struct Scene
{
    Splice splice;
    ResolveStation station{nullptr};

    Scene(const std::string& base,
          const std::string& ours,
          const std::string& theirs,
          Preview preview = Preview::here)
        : splice({"id", "refs/heads/x", "mine", "origin/main", {}, {}},
                 forecastOf(base, ours, theirs))
    {
        station.resize(1200, 700);
        station.show();
        station.findChild<QPushButton*>(QStringLiteral("previewHereButton"))
            ->setChecked(preview == Preview::here);
        station.setSplice(&splice);
        QApplication::processEvents();
    }
    [[nodiscard]] CodeView& code()
    {
        return *station.findChild<CodeView*>(QStringLiteral("resultView"));
    }
    [[nodiscard]] std::string shown() { return code().bytes(0, code().size()); }
    [[nodiscard]] std::string kept() { return splice.files()[0].text->wholeText(); }
    void type(const QString& text)
    {
        QTest::keyClicks(code().editor(), text);
        station.flush();
    }
    /// Text as an input method gives it: QTest's keys are ASCII.
    void compose(const QString& text)
    {
        QInputMethodEvent composed;
        composed.setCommitString(text);
        QApplication::sendEvent(code().editor(), &composed);
        station.flush();
    }
    void press(Qt::Key key, Qt::KeyboardModifiers modifiers = {})
    {
        QTest::keyClick(code().editor(), key, modifiers);
        station.flush();
    }
};

const char* const kBase = "one\ntwo\nthree\nfour\nfive\nsix\nseven\n";
const char* const kOurs = "one\nTWO ours\nthree\nfour\nfive\nSIX ours\nseven\n";
const char* const kTheirs = "one\nTWO theirs\nthree\nfour\nfive\nSIX theirs\nseven\n";
}  // namespace

class TestResolveStation : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void random_typing_keepsEditorAndSpliceInStep();
    void random_decisions_keepEditorAndSpliceInStep();
    void alike_areAnsweredTogether_andDecidedFold();
    void typing_inAnOpenRegion_decidesItByHand();
    void typing_outsideRegions_decidesNothing();
    void deleting_acrossARegion_takesFromEach();
    void writeOwn_inAnEmptyRegion_getsALine();
    void nextOpen_wrapsAround_inBothDirections();
    void caret_enteringARegion_showsItsEvidence();
    void facts_areAskedOnceAndShown();
    void place_isFoundAgain();
    void candidates_keysBeyondTheList_doNothing();
    void candidate_lookedAt_standsInTheResult();
    void candidate_typedInto_becomesOwnText();
    void reading_againstEachOther_whereTheBaseIsEmpty();
    void cards_areAllInView_forTenLines();
    void fixedKeys_takeSides_both_andGoOn();
    void button_saysWhatIsLost();
    void nothingOpen_mainButtonLeadsOn_andKeysWalkTheDecided();
    void heading_ofTheFirstLine_standsAboveIt();
    void panes_keepTheirShares();
    void joinedLine_atTheCaret_hasEvidence();
    void opening_joinedFirstLine_showsTheRegion();
    void joinedFile_saysSo_andShowsItsSides();
    void card_tellsOfNameAndMode();
    void find_overAllFiles_goesFromFileToFile();
    void indent_ofAllLines_isNotShown_butCopied();
    void linesAround_areShownWhereAllCardsFit();
    void menu_ofTheResult_hasWhatCanBeDoneThere();
    void copy_inAnotherEditor_comesBackAsTyping();
    void together_severalAreAnsweredAsOneStep();
    void together_keysAndLossesAreTold();
    void worklist_isGroupedByFolderKindAndPeople();
    void typing_isUndoneWordByWord();
    void typing_ofABlank_decidesNothing();
    void blankTypedIntoACandidate_staysWhereItWasTyped();
    void writeOwn_takesEveryFirstKey_data();
    void writeOwn_takesEveryFirstKey();
    void tab_goesThroughTheText_unlessOneWrites();
    void goOnKey_decidesNothing();
    void selectedByAnAction_isWhatIsTaken();
    void typing_takenBackByHand_isNoEdit();
    void ownText_isARowThatSaysWhatItDrops();
    void writtenOutside_isListedAndCanGoBack();
    void panes_areReachedByKey();
    void find_andReplace_countAsTyped();
    void lines_pickedByKey_keepTheirOrigin();
    void lines_partsByMouse_andBackWithUndo();
    void spliceThatGoes_rightAfterTyping_isLetGo();
    void sameRegion_decidedElsewhere_isOfferedFirst();
};

void TestResolveStation::initTestCase()
{
    applyLook(*qApp, Look::light);
}

void TestResolveStation::random_typing_keepsEditorAndSpliceInStep()
{
    test::Random random(test::randomSeed());
    for (int round = 0; round < 12; ++round) {
        const std::string base = test::numberedText(12);
        Scene scene(
            base, test::edited(random, base, 4, "ours "), test::edited(random, base, 4, "theirs "));
        const std::string before = scene.kept();
        QCOMPARE(scene.shown(), before);
        for (int step = 0; step < 40; ++step) {
            scene.code().placeCaret(static_cast<std::size_t>(
                test::below(random, static_cast<int>(scene.code().size()) + 1)));
            switch (test::below(random, 5)) {
            case 0:
                scene.compose(QStringLiteral("xé"));
                break;
            case 1:
                scene.press(Qt::Key_Return);
                break;
            case 2:
                scene.press(Qt::Key_Backspace);
                break;
            case 3:
                scene.press(Qt::Key_Delete);
                break;
            default:
                for (int line = test::below(random, 4); line >= 0; --line) {
                    QTest::keyClick(scene.code().editor(), Qt::Key_Down, Qt::ShiftModifier);
                }
                scene.press(Qt::Key_Delete);
            }
            QCOMPARE(scene.shown(), scene.kept());
        }
        const std::string after = scene.kept();
        while (scene.splice.canUndo()) {
            scene.station.undo();
            QCOMPARE(scene.shown(), scene.kept());
        }
        QCOMPARE(scene.kept(), before);
        while (scene.splice.canRedo()) {
            scene.station.redo();
        }
        QCOMPARE(scene.kept(), after);
        QCOMPARE(scene.shown(), after);
    }
}

void TestResolveStation::random_decisions_keepEditorAndSpliceInStep()
{
    test::Random random(test::randomSeed() + 3);
    for (int round = 0; round < 10; ++round) {
        const std::string base = test::numberedText(20);
        Scene scene(
            base, test::edited(random, base, 9, "ours "), test::edited(random, base, 9, "theirs "));
        for (int step = 0; step < 25; ++step) {
            switch (test::below(random, 5)) {
            case 0:
                scene.station.goToNextOpen(1);
                break;
            case 1:
                scene.station.reopenOrSkip();
                break;
            case 2:
                scene.station.undo();
                break;
            default:
                scene.station.takeCandidate(test::below(random, 6));
            }
            QCOMPARE(scene.shown(), scene.kept());
        }
        scene.station.decideAllOpen(FileChoice::theirs);
        QCOMPARE(scene.splice.openCount(), std::size_t{0});
        QCOMPARE(scene.shown(), *scene.splice.result()->edits.back().bytes);
    }
}

/// Many of a sort are offered together, looked at, answered in one step; what is decided folds.
void TestResolveStation::alike_areAnsweredTogether_andDecidedFold()
{
    std::string base;
    std::string ours;
    std::string theirs;
    for (int i = 0; i < 12; ++i) {
        const std::string stop = "[stop." + std::string(1, static_cast<char>('a' + i)) + "]\n";
        for (const auto& [text, minutes] :
             {std::pair(&base, "20"), {&ours, "25"}, {&theirs, "26"}}) {
            *text += stop + "first = 7\nlast = 18\nminutes = " + minutes + "\n";
        }
    }
    Scene scene(base, ours, theirs);
    QCOMPARE(scene.splice.openCount(), std::size_t{12});
    auto* list = scene.station.findChild<QListView*>(QStringLiteral("worklist"));
    const auto rowWith = [list](const char* words) {
        for (int row = 0; row < list->model()->rowCount(); ++row) {
            if (list->model()->index(row, 0).data().toString().contains(QLatin1String(words))) {
                return list->model()->index(row, 0);
            }
        }
        return QModelIndex();
    };
    const QModelIndex alike = rowWith("12 alike: only numbers");
    QVERIFY(alike.isValid());
    QVERIFY(alike.data(Qt::AccessibleTextRole).toString().contains(QStringLiteral("together")));
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualRect(alike).center());
    const auto* count = scene.station.findChild<QLabel*>(QStringLiteral("togetherCount"));
    QVERIFY(count->isVisible());
    QVERIFY2(count->text().startsWith(QStringLiteral("12 regions in 1 file")),
             qPrintable(count->text()));
    QCOMPARE(scene.splice.openCount(), std::size_t{12});  // to be looked at: nothing is taken
    auto* choices = scene.station.findChild<QListView*>(QStringLiteral("togetherList"));
    choices->setCurrentIndex(choices->model()->index(1, 0));
    scene.station.findChild<QPushButton*>(QStringLiteral("takeTogetherButton"))->click();
    QCOMPARE(scene.splice.openCount(), std::size_t{0});
    QCOMPARE(scene.kept(), theirs);
    QVERIFY(!rowWith("alike").isValid());

    // The one that was just decided stays listed.
    scene.station.undo();
    QVERIFY(rowWith("12 alike").isValid());
    scene.station.takeCandidate(0);
    for (int i = 0; i < 9; ++i) {
        scene.station.goToNextOpen(1);
        scene.station.takeCandidate(0);
    }
    scene.station.goToNextOpen(1);
    const QModelIndex folded = rowWith("9 decided");
    QVERIFY(folded.isValid());
    list->selectAll();
    QVERIFY2(count->text().startsWith(QStringLiteral("12 regions in 1 file")),
             qPrintable(count->text()));
    scene.station.goToNextOpen(1);
    const int rows = list->model()->rowCount();
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualRect(folded).center());
    QCOMPARE(list->model()->rowCount(), rows + 8);
}

void TestResolveStation::typing_inAnOpenRegion_decidesItByHand()
{
    Scene scene(kBase, kOurs, kTheirs);
    QSignalSpy changed(&scene.station, &ResolveStation::changed);
    scene.station.writeOwn();
    scene.type(QStringLiteral("my "));
    QCOMPARE(scene.splice.openCount(), std::size_t{1});
    QCOMPARE(scene.splice.state({0, 1}).choice, std::string(kOwnText));
    QCOMPARE(*scene.splice.state({0, 1}).text, std::string("my two\n"));
    QVERIFY(!changed.isEmpty());
}

void TestResolveStation::typing_outsideRegions_decidesNothing()
{
    Scene scene(kBase, kOurs, kTheirs);
    scene.code().placeCaret(0);
    scene.type(QStringLiteral("zero "));
    QCOMPARE(scene.splice.openCount(), std::size_t{2});
    QCOMPARE(*scene.splice.state({0, 0}).text, std::string("zero one\n"));
}

void TestResolveStation::deleting_acrossARegion_takesFromEach()
{
    Scene scene(kBase, kOurs, kTheirs);
    scene.code().placeCaret(2);
    for (int line = 0; line < 2; ++line) {
        QTest::keyClick(scene.code().editor(), Qt::Key_Down, Qt::ShiftModifier);
    }
    scene.press(Qt::Key_Delete);
    QCOMPARE(scene.shown(), std::string("onree\nfour\nfive\nsix\nseven\n"));
    QCOMPARE(scene.kept(), scene.shown());
    QCOMPARE(*scene.splice.state({0, 1}).text, std::string());
    scene.station.undo();  // one deletion, one step
    QCOMPARE(scene.kept(), std::string(kBase));
}

void TestResolveStation::writeOwn_inAnEmptyRegion_getsALine()
{
    Scene scene("a\nz\n", "a\nours\nz\n", "a\ntheirs\nz\n");
    scene.station.writeOwn();
    scene.type(QStringLiteral("mine"));
    QCOMPARE(scene.kept(), std::string("a\nmine\nz\n"));
    QCOMPARE(scene.shown(), scene.kept());
}

void TestResolveStation::nextOpen_wrapsAround_inBothDirections()
{
    Scene scene(kBase, kOurs, kTheirs);
    const auto number = [&] {
        return scene.station.findChild<QLabel*>(QStringLiteral("regionNumber"))->text();
    };
    QCOMPARE(number(), QStringLiteral("region 1 of 2"));
    scene.station.goToNextOpen(1);
    QCOMPARE(number(), QStringLiteral("region 2 of 2"));
    scene.station.goToNextOpen(1);
    QCOMPARE(number(), QStringLiteral("region 1 of 2"));
    scene.station.goToNextOpen(-1);
    QCOMPARE(number(), QStringLiteral("region 2 of 2"));
    scene.station.takeCandidate(0);
    scene.station.goToNextOpen(1);
    scene.station.goToNextOpen(1);
    QCOMPARE(number(), QStringLiteral("region 1 of 2"));  // the only one left
}

void TestResolveStation::caret_enteringARegion_showsItsEvidence()
{
    Scene scene(kBase, kOurs, kTheirs);
    scene.code().placeCaret(scene.code().positionOfLine(4));
    scene.press(Qt::Key_Down);
    QTRY_COMPARE(scene.station.findChild<QLabel*>(QStringLiteral("regionNumber"))->text(),
                 QStringLiteral("region 2 of 2"));
    const auto* theirs =
        scene.station.findChild<QWidget*>(QStringLiteral("theirsCard"))->findChild<QTextEdit*>();
    QVERIFY(theirs->toPlainText().contains(QLatin1String("SIX theirs")));
}

void TestResolveStation::facts_areAskedOnceAndShown()
{
    Scene scene(kBase, kOurs, kTheirs);
    QSignalSpy asked(&scene.station, &ResolveStation::factsRequested);
    scene.station.goToNextOpen(1);
    QCOMPARE(asked.size(), 1);
    PlaceFacts second;
    second.theirs = {QStringLiteral("I. Falk"),
                     QStringLiteral("I. Falk · yesterday"),
                     QStringLiteral("exactly"),
                     QStringLiteral("7c21e9d <b>Subject</b>")};
    scene.station.setFacts(0, {{}, {}, {}, second, {}}, {}, {});
    const auto* who = scene.station.findChild<QWidget*>(QStringLiteral("theirsCard"))
                          ->findChild<QLabel*>(QStringLiteral("evidenceWho"));
    QCOMPARE(who->text(), QStringLiteral("I. Falk · yesterday"));
    QCOMPARE(who->textFormat(), Qt::PlainText);
    scene.station.goToNextOpen(1);
    QCOMPARE(asked.size(), 1);  // known now
    QCOMPARE(who->text(), QString());
}

namespace {
/// Selects all rows of the worklist, as Ctrl+A there does.
void chooseAll(Scene& scene)
{
    auto* list = scene.station.findChild<QListView*>(QStringLiteral("worklist"));
    list->setFocus();
    QTest::keyClick(list, Qt::Key_A, Qt::ControlModifier);
}
QStringList rowsOf(const QAbstractItemModel& model)
{
    QStringList rows;
    for (int row = 0; row < model.rowCount(); ++row) {
        rows << model.index(row, 0).data().toString();
    }
    return rows;
}
}  // namespace

void TestResolveStation::together_severalAreAnsweredAsOneStep()
{
    Scene scene(kBase, kOurs, kTheirs);
    chooseAll(scene);
    const auto* count = scene.station.findChild<QLabel*>(QStringLiteral("togetherCount"));
    QVERIFY(count->isVisible());
    QVERIFY2(count->text().startsWith(QLatin1String("2 regions in 1 file")),
             qPrintable(count->text()));
    scene.station.takeCandidate(1);  // as Alt+2: all as theirs
    QCOMPARE(scene.kept(), std::string(kTheirs));
    QVERIFY(!count->isVisible());
    scene.station.undo();
    QCOMPARE(scene.splice.openCount(), std::size_t{2});
    QVERIFY(!scene.splice.canUndo());
}

void TestResolveStation::together_keysAndLossesAreTold()
{
    Scene scene(kBase, kOurs, kTheirs);
    chooseAll(scene);
    auto* list = scene.station.findChild<QListView*>(QStringLiteral("togetherList"));
    const auto said = [list](int row) {
        return list->model()->index(row, 0).data(Qt::AccessibleTextRole).toString();
    };
    QVERIFY2(said(0).contains(QLatin1String("gives up 2 lines that origin/main added")),
             qPrintable(said(0)));
    QVERIFY2(said(2).contains(QLatin1String("no added line is given up")), qPrintable(said(2)));
    QTest::keyClick(list, Qt::Key_Down);
    QTest::keyClick(list, Qt::Key_Down);
    QTest::keyClick(list, Qt::Key_Return);
    QCOMPARE(scene.splice.openCount(), std::size_t{0});
    QVERIFY(scene.kept().find("TWO ours\nTWO theirs\n") != std::string::npos);
    // Other rows, by a filter: nothing is chosen together any more.
    chooseAll(scene);
    QVERIFY(list->isVisible());
    scene.station.findChild<QLineEdit*>(QStringLiteral("worklistFilter"))
        ->setText(QStringLiteral("TWO"));
    QVERIFY(!list->isVisible());
    // One alone is looked at as ever.
    scene.station.goToNextOpen(1);
    QVERIFY(!list->isVisible());
}

void TestResolveStation::worklist_isGroupedByFolderKindAndPeople()
{
    Scene scene(kBase, kOurs, "one\nthree\nfour\nfive\nSIX theirs\nseven\n");
    auto* worklist = scene.station.findChild<Worklist*>();
    const auto* list = worklist->findChild<QListView*>(QStringLiteral("worklist"));
    worklist->setGrouping(WorklistGrouping::kind);
    QCOMPARE(rowsOf(*list->model()),
             (QStringList{QStringLiteral("Both changed"),
                          QStringLiteral("file.txt: six"),
                          QStringLiteral("Removed against changed"),
                          QStringLiteral("file.txt: two")}));
    worklist->setGrouping(WorklistGrouping::folder);
    QCOMPARE(rowsOf(*list->model()).front(), QStringLiteral("(top folder)"));
    QSignalSpy asked(&scene.station, &ResolveStation::factsRequested);
    worklist->setGrouping(WorklistGrouping::people);
    QCOMPARE(rowsOf(*list->model()).front(), QStringLiteral("Not known yet"));
    PlaceFacts ines;
    ines.theirs.name = QStringLiteral("I. Falk");
    PlaceFacts tom;
    tom.theirs.name = QStringLiteral("T. Brandt");
    scene.station.setFacts(0, {{}, ines, {}, tom, {}}, {}, {});
    QCOMPARE(rowsOf(*list->model()),
             (QStringList{QStringLiteral("I. Falk"),
                          QStringLiteral("file.txt: two"),
                          QStringLiteral("T. Brandt"),
                          QStringLiteral("file.txt: six")}));
    worklist->setGrouping(WorklistGrouping::file);
    QCOMPARE(rowsOf(*list->model()).front(), QStringLiteral("file.txt"));
}

void TestResolveStation::menu_ofTheResult_hasWhatCanBeDoneThere()
{
    Scene scene(kBase, kOurs, kTheirs);
    scene.station.setCurrent(true);
    QMenu* menu = scene.station.makeResultMenu();
    QStringList texts;
    QAction* use = nullptr;
    for (QAction* action : menu->actions()) {
        texts << action->text();
        if (action->text().startsWith(QLatin1String("Use 2:"))) {
            use = action;
        }
    }
    for (const char* wanted :
         {"Undo", "Paste", "Pick single lines", "Go to line", "Copy the path"}) {
        QVERIFY2(texts.contains(QLatin1String(wanted)), wanted);
    }
    QVERIFY(use != nullptr && use->isEnabled());
    use->trigger();
    QCOMPARE(scene.splice.openCount(), std::size_t{1});
    scene.station.setEditable(false);
    for (QAction* action : scene.station.makeResultMenu()->actions()) {
        QVERIFY(!action->isEnabled() || !action->text().startsWith(QLatin1String("Use")));
    }
}

void TestResolveStation::copy_inAnotherEditor_comesBackAsTyping()
{
    Scene scene(kBase, kOurs, kTheirs);
    scene.station.setCurrent(true);
    scene.station.takeCandidate(0);
    QSignalSpy asked(&scene.station, &ResolveStation::copyRequested);
    QSignalSpy told(&scene.station, &ResolveStation::told);
    for (QAction* action : scene.station.pageActions()) {
        if (action->objectName() == QLatin1String("openCopyAction")) {
            action->trigger();
        }
    }
    QCOMPARE(asked.size(), 1);
    QCOMPARE(asked[0][0].toString(), QStringLiteral("file.txt"));
    const std::string before = scene.kept();
    QCOMPARE(asked[0][1].toByteArray().toStdString(), before);
    std::string edited = before;
    edited.replace(edited.find("one"), 3, "ONE");
    edited.replace(edited.find("seven"), 5, "SEVEN");
    scene.station.takeOverCopy(QStringLiteral("file.txt"), QByteArray::fromStdString(edited));
    QCOMPARE(scene.kept(), edited);
    QCOMPARE(scene.shown(), edited);
    scene.station.undo();
    QCOMPARE(scene.kept(), before);
    scene.station.takeOverCopy(QStringLiteral("another.txt"), "x");
    QCOMPARE(scene.kept(), before);
    QVERIFY(told.last()[0].toString().startsWith(QLatin1String("another.txt was changed")));
}

void TestResolveStation::joinedLine_atTheCaret_hasEvidence()
{
    Scene scene("one\ntwo\nthree\nfour\nfive\nsix\nseven\n",
                "one\nTWO ours\nthree\nfour\nfive\nsix\nseven\n",
                "one\nTWO theirs\nthree\nfour\nfive\nSIX theirs\nseven\n");
    const auto* joined = scene.station.findChild<QLabel*>(QStringLiteral("joinedNote"));
    const auto* region = scene.station.findChild<QLabel*>(QStringLiteral("regionNumber"));
    const auto goTo = [&](const char* line) {
        scene.code().goToLine(scene.code().lineAt(scene.shown().find(line)));
        QApplication::processEvents();
    };
    goTo("four");
    QVERIFY(region->isVisible());  // as in the base: the region's evidence stays
    goTo("SIX theirs");
    QVERIFY(joined->isVisible());
    QVERIFY2(joined->text().startsWith(QLatin1String("origin/main changed this, mine left it")),
             qPrintable(joined->text()));
    const auto* cards = scene.station.findChild<QWidget*>(QStringLiteral("joinedTheirsCard"));
    QVERIFY(cards->findChild<QTextEdit*>()->toPlainText().contains(QLatin1String("SIX theirs")));
    PlaceFacts facts;
    facts.theirs = {QStringLiteral("I. Falk"), QStringLiteral("I. Falk · yesterday"), {}, {}};
    scene.station.setFacts(0, {{}, {}, {}, facts, {}}, {}, {});
    QCOMPARE(cards->findChild<QLabel*>(QStringLiteral("evidenceWho"))->text(),
             QStringLiteral("I. Falk · yesterday"));
    scene.station.takeCandidate(0);  // nothing is to be decided here
    QCOMPARE(scene.splice.openCount(), std::size_t{1});
    goTo("two");
    QVERIFY(region->isVisible());
    scene.station.takeCandidate(0);
    QCOMPARE(scene.splice.openCount(), std::size_t{0});
}

void TestResolveStation::opening_joinedFirstLine_showsTheRegion()
{
    Scene scene("one\ntwo\nthree\nfour\n",
                "ONE\ntwo\nthree\nFOUR ours\n",
                "one\ntwo\nthree\nFOUR theirs\n");
    (void)scene.station.grab();  // the editor tells of its caret when it paints
    QTest::qWait(50);
    const auto* region = scene.station.findChild<QLabel*>(QStringLiteral("regionNumber"));
    QVERIFY(region->isVisible());
    scene.station.takeCandidate(0);
    (void)scene.station.grab();
    QTest::qWait(50);
    QVERIFY(region->isVisible());
    scene.code().editor()->setFocus();
    for (int line = 0; line < 3; ++line) {
        scene.press(Qt::Key_Up);
        (void)scene.station.grab();
    }
    QVERIFY(!region->isVisible());  // now a person went there
}

void TestResolveStation::joinedFile_saysSo_andShowsItsSides()
{
    Scene scene("one\ntwo\nthree\nfour\n", "ONE\ntwo\nthree\nfour\n", "one\ntwo\nthree\nFOUR\n");
    scene.station.findChild<QPushButton*>(QStringLiteral("showJoinedButton"))->click();
    const auto* list = scene.station.findChild<QListView*>(QStringLiteral("worklist"));
    QTest::mouseClick(list->viewport(),
                      Qt::LeftButton,
                      {},
                      list->visualRect(list->model()->index(1, 0)).center());
    const auto* note = scene.station.findChild<QLabel*>(QStringLiteral("joinedNote"));
    QVERIFY(note->isVisible());
    QVERIFY2(note->text().startsWith(QLatin1String("mine changed this")), qPrintable(note->text()));
    QCOMPARE(scene.shown(), std::string("ONE\ntwo\nthree\nFOUR\n"));
    scene.code().goToLine(3);
    QApplication::processEvents();
    QVERIFY2(note->text().startsWith(QLatin1String("origin/main changed this")),
             qPrintable(note->text()));
}

void TestResolveStation::card_tellsOfNameAndMode()
{
    auto forecast = std::make_shared<Forecast>(*forecastOf(kBase, kOurs, kTheirs));
    FileOutcome& file = forecast->join.files.front();
    file.basePath = file.oursPath = "old/file.txt";
    file.theirsPath = file.path;
    file.ours->kind = EntryKind::executable;
    QCOMPARE(file.regionCount(), std::size_t{2});
    Splice splice({"id", "refs/heads/x", "mine", "origin/main", {}, {}}, forecast);
    ResolveStation station(nullptr);
    station.show();
    station.setSplice(&splice);
    const auto remarkOf = [&](const char* card) {
        return station.findChild<QWidget*>(QLatin1String(card))
            ->findChild<QLabel*>(QStringLiteral("evidenceRemark"));
    };
    QCOMPARE(remarkOf("theirsCard")->text(),
             QStringLiteral("Renamed from old/file.txt to file.txt."));
    QCOMPARE(remarkOf("oursCard")->text(), QStringLiteral("Made executable."));
    QVERIFY(remarkOf("baseCard")->isHidden());
    file.base.reset();
    station.setSplice(&splice);
    QCOMPARE(station.findChild<QWidget*>(QStringLiteral("baseCard"))
                 ->findChild<QLabel*>(QStringLiteral("evidenceWho"))
                 ->text(),
             QStringLiteral("the file did not exist"));
    station.setSplice(nullptr);
}

void TestResolveStation::linesAround_areShownWhereAllCardsFit()
{
    Scene scene("a\nb\nc\nx = 1\nd\ne\n", "a\nb\nc\nx = 2\nd\ne\n", "a\nb\nc\nx = 3\nd\ne\n");
    const auto& card = *scene.station.findChild<QWidget*>(QStringLiteral("oursCard"));
    auto& text = *card.findChild<SideText*>();
    const QStringList around{QStringLiteral("around it: b"),
                             QStringLiteral("around it: c"),
                             QStringLiteral("around it: d")};
    const auto shown = [&] {
        QStringList found;
        for (const QString& remark : text.remarks()) {
            if (remark.startsWith(QLatin1String("around it"))) {
                found << remark;
            }
        }
        return found;
    };
    scene.station.resize(1280, 800);
    QTRY_COMPARE(shown(), around);
    scene.station.resize(1024, 400);  // the three cards come first
    QTRY_COMPARE(shown(), QStringList());
    scene.station.resize(1280, 800);
    QTRY_COMPARE(shown(), around);
    QCOMPARE(text.toPlainText(), QStringLiteral("x = 2"));
}

void TestResolveStation::indent_ofAllLines_isNotShown_butCopied()
{
    const std::string blanks(8, ' ');
    // Lines around that all sides have are indented as much; others would be shown with their indent.
    const std::string around = blanks + "around\n";
    Scene scene("a\n" + around + blanks + "x = 1\n" + around,
                "a\n" + around + blanks + "x = 2\n" + around,
                "A\n" + around + blanks + "    x = 3\n" + around);
    const auto& card = *scene.station.findChild<QWidget*>(QStringLiteral("theirsCard"));
    auto& text = *card.findChild<SideText*>();
    QCOMPARE(text.hiddenIndent(), 8);
    const auto* place = scene.station.findChild<QWidget*>(QStringLiteral("baseCard"))
                            ->findChild<QLabel*>(QStringLiteral("evidenceWho"));
    QCOMPARE(place->text(), QStringLiteral("line 3 · 8 blanks of indent hidden"));
    const auto leftOf = [&](int column) {
        QTextCursor cursor(text.document());
        cursor.setPosition(column);
        return text.cursorRect(cursor).left();
    };
    const int four = QFontMetrics(text.font()).horizontalAdvance(QStringLiteral("    "));
    QVERIFY2(leftOf(12) > four && leftOf(12) < 3 * four,
             QByteArray::number(leftOf(12)).constData());
    text.selectAll();
    QCOMPARE(text.selectedBytes(), blanks + "    x = 3\n");
    for (QAction* action : scene.station.pageActions()) {
        if (action->objectName() == QLatin1String("blanksAction")) {
            scene.station.setCurrent(true);
            action->trigger();  // who looks at blanks sees all of them
        }
    }
    QCOMPARE(text.hiddenIndent(), 0);
    QVERIFY(leftOf(12) > 3 * four);
}

void TestResolveStation::find_overAllFiles_goesFromFileToFile()
{
    auto forecast = std::make_shared<Forecast>();
    for (const char* name : {"a.txt", "b.txt", "c.txt"}) {
        FileOutcome file = forecastOf(kBase, kOurs, kTheirs)->join.files.front();
        file.path = name;
        if (file.path == "b.txt") {
            file.text = std::make_shared<const TextJoin>(
                std::move(joinTexts("1\nm\n2\n", "o\nm\n2\n", "t\nm\n2\n")).value());
        }
        forecast->join.files.push_back(std::move(file));
    }
    Splice splice({"id", "refs/heads/x", "mine", "origin/main", {}, {}}, forecast);
    ResolveStation station(nullptr);
    station.resize(1200, 700);
    station.show();
    station.setSplice(&splice);
    station.setCurrent(true);
    const auto act = [&](const char* name) {
        for (QAction* action : station.pageActions()) {
            if (action->objectName() == QLatin1String(name)) {
                action->trigger();
            }
        }
    };
    act("replaceAction");
    station.findChild<QLineEdit*>(QStringLiteral("findField"))->setText(QStringLiteral("seven"));
    const auto* told = station.findChild<QLabel*>(QStringLiteral("findTold"));
    QCOMPARE(told->text(), QStringLiteral("1 in this file"));
    station.findChild<QPushButton*>(QStringLiteral("findEverywhereButton"))->click();
    QCOMPARE(told->text(), QStringLiteral("1 in this file · 2 in 2 files"));
    const auto file = [&] {
        return station.place().substr(0, station.place().find('\n'));
    };
    act("findNextAction");
    QCOMPARE(file(), std::string("a.txt"));
    act("findNextAction");  // there is no other in this one
    QCOMPARE(file(), std::string("c.txt"));
    QCOMPARE(station.findChild<CodeView*>(QStringLiteral("resultView"))->selectedBytes(),
             std::string("seven"));
    act("findNextAction");
    QCOMPARE(file(), std::string("a.txt"));
    station.findChild<QLineEdit*>(QStringLiteral("replaceField"))->setText(QStringLiteral("7"));
    QSignalSpy said(&station, &ResolveStation::told);
    station.findChild<QPushButton*>(QStringLiteral("replaceAllButton"))->click();
    QCOMPARE(said.last()[0].toString(), QStringLiteral("2 replaced"));
    QVERIFY(splice.files()[2].text->wholeText().ends_with("six\n7\n"));
    station.undo();
    QVERIFY(splice.files()[0].text->wholeText().ends_with("six\nseven\n"));
    QVERIFY(!splice.canUndo());
    station.setSplice(nullptr);
}

void TestResolveStation::place_isFoundAgain()
{
    Scene scene(kBase, kOurs, kTheirs);
    scene.station.goToNextOpen(1);
    const std::string place = scene.station.place();
    scene.station.setSplice(&scene.splice);
    QCOMPARE(scene.station.findChild<QLabel*>(QStringLiteral("regionNumber"))->text(),
             QStringLiteral("region 1 of 2"));
    scene.station.setSplice(&scene.splice, place);
    QCOMPARE(scene.station.findChild<QLabel*>(QStringLiteral("regionNumber"))->text(),
             QStringLiteral("region 2 of 2"));
}

void TestResolveStation::candidates_keysBeyondTheList_doNothing()
{
    Scene scene(kBase, kOurs, kTheirs);
    scene.station.takeCandidate(8);
    scene.station.takeCandidate(-1);
    QCOMPARE(scene.splice.openCount(), std::size_t{2});
    QVERIFY(!scene.splice.canUndo());
}

void TestResolveStation::candidate_lookedAt_standsInTheResult()
{
    Scene scene(kBase, kOurs, kTheirs, Preview::inResult);
    auto& list = *scene.station.findChild<QListView*>(QStringLiteral("candidateList"));
    list.setCurrentIndex(list.model()->index(0, 0));
    const std::string first = scene.shown();
    QVERIFY(first != scene.kept());
    QVERIFY(!scene.splice.state({0, 1}).isDecided);
    scene.station.goToNextOpen(1);  // there the next one's candidate is shown, and here the base
    QVERIFY(scene.shown().starts_with("one\ntwo\nthree\n"));
    scene.station.goToNextOpen(1);
    QCOMPARE(scene.shown(), first);
    scene.station.takeCandidate(0);
    scene.station.goToNextOpen(1);
    scene.station.takeCandidate(0);
    QCOMPARE(scene.shown(), scene.kept());
    scene.station.undo();
    scene.station.undo();
    QCOMPARE(scene.shown(), first);
    QCOMPARE(scene.kept(), std::string(kBase));
}

void TestResolveStation::candidate_typedInto_becomesOwnText()
{
    Scene scene(kBase, kOurs, kTheirs, Preview::inResult);
    const std::string first = scene.shown();
    scene.station.writeOwn();
    scene.type(QStringLiteral("my "));
    QVERIFY(scene.splice.state({0, 1}).isDecided);
    QCOMPARE(scene.splice.state({0, 1}).choice, std::string(kOwnText));
    QCOMPARE(scene.shown(), scene.kept());
    QCOMPARE(scene.kept(), "one\nmy " + first.substr(4));
    scene.station.undo();
    QCOMPARE(scene.shown(), first);
}

void TestResolveStation::reading_againstEachOther_whereTheBaseIsEmpty()
{
    const auto isAgainstBase = [](Scene& scene) {
        return scene.station.findChild<QPushButton*>(QStringLiteral("againstBaseButton"))
            ->isChecked();
    };
    Scene added("a\n", "a\nfee(lock, 20)\n", "a\nfee(lock, 30)\n");
    QVERIFY(!isAgainstBase(added));
    Scene changed(kBase, kOurs, kTheirs);
    QVERIFY(isAgainstBase(changed));
    changed.station.findChild<QAction*>(QStringLiteral("readingAction"))->setEnabled(true);
    changed.station.findChild<QAction*>(QStringLiteral("readingAction"))->trigger();
    QVERIFY(!isAgainstBase(changed));
}

void TestResolveStation::cards_areAllInView_forTenLines()
{
    std::string base;
    std::string ours;
    std::string theirs;
    for (int i = 0; i < 10; ++i) {
        const std::string number = std::to_string(i);
        base += "value " + number + " = base\n";
        ours += "value " + number + " = ours\n";
        theirs += "value " + number + " = theirs\n";
    }
    Scene scene(base, ours, theirs);
    for (const char* name : {"theirsCard", "baseCard", "oursCard"}) {
        const auto* card = scene.station.findChild<QWidget*>(QLatin1String(name));
        const QRect inView = card->visibleRegion().boundingRect();
        QCOMPARE(inView.height(), card->height());
    }
}

/// Whatever the order of the candidates, and whatever they are called.
void TestResolveStation::fixedKeys_takeSides_both_andGoOn()
{
    Scene scene(kBase, kOurs, kTheirs);
    scene.station.setCurrent(true);
    const auto trigger = [&](const char* action) {
        scene.station.findChild<QAction*>(QLatin1String(action))->trigger();
    };
    const SlotPlace first{0, 1};
    const RegionTexts texts = scene.splice.files()[0].text->join().regionTexts(0);
    const auto now = [&] {
        return std::string(scene.splice.files()[0].text->text(first.slot));
    };
    trigger("useTheirsAction");
    QCOMPARE(now(), std::string(texts.theirs));
    trigger("useOursAction");
    QCOMPARE(now(), std::string(texts.ours));
    scene.station.undo();
    scene.station.undo();
    QVERIFY(!scene.splice.state(first).isDecided);
    const std::string here = scene.station.place();
    trigger("useAndGoOnAction");
    QVERIFY(scene.splice.state(first).isDecided);
    QVERIFY(scene.station.place() != here);
}

void TestResolveStation::button_saysWhatIsLost()
{
    Scene scene("a\nfee = 10\nz\n", "a\nfee = 25\nz\n", "a\nfee = ten\nz\n");
    auto& list = *scene.station.findChild<QListView*>(QStringLiteral("candidateList"));
    const auto& button =
        *scene.station.findChild<QPushButton*>(QStringLiteral("takeCandidateButton"));
    bool isTheirsSeen = false;
    for (int row = 0; row < list.model()->rowCount(); ++row) {
        const QString label = list.model()->index(row, 0).data().toString();
        if (label.startsWith(QLatin1String("Theirs"))) {
            list.setCurrentIndex(list.model()->index(row, 0));
            QCOMPARE(button.text(),
                     QStringLiteral("Use candidate %1: drops 25, by ours").arg(row + 1));
            isTheirsSeen = true;
        }
    }
    QVERIFY(isTheirsSeen);
}

void TestResolveStation::nothingOpen_mainButtonLeadsOn_andKeysWalkTheDecided()
{
    Scene scene(kBase, kOurs, kTheirs);
    auto& button = *scene.station.findChild<QPushButton*>(QStringLiteral("takeCandidateButton"));
    QVERIFY2(button.text().startsWith(QStringLiteral("Use candidate 1")),
             qPrintable(button.text()));
    scene.station.decideAllOpen(FileChoice::ours);
    QCOMPARE(button.text(), QStringLiteral("Go to Check"));
    QSignalSpy done(&scene.station, &ResolveStation::doneRequested);
    button.click();
    QCOMPARE(done.size(), 1);
    const std::string here = scene.station.place();
    scene.station.goToNextOpen(1);
    QVERIFY(scene.station.place() != here);
    scene.station.undo();
    QVERIFY2(button.text().startsWith(QStringLiteral("Use candidate 1")),
             qPrintable(button.text()));
}

void TestResolveStation::heading_ofTheFirstLine_standsAboveIt()
{
    Scene scene("one\ntwo\n", "ONE ours\ntwo\n", "ONE theirs\ntwo\n");
    const auto* heading = scene.station.findChild<QLabel*>(QStringLiteral("topHeading"));
    QVERIFY(heading->isVisible());
    QVERIFY(heading->text().contains(QLatin1String("Region 1 of 1")));
    QVERIFY(heading->mapTo(&scene.code(), QPoint()).y() < scene.code().editor()->y());
    Scene later(kBase, kOurs, kTheirs);
    QVERIFY(!later.station.findChild<QLabel*>(QStringLiteral("topHeading"))->isVisible());
}

void TestResolveStation::panes_keepTheirShares()
{
    Scene scene(kBase, kOurs, kTheirs);
    const auto widthOf = [&](const char* name) {
        return scene.station.findChild<QWidget*>(QLatin1String(name))->parentWidget()->width();
    };
    const double before = double(widthOf("theirsCard")) / scene.station.width();
    scene.station.resize(1900, 900);
    QApplication::processEvents();
    const double after = double(widthOf("theirsCard")) / scene.station.width();
    QVERIFY(std::abs(before - after) < 0.02);
    const QVariantMap shares{{QStringLiteral("panes"), QVariantList{20, 30, 50}}};
    scene.station.setShares(shares);
    QApplication::processEvents();
    QVERIFY(double(widthOf("theirsCard")) / scene.station.width() > after + 0.03);
    scene.station.setShares({{QStringLiteral("panes"), QVariantList{-1, 3}}});  // is ignored
    QCOMPARE(scene.station.shares()[QStringLiteral("panes")].toList(),
             (QVariantList{20.0, 30.0, 50.0}));
}

void TestResolveStation::typing_isUndoneWordByWord()
{
    TypingSteps steps;
    std::vector<bool> begins;
    std::size_t at = 0;
    for (const char c : std::string("ab cd\ne")) {
        begins.push_back(steps.beginsStep({at++, std::string(1, c), 0, 10 * std::int64_t(at)}));
    }
    QCOMPARE(begins, (std::vector<bool>{true, false, false, true, false, false, true}));
    QVERIFY(steps.beginsStep({at, "x", 0, 5000}));  // after a pause
    QVERIFY(steps.beginsStep({at + 1, "pasted text", 0, 5001}));
    QVERIFY(steps.beginsStep({at, {}, 1, 5002}));  // now deleting
    QVERIFY(!steps.beginsStep({at - 1, {}, 1, 5003}));
    QVERIFY(steps.beginsStep({0, {}, 1, 5004}));  // elsewhere

    Scene scene(kBase, kOurs, kTheirs);
    scene.code().placeCaret(0);
    for (const char* part : {"two", " ", "words"}) {
        scene.type(QLatin1String(part));
    }
    QVERIFY(scene.kept().starts_with("two wordsone"));
    scene.station.undo();
    QVERIFY(scene.kept().starts_with("two one"));
    scene.station.undo();
    QCOMPARE(scene.kept(), std::string(kBase));
}

void TestResolveStation::typing_ofABlank_decidesNothing()
{
    Scene scene(kBase, kOurs, kTheirs);
    scene.code().placeCaret(4);
    scene.type(QStringLiteral(" "));
    QVERIFY(!scene.splice.state({0, 1}).isDecided);
    scene.type(QStringLiteral("x"));
    QVERIFY(scene.splice.state({0, 1}).isDecided);
}

void TestResolveStation::blankTypedIntoACandidate_staysWhereItWasTyped()
{
    Scene scene(kBase, kOurs, kTheirs, Preview::inResult);
    scene.code().placeCaret(4);
    scene.code().focusText();
    scene.press(Qt::Key_End);
    scene.type(QStringLiteral(" "));
    scene.type(QStringLiteral("note"));
    QVERIFY2(scene.kept().starts_with("one\nTWO theirs note\nthree\n"), scene.kept().c_str());
}

void TestResolveStation::writeOwn_takesEveryFirstKey_data()
{
    QTest::addColumn<int>("key");
    QTest::addColumn<bool>("isAtEnd");
    QTest::addColumn<QByteArray>("text");
    const QByteArray more = "\nthree\n";
    QTest::newRow("blank-at-the-end") << int(Qt::Key_Space) << true << "TWO theirs x" + more;
    QTest::newRow("return-at-the-end") << int(Qt::Key_Return) << true << "TWO theirs\nx" + more;
    QTest::newRow("tab-at-the-end") << int(Qt::Key_Tab) << true << "TWO theirs  x" + more;
    QTest::newRow("letter-at-the-end") << int(Qt::Key_A) << true << "TWO theirsax" + more;
    QTest::newRow("backspace") << int(Qt::Key_Backspace) << true
                               << "TWO their"
                                  "x" + more;
    QTest::newRow("blank-at-the-beginning") << int(Qt::Key_Space) << false << " xTWO theirs" + more;
    QTest::newRow("return-at-the-beginning")
        << int(Qt::Key_Return) << false << "\nxTWO theirs" + more;
    QTest::newRow("tab-at-the-beginning") << int(Qt::Key_Tab) << false << "    xTWO theirs" + more;
    QTest::newRow("delete") << int(Qt::Key_Delete) << false << "xWO theirs" + more;
}

void TestResolveStation::writeOwn_takesEveryFirstKey()
{
    QFETCH(int, key);
    QFETCH(bool, isAtEnd);
    QFETCH(QByteArray, text);
    Scene scene(kBase, kOurs, kTheirs, Preview::inResult);
    scene.station.writeOwn();
    scene.press(isAtEnd ? Qt::Key_End : Qt::Key_Home);
    scene.press(static_cast<Qt::Key>(key));
    QApplication::processEvents();
    scene.type(QStringLiteral("x"));
    QVERIFY(scene.splice.state({0, 1}).isDecided);
    QCOMPARE(scene.kept().substr(4, static_cast<std::size_t>(text.size())), text.toStdString());
    QCOMPARE(scene.shown().substr(4, static_cast<std::size_t>(text.size())), text.toStdString());
}

void TestResolveStation::tab_goesThroughTheText_unlessOneWrites()
{
    Scene scene(kBase, kOurs, kTheirs);
    scene.code().focusText();
    for (int i = 0; i < 20; ++i) {
        QWidget* const focus = QApplication::focusWidget();
        QVERIFY(focus != nullptr);
        QTest::keyClick(focus, Qt::Key_Tab);
    }
    scene.station.flush();
    QCOMPARE(scene.kept(), std::string(kBase));
    scene.code().placeCaret(0);
    scene.code().focusText();
    scene.press(Qt::Key_X);
    scene.press(Qt::Key_Tab);
    QVERIFY(scene.kept().starts_with("x"));
    QVERIFY(!scene.kept().starts_with("xone"));
    const std::string written = scene.kept();
    scene.press(Qt::Key_Escape);
    scene.code().focusText();
    scene.press(Qt::Key_Tab);
    QCOMPARE(scene.kept(), written);
}

void TestResolveStation::goOnKey_decidesNothing()
{
    Scene scene(kBase, kOurs, kTheirs);
    QSignalSpy told(&scene.station, &ResolveStation::told);
    QSignalSpy done(&scene.station, &ResolveStation::doneRequested);
    for (int i = 0; i < 5; ++i) {
        scene.station.act();
    }
    QCOMPARE(scene.splice.openCount(), std::size_t{2});
    QCOMPARE(told.size(), 5);
    QVERIFY(told.front().front().toString().contains(QLatin1String("2 places")));
    QVERIFY(done.isEmpty());
    auto* button = scene.station.findChild<QPushButton*>(QStringLiteral("takeCandidateButton"));
    scene.station.takeCandidate(0);
    QCOMPARE(button->text(), QStringLiteral("Next open"));
    QTest::mouseClick(button, Qt::LeftButton);
    QCOMPARE(scene.splice.openCount(), std::size_t{1});
    scene.station.takeCandidate(0);
    scene.station.act();
    QCOMPARE(done.size(), 1);
}

/// A screen reader's action selects a row and makes it neither current nor pressed.
void TestResolveStation::selectedByAnAction_isWhatIsTaken()
{
    Scene scene(kBase, kOurs, kTheirs);
    auto* list = scene.station.findChild<QListView*>(QStringLiteral("candidateList"));
    const QModelIndex second = list->model()->index(1, 0);
    list->selectionModel()->select(second, QItemSelectionModel::ClearAndSelect);
    QApplication::processEvents();
    QCOMPARE(list->currentIndex(), second);
    auto* button = scene.station.findChild<QPushButton*>(QStringLiteral("takeCandidateButton"));
    QVERIFY2(button->text().startsWith(QStringLiteral("Use candidate 2")),
             qPrintable(button->text()));

    auto* worklist = scene.station.findChild<QListView*>(QStringLiteral("worklist"));
    const auto number = [&] {
        return scene.station.findChild<QLabel*>(QStringLiteral("regionNumber"))->text();
    };
    QCOMPARE(number(), QStringLiteral("region 1 of 2"));
    const QModelIndex other = worklist->model()->index(2, 0);
    worklist->selectionModel()->select(other, QItemSelectionModel::Select);
    QApplication::processEvents();
    QApplication::processEvents();
    QCOMPARE(number(), QStringLiteral("region 2 of 2"));
    scene.station.takeCandidate(0);
    QCOMPARE(scene.splice.openCount(), std::size_t{1});
    QVERIFY(!scene.splice.state({0, 1}).isDecided);
}

void TestResolveStation::typing_takenBackByHand_isNoEdit()
{
    Scene scene(kBase, kOurs, kTheirs);
    scene.code().placeCaret(0);
    scene.type(QStringLiteral("x"));
    QVERIFY(scene.splice.state({0, 0}) != SlotState{});
    scene.press(Qt::Key_Backspace);
    QVERIFY(scene.splice.state({0, 0}) == SlotState{});
}

void TestResolveStation::ownText_isARowThatSaysWhatItDrops()
{
    Scene scene(kBase, kOurs, kTheirs);
    const auto& list = *scene.station.findChild<QListView*>(QStringLiteral("candidateList"));
    const int before = list.model()->rowCount();
    scene.station.writeOwn();
    scene.type(QStringLiteral("mine "));
    QCOMPARE(list.model()->rowCount(), before + 1);
    const QString row = list.model()->index(before, 0).data(Qt::AccessibleTextRole).toString();
    QVERIFY(row.contains(QLatin1String("Your own text")));
    QVERIFY(row.contains(QLatin1String("drops ")));
    QCOMPARE(list.currentIndex().row(), before);
}

void TestResolveStation::writtenOutside_isListedAndCanGoBack()
{
    Scene scene(kBase, kOurs, kTheirs);
    auto& list = *scene.station.findChild<QListView*>(QStringLiteral("worklist"));
    const int before = list.model()->rowCount();
    scene.code().placeCaret(scene.code().positionOfLine(3));
    scene.type(QStringLiteral("outside "));
    QCOMPARE(list.model()->rowCount(), before + 1);
    const QModelIndex row = list.model()->index(2, 0);
    QCOMPARE(row.data().toString(), QStringLiteral("outside four"));
    QVERIFY(row.data(Qt::AccessibleTextRole).toString().contains(QLatin1String("by hand")));
    emit list.activated(row);
    QCOMPARE(scene.station.findChild<QLabel*>(QStringLiteral("joinedTitle"))->text(),
             QStringLiteral("Written by hand"));
    QCOMPARE(scene.station.findChild<QTextEdit*>(QStringLiteral("writtenText"))->toPlainText(),
             QStringLiteral("three\noutside four\nfive"));
    scene.station.findChild<QPushButton*>(QStringLiteral("asJoinedButton"))->click();
    QCOMPARE(scene.kept(), std::string(kBase));
    QCOMPARE(list.model()->rowCount(), before);
}

void TestResolveStation::panes_areReachedByKey()
{
    Scene scene(kBase, kOurs, kTheirs);
    scene.station.activateWindow();
    QVERIFY(QTest::qWaitForWindowActive(&scene.station));
    scene.station.setCurrent(true);
    scene.station.focusChoices();
    QStringList round;
    for (int i = 0; i < 4; ++i) {
        scene.station.findChild<QAction*>(QStringLiteral("nextPaneAction"))->trigger();
        const QWidget* focused = QApplication::focusWidget();
        round << (focused == nullptr ? QString() : focused->objectName());
    }
    QCOMPARE(round[0], QStringLiteral("worklist"));
    QCOMPARE(round[1], QStringLiteral("codeEditor"));
    QCOMPARE(round[3], QStringLiteral("candidateList"));
    QVERIFY(round[2] != round[3]);
    scene.code().focusText();
    QTest::keyClick(scene.code().editor(), Qt::Key_Escape);
    QCOMPARE(QApplication::focusWidget()->objectName(), QStringLiteral("worklist"));
}

void TestResolveStation::find_andReplace_countAsTyped()
{
    Scene scene(
        "a one\nb one\nc\nd One\n", "a one\nb one\nc\nd One\nx\n", "a one\nb one\nc\nd One\ny\n");
    scene.station.setCurrent(true);
    scene.station.findChild<QAction*>(QStringLiteral("replaceAction"))->trigger();
    auto& field = *scene.station.findChild<QLineEdit*>(QStringLiteral("findField"));
    const auto& told = *scene.station.findChild<QLabel*>(QStringLiteral("findTold"));
    field.setText(QStringLiteral("One"));
    QCOMPARE(told.text(), QStringLiteral("1 in this file"));
    field.setText(QStringLiteral("one"));
    QCOMPARE(told.text(), QStringLiteral("3 in this file"));
    QTest::keyClick(&field, Qt::Key_Return);
    QCOMPARE(scene.code().selectedBytes(), std::string("one"));
    scene.station.findChild<QLineEdit*>(QStringLiteral("replaceField"))
        ->setText(QStringLiteral("two"));
    scene.station.findChild<QPushButton*>(QStringLiteral("replaceAllButton"))->click();
    scene.station.flush();
    QVERIFY(scene.kept().starts_with("a two\nb two\nc\nd two\n"));
    QCOMPARE(scene.shown(), scene.kept());
    scene.station.undo();
    QVERIFY(scene.kept().starts_with("a one\nb one\nc\nd One\n"));
    QTest::keyClick(&field, Qt::Key_Escape);
    QVERIFY(!field.isVisible());
}

void TestResolveStation::lines_pickedByKey_keepTheirOrigin()
{
    Scene scene("a\nold\nz\n",
                "a\nstructure(one,\n          two)\nz\n",
                "a\nmine\nkept_line()\nz\n",
                Preview::inResult);
    scene.station.setCurrent(true);
    auto& candidates = *scene.station.findChild<QListView*>(QStringLiteral("candidateList"));
    for (int row = 0; row < candidates.model()->rowCount(); ++row) {
        if (candidates.model()->index(row, 0).data().toString().startsWith(QLatin1String("Ours"))) {
            candidates.setCurrentIndex(candidates.model()->index(row, 0));
        }
    }
    scene.station.findChild<QAction*>(QStringLiteral("linesAction"))->trigger();
    auto& lines = *scene.station.findChild<QListView*>(QStringLiteral("linesView"));
    QVERIFY(lines.isVisible());
    const auto rowOf = [&](const char* text) {
        for (int row = 0; row < lines.model()->rowCount(); ++row) {
            if (lines.model()->index(row, 0).data().toString() == QLatin1String(text)) {
                return row;
            }
        }
        return -1;
    };
    const int row = rowOf("kept_line()");
    QVERIFY(row > 0);
    QVERIFY(lines.model()
                ->index(row, 0)
                .data(Qt::AccessibleTextRole)
                .toString()
                .startsWith(QLatin1String("left")));
    lines.setCurrentIndex(lines.model()->index(row, 0));
    QTest::keyClick(&lines, Qt::Key_Space);
    QVERIFY(lines.model()
                ->index(row, 0)
                .data(Qt::AccessibleTextRole)
                .toString()
                .startsWith(QLatin1String("taken")));
    QVERIFY(scene.shown().find("kept_line()") != std::string::npos);  // it grows in the result
    QVERIFY(!scene.splice.state({0, 1}).isDecided);
    QTest::keyClick(&lines, Qt::Key_Return);
    const SlotState& state = scene.splice.state({0, 1});
    QVERIFY(state.isDecided);
    QCOMPARE(state.choice, std::string("picked-lines"));
    QVERIFY(state.text->find("structure(one,") != std::string::npos);
    QVERIFY(!scene.splice.files()[0].text->isEditedByHand(1));
    const auto origins = scene.splice.files()[0].text->origins(1);
    QVERIFY(std::find(origins.begin(), origins.end(), LineOrigin::hand) == origins.end());
    QVERIFY(std::find(origins.begin(), origins.end(), LineOrigin::theirs) != origins.end());
}

void TestResolveStation::lines_partsByMouse_andBackWithUndo()
{
    Scene scene("one\nagreed\ntwo\n",
                "one ours\nagreed\ntwo ours\n",
                "one theirs\nagreed\ntwo theirs\n",
                Preview::inResult);
    if (scene.splice.files()[0].text->join().regionCount() != 1) {
        scene.station.goToNextOpen(1);  // the join cut it into two regions: each is one part
    }
    scene.station.setCurrent(true);
    scene.station.findChild<QAction*>(QStringLiteral("linesAction"))->trigger();
    auto& lines = *scene.station.findChild<QListView*>(QStringLiteral("linesView"));
    const QModelIndex heading = lines.model()->index(0, 0);
    const QRect rect = lines.visualRect(heading);
    const QString before = heading.data().toString();
    for (int x = rect.right() - 12; x > rect.center().x(); x -= 12) {
        QTest::mouseClick(lines.viewport(), Qt::LeftButton, {}, QPoint(x, rect.center().y()));
        if (heading.data().toString() == QLatin1String("Part 1: base")) {
            break;
        }
    }
    QCOMPARE(heading.data().toString(), QStringLiteral("Part 1: base"));
    QTest::mouseClick(lines.viewport(),
                      Qt::LeftButton,
                      {},
                      lines.visualRect(lines.model()->index(1, 0)).topLeft() + QPoint(60, 5));
    QCOMPARE(heading.data().toString(), QStringLiteral("Part 1: picked by line"));
    for (int steps = 0; steps < 9 && heading.data().toString() != before; ++steps) {
        scene.station.undo();
    }
    QCOMPARE(heading.data().toString(), before);
    QVERIFY(!scene.splice.canUndo());
    QTest::keyClick(&lines, Qt::Key_Right);
    QVERIFY(heading.data().toString() != before);
}

void TestResolveStation::spliceThatGoes_rightAfterTyping_isLetGo()
{
    Scene scene(kBase, kOurs, kTheirs);
    scene.station.writeOwn();
    scene.type(QStringLiteral("x"));
    scene.station.setSplice(nullptr);
    QTest::qWait(400);  // longer than the rail waits for a pause in typing
    QVERIFY(scene.splice.state({0, 1}).isDecided);
    scene.station.setSplice(&scene.splice);
    QCOMPARE(scene.shown(), scene.kept());
}

void TestResolveStation::sameRegion_decidedElsewhere_isOfferedFirst()
{
    const auto text = [](const char* fee) {
        return std::string("[a]\nfee = ") + fee + "\n\n\n\n\n\n[b]\nfee = " + fee + "\n\n";
    };
    Scene scene(text("1"), text("2"), text("3"));
    QCOMPARE(scene.splice.openCount(), std::size_t{2});
    const auto* list = scene.station.findChild<QListView*>(QStringLiteral("candidateList"));
    const auto first = [&] {
        return list->model()->index(0, 0).data(Qt::AccessibleTextRole).toString();
    };
    scene.station.goToNextOpen(1);
    QVERIFY2(!first().contains(QLatin1String("as decided in")), qPrintable(first()));
    scene.station.goToNextOpen(1);
    scene.station.takeCandidate(1);
    const std::string taken(scene.splice.files()[0].text->text(1));
    scene.station.goToNextOpen(1);
    QVERIFY2(first().contains(QLatin1String("as decided in ")), qPrintable(first()));
    scene.station.takeCandidate(0);
    QCOMPARE(std::string(scene.splice.files()[0].text->text(3)), taken);
    QCOMPARE(scene.splice.openCount(), std::size_t{0});
    // It is told as what it comes to.
    QCOMPARE(scene.splice.state({0, 3}).choice, scene.splice.state({0, 1}).choice);
}

ROPE_TESTS(TestResolveStation, QApplication)
#include "tst_resolve_station.moc"
