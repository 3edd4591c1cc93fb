// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/survey/collision_view.h"
#include "desktop/widgets/theme.h"
#include "tests/support/test_program.h"

#include <QApplication>
#include <QClipboard>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTest>

using namespace rope;

namespace {
CollisionBranch branch(const char* name, const char* who, char id)
{
    CollisionBranch made;
    made.ref = "refs/remotes/origin/" + std::string(name);
    made.name = "origin/" + std::string(name);
    made.tip.id = *ObjectId::fromHex(std::string(40, id));
    made.tip.message = "Work on " + std::string(name) + "\n";
    made.tip.author = {who, "x@slackwater.example", 1000, "+0000"};
    return made;
}

PairOutcome collision(std::size_t regions, const char* path)
{
    PairOutcome outcome;
    outcome.kind = PairOutcome::Kind::collides;
    outcome.open = regions;
    outcome.files = {{path, regions, false}, {"README.md", 0, false}};
    return outcome;
}

CollisionModel model()
{
    CollisionModel made;
    made.branches = {branch("main", "Isa Falk", 'a'),
                     branch("booking-api", "Tao Lindqvist", 'b'),
                     branch("keeper-login", "Pilar Quist", 'c'),
                     branch("<b>odd</b>", "Were", 'd')};
    made.readAt = 2000;
    made.pairs[{0, 1}] = collision(2, "locks/passage.py");
    made.pairs[{1, 2}] = collision(12, "locks/model.py");
    made.pairs[{0, 2}].kind = PairOutcome::Kind::joins;
    made.pairs[{0, 3}].kind = PairOutcome::Kind::contained;
    return made;
}
}  // namespace

class TestCollisionView : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase() { applyLook(*qApp, Look::light); }
    void words_tellPairsAndSums();
    void view_startsWithTheWorstPair();
    void arrows_goFromPairToPair();
    void keys_goToWhatCollides();
    void enter_readsTheRegions_escapeLeaves();
    void list_isFiltered();
    void note_isPlainText();
    void sixtyBranches_areShown();
    void progress_inWords();
};

void TestCollisionView::words_tellPairsAndSums()
{
    const CollisionModel known = model();
    QCOMPARE(collisionsInWords(known), QStringLiteral("2 pairs conflict, in 14 places"));
    QVERIFY(pairInWords(known, {1, 2}).contains(QStringLiteral("12 places in 1 file")));
    QCOMPARE(cellWords(known.outcome({2, 3})), QStringLiteral("not yet"));
    QCOMPARE(known.meets(1), std::size_t{2});
    QVERIFY(known.colliding().front() == (BranchPair{1, 2}));
    QCOMPARE(collisionsInWords({}), QStringLiteral("No two of them collide."));
}

void TestCollisionView::view_startsWithTheWorstPair()
{
    CollisionView view(nullptr);
    view.showModel(model());
    QVERIFY(view.findChild<QLabel*>(QStringLiteral("pairSentence"))
                ->text()
                .startsWith(QStringLiteral("booking-api (Tao Lindqvist) and keeper-login")));
    QCOMPARE(view.findChild<QListWidget*>(QStringLiteral("pairFiles"))->count(), 2);
    QCOMPARE(view.status(), QStringLiteral("2 of 4 known pairs conflict"));
}

void TestCollisionView::arrows_goFromPairToPair()
{
    CollisionView view(nullptr);
    view.resize(1000, 600);
    view.show();
    view.showModel(model());
    auto* table = view.findChild<CollisionTable*>();
    table->setFocus();
    QTest::keyClick(table, Qt::Key_Left);
    QVERIFY(*table->current() == (BranchPair{0, 2}));
    QTest::keyClick(table, Qt::Key_Up);
    QVERIFY(*table->current() == (BranchPair{0, 1}));
    QTest::keyClick(table, Qt::Key_Up);  // the edge holds
    QVERIFY(*table->current() == (BranchPair{0, 1}));
    QTest::keyClick(table, Qt::Key_Down);
    QTest::keyClick(table, Qt::Key_Down);
    QTest::keyClick(table, Qt::Key_Right);
    QTest::keyClick(table, Qt::Key_Right);
    QTest::keyClick(table, Qt::Key_Right);
    QVERIFY(*table->current() == (BranchPair{2, 3}));
    QVERIFY(table->accessibleDescription().contains(QStringLiteral("not known yet")));
}

void TestCollisionView::keys_goToWhatCollides()
{
    CollisionView view(nullptr);
    view.showModel(model());
    view.step(1);
    QVERIFY(*view.findChild<CollisionTable*>()->current() == (BranchPair{0, 1}));
    view.step(1);
    QVERIFY(*view.findChild<CollisionTable*>()->current() == (BranchPair{1, 2}));
    view.step(-1);
    QVERIFY(*view.findChild<CollisionTable*>()->current() == (BranchPair{0, 1}));
}

void TestCollisionView::list_isFiltered()
{
    CollisionView view(nullptr);
    view.showModel(model());
    auto* list = view.findChild<QListWidget*>(QStringLiteral("pairList"));
    QCOMPARE(list->count(), 4);
    QVERIFY(list->item(0)->text().contains(QStringLiteral("12 places")));
    view.findChild<QLineEdit*>(QStringLiteral("pairFilter"))->setText(QStringLiteral("passage"));
    QCOMPARE(list->count(), 1);
    list->setCurrentRow(0);
    QVERIFY(*view.findChild<CollisionTable*>()->current() == (BranchPair{0, 1}));
}

void TestCollisionView::note_isPlainText()
{
    CollisionView view(nullptr);
    view.showModel(model());
    view.findChild<QPushButton*>(QStringLiteral("copyNoteButton"))->click();
    const QString note = QGuiApplication::clipboard()->text();
    QVERIFY(note.contains(QStringLiteral("  locks/model.py: 12 regions\n")));
    QVERIFY(note.contains(QStringLiteral("“Work on keeper-login”")));
    QVERIFY(!note.contains(QStringLiteral("README.md")));
}

void TestCollisionView::sixtyBranches_areShown()
{
    CollisionModel many;
    for (int i = 0; i < 60; ++i) {
        many.branches.push_back(branch(("work-" + std::to_string(i)).c_str(), "Isa", 'a'));
    }
    many.pairs[{58, 59}] = collision(3, "a");
    CollisionView view(nullptr);
    view.resize(1000, 600);
    view.showModel(many);
    view.show();
    QVERIFY(!view.grab().isNull());
    QVERIFY(*view.findChild<CollisionTable*>()->current() == (BranchPair{58, 59}));
}

void TestCollisionView::progress_inWords()
{
    CollisionView view(nullptr);
    view.showModel(model());
    view.showProgress(4, 6, QStringLiteral("main with odd"));
    auto* words = view.findChild<QLabel*>(QStringLiteral("collisionProgress"));
    QVERIFY(words->text().startsWith(QStringLiteral("4 of 6 pairs known. Now main with odd.")));
    view.showProgress(6, 6, {});
    QCOMPARE(words->text(), QStringLiteral("All 6 pairs are known."));
}

void TestCollisionView::enter_readsTheRegions_escapeLeaves()
{
    CollisionView view(nullptr);
    view.resize(1000, 700);
    view.showModel(model());
    view.show();
    std::vector<std::string> asked;
    connect(&view, &CollisionView::readingRequested, this, [&](BranchPair, const RepoPath& path) {
        asked.push_back(path);
    });
    auto* table = view.findChild<CollisionTable*>();
    QTest::keyClick(table, Qt::Key_Return);
    QCOMPARE(asked, std::vector<std::string>{"locks/model.py"});  // what does not fit comes first
    PairReading reading;
    reading.path = "locks/model.py";
    reading.first.change.path = reading.second.change.path = reading.path;
    reading.secondCommit = branch("keeper-login", "Pilar Quist", 'c').tip;
    view.showReading({1, 2}, reading);
    const auto* since = view.findChild<QLabel*>(QStringLiteral("pairSince"));
    QVERIFY(since->isVisible());
    QVERIFY2(since->text().contains(QStringLiteral("by Pilar Quist came on keeper-login")),
             qPrintable(since->text()));
    QVERIFY(view.findChild<QLabel*>(QStringLiteral("pairReadingTitle"))->isVisible());
    view.findChild<QListWidget*>(QStringLiteral("pairFiles"))->setCurrentRow(1);
    QCOMPARE(asked.back(), std::string("README.md"));
    view.findChild<QPushButton*>(QStringLiteral("leaveReadingButton"))->click();
    QVERIFY(table->isVisible());
    view.showReading({0, 1}, reading);  // of a pair that is not looked at any more
    QVERIFY(table->isVisible());
}

ROPE_TESTS(TestCollisionView, QApplication)
#include "tst_collision_view.moc"
