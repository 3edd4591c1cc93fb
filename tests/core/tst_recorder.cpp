// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logbook/recorder.h"
#include "core/plan/recording_plan.h"
#include "core/system/git/git_place.h"
#include "core/system/writer_lock.h"
#include "tests/support/full_disk.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"
#include "tests/support/tree_recipe.h"

#include <QDateTime>
#include <QProcess>
#include <QSqlDatabase>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <QTest>

#include <csignal>
#include <thread>
#include <unistd.h>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
struct Bench
{
    std::unique_ptr<GitPlace> place;
    std::unique_ptr<Journal> journal;
    RecordingPlan plan;

    [[nodiscard]] Result<Recorded> record(const ProgressSink& progress = {},
                                          const std::stop_token& stop = {}) const
    {
        return recordSplice(*place, *journal, "splice-1", plan, progress, stop);
    }

    /// What has ended did so that long ago.
    void letAge(int days) const
    {
        const QString file =
            QString::fromStdString(*place->privateFolder()) + QStringLiteral("/journal.sqlite");
        {
            QSqlDatabase database =
                QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), QStringLiteral("ageing"));
            database.setDatabaseName(file);
            QVERIFY(database.open());
            QSqlQuery query(database);
            QVERIFY(query.exec(QStringLiteral("UPDATE splice SET ended_at = ended_at - %1")
                                   .arg(days * 24 * 60 * 60)));
        }
        QSqlDatabase::removeDatabase(QStringLiteral("ageing"));
    }
};

/// Opens the repository and decides all that is open by hand, with the decisions journalled.
Bench decided(const std::string& folder)
{
    Bench bench;
    bench.place = std::move(GitPlace::open(folder)).value();
    bench.journal = std::move(Journal::open(*bench.place->privateFolder())).value();
    const ObjectId ours = *bench.place->resolveCommit("ours");
    const ObjectId theirs = *bench.place->resolveCommit("theirs");
    JournalEntry entry;
    entry.plan = {"splice-1", "refs/heads/ours", "ours", "theirs", ours, theirs};
    entry.startedAt = QDateTime::currentSecsSinceEpoch();
    auto forecast = std::make_shared<const Forecast>(
        std::move(forecastJoin(*bench.place, ours, theirs)).value());
    Splice splice(entry.plan, forecast);
    (void)bench.journal->begin(entry);
    splice.setChangeSink(
        [&](const SpliceChange& change) { (void)bench.journal->storeChange("splice-1", change); });
    for (std::size_t file = 0; file < splice.files().size(); ++file) {
        const auto& text = splice.files()[file].text;
        for (std::size_t slot = 0; text && slot < text->slotCount(); ++slot) {
            if (text->isOpen(slot)) {
                splice.change({{{file, slot}, {true, std::string(kOwnText), "two of both\n"}}});
            }
        }
    }
    bench.plan = recordingPlanOf(splice, "Merge theirs into ours\n").value();
    return bench;
}

/// Runs this program again as a child that records and dies at a step, or in a hook that kills it.
void recordAndDie(const ScratchRepository& scratch, const QByteArray& step)
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

Result<std::optional<Recovery>> recoverIn(const std::string& folder)
{
    const auto place = std::move(GitPlace::open(folder)).value();
    const auto journal = std::move(Journal::open(*place->privateFolder())).value();
    return recoverRecording(*place, *journal);
}

bool isClean(ScratchRepository& scratch)
{
    return scratch.git("status --porcelain").isEmpty()
           && scratch.git("fsck --strict --no-dangling").isEmpty();
}

const char* const kSteps[] = {"bringing", "committing", "moving", "finishing"};
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
    void entriesOfIntentToAdd_survive();
    void keepingAlive_runsNoHook();
    void record_hookStagesAndRefuses_isUnstaged();
    void record_obstacles_changeNothing_data();
    void record_obstacles_changeNothing();
    void record_diskFull_changesNothing();
    void record_signingFails_isRefused();
    void kill_atEachStep_isFinishedOrUndone_data();
    void kill_atEachStep_isFinishedOrUndone();
    void kill_oddPaths_areUndone_data();
    void kill_oddPaths_areUndone();
    void recover_fileEditedMeanwhile_isLeftAlone();
    void recover_cutOffFiles_areNobodysWork();
    void recover_untouchedMarks_stay();
    void recover_writtenUnderAnOldName_staysThere();
    void recover_branchWentOn_followsIt();
    void recover_commitWithLaterOnes_wasRecorded();
    void recover_leftovers_areTidied();
    void oldSplices_areForgotten_workSetAsideIsNot();
    void unknownJournal_isNotRecovered();
    void branchSwitchedByHook_isRefused();
    void lineCheckedOutByHook_isRefused();
    void hook_harms_areTakenBack_data();
    void hook_harms_areTakenBack();
    void hook_thatHangs_canBeStopped();
    void hook_thatHangsAfterwards_canBeStopped();
    void hook_movesTheBranch_filesFollow();
    void record_requiredFilterFails_goesBack();
    void record_severalCommits_keepAuthors();
    void lock_outlivesItsOwnerInItsChildren();
    void record_intoAnothersWorkingTree_isRefused();
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
    (void)bench.record([&](const Progress& progress) {
        if (nameOf(progress.step) == step) {
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
    const auto recorded = bench.record();
    QVERIFY2(recorded.hasValue(), recorded.hasValue() ? "" : recorded.error().detail.c_str());
    QCOMPARE(scratch.git("log -1 --format=%P"), ours + " " + theirs);
    QCOMPARE(scratch.git("rev-parse --abbrev-ref HEAD"), QByteArray("ours"));
    QCOMPARE(scratch.git("log -1 --format=%an.%ae.%s"),
             QByteArray("Maren Voss.maren@slackwater.example.Merge theirs into ours"));
    QCOMPARE(scratch.read("plan.txt"), QByteArray("one\ntwo of both\nthree\nfour\nfive\nSIX\n"));
    QCOMPARE(scratch.read("new.txt"), QByteArray("from theirs\n"));
    QVERIFY(isClean(scratch));
    QCOMPARE(bench.journal->splices(SpliceState::recorded)->size(), std::size_t{1});
    QVERIFY(!recoverRecording(*bench.place, *bench.journal)->has_value());
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
    QVERIFY(bench.record().hasValue());
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
    const auto recorded = bench.record();
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
    QVERIFY(bench.record().hasValue());
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
    const auto recorded = bench.record();
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
    const auto recorded = bench.record();
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
    QVERIFY(bench.record().hasValue());
    QCOMPARE(scratch.git("show HEAD:stamp.txt"), QByteArray("stamp"));
    QVERIFY(isClean(scratch));
}

/// A file that is only meant to be added stays so, whatever became of the recording.
void TestRecorder::entriesOfIntentToAdd_survive()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.write("meant.txt", "to be added\n");
    scratch.git("add --intent-to-add meant.txt");
    const QByteArray before = scratch.git("diff --name-only --diff-filter=A");
    QCOMPARE(before, QByteArray("meant.txt"));
    const Bench bench = decided(scratch.path());
    scratch.addHook("commit-msg", "exit 1");
    QVERIFY(!bench.record().hasValue());
    QCOMPARE(scratch.git("diff --name-only --diff-filter=A"), before);
    QVERIFY(scratch.git("diff --cached --name-only").isEmpty());
    QCOMPARE(scratch.read("meant.txt"), QByteArray("to be added\n"));
}

/// Looking keeps things alive by refs, and looking runs nothing of the repository's own.
void TestRecorder::keepingAlive_runsNoHook()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.addHook("reference-transaction", "echo ran >>.git/ran");
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    QVERIFY(place->keepAlive("abc/splice-1/ours", *place->resolveCommit("ours")));
    QVERIFY(place->keepAlive("abc/splice-1/ours", {}));
    QCOMPARE(scratch.read(".git/ran"), QByteArray("(no such file)"));
}

void TestRecorder::record_hookStagesAndRefuses_isUnstaged()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.addHook(
        "pre-merge-commit",
        "echo stamp > stamp.txt; echo more >> keep.txt; git add stamp.txt keep.txt; exit 1");
    const Bench bench = decided(scratch.path());
    const auto refused = bench.record();
    QVERIFY(!refused);
    QCOMPARE(refused.error().reason, Reason::hookRefused);
    QVERIFY(refused.error().detail.find("keep.txt, stamp.txt") != std::string::npos);
    // What the hook wrote stays, as no part of the next commit.
    QCOMPARE(scratch.git("diff --cached --name-only"), QByteArray());
    QCOMPARE(scratch.git("status --porcelain -- stamp.txt"), QByteArray("?? stamp.txt"));
    QCOMPARE(scratch.git("diff --name-only"), QByteArray("keep.txt"));
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
    QTest::newRow("switched-branch")
        << QByteArray("switched") << static_cast<int>(ErrorCode::stale);
    QTest::newRow("ignored-file-in-the-way")
        << QByteArray("ignored") << static_cast<int>(ErrorCode::stale);
    QTest::newRow("folder-in-the-way")
        << QByteArray("folder") << static_cast<int>(ErrorCode::stale);
    QTest::newRow("other-recording") << QByteArray("other") << static_cast<int>(ErrorCode::busy);
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
    } else if (obstacle == "switched") {
        scratch.git("switch -q -c elsewhere");
    }
    std::unique_ptr<WriterLock> lock;
    if (obstacle == "ignored") {
        scratch.write(".git/info/exclude", "new.txt\n");
        scratch.write("new.txt", "mine\n");
    } else if (obstacle == "folder") {
        scratch.write("new.txt/inner", "mine\n");
    } else if (obstacle == "other") {
        lock = std::move(WriterLock::take(*bench.place->privateFolder())).value();
    }
    const QByteArray refs = scratch.git("for-each-ref refs/heads");
    const QByteArray plan = scratch.read("plan.txt");
    const auto recorded = bench.record();
    QVERIFY(!recorded.hasValue());
    QCOMPARE(static_cast<int>(recorded.error().code), code);
    scratch.remove(".git/index.lock");
    QCOMPARE(scratch.git("for-each-ref refs/heads"), refs);
    QCOMPARE(scratch.read("plan.txt"), plan);
    if (obstacle == "untracked" || obstacle == "ignored") {
        QCOMPARE(scratch.read("new.txt"), QByteArray("mine\n"));
    }
    lock.reset();
    QVERIFY(!recoverRecording(*bench.place, *bench.journal)->has_value());
    QCOMPARE(bench.journal->splices(SpliceState::open)->size(), std::size_t{1});
}

void TestRecorder::record_diskFull_changesNothing()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    Bench bench = decided(scratch.path());
    for (ResultEdit& edit : bench.plan.commits.front().result.edits) {
        if (edit.bytes) {
            edit.bytes =
                std::make_shared<const std::string>(*edit.bytes + std::string(4'000'000, 'x'));
        }
    }
    const QByteArray before = scratch.fingerprint();
    const auto recorded = [&] {
        const test::FullDisk disk;
        return bench.record();
    }();
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
    const auto recorded = bench.record();
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
    QVERIFY(bench.record().hasValue());
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
    recordAndDie(scratch, step);
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const auto journal = std::move(Journal::open(*place->privateFolder())).value();
    const auto recovery = recoverRecording(*place, *journal);
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
    QVERIFY(!recoverRecording(*place, *journal)->has_value());  // once is enough
}

void TestRecorder::recover_fileEditedMeanwhile_isLeftAlone()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    recordAndDie(scratch, kSteps[1]);
    scratch.write("plan.txt", "written after the crash\n");
    const QByteArray added = scratch.read("new.txt");
    const auto recovery = recoverIn(scratch.path());
    QVERIFY(!recovery.hasValue());
    QCOMPARE(recovery.error().reason, Reason::changedSince);
    QCOMPARE(recovery.error().subject, std::string("plan.txt"));
    QCOMPARE(scratch.read("plan.txt"), QByteArray("written after the crash\n"));
    QCOMPARE(scratch.read("new.txt"), added);  // nothing at all was touched
    // What the message says helps: once it is moved elsewhere, everything goes back.
    scratch.remove("plan.txt");
    QVERIFY(recoverIn(scratch.path()).hasValue());
    QVERIFY(isClean(scratch));
}

namespace {
/// Whatever a killed checkout or a person can leave behind, and what must come of it.
struct Leftover
{
    const char* name;
    const char* base;  ///< Recipes, see tree_recipe.h
    const char* theirs;
};
const Leftover kLeftovers[] = {
    {"link", "a=1;b=2;@l=a", "@l=b"},
    {"folder-to-link", "d/x=1;a=2", "-d/x;@d=elsewhere"},
    {"link-to-folder", "@d=elsewhere;a=2", "-d;d/x=1"},
    {"mode", "s=1", "+s"},
    {"line-break-in-name", "a\nb=1", "a\nb=2"},
    {"quotes-in-name", "a\"b\\c=1", "a\"b\\c=2"},
    {"renamed", "old=%30", "old>new"},
    {"emptied-folder", "deep/er/x=1;a=1", "-deep/er/x"},
};
}  // namespace

void TestRecorder::kill_oddPaths_areUndone_data()
{
    QTest::addColumn<int>("row");
    QTest::addColumn<QByteArray>("step");
    for (std::size_t i = 0; i < std::size(kLeftovers); ++i) {
        for (const int step : {0, 1}) {
            QTest::newRow(qPrintable(
                QStringLiteral("%1-%2").arg(QLatin1String(kLeftovers[i].name)).arg(step)))
                << static_cast<int>(i) << QByteArray(kSteps[step]);
        }
    }
}

void TestRecorder::kill_oddPaths_areUndone()
{
    QFETCH(int, row);
    QFETCH(QByteArray, step);
    ScratchRepository scratch;
    const Leftover& leftover = kLeftovers[row];
    test::makeBranches(scratch, QByteArray("o=1;") + leftover.base, "o=2", leftover.theirs);
    const QByteArray before = scratch.fingerprint();
    recordAndDie(scratch, step);
    const auto recovery = recoverIn(scratch.path());
    QVERIFY2(recovery.hasValue(), recovery.hasValue() ? "" : recovery.error().subject.c_str());
    QCOMPARE(scratch.fingerprint(), before);
    QVERIFY(isClean(scratch));
}

void TestRecorder::recover_cutOffFiles_areNobodysWork()
{
    ScratchRepository scratch;
    test::makeBranches(
        scratch, "a=%200;b=%200;c=%200;d=%200", "o=1", "a=%200/3=x;b=%200/3=x;c=%200/3=x;-d;e=%50");
    const QByteArray before = scratch.fingerprint();
    recordAndDie(scratch, kSteps[1]);
    scratch.write("a", scratch.read("a").left(500));  // cut off
    scratch.write("b", "");                           // not begun
    scratch.remove("c");                              // unlinked, not written
    scratch.write("e", scratch.read("e").left(100));
    scratch.write(".git/index.lock", "half an index");  // of a git that was killed with us
    QVERIFY(recoverIn(scratch.path()).hasValue());
    QVERIFY(!QFile::exists(scratch.filePath(".git/index.lock")));
    QCOMPARE(scratch.fingerprint(), before);
    QVERIFY(isClean(scratch));
}

void TestRecorder::recover_untouchedMarks_stay()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.write("settings", "default\n");
    scratch.commit("settings");
    scratch.git("update-index --assume-unchanged settings");
    scratch.write("settings", "my own\n");
    recordAndDie(scratch, kSteps[1]);
    QVERIFY(recoverIn(scratch.path()).hasValue());
    QCOMPARE(scratch.read("settings"), QByteArray("my own\n"));
    QVERIFY(scratch.git("ls-files -v settings").startsWith("h "));
    QVERIFY(isClean(scratch));
}

void TestRecorder::recover_writtenUnderAnOldName_staysThere()
{
    ScratchRepository scratch;
    test::makeBranches(scratch, "old=%30", "o=1", "old>new");
    recordAndDie(scratch, kSteps[1]);
    scratch.write("old", "hours of my work\n");
    QCOMPARE(recoverIn(scratch.path()).error().subject, std::string("old"));
    QCOMPARE(scratch.read("old"), QByteArray("hours of my work\n"));
}

void TestRecorder::recover_branchWentOn_followsIt()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    recordAndDie(scratch, kSteps[1]);
    // Somebody moved the branch from elsewhere meanwhile.
    const QByteArray commit = scratch.commitUpon("ours");
    QVERIFY(recoverIn(scratch.path()).hasValue());
    QVERIFY(isClean(scratch));
    QCOMPARE(scratch.git("rev-parse ours"), commit);
}

void TestRecorder::recover_commitWithLaterOnes_wasRecorded()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    recordAndDie(scratch, kSteps[3]);
    scratch.commit("went on by hand");
    const auto recovery = recoverIn(scratch.path());
    QVERIFY(recovery.hasValue() && recovery->has_value());
    QVERIFY((*recovery)->isFinished);
    QVERIFY(isClean(scratch));
}

void TestRecorder::hook_harms_areTakenBack_data()
{
    QTest::addColumn<QByteArray>("hook");
    QTest::addColumn<int>("reason");
    const int refused = static_cast<int>(Reason::hookRefused);
    const int changed = static_cast<int>(Reason::hookChangedResult);
    QTest::newRow("edits-and-refuses") << QByteArray("echo more >>plan.txt; exit 1") << refused;
    QTest::newRow("stages-and-refuses")
        << QByteArray("echo more >>plan.txt; git add plan.txt; exit 1") << refused;
    QTest::newRow("deletes-and-refuses") << QByteArray("rm plan.txt; exit 1") << refused;
    QTest::newRow("stashes") << QByteArray("git stash -q") << changed;
    QTest::newRow("resets") << QByteArray("git reset -q --hard") << changed;
    QTest::newRow("removes-the-index") << QByteArray("rm .git/index") << changed;
    QTest::newRow("restages-the-result")
        << QByteArray("echo x >>plan.txt; git add plan.txt") << changed;
    QTest::newRow("index-gone-and-refuses") << QByteArray("rm .git/index; exit 1") << refused;
}

void TestRecorder::hook_harms_areTakenBack()
{
    QFETCH(QByteArray, hook);
    QFETCH(int, reason);
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const QByteArray before = scratch.fingerprint();
    const Bench bench = decided(scratch.path());
    scratch.addHook("pre-merge-commit", hook);
    const auto recorded = bench.record();
    QVERIFY(!recorded.hasValue());
    QCOMPARE(static_cast<int>(recorded.error().reason), reason);
    QCOMPARE(scratch.fingerprint(), before);
    QVERIFY(isClean(scratch));
    QCOMPARE(bench.journal->splices(SpliceState::open)->size(), std::size_t{1});
    if (hook.startsWith("echo more")) {
        // What the hook had made of it is not lost either.
        QVERIFY(recorded.error().detail.find("set-aside") != std::string::npos);
    }
    scratch.remove(".git/hooks/pre-merge-commit");
    QVERIFY(bench.record().hasValue());
    QVERIFY(isClean(scratch));
}

namespace {
/// Asks to stop as soon as a hook says that it runs.
std::jthread stopperInHook(const ScratchRepository& scratch, std::stop_source& stop)
{
    return std::jthread([&] {
        for (int i = 0; i < 600 && !QFile::exists(scratch.filePath(".git/in-hook")); ++i) {
            std::this_thread::sleep_for(std::chrono::milliseconds(50));
        }
        stop.request_stop();
    });
}
}  // namespace

void TestRecorder::hook_thatHangs_canBeStopped()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const QByteArray before = scratch.fingerprint();
    const Bench bench = decided(scratch.path());
    scratch.addHook("pre-merge-commit", "touch .git/in-hook; sleep 1000 & sleep 1000");
    std::stop_source stop;
    const std::jthread stopper = stopperInHook(scratch, stop);
    const auto recorded = bench.record({}, stop.get_token());
    QVERIFY(!recorded.hasValue());
    QCOMPARE(recorded.error().code, ErrorCode::cancelled);
    QCOMPARE(scratch.fingerprint(), before);
    QVERIFY(isClean(scratch));
}

void TestRecorder::hook_thatHangsAfterwards_canBeStopped()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const Bench bench = decided(scratch.path());
    scratch.addHook("post-merge", "touch .git/in-hook; sleep 1000 & sleep 1000");
    std::stop_source stop;
    const std::jthread stopper = stopperInHook(scratch, stop);
    const auto recorded = bench.record({}, stop.get_token());
    QVERIFY(recorded.hasValue());
    QVERIFY(recorded->hookOutput.find("post-merge was stopped") != std::string::npos);
    QCOMPARE(scratch.git("rev-parse ours").toStdString(), recorded->commit.id.hex());
    QVERIFY(isClean(scratch));
}

void TestRecorder::hook_movesTheBranch_filesFollow()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const Bench bench = decided(scratch.path());
    scratch.addHook(
        "commit-msg",
        "c=$(git commit-tree ours^{tree} -p ours -m later); git update-ref refs/heads/ours $c");
    const auto recorded = bench.record();
    QVERIFY(!recorded.hasValue());
    QCOMPARE(recorded.error().reason, Reason::lineMoved);
    QCOMPARE(scratch.git("log -1 --format=%s ours"), QByteArray("later"));
    QVERIFY(isClean(scratch));
}

void TestRecorder::branchSwitchedByHook_isRefused()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const Bench bench = decided(scratch.path());
    const QByteArray before = scratch.git("rev-parse ours");
    scratch.addHook("pre-merge-commit", "git symbolic-ref HEAD refs/heads/other");
    scratch.git("branch other ours");
    const auto recorded = bench.record();
    QVERIFY(!recorded.hasValue());
    QCOMPARE(recorded.error().reason, Reason::switched);
    QCOMPARE(scratch.git("rev-parse ours"), before);
    QCOMPARE(scratch.git("rev-parse --abbrev-ref HEAD"), QByteArray("other"));
    QVERIFY(isClean(scratch));
}

void TestRecorder::lineCheckedOutByHook_isRefused()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    Bench bench = decided(scratch.path());
    const QByteArray before = scratch.git("rev-parse ours");
    scratch.git("switch -q main");
    bench.plan.keepsFiles = true;
    const QTemporaryDir folder;
    const QByteArray second = folder.filePath(QStringLiteral("second")).toUtf8();
    scratch.addHook("commit-msg", "git worktree add -q '" + second + "' ours");
    const auto recorded = bench.record();
    QVERIFY(!recorded.hasValue());
    QCOMPARE(recorded.error().reason, Reason::checkedOut);
    QCOMPARE(scratch.git("rev-parse ours"), before);
}

void TestRecorder::record_requiredFilterFails_goesBack()
{
    ScratchRepository scratch;
    test::makeBranches(scratch, "a=%30;b=%30;c=%30", "o=1", "a=%30/2=x;b=%30/2=x;c=%30/2=x;n=1");
    scratch.write(".gitattributes", "b filter=large\n");
    scratch.commit("attributes");
    scratch.git("config filter.large.clean cat");
    scratch.git("config filter.large.smudge false");
    scratch.git("config filter.large.required true");
    const Bench bench = decided(scratch.path());
    const QByteArray before = scratch.git("rev-parse ours");
    QVERIFY(!bench.record().hasValue());
    scratch.git("config filter.large.smudge cat");
    (void)recoverIn(scratch.path());  // where it could not go back at once, it does now
    QVERIFY(isClean(scratch));
    QCOMPARE(scratch.git("rev-parse ours"), before);
    QVERIFY(bench.record().hasValue());
    QVERIFY(isClean(scratch));
}

void TestRecorder::record_severalCommits_keepAuthors()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const Bench bench = decided(scratch.path());
    const ObjectId ours = *bench.place->resolveCommit("ours");
    const ObjectId tree = bench.plan.commits.front().result.from;
    const auto bytes = [](const char* text) {
        return std::make_shared<const std::string>(text);
    };
    RecordingPlan plan = bench.plan;
    plan.reason = "rewritten";
    plan.commits = {
        {{tree, {{"one", FileVersion{}, bytes("1\n")}}},
         {ours},
         "first\n",
         Signature{"Priya", "p@slackwater.example", 1'700'000'000, "+0530"},
         {},
         {}},
        {{tree, {{"one", FileVersion{}, bytes("1\n")}, {"two", FileVersion{}, bytes("2\n")}}},
         {ObjectId{}},
         "second\n",
         {},
         {},
         {}}};
    const auto recorded = recordSplice(*bench.place, *bench.journal, "splice-1", plan);
    QVERIFY2(recorded.hasValue(), recorded.hasValue() ? "" : recorded.error().detail.c_str());
    QCOMPARE(scratch.git("log -2 --format=%an.%s"), QByteArray("Maren Voss.second\nPriya.first"));
    QCOMPARE(scratch.git("log -1 --skip=1 --format=%ad --date=raw"),
             QByteArray("1700000000 +0530"));
    QCOMPARE(scratch.read("two"), QByteArray("2\n"));
    QVERIFY(isClean(scratch));
}

void TestRecorder::recover_leftovers_areTidied()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const Bench bench = decided(scratch.path());
    const ObjectId ours = *bench.place->resolveCommit("ours");
    const auto own = [&](const char* splice, const char* part) {
        return bench.journal->keptName(splice, part);
    };
    QVERIFY(bench.place->keepAlive("nobody-knows/work", ours));        // an earlier version's
    QVERIFY(bench.place->keepAlive("0123456789ab/other/work", ours));  // another working tree's
    QVERIFY(bench.place->keepAlive(own("splice-1", "ours"), ours));
    QVERIFY(bench.place->keepAlive("notes-being-written", ours));
    QVERIFY(!recoverRecording(*bench.place, *bench.journal)->has_value());
    const auto kept = bench.place->keptAlive();
    QCOMPARE(*kept,
             (std::vector<std::string>{
                 "0123456789ab/other/work", own("splice-1", "ours"), "nobody-knows/work"}));
    const auto others = keptByOthers(*bench.place, *bench.journal);
    QCOMPARE(others->size(), std::size_t{2});
    QCOMPARE(others->front().part, std::string("work"));
    // Recorded, it can still be reopened: its commits stay.
    QVERIFY(bench.record().hasValue());
    QVERIFY(!recoverRecording(*bench.place, *bench.journal)->has_value());
    QCOMPARE(bench.place->keptAlive()->size(), std::size_t{3});
}

void TestRecorder::oldSplices_areForgotten_workSetAsideIsNot()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const Bench bench = decided(scratch.path());
    const ObjectId ours = *bench.place->resolveCommit("ours");
    QVERIFY(bench.record().hasValue());
    QVERIFY(bench.place->keepAlive(bench.journal->keptName("splice-1", "ours"), ours));
    QVERIFY(bench.place->keepAlive(bench.journal->keptName("splice-1", "work"), ours));
    QVERIFY(bench.journal->setWork("splice-1", WorkChoice::setAside, ours));
    bench.letAge(200);
    QVERIFY(!recoverRecording(*bench.place, *bench.journal)->has_value());
    QCOMPARE(bench.place->keptAlive()->size(), std::size_t{2});
    QVERIFY(bench.journal->splice("splice-1")->has_value());
    QVERIFY(bench.journal->setWork("splice-1", WorkChoice::broughtBack, ours));
    QVERIFY(!recoverRecording(*bench.place, *bench.journal)->has_value());
    QVERIFY(bench.place->keptAlive()->empty());
    QVERIFY(!bench.journal->splice("splice-1")->has_value());
}

void TestRecorder::unknownJournal_isNotRecovered()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const Bench bench = decided(scratch.path());
    const QTemporaryDir state;
    qputenv("XDG_STATE_HOME", state.path().toUtf8());
    const auto journal = std::move(Journal::open(*bench.place->privateFolder())).value();
    const auto recovered = recoverRecording(*bench.place, *journal);
    qunsetenv("XDG_STATE_HOME");
    QVERIFY(!recovered);
    QCOMPARE(recovered.error().reason, Reason::begunElsewhere);
}

void TestRecorder::lock_outlivesItsOwnerInItsChildren()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const std::string folder = *place->privateFolder();
    QProcess child;
    {
        const auto lock = std::move(WriterLock::take(folder)).value();
        const auto second = WriterLock::take(folder);
        QVERIFY(!second);
        QCOMPARE(second.error().reason, Reason::recordingElsewhere);
        QCOMPARE(second.error().subject, std::to_string(::getpid()));
        child.start(QStringLiteral("sleep"), {QStringLiteral("1000")});
        QVERIFY(child.waitForStarted());
    }
    QVERIFY(WriterLock::take(folder));  // let go, it is free, whatever else runs
    child.kill();
    child.waitForFinished();
}

void TestRecorder::record_intoAnothersWorkingTree_isRefused()
{
    ScratchRepository own;
    test::makeDiverged(own);
    const QByteArray before = own.fingerprint();
    ScratchRepository handedOver;
    test::makeDiverged(handedOver);
    handedOver.git(
        QStringList{QStringLiteral("config"), QStringLiteral("core.worktree"), own.folder()});
    const QByteArray refs = handedOver.git("for-each-ref refs/heads");
    const Bench bench = decided(handedOver.path());
    QCOMPARE(bench.record().error().reason, Reason::foreignWorkingTree);
    QCOMPARE(own.fingerprint(), before);
    QCOMPARE(handedOver.git("for-each-ref refs/heads"), refs);
}

ROPE_TESTS(TestRecorder, QCoreApplication)
#include "tst_recorder.moc"
