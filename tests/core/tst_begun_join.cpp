// SPDX-License-Identifier: GPL-3.0-or-later
// A merge that was begun with git: told, finished by a splice, handed back; killed on the way.
#include "core/logbook/recorder.h"
#include "core/plan/recording_plan.h"
#include "tests/support/begun_merge.h"
#include "tests/support/full_disk.h"
#include "tests/support/random_trees.h"
#include "tests/support/test_program.h"

#include <QTest>

#include <csignal>
#include <unistd.h>

using namespace rope;
using rope::test::ScratchRepository;
using rope::test::TakenOver;

namespace {
struct Bench
{
    TakenOver taken;
    std::unique_ptr<Journal> journal;
};

/// Taken over and journalled; all that is open is decided for theirs.
Bench decided(const std::string& folder)
{
    Bench bench{test::takeOver(folder), nullptr};
    bench.journal = std::move(Journal::open(*bench.taken.place->privateFolder())).value();
    JournalEntry entry;
    entry.plan = bench.taken.splice->plan();
    entry.startedAt = 1;
    (void)bench.journal->begin(entry);
    bench.taken.decideAll(FileChoice::theirs);
    return bench;
}

/// As decided(), after it was handed back: under another name.
Bench decidedAgain(const std::string& folder)
{
    Bench bench{test::takeOver(folder), nullptr};
    bench.journal = std::move(Journal::open(*bench.taken.place->privateFolder())).value();
    (void)bench.journal->setState("splice-1", SpliceState::open);
    bench.taken.decideAll(FileChoice::theirs);
    return bench;
}

Result<Recorded> record(const Bench& bench, const ProgressSink& progress = {})
{
    const RecordingPlan plan = recordingPlanOf(*bench.taken.splice, "Merge theirs\n").value();
    return recordSplice(*bench.taken.place, *bench.journal, "splice-1", plan, progress);
}

Status giveBack(const Bench& bench)
{
    const BegunTexts texts = begunTexts(*bench.taken.splice);
    return handBack(*bench.taken.place,
                    *bench.journal,
                    "splice-1",
                    {bench.taken.splice->plan().begun, texts.edits, texts.settled});
}

RecordingNote noteIn(const std::string& folder)
{
    const auto place = std::move(GitPlace::open(folder)).value();
    const auto journal = std::move(Journal::open(*place->privateFolder())).value();
    return journal->recordingNote("splice-1").value().value_or(RecordingNote());
}

Result<std::optional<Recovery>> recoverIn(const std::string& folder)
{
    const auto place = std::move(GitPlace::open(folder)).value();
    const auto journal = std::move(Journal::open(*place->privateFolder())).value();
    return recoverRecording(*place, *journal);
}

/// Half of it decided in the files, something staged, own work beside it.
void makeHalfDone(ScratchRepository& scratch)
{
    test::makeClashingBranches(scratch);
    scratch.write("own.txt", "own, not committed\n");
    test::beginMerge(scratch);
    scratch.write("tide.txt", "low\nhigh of both\n");
    scratch.git("add tide.txt");
}

bool isSound(ScratchRepository& scratch)
{
    return scratch.git("fsck --strict --no-dangling").isEmpty()
           && !QFile::exists(scratch.filePath(".git/index.lock"));
}

const char* const kSteps[] = {"takingOff", "bringing", "committing", "moving", "finishing"};
}  // namespace

class TestBegunJoin : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void kinds_areTold();
    void merge_isTold();
    void save_leavesTheBegunFilesOut();
    void recorded_nothingIsLeftOver();
    void oddPlaces_areFinishedAsWell_data();
    void oddPlaces_areFinishedAsWell();
    void hookRefuses_isBegunAsBefore();
    void wentOn_isRefused();
    void other_isNotRecordedOver();
    void handedBack_gitFinishesIt();
    void handedBack_half_staysHalfJoined();
    void handedBack_diskFull_isAsBefore();
    void kill_atEachStep_isFinishedOrAsBefore_data();
    void kill_atEachStep_isFinishedOrAsBefore();
    void random_untouched_isTakenOverAndRecorded();
    void kill_handingBack_isBeforeOrAfter_data();
    void kill_handingBack_isBeforeOrAfter();
};

/// Called again as a child, goes on and dies by SIGKILL at the step it is told.
void TestBegunJoin::initTestCase()
{
    const std::string folder = qgetenv("ROPE_TEST_KILL_FOLDER").toStdString();
    if (folder.empty()) {
        return;
    }
    const std::string step = qgetenv("ROPE_TEST_KILL_STEP").toStdString();
    const Bench bench = decided(folder);
    if (step == "handing back" || step == "handed back") {
        const BegunTexts texts = begunTexts(*bench.taken.splice);
        int notes = 0;
        const auto note = [&](const RecordingNote& text) {
            if (step == "handing back" && ++notes == 2) {
                ::kill(::getpid(), SIGKILL);  // all is written, and nobody has said so
            }
            return bench.journal->noteRecording("splice-1", text);
        };
        (void)bench.taken.place->handBack(
            {bench.taken.splice->plan().begun, texts.edits, texts.settled}, note);
        ::kill(::getpid(), SIGKILL);
    }
    (void)record(bench, [&](const Progress& progress) {
        if (nameOf(progress.step) == step) {
            ::kill(::getpid(), SIGKILL);
        }
    });
    ::_exit(3);
}

void TestBegunJoin::kinds_areTold()
{
    ScratchRepository scratch;
    test::makeClashingBranches(scratch);
    const auto begun = [&] {
        return GitPlace::open(scratch.path()).value()->begunJoin().value();
    };
    QVERIFY(!begun());
    int exitCode = 0;
    scratch.tryGit({QStringLiteral("cherry-pick"), QStringLiteral("theirs")}, exitCode);
    QCOMPARE(begun()->kind, UnfinishedWork::cherryPick);
    QCOMPARE(begun()->obstacle, BegunObstacle::none);
    scratch.git("cherry-pick --abort");
    scratch.tryGit({QStringLiteral("rebase"), QStringLiteral("theirs")}, exitCode);
    QCOMPARE(begun()->kind, UnfinishedWork::rebase);
    QCOMPARE(begun()->open.size(), std::size_t{2});
    scratch.git("rebase --abort");
    scratch.tryGit({QStringLiteral("revert"), QStringLiteral("theirs")}, exitCode);
    QCOMPARE(begun()->kind, UnfinishedWork::revert);
    scratch.git("revert --abort");
    scratch.git("switch -q --detach theirs");
    scratch.write("tide.txt", "low\nhigh of mine\n");
    scratch.git("stash -q");
    scratch.git("switch -q ours");
    scratch.tryGit({QStringLiteral("stash"), QStringLiteral("pop")}, exitCode);
    QCOMPARE(begun()->kind, UnfinishedWork::unknown);
    QCOMPARE(begun()->obstacle, BegunObstacle::otherKind);
    scratch.git("reset -q --hard");
    scratch.write(".git/MERGE_HEAD", QByteArray(40, 'a') + "\n");
    QCOMPARE(begun()->obstacle, BegunObstacle::damaged);
    scratch.write(".git/MERGE_HEAD", "nonsense");
    QCOMPARE(begun()->obstacle, BegunObstacle::damaged);
    const QByteArray theirs = scratch.git("rev-parse theirs");
    scratch.write(".git/MERGE_HEAD", theirs + "\n" + theirs + "\n");
    QCOMPARE(begun()->obstacle, BegunObstacle::manyTips);
    scratch.write(".git/MERGE_HEAD", theirs + "\n");
    scratch.write(".git/MERGE_AUTOSTASH", theirs + "\n");
    QCOMPARE(begun()->obstacle, BegunObstacle::ownWorkKept);
}

void TestBegunJoin::merge_isTold()
{
    ScratchRepository scratch;
    makeHalfDone(scratch);
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const auto begun = place->begunJoin().value();
    QVERIFY(begun);
    QCOMPARE(begun->kind, UnfinishedWork::merge);
    QCOMPARE(begun->obstacle, BegunObstacle::none);
    QCOMPARE(begun->line, std::string("refs/heads/ours"));
    QCOMPARE(begun->theirsName, std::string("theirs"));
    QCOMPARE(begun->theirs, *place->resolveCommit("theirs"));
    QCOMPARE(begun->open, (std::vector<RepoPath>{"plan.txt"}));
    const QByteArray before = test::begunFingerprint(scratch);
    const BegunFiles files = place->begunFiles().value();
    QCOMPARE(files.open, (std::vector<RepoPath>{"plan.txt"}));
    QCOMPARE(files.settled, (std::vector<RepoPath>{"fees.txt", "tide.txt"}));
    QCOMPARE(place->begunFiles()->stamp, files.stamp);
    scratch.write("own.txt", "own, and more\n");
    QCOMPARE(place->begunFiles()->stamp, files.stamp);  // not of the merge
    scratch.write("own.txt", "own, not committed\n");
    QCOMPARE(test::begunFingerprint(scratch), before);
    scratch.write("plan.txt", "all new\n");
    QVERIFY(place->begunFiles()->stamp != files.stamp);
}

void TestBegunJoin::save_leavesTheBegunFilesOut()
{
    ScratchRepository scratch;
    makeHalfDone(scratch);
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const ObjectId work = place->saveWork("work").value();
    QVERIFY(!work.isNull());
    QCOMPARE(scratch.git(QStringList{QStringLiteral("diff"),
                                     QStringLiteral("--name-only"),
                                     QStringLiteral("HEAD"),
                                     QString::fromStdString(work.hex())}),
             QByteArray("own.txt"));
}

void TestBegunJoin::recorded_nothingIsLeftOver()
{
    ScratchRepository scratch;
    test::makeClashingBranches(scratch);
    test::beginMerge(scratch);
    scratch.write("tide.txt", "low\nhigh of both\n");
    scratch.git("add tide.txt");
    const Bench bench = decided(scratch.path());
    const auto recorded = record(bench);
    QVERIFY2(recorded, recorded ? "" : recorded.error().detail.c_str());
    QCOMPARE(scratch.git("status --porcelain=v2 --branch").split('\n').size(), qsizetype{2});
    QVERIFY(!QFile::exists(scratch.filePath(".git/MERGE_HEAD")));
    QVERIFY(!QFile::exists(scratch.filePath(".git/MERGE_MSG")));
    QCOMPARE(scratch.read("tide.txt"), QByteArray("low\nhigh of both\n"));
    QVERIFY(scratch.read("plan.txt").contains("\n2 theirs\n"));
    QCOMPARE(scratch.git("rev-parse HEAD^2"), scratch.git("rev-parse theirs"));
    QVERIFY(isSound(scratch));
}

void TestBegunJoin::oddPlaces_areFinishedAsWell_data()
{
    QTest::addColumn<QString>("kind");
    for (const char* kind : {"linked", "crlf", "sha256", "spaces", "deleted", "executable"}) {
        QTest::newRow(kind) << QString::fromLatin1(kind);
    }
}

/// Linked working trees, converted line ends, other hashes, odd names, a file deleted on one side, modes:
/// recorded nothing is left over; handed back first, it is begun as before.
void TestBegunJoin::oddPlaces_areFinishedAsWell()
{
    QFETCH(const QString, kind);
    ScratchRepository scratch(kind == QLatin1String("sha256")
                                  ? QStringList{QStringLiteral("--object-format=sha256")}
                                  : QStringList());
    const QTemporaryDir outside;
    if (kind == QLatin1String("crlf")) {
        scratch.write(".gitattributes", "* text eol=crlf\n");
    }
    const char* const extra = kind == QLatin1String("spaces") ? "od d/\"na\tme\".txt" : "extra.txt";
    scratch.write(extra, "one\ntwo\nthree\n");
    test::makeClashingBranches(scratch);
    scratch.git("switch -q theirs");
    scratch.write(extra, "one\ntwo theirs\nthree\n");
    scratch.commit("extra of theirs");
    scratch.git("switch -q ours");
    if (kind == QLatin1String("deleted")) {
        scratch.remove(extra);
    } else {
        scratch.write(extra, "one\ntwo ours\nthree\n");
    }
    if (kind == QLatin1String("executable")) {
        QFile::setPermissions(scratch.filePath("tide.txt"),
                              QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
    }
    scratch.commit("extra of ours");
    std::string folder = scratch.path();
    if (kind == QLatin1String("linked")) {
        const QString linked = outside.filePath(QStringLiteral("linked"));
        scratch.git("switch -q --detach");
        scratch.git(QStringList{QStringLiteral("worktree"),
                                QStringLiteral("add"),
                                QStringLiteral("-q"),
                                linked,
                                QStringLiteral("ours")});
        folder = linked.toStdString();
    }
    const auto git = [&](const char* words) {
        return scratch.git(QStringList{QStringLiteral("-C"), QString::fromStdString(folder)}
                           + QString::fromUtf8(words).split(QLatin1Char(' ')));
    };
    int exitCode = 0;
    scratch.tryGit({QStringLiteral("-C"),
                    QString::fromStdString(folder),
                    QStringLiteral("merge"),
                    QStringLiteral("-q"),
                    QStringLiteral("theirs")},
                   exitCode);
    QCOMPARE(exitCode, 1);
    const QByteArray stages = git("ls-files -u");
    const std::size_t open = test::takeOver(folder).splice->openCount();
    QVERIFY(open >= 4);

    Bench bench = decided(folder);
    QVERIFY(bench.taken.splice->openCount() == 0);
    const auto handed = giveBack(bench);
    QVERIFY2(handed, handed ? "" : handed.error().detail.c_str());
    QCOMPARE(git("ls-files -u"), QByteArray());
    bench = decidedAgain(folder);
    const auto recorded = record(bench);
    QVERIFY2(recorded, recorded ? "" : recorded.error().detail.c_str());
    QCOMPARE(git("status --porcelain"), QByteArray());
    QCOMPARE(git("rev-parse HEAD^2"), git("rev-parse theirs"));
    QVERIFY(!bench.taken.place->begunJoin()->has_value());
    QVERIFY(!stages.isEmpty());
}

void TestBegunJoin::hookRefuses_isBegunAsBefore()
{
    ScratchRepository scratch;
    test::makeClashingBranches(scratch);
    test::beginMerge(scratch);
    scratch.addHook("pre-merge-commit", "exit 1\n");
    const QByteArray before = test::begunFingerprint(scratch);
    const Bench bench = decided(scratch.path());
    const auto recorded = record(bench);
    QVERIFY(!recorded);
    QCOMPARE(recorded.error().reason, Reason::hookRefused);
    QCOMPARE(test::begunFingerprint(scratch), before);
    QVERIFY(isSound(scratch));
}

void TestBegunJoin::wentOn_isRefused()
{
    ScratchRepository scratch;
    test::makeClashingBranches(scratch);
    test::beginMerge(scratch);
    const Bench bench = decided(scratch.path());
    scratch.write("plan.txt", "somebody goes on\n");
    const QByteArray before = test::begunFingerprint(scratch);
    QCOMPARE(record(bench).error().reason, Reason::begunChanged);
    QCOMPARE(giveBack(bench).error().reason, Reason::begunChanged);
    QCOMPARE(test::begunFingerprint(scratch), before);
    scratch.git("merge --abort");
    QCOMPARE(record(bench).error().reason, Reason::begunChanged);
}

/// A splice that knows nothing of it must not record while a merge is under way, however clean it is.
void TestBegunJoin::other_isNotRecordedOver()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.git("merge -q --no-commit -s ours theirs");
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const auto journal = std::move(Journal::open(*place->privateFolder())).value();
    const ObjectId ours = *place->resolveCommit("ours");
    const ObjectId theirs = *place->resolveCommit("theirs");
    JournalEntry entry;
    entry.plan = {"splice-1", "refs/heads/ours", "ours", "theirs", ours, theirs};
    QVERIFY(journal->begin(entry));
    auto forecast =
        std::make_shared<const Forecast>(std::move(forecastJoin(*place, ours, theirs)).value());
    Splice splice(entry.plan, forecast);
    for (std::size_t i = 0; i < splice.files().size(); ++i) {
        splice.decideAllOpen(i, FileChoice::ours);
    }
    const RecordingPlan plan = recordingPlanOf(splice, "Merge\n").value();
    QCOMPARE(recordSplice(*place, *journal, "splice-1", plan).error().reason, Reason::begunChanged);
    QVERIFY(QFile::exists(scratch.filePath(".git/MERGE_HEAD")));
}

void TestBegunJoin::handedBack_gitFinishesIt()
{
    ScratchRepository scratch;
    makeHalfDone(scratch);
    const Bench bench = decided(scratch.path());
    const auto handed = giveBack(bench);
    QVERIFY2(handed, handed ? "" : handed.error().detail.c_str());
    QCOMPARE((*bench.journal->splice("splice-1"))->state, SpliceState::abandoned);
    QCOMPARE(scratch.git("ls-files -u"), QByteArray());
    QCOMPARE(scratch.read("own.txt"), QByteArray("own, not committed\n"));
    QVERIFY(isSound(scratch));
    scratch.git("commit -q --no-edit");
    QVERIFY(!QFile::exists(scratch.filePath(".git/MERGE_HEAD")));
    QCOMPARE(scratch.git("show HEAD:tide.txt"), QByteArray("low\nhigh of both"));
    QVERIFY(scratch.git("show HEAD:plan.txt").contains("\n12 theirs\n"));
    QCOMPARE(scratch.git("show HEAD:fees.txt"), QByteArray("fee 16\nfee 20\nfee 25"));
    QCOMPARE(scratch.git("status --porcelain"), QByteArray(" M own.txt"));
}

void TestBegunJoin::handedBack_diskFull_isAsBefore()
{
    ScratchRepository scratch;
    makeHalfDone(scratch);
    const Bench bench = decided(scratch.path());
    BegunTexts texts = begunTexts(*bench.taken.splice);
    for (ResultEdit& edit : texts.edits) {
        if (edit.bytes) {
            edit.bytes =
                std::make_shared<const std::string>(*edit.bytes + std::string(4'000'000, 'x'));
        }
    }
    const QByteArray before = test::begunFingerprint(scratch);
    const auto handed = [&] {
        const test::FullDisk disk;
        return handBack(*bench.taken.place,
                        *bench.journal,
                        "splice-1",
                        {bench.taken.splice->plan().begun, texts.edits, texts.settled});
    }();
    QVERIFY(!handed);
    QCOMPARE(handed.error().code, ErrorCode::io);
    QCOMPARE(test::begunFingerprint(scratch), before);
    QVERIFY(isSound(scratch));
    QVERIFY(giveBack(bench));
    QVERIFY(isSound(scratch));
}

void TestBegunJoin::handedBack_half_staysHalfJoined()
{
    ScratchRepository scratch;
    makeHalfDone(scratch);
    Bench bench{test::takeOver(scratch.path()), nullptr};
    bench.journal = std::move(Journal::open(*bench.taken.place->privateFolder())).value();
    JournalEntry entry;
    entry.plan = bench.taken.splice->plan();
    QVERIFY(bench.journal->begin(entry));
    const QByteArray stages = scratch.git("ls-files -u");
    QVERIFY(giveBack(bench));
    QCOMPARE(scratch.git("ls-files -u"), stages);
    QVERIFY(scratch.read("plan.txt").contains("<<<<<<< ours\n2 ours\n"));
    QCOMPARE(scratch.read("tide.txt"), QByteArray("low\nhigh of both\n"));
    QVERIFY(isSound(scratch));
    const TakenOver again = test::takeOver(scratch.path());
    QCOMPARE(again.splice->decisions(), bench.taken.splice->decisions());
}

void TestBegunJoin::kill_atEachStep_isFinishedOrAsBefore_data()
{
    QTest::addColumn<QByteArray>("step");
    QTest::addColumn<bool>("isFinished");
    for (const char* step : kSteps) {
        QTest::newRow(step) << QByteArray(step) << (step == std::string("finishing"));
    }
}

namespace {
void goOnAndDie(const ScratchRepository& scratch, const QByteArray& step)
{
    QProcess child;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert(QStringLiteral("ROPE_TEST_KILL_FOLDER"), scratch.folder());
    environment.insert(QStringLiteral("ROPE_TEST_KILL_STEP"), QString::fromLatin1(step));
    child.setProcessEnvironment(environment);
    child.start(QCoreApplication::applicationFilePath(), {});
    QVERIFY(child.waitForFinished(60'000));
    QCOMPARE(child.exitStatus(), QProcess::CrashExit);
}
}  // namespace

void TestBegunJoin::kill_atEachStep_isFinishedOrAsBefore()
{
    QFETCH(const QByteArray, step);
    QFETCH(const bool, isFinished);
    ScratchRepository scratch;
    test::makeClashingBranches(scratch);
    test::beginMerge(scratch);
    scratch.write("tide.txt", "low\nhigh of both\n");
    scratch.git("add tide.txt");
    const QByteArray before = test::begunFingerprint(scratch);
    goOnAndDie(scratch, step);
    const RecordingNote note = noteIn(scratch.path());
    const auto recovery = recoverIn(scratch.path());
    QVERIFY2(recovery && *recovery, recovery ? "" : recovery.error().detail.c_str());
    QCOMPARE((*recovery)->isFinished, isFinished);
    if (isFinished) {
        QVERIFY(!QFile::exists(scratch.filePath(".git/rope-splice/begun-index")));
        QVERIFY(!QFile::exists(scratch.filePath(".git/MERGE_HEAD")));
        QCOMPARE(scratch.git("status --porcelain"), QByteArray());
    } else {
        QCOMPARE(test::begunFingerprint(scratch), before);
        // Cut off again before the journal knew of it: once more gives the same.
        const auto place = std::move(GitPlace::open(scratch.path())).value();
        const auto again = place->recover(note);
        QVERIFY2(again && !*again, again ? "" : again.error().detail.c_str());
        QCOMPARE(test::begunFingerprint(scratch), before);
    }
    QVERIFY(isSound(scratch));
}

void TestBegunJoin::kill_handingBack_isBeforeOrAfter_data()
{
    QTest::addColumn<QByteArray>("step");
    QTest::addColumn<bool>("isAsBefore");
    QTest::newRow("written") << QByteArray("handing back") << true;
    QTest::newRow("noted") << QByteArray("handed back") << false;
}

void TestBegunJoin::kill_handingBack_isBeforeOrAfter()
{
    QFETCH(const QByteArray, step);
    QFETCH(const bool, isAsBefore);
    ScratchRepository scratch;
    makeHalfDone(scratch);
    const QByteArray before = test::begunFingerprint(scratch);
    goOnAndDie(scratch, step);
    const QByteArray after = test::begunFingerprint(scratch);
    QVERIFY(after != before);
    const auto recovery = recoverIn(scratch.path());
    QVERIFY2(recovery && *recovery, recovery ? "" : recovery.error().detail.c_str());
    QVERIFY(!(*recovery)->isFinished);
    QCOMPARE(test::begunFingerprint(scratch), isAsBefore ? before : after);
    QVERIFY(isSound(scratch));
}

/// Of merges that git stopped in, with nothing edited: all that we ask about is open, handing back with
/// nothing decided leaves the same files half-joined, and recorded nothing is left over.
void TestBegunJoin::random_untouched_isTakenOverAndRecorded()
{
    using namespace rope::test;
    const unsigned first = randomSeed();
    const int rounds = test::roundsUnlessSaid(12);
    int taken = 0;
    for (int round = 0; round < rounds; ++round) {
        const unsigned seed = first + static_cast<unsigned>(round);
        const QByteArray where = "ROPE_TEST_ROUNDS=1 ROPE_TEST_SEED=" + QByteArray::number(seed);
        Random random(seed);
        ScratchRepository scratch;
        importRandomBranches(scratch, random, 6, 4);
        scratch.git("checkout -q ours");
        int exitCode = 0;
        scratch.tryGit({QStringLiteral("merge"), QStringLiteral("-q"), QStringLiteral("theirs")},
                       exitCode);
        if (exitCode == 0 || !QFile::exists(scratch.filePath(".git/MERGE_HEAD"))) {
            continue;
        }
        ++taken;
        Bench bench{takeOver(scratch.path()), nullptr};
        for (const SpliceFile& file : bench.taken.splice->files()) {
            // What git left there itself is nobody's own doing.
            QVERIFY2(!file.own, where + " " + file.outcome->path.c_str());
        }
        QVERIFY2(bench.taken.splice->openCount() == bench.taken.forecast->openCount(),
                 where.constData());
        bench.journal = std::move(Journal::open(*bench.taken.place->privateFolder())).value();
        JournalEntry entry;
        entry.plan = bench.taken.splice->plan();
        QVERIFY(bench.journal->begin(entry));
        const QByteArray stages = scratch.git("ls-files -u");
        const auto handed = giveBack(bench);
        QVERIFY2(handed, where.constData());
        QVERIFY2(scratch.git("ls-files -u") == stages, where.constData());

        bench = decidedAgain(scratch.path());
        QVERIFY2(bench.taken.splice->openCount() == 0, where.constData());
        const auto recorded = record(bench);
        QVERIFY2(recorded, where + " " + (recorded ? "" : recorded.error().detail.c_str()));
        QVERIFY2(scratch.git("status --porcelain").isEmpty(), where.constData());
        QVERIFY2(!QFile::exists(scratch.filePath(".git/MERGE_HEAD")), where.constData());
        QVERIFY2(isSound(scratch), where.constData());
    }
    qInfo("%d begun merges taken over", taken);
    QVERIFY(taken > 0 || rounds < 10);
}

ROPE_TESTS(TestBegunJoin, QCoreApplication)
#include "tst_begun_join.moc"
