// SPDX-License-Identifier: GPL-3.0-or-later
// What is recorded at once, without a splice: some files committed first, and going over to another branch.
// Killed after any number of milliseconds it is all done or not begun, once the place is opened again.
#include "core/logbook/journal.h"
#include "desktop/course/splice_tasks.h"
#include "tests/support/killed_child.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QTest>

#include <algorithm>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
enum class Act { commitFirst, goToMain };

SplicePlan planFrom(const Standing& standing, SpliceKind kind)
{
    SplicePlan plan{
        "at-once", standing.ref, standing.name, standing.name, standing.tip, standing.tip};
    plan.kind = kind;
    return plan;
}

Status commitOneFile(const PlaceAddress& address, const Standing& standing)
{
    JournalEntry entry;
    entry.plan = planFrom(standing, SpliceKind::ownCommit);
    entry.begunBy = BegunBy::command;
    TRY(commitFiles(address, entry, {{"own.txt", {}}}, "Own first", {}, {}, {}));
    return ok();
}

/// To main, and there forward to what it follows.
Status goToMain(Place& place, const PlaceAddress& address, const Standing& standing)
{
    TRY_ASSIGN(const ObjectId main, place.resolveCommit("main"));
    JournalEntry entry;
    entry.plan = planFrom(standing, SpliceKind::switchLine);
    entry.plan.theirsName = "main";
    entry.plan.theirs = main;
    entry.plan.workChoice = WorkChoice::carry;
    entry.begunBy = BegunBy::command;
    JournalEntry forward = entry;
    forward.plan.id = "forward";
    forward.plan.kind = SpliceKind::fastForward;
    forward.plan.oursRef = "refs/heads/main";
    forward.plan.oursName = "main";
    forward.plan.ours = main;
    forward.plan.theirsName = "newer";
    TRY_ASSIGN(forward.plan.theirs, place.resolveCommit("newer"));
    TRY(goToLine(address, entry, forward, {}, {}));
    return ok();
}

Status doIt(const std::string& folder, Act act)
{
    const PlaceAddress address{folder, {}, {}, {}, {}};
    TRY_ASSIGN(const auto place, openPlace(folder, {}));
    TRY_ASSIGN(const Standing standing, place->standing());
    return act == Act::commitFirst ? commitOneFile(address, standing)
                                   : goToMain(*place, address, standing);
}

/// On a branch beside main, with two files of uncommitted work; main can move forward to "newer".
void makeScene(ScratchRepository& scratch)
{
    scratch.write("plan.txt", "one\ntwo\n");
    scratch.write("own.txt", "as it was\n");
    scratch.write("other.txt", "as it was\n");
    scratch.commit("base");
    scratch.git("branch -q side");
    scratch.git("checkout -q -b newer");
    scratch.write("plan.txt", "one\ntwo\nthree\n");
    scratch.commit("newer");
    scratch.git("checkout -q side");
    scratch.write("side.txt", "side\n");
    scratch.commit("side");
    scratch.write("own.txt", "mine\n");
    scratch.write("other.txt", "mine as well\n");
}

/// Opened again, as a window does after a crash; what git does by itself may take a moment.
bool isOpenedAgain(const ScratchRepository& scratch)
{
    return QTest::qWaitFor(
        [&] {
            return findPlace({scratch.path(), {}, {}, {}, {}}, Recovering::yes).hasValue();
        },
        10'000);
}
}  // namespace

class TestAtOnceKilled : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void killed_isDoneOrNotBegun_data();
    void killed_isDoneOrNotBegun();
};

void TestAtOnceKilled::initTestCase()
{
    test::dieInTimeIfChild([](const std::string& folder, int what) {
        return doIt(folder, static_cast<Act>(what)) ? 0 : 2;
    });
}

void TestAtOnceKilled::killed_isDoneOrNotBegun_data()
{
    QTest::addColumn<int>("act");
    QTest::newRow("commit first") << static_cast<int>(Act::commitFirst);
    QTest::newRow("go to main") << static_cast<int>(Act::goToMain);
}

void TestAtOnceKilled::killed_isDoneOrNotBegun()
{
    QFETCH(const int, act);
    const auto what = static_cast<Act>(act);
    int killed = 0;
    bool isDone = false;
    for (int ms = 4; !isDone && ms < 10'000; ms += std::max(7, ms / 5)) {
        ScratchRepository scratch;
        makeScene(scratch);
        const QByteArray before = scratch.fingerprint();
        const QByteArray tip = scratch.git("rev-parse side");
        const auto exitCode = test::killAfter(ms, scratch.folder(), act);
        QVERIFY(exitCode.value_or(0) == 0);
        isDone = exitCode.has_value();
        killed += isDone ? 0 : 1;
        const std::string moment = "killed after " + std::to_string(ms) + " ms";
        QVERIFY2(isOpenedAgain(scratch), moment.c_str());
        QCOMPARE(scratch.read("own.txt"), QByteArray("mine\n"));
        QCOMPARE(scratch.read("other.txt"), QByteArray("mine as well\n"));
        const bool isCommitted = scratch.git("rev-parse side") != tip;
        const bool isOnMain = scratch.git("symbolic-ref HEAD") == "refs/heads/main";
        if (isCommitted) {
            QVERIFY(what == Act::commitFirst);
            QCOMPARE(scratch.git("rev-parse side~1"), tip);
            QCOMPARE(scratch.git("diff --name-only side~1 side"), QByteArray("own.txt"));
            QCOMPARE(scratch.git("status --porcelain"), QByteArray(" M other.txt"));
        } else if (isOnMain) {
            QVERIFY(what == Act::goToMain);
            const bool isForward = scratch.git("rev-parse main") == scratch.git("rev-parse newer");
            QCOMPARE(scratch.read("plan.txt"),
                     isForward ? QByteArray("one\ntwo\nthree\n") : QByteArray("one\ntwo\n"));
            QCOMPARE(scratch.git("status --porcelain"), QByteArray(" M other.txt\n M own.txt"));
        } else {
            QVERIFY2(scratch.fingerprint() == before, moment.c_str());
        }
        QVERIFY(!isDone || isCommitted || isOnMain);
        QVERIFY2(scratch.git("fsck --strict --no-dangling").isEmpty(), moment.c_str());
        QVERIFY(!QFile::exists(scratch.filePath(".git/index.lock")));
    }
    QVERIFY(isDone && killed > 2);
}

ROPE_TESTS(TestAtOnceKilled, QCoreApplication)
#include "tst_at_once_killed.moc"
