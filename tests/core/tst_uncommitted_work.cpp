// SPDX-License-Identifier: GPL-3.0-or-later
// Uncommitted work around a recording: carried across, set aside and brought back, committed first,
// under a fast-forward; killed at each step.
#include "core/logbook/recorder.h"
#include "core/plan/carried_work.h"
#include "core/plan/recording_plan.h"
#include "core/system/git/git_place.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QDateTime>
#include <QProcess>
#include <QRandomGenerator>
#include <QTest>

#include <algorithm>
#include <csignal>
#include <unistd.h>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
constexpr const char* kId = "splice-1";

/// A repository whose clone is parted from `theirs`, with work of every sort that is not committed.
void makeUncommitted(ScratchRepository& scratch)
{
    test::makeDiverged(scratch);
    scratch.write("run.sh", "echo run\n");
    scratch.write("old.txt", "to go\n");
    scratch.commit("more of ours");
    scratch.write("plan.txt", "one\ntwo ours\nthree\nfour\nfive, not committed\nsix\n");
    scratch.write("keep.txt", "staged\n");
    scratch.git("add keep.txt");
    scratch.write("keep.txt", "staged, then edited\n");
    scratch.write("added.txt", "new and staged\n");
    scratch.git("add added.txt");
    scratch.remove("old.txt");
    QFile::setPermissions(scratch.filePath("run.sh"),
                          QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner);
    scratch.write("untracked.txt", "nobody's\n");
}

struct Bench
{
    std::unique_ptr<GitPlace> place;
    std::unique_ptr<Journal> journal;
    SplicePlan plan;
    std::unique_ptr<Splice> splice;
};

void decideAll(Splice& splice, const std::string& text)
{
    for (std::size_t file = 0; file < splice.files().size(); ++file) {
        const auto& spliced = splice.files()[file].text;
        for (std::size_t slot = 0; spliced && slot < spliced->slotCount(); ++slot) {
            if (spliced->isOpen(slot)) {
                splice.change({{{file, slot}, {true, std::string(kOwnText), text}}});
            }
        }
    }
}

Bench begun(const std::string& folder, WorkChoice choice)
{
    Bench bench;
    bench.place = std::move(GitPlace::open(folder)).value();
    bench.journal = std::move(Journal::open(*bench.place->privateFolder())).value();
    JournalEntry entry;
    entry.plan = {kId,
                  "refs/heads/ours",
                  "ours",
                  "theirs",
                  *bench.place->resolveCommit("ours"),
                  *bench.place->resolveCommit("theirs")};
    entry.plan.workChoice = choice;
    entry.startedAt = QDateTime::currentSecsSinceEpoch();
    (void)bench.journal->begin(entry);
    bench.plan = entry.plan;
    bench.splice = std::make_unique<Splice>(
        entry.plan,
        std::make_shared<const Forecast>(
            std::move(forecastJoin(*bench.place, entry.plan.ours, entry.plan.theirs)).value()));
    decideAll(*bench.splice, "two of both\n");
    return bench;
}

/// With its work saved, and joined to the result where it is to be carried.
RecordingPlan planOf(Bench& bench)
{
    const ObjectId work = *bench.place->saveWork("not committed yet");
    if (bench.plan.workChoice == WorkChoice::carry) {
        auto join = joinCarriedWork(*bench.place, work, *bench.splice->result());
        bench.splice->setWorkLeg(std::make_shared<const Join>(std::move(join).value()), work);
        decideAll(*bench.splice, "work of both\n");
    } else {
        bench.splice->setWork(work);
    }
    return recordingPlanOf(*bench.splice, "Merge theirs\n").value();
}

const char* const kSteps[] = {
    "takingOff", "bringing", "committing", "moving", "finishing", "carrying"};

/// What tracked files hold, in the order of their names.
QByteArray filesOf(ScratchRepository& scratch)
{
    QByteArray all;
    for (const char* file : {"plan.txt", "keep.txt", "added.txt", "old.txt", "run.sh", "new.txt"}) {
        all += QByteArray(file) + ": " + scratch.read(file) + "\n";
    }
    return all + (QFileInfo(scratch.filePath("run.sh")).isExecutable() ? "x" : "-");
}

/// The commit that is kept alive for a splice, whoever's journal knows it.
QByteArray kept(ScratchRepository& scratch, const QByteArray& what)
{
    return scratch.git("for-each-ref --format=%(objectname) refs/rope-splice/*/" + what);
}
}  // namespace

class TestUncommittedWork : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void save_touchesNothingAndIsAStash();
    void save_nothingUncommitted_isNull();
    void save_editInTheSameSecond_isSeen();
    void carry_leavesItUncommittedUponTheCommit();
    void carry_clash_isDecidedInItsOwnLeg();
    void carry_hookRefuses_bringsAllBack();
    void carry_hookStagesMore_staysInTheFiles();
    void carry_fileInTheWay_isPutBackLater();
    void kill_atEachStep_losesNothing_data();
    void kill_atEachStep_losesNothing();
    void kill_atAnyMoment_losesNothing();
    void changedMeanwhile_isNotTouched();
    void setAside_andBroughtBack();
    void fastForward_carriesWork();
    void ownCommit_takesWhatWasChosen();
    void replaced_commitGivesItsPlace();
    void keepBeside_findsFreeNames();
    void setWorkLeg_forgetsOnlyItsOwnSteps();
    void noWork_leavesTheFilesAlone();
};

/// Called again as a child, records and dies by SIGKILL at the step it is told.
void TestUncommittedWork::initTestCase()
{
    const QByteArray folder = qgetenv("ROPE_TEST_KILL_FOLDER");
    if (folder.isEmpty()) {
        return;
    }
    const std::string step = qgetenv("ROPE_TEST_KILL_STEP").toStdString();
    Bench bench = begun(folder.toStdString(),
                        qEnvironmentVariableIsSet("ROPE_TEST_ASIDE") ? WorkChoice::setAside
                                                                     : WorkChoice::carry);
    const RecordingPlan plan = planOf(bench);
    (void)recordSplice(*bench.place, *bench.journal, kId, plan, [&](const Progress& progress) {
        if (nameOf(progress.step) == step) {
            ::kill(::getpid(), SIGKILL);
        }
    });
    ::_exit(3);
}

void TestUncommittedWork::save_touchesNothingAndIsAStash()
{
    ScratchRepository scratch;
    makeUncommitted(scratch);
    const QByteArray before = scratch.fingerprint();
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const auto work = place->saveWork("not committed yet");
    QVERIFY2(work.hasValue(), work.hasValue() ? "" : work.error().detail.c_str());
    QCOMPARE(scratch.fingerprint(), before);
    const QByteArray files = filesOf(scratch);
    // git alone can bring it back, with what was staged.
    scratch.git("reset -q --hard");
    scratch.git({QStringLiteral("stash"),
                 QStringLiteral("apply"),
                 QStringLiteral("-q"),
                 QStringLiteral("--index"),
                 QString::fromStdString(work->hex())});
    QCOMPARE(filesOf(scratch), files);
    QCOMPARE(scratch.fingerprint(), before);
}

void TestUncommittedWork::save_nothingUncommitted_isNull()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.write("untracked.txt", "nobody's\n");
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    QVERIFY(place->saveWork("nothing")->isNull());
}

void TestUncommittedWork::save_editInTheSameSecond_isSeen()
{
    // Of the same size, and so soon after the commit that only the index's own age tells it.
    ScratchRepository scratch;
    scratch.write("a.txt", "fifteen\n");
    scratch.commit("first");
    scratch.write("a.txt", "sixteen\n");
    QTest::qSleep(1200);
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const auto work = place->saveWork("soon after");
    QVERIFY(!work->isNull());
    QCOMPARE(scratch.git(("show " + work->hex() + ":a.txt").c_str()), QByteArray("sixteen"));
}

void TestUncommittedWork::carry_leavesItUncommittedUponTheCommit()
{
    ScratchRepository scratch;
    makeUncommitted(scratch);
    Bench bench = begun(scratch.path(), WorkChoice::carry);
    const RecordingPlan plan = planOf(bench);
    const auto recorded = recordSplice(*bench.place, *bench.journal, kId, plan);
    QVERIFY2(recorded.hasValue(), recorded.hasValue() ? "" : recorded.error().detail.c_str());
    QCOMPARE(scratch.git("show HEAD:plan.txt"),
             QByteArray("one\ntwo of both\nthree\nfour\nfive\nSIX"));
    QCOMPARE(scratch.read("keep.txt"), QByteArray("staged, then edited\n"));
    QCOMPARE(scratch.read("added.txt"), QByteArray("new and staged\n"));
    QCOMPARE(scratch.git("status --porcelain"),
             QByteArray("A  added.txt\n M keep.txt\n D old.txt\n M plan.txt\n M run.sh\n"
                        "?? untracked.txt"));
    QVERIFY(scratch.git("fsck --strict --no-dangling").isEmpty());
}

void TestUncommittedWork::carry_clash_isDecidedInItsOwnLeg()
{
    ScratchRepository scratch;
    makeUncommitted(scratch);
    scratch.write("plan.txt", "one\ntwo not committed\nthree\nfour\nfive\nsix\n");
    Bench bench = begun(scratch.path(), WorkChoice::carry);
    const ObjectId work = *bench.place->saveWork("not committed yet");
    auto join = joinCarriedWork(*bench.place, work, *bench.splice->result());
    QVERIFY(join.hasValue());
    bench.splice->setWorkLeg(std::make_shared<const Join>(std::move(join).value()), work);
    QCOMPARE(bench.splice->openCountOf(0), std::size_t{0});
    QCOMPARE(bench.splice->openCountOf(bench.splice->workLeg()), std::size_t{1});
    decideAll(*bench.splice, "two, all of it\n");
    const auto plan = recordingPlanOf(*bench.splice, "Merge\n");
    QVERIFY(recordSplice(*bench.place, *bench.journal, kId, *plan));
    QCOMPARE(scratch.git("show HEAD:plan.txt"),
             QByteArray("one\ntwo of both\nthree\nfour\nfive\nSIX"));
    QCOMPARE(scratch.read("plan.txt"), QByteArray("one\ntwo, all of it\nthree\nfour\nfive\nSIX\n"));
}

void TestUncommittedWork::carry_hookRefuses_bringsAllBack()
{
    ScratchRepository scratch;
    makeUncommitted(scratch);
    scratch.addHook("pre-merge-commit", "git diff --quiet HEAD -- keep.txt || exit 7\nexit 1\n");
    const QByteArray before = scratch.fingerprint();
    const QByteArray files = filesOf(scratch);
    Bench bench = begun(scratch.path(), WorkChoice::carry);
    const auto recorded = recordSplice(*bench.place, *bench.journal, kId, planOf(bench));
    QCOMPARE(recorded.error().reason, Reason::hookRefused);
    QCOMPARE(scratch.fingerprint(), before);
    QCOMPARE(filesOf(scratch), files);
}

void TestUncommittedWork::carry_hookStagesMore_staysInTheFiles()
{
    ScratchRepository scratch;
    makeUncommitted(scratch);
    scratch.addHook("pre-merge-commit", "echo stamp > stamp.txt && git add stamp.txt\n");
    Bench bench = begun(scratch.path(), WorkChoice::carry);
    QVERIFY(recordSplice(*bench.place, *bench.journal, kId, planOf(bench)));
    QCOMPARE(scratch.git("show HEAD:stamp.txt"), QByteArray("stamp"));
    QCOMPARE(scratch.read("stamp.txt"), QByteArray("stamp\n"));
    QCOMPARE(scratch.read("keep.txt"), QByteArray("staged, then edited\n"));
}

void TestUncommittedWork::carry_fileInTheWay_isPutBackLater()
{
    ScratchRepository scratch;
    makeUncommitted(scratch);
    scratch.addHook("post-merge", "echo 'of the hook' > keep.txt\n");
    Bench bench = begun(scratch.path(), WorkChoice::carry);
    const auto recorded = recordSplice(*bench.place, *bench.journal, kId, planOf(bench));
    QCOMPARE(recorded.error().reason, Reason::workNotBack);
    QCOMPARE(scratch.git("rev-list --count --merges ours"), QByteArray("1"));
    QCOMPARE(scratch.read("keep.txt"), QByteArray("of the hook\n"));
    // Nothing is touched while it is in the way; once it is gone the work comes back.
    const auto still = recoverRecording(*bench.place, *bench.journal);
    QCOMPARE(still.error().reason, Reason::changedSince);
    QCOMPARE(QString::fromStdString(still.error().subject), QStringLiteral("keep.txt"));
    scratch.remove("keep.txt");
    QVERIFY(recoverRecording(*bench.place, *bench.journal)->value().isFinished);
    QCOMPARE(scratch.read("keep.txt"), QByteArray("staged, then edited\n"));
    QCOMPARE(scratch.git("status --porcelain -- added.txt old.txt"),
             QByteArray("A  added.txt\n D old.txt"));
}

void TestUncommittedWork::kill_atEachStep_losesNothing_data()
{
    QTest::addColumn<QByteArray>("step");
    QTest::addColumn<bool>("isAside");
    for (const char* step : kSteps) {
        QTest::addRow("carried, %s", step) << QByteArray(step) << false;
        if (step != kSteps[5]) {
            QTest::addRow("set aside, %s", step) << QByteArray(step) << true;
        }
    }
}

void TestUncommittedWork::kill_atEachStep_losesNothing()
{
    QFETCH(const QByteArray, step);
    QFETCH(const bool, isAside);
    ScratchRepository scratch;
    makeUncommitted(scratch);
    const QByteArray before = scratch.fingerprint();
    const QByteArray files = filesOf(scratch);
    QProcess child;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert(QStringLiteral("ROPE_TEST_KILL_FOLDER"), scratch.folder());
    environment.insert(QStringLiteral("ROPE_TEST_KILL_STEP"), QString::fromLatin1(step));
    if (isAside) {
        environment.insert(QStringLiteral("ROPE_TEST_ASIDE"), QStringLiteral("1"));
    }
    child.setProcessEnvironment(environment);
    child.start(QCoreApplication::applicationFilePath(), {});
    QVERIFY(child.waitForFinished(60'000));
    QCOMPARE(child.exitStatus(), QProcess::CrashExit);

    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const auto journal = std::move(Journal::open(*place->privateFolder())).value();
    const auto recovery = recoverRecording(*place, *journal);
    QVERIFY2(recovery.hasValue(), recovery.hasValue() ? "" : recovery.error().subject.c_str());
    QVERIFY(recovery->has_value());
    const bool isRecorded = step == kSteps[4] || step == kSteps[5];
    QCOMPARE((*recovery)->isFinished, isRecorded);
    if (!isRecorded) {
        QCOMPARE(scratch.fingerprint(), before);
        QCOMPARE(filesOf(scratch), files);
    } else if (isAside) {
        QCOMPARE(scratch.git("status --porcelain"), QByteArray("?? untracked.txt"));
        QCOMPARE(scratch.git("show " + kept(scratch, "splice-1/work") + ":keep.txt"),
                 QByteArray("staged, then edited"));
    } else {
        QCOMPARE(scratch.read("keep.txt"), QByteArray("staged, then edited\n"));
        QCOMPARE(scratch.git("status --porcelain -- added.txt old.txt"),
                 QByteArray("A  added.txt\n D old.txt"));
    }
    QVERIFY(scratch.git("fsck --strict --no-dangling").isEmpty());
    QVERIFY(!recoverRecording(*place, *journal)->has_value());
}

void TestUncommittedWork::kill_atAnyMoment_losesNothing()
{
    const int rounds = std::max(6, qEnvironmentVariableIntValue("ROPE_TEST_ROUNDS"));
    const auto seed = static_cast<quint32>(qEnvironmentVariableIntValue("ROPE_TEST_SEED"));
    QRandomGenerator random(seed == 0 ? QRandomGenerator::global()->generate() : seed);
    int finished = 0;
    int undone = 0;
    for (int round = 0; round < rounds; ++round) {
        ScratchRepository scratch;
        makeUncommitted(scratch);
        const QByteArray before = scratch.fingerprint();
        const QByteArray files = filesOf(scratch);
        QProcess child;
        QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
        environment.insert(QStringLiteral("ROPE_TEST_KILL_FOLDER"), scratch.folder());
        environment.insert(QStringLiteral("ROPE_TEST_KILL_STEP"), QStringLiteral("never"));
        child.setProcessEnvironment(environment);
        child.start(QCoreApplication::applicationFilePath(), {});
        QVERIFY(child.waitForStarted());
        const int moment = random.bounded(30, 500);
        QTest::qSleep(moment);
        ::kill(static_cast<pid_t>(child.processId()), SIGKILL);
        child.waitForFinished();
        QTest::qSleep(50);  // a git that it had started may end by itself
        const auto place = std::move(GitPlace::open(scratch.path())).value();
        const auto journal = std::move(Journal::open(*place->privateFolder())).value();
        auto recovery = recoverRecording(*place, *journal);
        for (int wait = 0; wait < 50 && !recovery && recovery.error().code == ErrorCode::busy;
             ++wait) {
            QTest::qSleep(100);
            recovery = recoverRecording(*place, *journal);
        }
        QVERIFY2(recovery.hasValue(),
                 qPrintable(QStringLiteral("killed after %1 ms: %2 %3 %4")
                                .arg(moment)
                                .arg(static_cast<int>(recovery.hasValue() ? ErrorCode::io
                                                                          : recovery.error().code))
                                .arg(QString::fromStdString(
                                         recovery.hasValue() ? "" : recovery.error().subject),
                                     QString::fromStdString(
                                         recovery.hasValue() ? "" : recovery.error().detail))));
        if (scratch.git("rev-list --count --merges ours") == "0") {
            ++undone;
            QVERIFY2(scratch.fingerprint() == before && filesOf(scratch) == files,
                     qPrintable(QStringLiteral("killed after %1 ms").arg(moment)));
        } else {
            ++finished;
            QCOMPARE(scratch.read("keep.txt"), QByteArray("staged, then edited\n"));
            QCOMPARE(scratch.read("added.txt"), QByteArray("new and staged\n"));
            QVERIFY(!QFile::exists(scratch.filePath("old.txt")));
        }
        QVERIFY(scratch.git("fsck --strict --no-dangling").isEmpty());
        QVERIFY(!QFile::exists(scratch.filePath(".git/index.lock")));
    }
    qInfo("%d undone, %d finished", undone, finished);
}

void TestUncommittedWork::changedMeanwhile_isNotTouched()
{
    ScratchRepository scratch;
    makeUncommitted(scratch);
    Bench bench = begun(scratch.path(), WorkChoice::carry);
    const RecordingPlan plan = planOf(bench);
    scratch.write("keep.txt", "edited once more\n");
    const QByteArray before = scratch.fingerprint();
    const auto recorded = recordSplice(*bench.place, *bench.journal, kId, plan);
    QCOMPARE(recorded.error().reason, Reason::workChanged);
    QCOMPARE(QString::fromStdString(recorded.error().subject), QStringLiteral("keep.txt"));
    QCOMPARE(scratch.fingerprint(), before);
    QCOMPARE(scratch.read("keep.txt"), QByteArray("edited once more\n"));
}

void TestUncommittedWork::setAside_andBroughtBack()
{
    ScratchRepository scratch;
    makeUncommitted(scratch);
    Bench bench = begun(scratch.path(), WorkChoice::setAside);
    const RecordingPlan plan = planOf(bench);
    const auto recorded = recordSplice(*bench.place, *bench.journal, kId, plan);
    QVERIFY(recorded);
    QCOMPARE(scratch.git("status --porcelain"), QByteArray("?? untracked.txt"));
    QCOMPARE(kept(scratch, "splice-1/work"), QByteArray::fromStdString(plan.work.hex()));

    JournalEntry back;
    back.plan = {
        "back", "refs/heads/ours", "work set aside", "ours", plan.work, recorded->commit.id};
    back.plan.kind = SpliceKind::bringBack;
    Splice splice(back.plan,
                  std::make_shared<const Forecast>(
                      forecastJoin(*bench.place, plan.work, recorded->commit.id).value()));
    QCOMPARE(splice.openCount(), std::size_t{1});  // neighbouring lines
    decideAll(splice, "five, not committed\nSIX\n");
    const auto backPlan = recordingPlanOf(splice, {});
    QVERIFY(recordAtOnce(*bench.place, *bench.journal, back, {}, *backPlan));
    QCOMPARE(scratch.git("rev-parse HEAD"), QByteArray::fromStdString(recorded->commit.id.hex()));
    QCOMPARE(scratch.read("plan.txt"),
             QByteArray("one\ntwo of both\nthree\nfour\nfive, not committed\nSIX\n"));
    QCOMPARE(scratch.git("status --porcelain -- added.txt old.txt"),
             QByteArray("A  added.txt\n D old.txt"));
}

void TestUncommittedWork::fastForward_carriesWork()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.git("switch -q -C ours main");
    scratch.write("keep.txt", "not committed\n");
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const auto journal = std::move(Journal::open(*place->privateFolder())).value();
    JournalEntry entry;
    entry.plan = {"ff",
                  "refs/heads/ours",
                  "ours",
                  "theirs",
                  *place->resolveCommit("ours"),
                  *place->resolveCommit("theirs")};
    entry.plan.kind = SpliceKind::fastForward;
    entry.plan.work = *place->saveWork("not committed yet");
    const ObjectId tips[] = {entry.plan.theirs};
    const ObjectId tree = place->readCommits(tips)->front().tree;
    const auto join = joinCarriedWork(*place, entry.plan.work, {tree, {}});
    QVERIFY(join && join->isClean());
    const auto after = resultTree(*join, {});
    const auto recorded = recordAtOnce(*place, *journal, entry, {}, movePlan(entry.plan, *after));
    QVERIFY2(recorded.hasValue(), recorded.hasValue() ? "" : recorded.error().detail.c_str());
    QCOMPARE(scratch.git("rev-parse ours"), scratch.git("rev-parse theirs"));
    QCOMPARE(scratch.git("status --porcelain"), QByteArray(" M keep.txt"));
    QCOMPARE(scratch.read("new.txt"), QByteArray("from theirs\n"));
    QCOMPARE(scratch.git("log -g -1 --format=%gs ours"), QByteArray("merge theirs: fast-forward"));
}

void TestUncommittedWork::ownCommit_takesWhatWasChosen()
{
    ScratchRepository scratch;
    makeUncommitted(scratch);
    scratch.addHook("pre-commit", "git diff --cached --name-only > .git/seen\n");
    Bench bench = begun(scratch.path(), WorkChoice::none);
    JournalEntry entry;
    entry.plan = bench.plan;
    entry.plan.id = "own";
    entry.plan.kind = SpliceKind::ownCommit;
    entry.plan.work = *bench.place->saveWork("not committed yet");
    const ObjectId ids[] = {entry.plan.work, entry.plan.ours};
    const auto commits = bench.place->readCommits(ids);
    const FileVersion added{EntryKind::file, bench.place->idOfBlob("new and staged\n")};
    const auto plan = ownCommitPlan(
        entry.plan,
        commits->at(0).tree,
        {commits->at(1).tree, {{"added.txt", added, nullptr}, {"old.txt", {}, nullptr}}},
        "Add one, take one away");
    const auto recorded = recordAtOnce(*bench.place, *bench.journal, entry, {}, *plan);
    QVERIFY2(recorded.hasValue(), recorded.hasValue() ? "" : recorded.error().detail.c_str());
    QCOMPARE(scratch.git("show --format=%s --name-status HEAD"),
             QByteArray("Add one, take one away\n\nA\tadded.txt\nD\told.txt"));
    QCOMPARE(scratch.read(".git/seen"), QByteArray("added.txt\nold.txt\n"));
    QCOMPARE(scratch.git("status --porcelain"),
             QByteArray(" M keep.txt\n M plan.txt\n M run.sh\n?? untracked.txt"));
    QCOMPARE(scratch.read("keep.txt"), QByteArray("staged, then edited\n"));
}

void TestUncommittedWork::replaced_commitGivesItsPlace()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    Bench bench = begun(scratch.path(), WorkChoice::none);
    const auto first = recordSplice(
        *bench.place, *bench.journal, kId, recordingPlanOf(*bench.splice, "Merge").value());
    QVERIFY(first);
    const QByteArray later = scratch.commitUpon("theirs");
    SplicePlan plan = bench.plan;
    plan.id = "second";
    plan.theirs = *ObjectId::fromHex(later.toStdString());
    plan.replaced = first->commit.id;
    Splice splice(plan,
                  std::make_shared<const Forecast>(
                      forecastJoin(*bench.place, plan.ours, plan.theirs).value()));
    decideAll(splice, "two, decided again\n");
    JournalEntry entry;
    entry.plan = plan;
    const auto second = recordAtOnce(
        *bench.place, *bench.journal, entry, {}, recordingPlanOf(splice, "Merge again").value());
    QVERIFY2(second.hasValue(), second.hasValue() ? "" : second.error().detail.c_str());
    QVERIFY(second->commit.parents == (std::vector<ObjectId>{plan.ours, plan.theirs}));
    QCOMPARE(scratch.read("plan.txt"),
             QByteArray("one\ntwo, decided again\nthree\nfour\nfive\nSIX\n"));
    QVERIFY(scratch.git("status --porcelain").isEmpty());
    // What it took the place of is not lost.
    QCOMPARE(kept(scratch, "second/replaced"), QByteArray::fromStdString(first->commit.id.hex()));
}

void TestUncommittedWork::keepBeside_findsFreeNames()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.write("new.txt", "mine\n");
    scratch.write("new.txt.mine", "older\n");
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const auto names = place->keepBeside({"new.txt"});
    QCOMPARE(names->front(), std::string("new.txt.mine-2"));
    QCOMPARE(scratch.read("new.txt.mine-2"), QByteArray("mine\n"));
    QCOMPARE(scratch.read("new.txt.mine"), QByteArray("older\n"));
}

void TestUncommittedWork::setWorkLeg_forgetsOnlyItsOwnSteps()
{
    ScratchRepository scratch;
    makeUncommitted(scratch);
    scratch.write("plan.txt", "one\ntwo not committed\nthree\nfour\nfive\nsix\n");
    Bench bench = begun(scratch.path(), WorkChoice::carry);
    Splice& splice = *bench.splice;
    const ObjectId work = *bench.place->saveWork("work");
    const auto leg = [&] {
        auto join = joinCarriedWork(*bench.place, work, *splice.result());
        return std::make_shared<const Join>(std::move(join).value());
    };
    splice.setWorkLeg(leg(), work);
    decideAll(splice, "mine\n");
    QVERIFY(splice.canUndo());
    splice.setWorkLeg(leg(), work);
    QVERIFY(!splice.canUndo());  // what lay before cannot be undone past what is gone
    QCOMPARE(splice.openCountOf(splice.workLeg()), std::size_t{1});
    const std::size_t ofPlan = splice.files()[0].leg == 0 ? 0 : 1;
    splice.reopen({ofPlan, splice.files()[ofPlan].text->slotOfRegion(0)});
    splice.setWorkLeg(splice.legs()[splice.workLeg()], work);
    QVERIFY(splice.canUndo());
    (void)splice.undo();
    QCOMPARE(splice.openCountOf(0), std::size_t{0});
}

void TestUncommittedWork::noWork_leavesTheFilesAlone()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    Bench bench = begun(scratch.path(), WorkChoice::carry);
    bench.splice->setWorkLeg(nullptr, {});
    QVERIFY(!bench.splice->hasWorkLeg());
    const auto plan = recordingPlanOf(*bench.splice, "Merge\n");
    QVERIFY(!plan->workAfter && plan->work.isNull());
    QVERIFY(recordSplice(*bench.place, *bench.journal, kId, *plan));
    QVERIFY(scratch.git("status --porcelain").isEmpty());
    QCOMPARE(scratch.read("keep.txt"), QByteArray("kept\n"));
}

ROPE_TESTS(TestUncommittedWork, QCoreApplication)
#include "tst_uncommitted_work.moc"
