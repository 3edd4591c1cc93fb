// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/repository/git/git_repository.h"
#include "core/splice/recorder.h"
#include "tests/support/scratch_repository.h"

#include <QProcess>
#include <QTest>

#include <csignal>
#include <sys/resource.h>
#include <unistd.h>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
struct Bench
{
    std::unique_ptr<GitRepository> repository;
    std::unique_ptr<Journal> journal;
    RecordRequest request;
};

/// Opens the repository and decides its one region by hand, with the decision journalled.
Bench decided(const std::string& folder)
{
    Bench bench;
    bench.repository = std::move(GitRepository::open(folder)).value();
    bench.journal = std::move(Journal::open(*bench.repository->privateFolder())).value();
    const ObjectId ours = *bench.repository->resolveCommit("ours");
    const ObjectId theirs = *bench.repository->resolveCommit("theirs");
    bench.request.plan = {"splice-1", "refs/heads/ours", "ours", "theirs", ours, theirs};
    auto forecast = std::make_shared<const Forecast>(
        std::move(forecastJoin(*bench.repository, ours, theirs)).value());
    Splice splice(bench.request.plan, forecast);
    (void)bench.journal->begin(bench.request.plan, 1);
    splice.setDecisionSink([&](const std::vector<Decision>& d) {
        (void)bench.journal->storeDecisions("splice-1", d);
    });
    splice.change({{{0, 1}, {true, std::string(kOwnText), "two of both\n"}}});
    bench.request.result = splice.result();
    bench.request.message = "Merge theirs into ours\n";
    return bench;
}

bool isClean(ScratchRepository& scratch)
{
    return scratch.git("status --porcelain").isEmpty()
           && scratch.git("fsck --strict --no-dangling").isEmpty();
}

const char* const kSteps[] = {"bringing-working-tree", "committing", "moving-branch", "finishing"};
}  // namespace

class TestRecorder : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void record_decided_makesARealMerge();
    void record_linkedWorkingTree_movesItsBranch();
    void record_sha256_works();
    void record_filters_areApplied();
    void record_hooks_runAsInGit();
    void record_hookRefuses_undoesAll_data();
    void record_hookRefuses_undoesAll();
    void record_hookStagesMore_isRecorded();
    void record_obstacles_changeNothing_data();
    void record_obstacles_changeNothing();
    void record_diskFull_changesNothing();
    void record_signingFails_isRefused();
    void kill_atEachStep_isFinishedOrUndone_data();
    void kill_atEachStep_isFinishedOrUndone();
    void recover_fileEditedMeanwhile_isLeftAlone();
};

/// Called again as a child, records and dies by SIGKILL at the step it is told.
void TestRecorder::initTestCase()
{
    const QByteArray folder = qgetenv("ROPE_TEST_KILL_FOLDER");
    if (folder.isEmpty()) {
        return;
    }
    const std::string step = qgetenv("ROPE_TEST_KILL_STEP").toStdString();
    const Bench bench = decided(folder.toStdString());
    (void)recordSplice(
        *bench.repository, *bench.journal, bench.request, [&](const Progress& progress) {
            if (progress.step == step) {
                ::kill(::getpid(), SIGKILL);
            }
        });
    ::_exit(3);
}

void TestRecorder::record_decided_makesARealMerge()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const Bench bench = decided(scratch.path());
    const QByteArray ours = scratch.git("rev-parse ours");
    const QByteArray theirs = scratch.git("rev-parse theirs");
    const auto recorded = recordSplice(*bench.repository, *bench.journal, bench.request);
    QVERIFY2(recorded.hasValue(), recorded.hasValue() ? "" : recorded.error().detail.c_str());
    QCOMPARE(scratch.git("log -1 --format=%P"), ours + " " + theirs);
    QCOMPARE(scratch.git("rev-parse --abbrev-ref HEAD"), QByteArray("ours"));
    QCOMPARE(scratch.git("log -1 --format=%an.%ae.%s"),
             QByteArray("Maren Voss.maren@slackwater.example.Merge theirs into ours"));
    QCOMPARE(scratch.read("plan.txt"), QByteArray("one\ntwo of both\nthree\nfour\nfive\nSIX\n"));
    QCOMPARE(scratch.read("new.txt"), QByteArray("from theirs\n"));
    QVERIFY(isClean(scratch));
    QCOMPARE(bench.journal->splices(SpliceState::recorded)->size(), std::size_t{1});
    QVERIFY(!recoverRecording(*bench.repository, *bench.journal)->has_value());
}

void TestRecorder::record_linkedWorkingTree_movesItsBranch()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.git("switch -q main");
    const QTemporaryDir folder;
    const QString linked = folder.filePath(QStringLiteral("linked"));
    scratch.git({QStringLiteral("worktree"),
                 QStringLiteral("add"),
                 QStringLiteral("-q"),
                 linked,
                 QStringLiteral("ours")});
    const Bench bench = decided(linked.toStdString());
    QVERIFY(recordSplice(*bench.repository, *bench.journal, bench.request).hasValue());
    QCOMPARE(scratch.git("log -1 --format=%s ours"), QByteArray("Merge theirs into ours"));
    QVERIFY(scratch
                .git({QStringLiteral("-C"),
                      linked,
                      QStringLiteral("status"),
                      QStringLiteral("--porcelain")})
                .isEmpty());
    QVERIFY(scratch.git("status --porcelain").isEmpty());  // the main working tree is not concerned
    QCOMPARE(scratch.git("rev-parse --abbrev-ref HEAD"), QByteArray("main"));
}

void TestRecorder::record_sha256_works()
{
    ScratchRepository scratch({QStringLiteral("--object-format=sha256")});
    test::makeDiverged(scratch);
    const Bench bench = decided(scratch.path());
    const auto recorded = recordSplice(*bench.repository, *bench.journal, bench.request);
    QVERIFY(recorded.hasValue());
    QCOMPARE(recorded->commit.id.hex().size(), std::size_t{64});
    QVERIFY(isClean(scratch));
}

void TestRecorder::record_filters_areApplied()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.write(".gitattributes", "plan.txt text eol=crlf\n");
    scratch.commit("plan.txt has CRLF in the working tree");
    const Bench bench = decided(scratch.path());
    QVERIFY(recordSplice(*bench.repository, *bench.journal, bench.request).hasValue());
    QVERIFY(scratch.read("plan.txt").contains("two of both\r\n"));
    QVERIFY(!scratch.git("cat-file blob HEAD:plan.txt").contains('\r'));
    QVERIFY(isClean(scratch));
}

void TestRecorder::record_hooks_runAsInGit()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.addHook(
        "pre-merge-commit",
        "grep -q 'two of both' plan.txt && git diff --cached --name-only > .git/staged");
    scratch.addHook("prepare-commit-msg",
                    "echo \"$2\" > .git/source; printf '\\nSeen-by: the hook\\n' >> \"$1\"");
    scratch.addHook("commit-msg", "grep -q 'Seen-by' \"$1\"");
    scratch.addHook("post-merge", "echo \"$1 $(git log -1 --format=%s)\" > .git/after");
    const Bench bench = decided(scratch.path());
    const auto recorded = recordSplice(*bench.repository, *bench.journal, bench.request);
    QVERIFY2(recorded.hasValue(), recorded.hasValue() ? "" : recorded.error().detail.c_str());
    QCOMPARE(scratch.read(".git/staged"), QByteArray("new.txt\nplan.txt\n"));
    QCOMPARE(scratch.read(".git/source"), QByteArray("merge\n"));
    QCOMPARE(scratch.read(".git/after"), QByteArray("0 Merge theirs into ours\n"));
    QVERIFY(recorded->commit.message.find("Seen-by: the hook") != std::string::npos);
    QVERIFY(isClean(scratch));
}

void TestRecorder::record_hookRefuses_undoesAll_data()
{
    QTest::addColumn<QByteArray>("hook");
    for (const char* hook : {"pre-merge-commit", "prepare-commit-msg", "commit-msg"}) {
        QTest::newRow(hook) << QByteArray(hook);
    }
}

void TestRecorder::record_hookRefuses_undoesAll()
{
    QFETCH(QByteArray, hook);
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const QByteArray before = scratch.fingerprint();
    scratch.addHook(hook.constData(), "echo 'not on a Monday' >&2; exit 1");
    const Bench bench = decided(scratch.path());
    const auto recorded = recordSplice(*bench.repository, *bench.journal, bench.request);
    QVERIFY(!recorded.hasValue());
    QCOMPARE(recorded.error().code, ErrorCode::refused);
    QVERIFY(recorded.error().detail.find("not on a Monday") != std::string::npos);
    QCOMPARE(scratch.fingerprint(), before);
    QVERIFY(isClean(scratch));
    QCOMPARE(bench.journal->splices(SpliceState::open)->size(), std::size_t{1});
    QCOMPARE(bench.journal->decisions("splice-1")->size(), std::size_t{1});
}

void TestRecorder::record_hookStagesMore_isRecorded()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.addHook("pre-merge-commit", "echo stamp > stamp.txt; git add stamp.txt");
    const Bench bench = decided(scratch.path());
    QVERIFY(recordSplice(*bench.repository, *bench.journal, bench.request).hasValue());
    QCOMPARE(scratch.git("show HEAD:stamp.txt"), QByteArray("stamp"));
    QVERIFY(isClean(scratch));
}

void TestRecorder::record_obstacles_changeNothing_data()
{
    QTest::addColumn<QByteArray>("obstacle");
    QTest::addColumn<int>("code");
    QTest::newRow("branch-moved") << QByteArray("branch") << static_cast<int>(ErrorCode::stale);
    QTest::newRow("uncommitted-file") << QByteArray("edit") << static_cast<int>(ErrorCode::stale);
    QTest::newRow("untracked-file-in-the-way")
        << QByteArray("untracked") << static_cast<int>(ErrorCode::stale);
    QTest::newRow("index-locked") << QByteArray("lock") << static_cast<int>(ErrorCode::busy);
    QTest::newRow("no-identity") << QByteArray("identity")
                                 << static_cast<int>(ErrorCode::noIdentity);
    QTest::newRow("empty-message")
        << QByteArray("message") << static_cast<int>(ErrorCode::invalidInput);
}

void TestRecorder::record_obstacles_changeNothing()
{
    QFETCH(QByteArray, obstacle);
    QFETCH(int, code);
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    Bench bench = decided(scratch.path());
    if (obstacle == "branch") {
        scratch.commit("another program was here");
    } else if (obstacle == "edit") {
        scratch.write("keep.txt", "edited\n");
    } else if (obstacle == "untracked") {
        scratch.write("new.txt", "mine\n");
    } else if (obstacle == "lock") {
        scratch.write(".git/index.lock", "");
    } else if (obstacle == "identity") {
        scratch.git("config --unset user.name");
        scratch.git("config --unset user.email");
    } else {
        bench.request.message = "  \n";
    }
    const QByteArray refs = scratch.git("for-each-ref refs/heads");
    const QByteArray plan = scratch.read("plan.txt");
    const auto recorded = recordSplice(*bench.repository, *bench.journal, bench.request);
    QVERIFY(!recorded.hasValue());
    QCOMPARE(static_cast<int>(recorded.error().code), code);
    scratch.remove(".git/index.lock");
    QCOMPARE(scratch.git("for-each-ref refs/heads"), refs);
    QCOMPARE(scratch.read("plan.txt"), plan);
    if (obstacle == "untracked") {
        QCOMPARE(scratch.read("new.txt"), QByteArray("mine\n"));
    }
    QVERIFY(!recoverRecording(*bench.repository, *bench.journal)->has_value()
            || obstacle == "lock");
    QCOMPARE(bench.journal->splices(SpliceState::open)->size(), std::size_t{1});
}

void TestRecorder::record_diskFull_changesNothing()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    Bench bench = decided(scratch.path());
    for (TextEdit& text : bench.request.result.texts) {
        text.bytes.append(4'000'000, 'x');
    }
    const QByteArray before = scratch.fingerprint();
    // A limit on file sizes fails writes as a full disk does, in this process and in git's.
    rlimit limit{};
    QCOMPARE(::getrlimit(RLIMIT_FSIZE, &limit), 0);
    const rlimit full{1'000'000, limit.rlim_max};
    const auto previous = ::signal(SIGXFSZ, SIG_IGN);
    QCOMPARE(::setrlimit(RLIMIT_FSIZE, &full), 0);
    const auto recorded = recordSplice(*bench.repository, *bench.journal, bench.request);
    QCOMPARE(::setrlimit(RLIMIT_FSIZE, &limit), 0);
    (void)::signal(SIGXFSZ, previous);
    QVERIFY(!recorded.hasValue());
    QCOMPARE(static_cast<int>(recorded.error().code), static_cast<int>(ErrorCode::io));
    QCOMPARE(scratch.fingerprint(), before);
    QVERIFY(isClean(scratch));
}

void TestRecorder::record_signingFails_isRefused()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.git("config commit.gpgSign true");
    scratch.git("config gpg.program /bin/false");
    const QByteArray before = scratch.fingerprint();
    const Bench bench = decided(scratch.path());
    const auto recorded = recordSplice(*bench.repository, *bench.journal, bench.request);
    QVERIFY(!recorded.hasValue());
    QCOMPARE(static_cast<int>(recorded.error().code), static_cast<int>(ErrorCode::refused));
    QCOMPARE(scratch.fingerprint(), before);
    // A program that signs: its signature is in the commit.
    scratch.write(
        ".git/sign",
        "#!/bin/sh\ncat > /dev/null\necho '[GNUPG:] SIG_CREATED ' >&2\n"
        "printf -- '-----BEGIN PGP SIGNATURE-----\\nsigned\\n-----END PGP SIGNATURE-----\\n'\n");
    QFile::setPermissions(scratch.filePath(".git/sign"),
                          QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
    scratch.git(
        {QStringLiteral("config"), QStringLiteral("gpg.program"), scratch.filePath(".git/sign")});
    QVERIFY(recordSplice(*bench.repository, *bench.journal, bench.request).hasValue());
    QVERIFY(scratch.git("cat-file commit HEAD").contains("gpgsig"));
}

void TestRecorder::kill_atEachStep_isFinishedOrUndone_data()
{
    QTest::addColumn<QByteArray>("step");
    for (const char* step : kSteps) {
        QTest::newRow(step) << QByteArray(step);
    }
}

void TestRecorder::kill_atEachStep_isFinishedOrUndone()
{
    QFETCH(QByteArray, step);
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const QByteArray before = scratch.fingerprint();
    QProcess child;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert(QStringLiteral("ROPE_TEST_KILL_FOLDER"), scratch.folder());
    environment.insert(QStringLiteral("ROPE_TEST_KILL_STEP"), QString::fromLatin1(step));
    child.setProcessEnvironment(environment);
    child.start(QCoreApplication::applicationFilePath(), {});
    QVERIFY(child.waitForFinished(60'000));
    QCOMPARE(child.exitStatus(), QProcess::CrashExit);

    const auto repository = std::move(GitRepository::open(scratch.path())).value();
    const auto journal = std::move(Journal::open(*repository->privateFolder())).value();
    const auto recovery = recoverRecording(*repository, *journal);
    QVERIFY2(recovery.hasValue(), recovery.hasValue() ? "" : recovery.error().detail.c_str());
    QVERIFY(recovery->has_value());
    if (step == "finishing") {
        QVERIFY((*recovery)->isFinished);
        QCOMPARE(scratch.git("rev-list --count --merges ours"), QByteArray("1"));
        QCOMPARE(scratch.read("plan.txt"),
                 QByteArray("one\ntwo of both\nthree\nfour\nfive\nSIX\n"));
    } else {
        QVERIFY(!(*recovery)->isFinished);
        QCOMPARE(scratch.fingerprint(), before);
        QCOMPARE(journal->decisions("splice-1")->front().state.text.value(),
                 std::string("two of both\n"));
        QCOMPARE(journal->splices(SpliceState::open)->size(), std::size_t{1});
    }
    QVERIFY(isClean(scratch));
    QVERIFY(!recoverRecording(*repository, *journal)->has_value());  // once is enough
}

void TestRecorder::recover_fileEditedMeanwhile_isLeftAlone()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const Bench bench = decided(scratch.path());
    const ObjectId oursTree =
        *ObjectId::fromHex(scratch.git("rev-parse ours^{tree}").toStdString());
    const ObjectId theirsTree =
        *ObjectId::fromHex(scratch.git("rev-parse theirs^{tree}").toStdString());
    QVERIFY(bench.repository->bringWorkingTree(oursTree, theirsTree));
    QVERIFY(bench.journal->noteRecording("splice-1",
                                         {RecordStep::committing, oursTree, theirsTree, {}}));
    scratch.write("plan.txt", "written after the crash\n");
    const auto recovery = recoverRecording(*bench.repository, *bench.journal);
    QVERIFY(!recovery.hasValue());
    QCOMPARE(static_cast<int>(recovery.error().code), static_cast<int>(ErrorCode::stale));
    QCOMPARE(recovery.error().subject, std::string("plan.txt"));
    QCOMPARE(scratch.read("plan.txt"), QByteArray("written after the crash\n"));
}

QTEST_GUILESS_MAIN(TestRecorder)
#include "tst_recorder.moc"
