// SPDX-License-Identifier: GPL-3.0-or-later
// Recording and recovery driven through the port, on a system that fails wherever it could.
#include "core/logbook/recorder.h"
#include "core/plan/recording_plan.h"
#include "core/system/memory/memory_place.h"
#include "tests/support/test_program.h"

#include <QTemporaryDir>
#include <QTest>

using namespace rope;

namespace {
/// A place with two branches that clash in one line, and a splice of them, decided and journalled.
struct Bench
{
    QTemporaryDir folder;
    MemoryPlace place;
    std::unique_ptr<Journal> journal;
    RecordingPlan plan;
    MemoryState before;

    Bench()
    {
        place.setPrivateFolder(folder.path().toStdString());
        const ObjectId base = place.makeTree({}, {{"a", "1\n2\n3\n"}, {"d/b", "b\n"}});
        const ObjectId first = place.makeCommit(base, {}, "base");
        const ObjectId ours =
            place.makeCommit(place.makeTree(base, {{"a", "1\nours\n3\n"}}), {first}, "ours");
        const ObjectId theirs = place.makeCommit(
            place.makeTree(base, {{"a", "1\ntheirs\n3\n"}, {"d/b", std::nullopt}, {"c", "new\n"}}),
            {first},
            "theirs");
        place.setLine("refs/heads/ours", ours);
        place.setLine("refs/heads/theirs", theirs);
        place.checkOut("refs/heads/ours");
        journal = std::move(Journal::open(folder.path().toStdString())).value();
        JournalEntry entry;
        entry.plan = {"one", "refs/heads/ours", "ours", "theirs", ours, theirs};
        (void)journal->begin(entry);
        Splice splice(entry.plan,
                      std::make_shared<const Forecast>(forecastJoin(place, ours, theirs).value()));
        splice.decideAllOpen(0, FileChoice::theirs);
        plan = recordingPlanOf(splice, "Merge theirs\n").value();
        before = place.state();
    }

    /// The same splice where another line is checked out: the files have nothing to do with it.
    void joinElsewhere()
    {
        place.checkOut("refs/heads/theirs");
        before = place.state();
        plan.keepsFiles = true;
    }
    /// In place of the splice: theirs is checked out.
    void goToTheirs()
    {
        SplicePlan other = {"one",
                            "refs/heads/ours",
                            "ours",
                            "theirs",
                            before.lines.at("refs/heads/ours"),
                            before.lines.at("refs/heads/theirs")};
        plan = switchPlan(other, "refs/heads/theirs", {});
    }

    /// Whether the place is as it was, or holds the whole recording.
    [[nodiscard]] bool isBeforeOrAfter() const
    {
        const MemoryState& now = place.state();
        if (now.looksLike(before)) {
            return true;
        }
        if (!plan.nextLine.empty()) {
            return now.lines == before.lines && now.checkedOut == plan.nextLine
                   && now.workingTree == now.commits.at(now.lines.at(plan.nextLine)).tree;
        }
        const Commit& tip = now.commits.at(now.lines.at("refs/heads/ours"));
        if (plan.keepsFiles) {
            return tip.parents.size() == 2 && now.workingTree == before.workingTree
                   && now.checkedOut == before.checkedOut;
        }
        return tip.parents.size() == 2 && now.workingTree == tip.tree
               && now.lines.at("refs/heads/theirs") == before.lines.at("refs/heads/theirs");
    }
};
}  // namespace

class TestMemoryPlace : public QObject
{
    Q_OBJECT
private slots:
    void record_makesTheCommit();
    void record_failingAnywhere_goesBackOrIsDone();
    void crash_anywhere_isRecovered();
    void record_movedLine_touchesNothing();
    void otherLines_failingOrCrashingAnywhere_data();
    void otherLines_failingOrCrashingAnywhere();
};

void TestMemoryPlace::record_makesTheCommit()
{
    Bench bench;
    const auto recorded = recordSplice(bench.place, *bench.journal, "one", bench.plan);
    QVERIFY(recorded);
    QVERIFY(bench.isBeforeOrAfter() && !bench.place.state().looksLike(bench.before));
    QVERIFY(bench.place.touched()
            == (std::vector<std::string>{"files", "commit", "line refs/heads/ours"}));
    const ObjectId wanted = bench.place.makeTree({}, {{"a", "1\ntheirs\n3\n"}, {"c", "new\n"}});
    QVERIFY(recorded->commit.tree == wanted);
    QCOMPARE(bench.journal->splices(SpliceState::recorded)->size(), std::size_t{1});
}

void TestMemoryPlace::record_failingAnywhere_goesBackOrIsDone()
{
    std::size_t failures = 0;
    for (std::size_t call = 1;; ++call) {
        Bench bench;
        bench.place.failAt(call);
        const auto recorded = recordSplice(bench.place, *bench.journal, "one", bench.plan);
        if (recorded) {  // what comes after it does not undo it
            break;
        }
        ++failures;
        QVERIFY(!recorded);
        QVERIFY(bench.place.state().looksLike(bench.before));
        QCOMPARE(bench.journal->splices(SpliceState::open)->size(), std::size_t{1});
        bench.place.failAt(0);
        QVERIFY(recordSplice(bench.place, *bench.journal, "one", bench.plan));
    }
    QCOMPARE(failures, std::size_t{3});
}

void TestMemoryPlace::crash_anywhere_isRecovered()
{
    for (std::size_t call = 1; call <= 4; ++call) {
        Bench bench;
        bench.place.crashAt(call);
        const auto recorded = recordSplice(bench.place, *bench.journal, "one", bench.plan);
        QCOMPARE(recorded.hasValue(), call == 4);
        if (!recorded) {
            QCOMPARE(recorded.error().reason, Reason::notUndone);
            QCOMPARE(bench.journal->splices(SpliceState::recording)->size(), std::size_t{1});
        }
        bench.place.crashAt(0);
        const auto recovery = recoverRecording(bench.place, *bench.journal);
        QVERIFY(recovery);
        QVERIFY(bench.isBeforeOrAfter());
        QVERIFY(bench.journal->splices(SpliceState::recording)->empty());
        QVERIFY(!recoverRecording(bench.place, *bench.journal)->has_value());
    }
}

void TestMemoryPlace::record_movedLine_touchesNothing()
{
    Bench bench;
    const ObjectId tip = bench.place.state().lines.at("refs/heads/ours");
    bench.place.setLine("refs/heads/ours",
                        bench.place.makeCommit(bench.before.workingTree, {tip}, "meanwhile"));
    const auto recorded = recordSplice(bench.place, *bench.journal, "one", bench.plan);
    QCOMPARE(recorded.error().reason, Reason::lineMoved);
    QVERIFY(bench.place.touched().empty());
}

void TestMemoryPlace::otherLines_failingOrCrashingAnywhere_data()
{
    QTest::addColumn<bool>("goes");
    QTest::addColumn<bool>("crashes");
    QTest::newRow("joined into, failing") << false << false;
    QTest::newRow("joined into, crashing") << false << true;
    QTest::newRow("gone to, failing") << true << false;
    QTest::newRow("gone to, crashing") << true << true;
}

void TestMemoryPlace::otherLines_failingOrCrashingAnywhere()
{
    QFETCH(const bool, goes);
    QFETCH(const bool, crashes);
    std::size_t failures = 0;
    for (std::size_t call = 1;; ++call) {
        Bench bench;
        goes ? bench.goToTheirs() : bench.joinElsewhere();
        crashes ? bench.place.crashAt(call) : bench.place.failAt(call);
        const auto recorded = recordSplice(bench.place, *bench.journal, "one", bench.plan);
        if (recorded) {
            QVERIFY(bench.isBeforeOrAfter() && !bench.place.state().looksLike(bench.before));
            break;
        }
        ++failures;
        bench.place.crashAt(0);
        bench.place.failAt(0);
        QVERIFY(recoverRecording(bench.place, *bench.journal));
        QVERIFY(bench.isBeforeOrAfter());
        QVERIFY(bench.journal->splices(SpliceState::recording)->empty());
    }
    QCOMPARE(failures, std::size_t{2});
}

ROPE_TESTS(TestMemoryPlace, QCoreApplication)
#include "tst_memory_place.moc"
