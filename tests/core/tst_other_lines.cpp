// SPDX-License-Identifier: GPL-3.0-or-later
// Lines of work that are not checked out: joined into with the files left alone, gone to, taken away;
// killed at each step.
#include "core/join/result_tree.h"
#include "core/logbook/recorder.h"
#include "core/plan/carried_work.h"
#include "core/plan/recording_plan.h"
#include "core/system/git/git_place.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QDateTime>
#include <QProcess>
#include <QTest>

#include <csignal>
#include <unistd.h>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
constexpr const char* kId = "splice-1";
const char* const kSteps[] = {
    "takingOff", "bringing", "committing", "moving", "finishing", "carrying"};

/// One is on `elsewhere`, with work of every sort; `ours` and `theirs` have parted.
void makeElsewhere(ScratchRepository& scratch)
{
    test::makeDiverged(scratch);
    scratch.git("switch -q -c elsewhere main");
    scratch.write("mine.txt", "of elsewhere\n");
    scratch.commit("elsewhere");
    scratch.write("mine.txt", "of elsewhere, edited\n");
    scratch.write("staged.txt", "staged\n");
    scratch.git("add staged.txt");
    scratch.write("untracked.txt", "nobody's\n");
}

struct Bench
{
    std::unique_ptr<GitPlace> place;
    std::unique_ptr<Journal> journal;
    JournalEntry entry;

    explicit Bench(const std::string& folder)
        : place(std::move(GitPlace::open(folder)).value())
        , journal(std::move(Journal::open(*place->privateFolder())).value())
    {
    }

    /// Joins theirs into ours, which is not checked out.
    Result<Recorded> joinElsewhere(const ProgressSink& progress = {})
    {
        entry.plan = {kId,
                      "refs/heads/ours",
                      "ours",
                      "theirs",
                      *place->resolveCommit("ours"),
                      *place->resolveCommit("theirs")};
        entry.plan.workChoice = WorkChoice::filesStay;
        entry.startedAt = QDateTime::currentSecsSinceEpoch();
        (void)journal->begin(entry);
        Splice splice(
            entry.plan,
            std::make_shared<const Forecast>(
                std::move(forecastJoin(*place, entry.plan.ours, entry.plan.theirs)).value()));
        for (std::size_t file = 0; file < splice.files().size(); ++file) {
            splice.decideAllOpen(file, FileChoice::theirs);
        }
        const auto plan = recordingPlanOf(splice, "Merge theirs\n");
        return recordSplice(*place, *journal, kId, *plan, progress);
    }

    /// Goes from `elsewhere` to `ours` with uncommitted work carried across.
    Result<Recorded> goToOurs(const ProgressSink& progress = {})
    {
        entry.plan = {kId,
                      "refs/heads/elsewhere",
                      "elsewhere",
                      "ours",
                      *place->resolveCommit("elsewhere"),
                      *place->resolveCommit("ours")};
        entry.plan.kind = SpliceKind::switchLine;
        entry.plan.workChoice = WorkChoice::carry;
        entry.begunBy = BegunBy::command;
        entry.startedAt = QDateTime::currentSecsSinceEpoch();
        TRY_ASSIGN(entry.plan.work, place->saveWork("work"));
        std::optional<ResultSnapshot> after;
        if (!entry.plan.work.isNull()) {
            const ObjectId ids[] = {entry.plan.theirs};
            const ObjectId tree = place->readCommits(ids)->front().tree;
            TRY_ASSIGN(const Join join, joinCarriedWork(*place, entry.plan.work, {tree, {}}));
            if (!join.isClean()) {
                return Error{ErrorCode::stale, {}, {}, Reason::workClashes};
            }
            TRY_ASSIGN(after, resultTree(join, {}));
        }
        return recordAtOnce(*place,
                            *journal,
                            entry,
                            {},
                            switchPlan(entry.plan, "refs/heads/ours", after),
                            {},
                            progress);
    }
};
}  // namespace

class TestOtherLines : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void joinElsewhere_leavesFilesAndIndexAlone();
    void joinElsewhere_intoWhatIsCheckedOut_isRefused();
    void joinElsewhere_hooksSeeOnlyTheMessage();
    void goToLine_carriesWork();
    void goToLine_thatMoved_isRefused();
    void goToLine_fileInTheWay_bringsAllBack();
    void removeOwnLine_onlyWhereExpected();
    void kill_atEachStep_losesNothing_data();
    void kill_atEachStep_losesNothing();
};

/// Called again as a child, does what it is told and dies by SIGKILL at a step.
void TestOtherLines::initTestCase()
{
    const QByteArray folder = qgetenv("ROPE_TEST_KILL_FOLDER");
    if (folder.isEmpty()) {
        return;
    }
    const std::string step = qgetenv("ROPE_TEST_KILL_STEP").toStdString();
    Bench bench(folder.toStdString());
    const ProgressSink dies = [&](const Progress& progress) {
        if (nameOf(progress.step) == step) {
            ::kill(::getpid(), SIGKILL);
        }
    };
    (void)(qEnvironmentVariableIsSet("ROPE_TEST_GOES") ? bench.goToOurs(dies)
                                                       : bench.joinElsewhere(dies));
    ::_exit(3);
}

void TestOtherLines::joinElsewhere_leavesFilesAndIndexAlone()
{
    ScratchRepository scratch;
    makeElsewhere(scratch);
    const QByteArray status = scratch.git("status --porcelain");
    const QByteArray head = scratch.git("rev-parse elsewhere");
    Bench bench(scratch.path());
    const auto recorded = bench.joinElsewhere();
    QVERIFY(recorded);
    QCOMPARE(scratch.git("rev-list --parents -n 1 ours").count(' '), qsizetype{2});
    QCOMPARE(scratch.git("show ours:plan.txt"), scratch.git("show theirs:plan.txt"));
    QCOMPARE(scratch.git("status --porcelain"), status);
    QCOMPARE(scratch.git("rev-parse HEAD"), head);
    QCOMPARE(scratch.read("mine.txt"), QByteArray("of elsewhere, edited\n"));
    QVERIFY(scratch.git("fsck --strict").isEmpty());
}

void TestOtherLines::joinElsewhere_intoWhatIsCheckedOut_isRefused()
{
    ScratchRepository scratch;
    makeElsewhere(scratch);
    const QString tree = scratch.filePath("beside");
    scratch.git({QStringLiteral("worktree"),
                 QStringLiteral("add"),
                 QStringLiteral("-q"),
                 tree,
                 QStringLiteral("ours")});
    Bench bench(scratch.path());
    const QByteArray before = scratch.git("rev-parse ours");
    const auto recorded = bench.joinElsewhere();
    QVERIFY(!recorded);
    QCOMPARE(recorded.error().reason, Reason::checkedOut);
    QCOMPARE(QString::fromStdString(recorded.error().detail), tree);
    QCOMPARE(scratch.git("rev-parse ours"), before);
    QCOMPARE(bench.journal->splices(SpliceState::open)->size(), std::size_t{1});
}

void TestOtherLines::joinElsewhere_hooksSeeOnlyTheMessage()
{
    ScratchRepository scratch;
    makeElsewhere(scratch);
    for (const char* hook : {"pre-merge-commit", "post-merge"}) {
        scratch.addHook(hook, "touch \"$(git rev-parse --git-dir)/ran\"\nexit 1\n");
    }
    scratch.addHook("commit-msg", "echo 'Seen-by: hook' >> \"$1\"\n");
    Bench bench(scratch.path());
    QVERIFY(bench.joinElsewhere());
    QVERIFY(!QFile::exists(scratch.filePath(".git/ran")));
    QVERIFY(scratch.git("log -1 --format=%B ours").contains("Seen-by: hook"));
}

void TestOtherLines::goToLine_carriesWork()
{
    ScratchRepository scratch;
    makeElsewhere(scratch);
    Bench bench(scratch.path());
    const QByteArray tip = scratch.git("rev-parse ours");
    // mine.txt is only in elsewhere, so an edit of it cannot go along; the staged file can.
    const QByteArray before = scratch.fingerprint();
    const auto clashing = bench.goToOurs();
    QVERIFY(!clashing);
    QCOMPARE(clashing.error().reason, Reason::workClashes);
    QCOMPARE(scratch.fingerprint(), before);
    scratch.git("checkout -q -- mine.txt");
    QVERIFY(bench.goToOurs());
    QCOMPARE(scratch.git("rev-parse --abbrev-ref HEAD"), QByteArray("ours"));
    QCOMPARE(scratch.git("rev-parse HEAD"), tip);
    QCOMPARE(scratch.read("staged.txt"), QByteArray("staged\n"));
    QCOMPARE(scratch.read("untracked.txt"), QByteArray("nobody's\n"));
    QVERIFY(!QFile::exists(scratch.filePath("mine.txt")));
    QVERIFY(scratch.git("reflog -1 HEAD").contains("moving from elsewhere to ours"));
}

void TestOtherLines::goToLine_thatMoved_isRefused()
{
    ScratchRepository scratch;
    makeElsewhere(scratch);
    scratch.git("stash -q");
    Bench bench(scratch.path());
    const QByteArray before = scratch.fingerprint();
    SplicePlan plan{kId,
                    "refs/heads/elsewhere",
                    "elsewhere",
                    "ours",
                    *bench.place->resolveCommit("elsewhere"),
                    *bench.place->resolveCommit("main")};
    bench.entry.plan = plan;
    bench.entry.plan.kind = SpliceKind::switchLine;
    const auto gone = recordAtOnce(
        *bench.place, *bench.journal, bench.entry, {}, switchPlan(plan, "refs/heads/ours", {}));
    QVERIFY(!gone);
    QCOMPARE(gone.error().reason, Reason::lineMoved);
    QCOMPARE(scratch.fingerprint(), before);
}

void TestOtherLines::goToLine_fileInTheWay_bringsAllBack()
{
    ScratchRepository scratch;
    makeElsewhere(scratch);
    scratch.git("switch -q ours -f");
    scratch.write("inTheWay.txt", "tracked on ours\n");
    scratch.commit("one more file");
    scratch.git("switch -q elsewhere");
    scratch.write("inTheWay.txt", "not tracked here\n");
    scratch.git("checkout -q -- .");
    Bench bench(scratch.path());
    const QByteArray before = scratch.fingerprint();
    const auto gone = bench.goToOurs();
    QVERIFY(!gone);
    QCOMPARE(gone.error().reason, Reason::inTheWay);
    QCOMPARE(scratch.git("rev-parse --abbrev-ref HEAD"), QByteArray("elsewhere"));
    QCOMPARE(scratch.read("inTheWay.txt"), QByteArray("not tracked here\n"));
    QCOMPARE(scratch.fingerprint(), before);
}

void TestOtherLines::removeOwnLine_onlyWhereExpected()
{
    ScratchRepository scratch;
    makeElsewhere(scratch);
    scratch.git("config branch.theirs.remote .");
    Bench bench(scratch.path());
    const ObjectId tip = *bench.place->resolveCommit("theirs");
    QCOMPARE(bench.place->removeOwnLine("refs/heads/theirs", *bench.place->resolveCommit("main"))
                 .error()
                 .reason,
             Reason::lineMoved);
    QCOMPARE(
        bench.place->removeOwnLine("refs/heads/elsewhere", *bench.place->resolveCommit("elsewhere"))
            .error()
            .reason,
        Reason::checkedOut);
    QVERIFY(bench.place->removeOwnLine("refs/heads/theirs", tip));
    QVERIFY(scratch.git("for-each-ref refs/heads/theirs").isEmpty());
    QVERIFY(!scratch.read(".git/config").contains("branch \"theirs\""));
    QCOMPARE(bench.place->removeOwnLine("refs/heads/theirs", tip).error().reason,
             Reason::lineMoved);
}

void TestOtherLines::kill_atEachStep_losesNothing_data()
{
    QTest::addColumn<QString>("step");
    QTest::addColumn<bool>("goes");
    for (const char* step : kSteps) {
        QTest::addRow("join, %s", step) << QString::fromLatin1(step) << false;
        QTest::addRow("go, %s", step) << QString::fromLatin1(step) << true;
    }
}

void TestOtherLines::kill_atEachStep_losesNothing()
{
    QFETCH(const QString, step);
    QFETCH(const bool, goes);
    ScratchRepository scratch;
    makeElsewhere(scratch);
    scratch.git("checkout -q -- mine.txt");
    const QByteArray status = scratch.git("status --porcelain");
    QProcess child;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert(QStringLiteral("ROPE_TEST_KILL_FOLDER"), scratch.folder());
    environment.insert(QStringLiteral("ROPE_TEST_KILL_STEP"), step);
    if (goes) {
        environment.insert(QStringLiteral("ROPE_TEST_GOES"), QStringLiteral("1"));
    }
    child.setProcessEnvironment(environment);
    child.start(QCoreApplication::applicationFilePath(), {});
    QVERIFY(child.waitForFinished(60'000));
    const bool wasKilled = child.exitStatus() == QProcess::CrashExit;
    // A step that is not taken kills nobody; then it is done.
    Bench bench(scratch.path());
    const auto recovery = recoverRecording(*bench.place, *bench.journal);
    QVERIFY2(recovery, recovery ? "" : recovery.error().detail.c_str());
    const QByteArray head = scratch.git("rev-parse --abbrev-ref HEAD");
    const bool isMerged = scratch.git("rev-list --parents -n 1 ours").count(' ') == 2;
    if (goes) {
        QVERIFY(head == "elsewhere" || head == "ours");
        QVERIFY(wasKilled || head == "ours");
        QVERIFY(!isMerged);
        QCOMPARE(scratch.git("diff --stat HEAD -- plan.txt mine.txt"), QByteArray());
    } else {
        QCOMPARE(head, QByteArray("elsewhere"));
        QCOMPARE(scratch.git("status --porcelain"), status);
        QVERIFY(wasKilled || isMerged);
    }
    QCOMPARE(scratch.read("staged.txt"), QByteArray("staged\n"));
    QCOMPARE(scratch.read("untracked.txt"), QByteArray("nobody's\n"));
    QVERIFY(!QFile::exists(scratch.filePath(".git/index.lock")));
    QVERIFY(!scratch.git("fsck --strict").contains("error"));
    QVERIFY(bench.journal->splices(SpliceState::recording)->empty());
}

ROPE_TESTS(TestOtherLines, QCoreApplication)
#include "tst_other_lines.moc"
