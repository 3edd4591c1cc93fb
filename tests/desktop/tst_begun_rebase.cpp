// SPDX-License-Identifier: GPL-3.0-or-later
// Rebases, cherry-picks and reverts that were begun with git: told, finished by a splice, handed back; killed
// on the way; and at random, against what git makes of the same decisions. ROPE_TEST_SEED and
// ROPE_TEST_ROUNDS as in tst_random_merges.cpp.
#include "core/decide/begun_decisions.h"
#include "core/logbook/recorder.h"
#include "core/plan/begun_splice.h"
#include "core/plan/commit_message.h"
#include "core/plan/recording_plan.h"
#include "desktop/course/splice_tasks.h"
#include "desktop/wording/obstacles.h"
#include "tests/support/killed_child.h"
#include "tests/support/random_trees.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QDir>
#include <QTest>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
constexpr const char* kLines = "1\n2\n3\n4\n5\n6\n7\n8\n9\n10\n11\n12\n13\n14\n15\n";

QByteArray with(QByteArray text, const char* line, const char* instead)
{
    return text.replace(QByteArray("\n") + line + "\n", QByteArray("\n") + instead + "\n");
}

/// `ours` has three commits, of which the first and the last clash with the one of `theirs`.
void prepare(ScratchRepository& scratch)
{
    scratch.write("plan.txt", kLines);
    scratch.write("own.txt", "own\n");
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("plan.txt", with(with(kLines, "2", "2 theirs"), "12", "12 theirs"));
    scratch.write("theirs.txt", "theirs\n");
    scratch.commit("theirs edits");
    scratch.git("switch -q -c ours main");
    QByteArray text = with(kLines, "2", "2 ours");
    scratch.write("plan.txt", text);
    scratch.git({QStringLiteral("commit"),
                 QStringLiteral("-qam"),
                 QStringLiteral("first"),
                 QStringLiteral("--author=Tao Lindqvist <tao@slackwater.example>"),
                 QStringLiteral("--date=@1790000000 +0545")});
    scratch.write("second.txt", "a file of its own\n");
    scratch.commit("second");
    scratch.write("plan.txt", with(text, "12", "12 ours"));
    scratch.commit("third");
}

/// Runs git; it is to stop with something half-joined.
void stop(ScratchRepository& scratch, const char* words)
{
    int exitCode = 0;
    scratch.tryGit(QString::fromUtf8(words).split(QLatin1Char(' ')), exitCode);
    QVERIFY2(exitCode != 0, words);
}

/// Taken over as the window does it.
struct Taken
{
    std::unique_ptr<Place> place;
    BegunJoin join;
    std::unique_ptr<Journal> journal;
    std::unique_ptr<Splice> splice;
    RebaseScope scope;
    PlaceAddress address;

    explicit Taken(const std::string& folder, const char* id = "splice-1")
    {
        address.folder = folder;
        const BegunWork work = begunWork(address).value();
        join = work.join;
        SplicePlan plan = planToFinish(join, work.files.stamp);
        plan.id = id;
        plan.workChoice = WorkChoice::none;
        place = std::move(openPlace(folder, {})).value();
        journal = std::move(Journal::open(*place->privateFolder())).value();
        const auto survey = spliceForecast(address, plan, {}, {}).value();
        const std::shared_ptr<const Forecast> forecast(survey, &survey->forecast);
        JournalEntry entry;
        entry.plan = plan;
        entry.startedAt = 1;
        (void)journal->begin(entry);
        auto prepared = prepareSplice(address, {plan, forecast, {}}, {}, {}).value();
        scope = std::move(prepared.scope);
        splice = std::make_unique<Splice>(
            plan, forecast, std::move(prepared.decided), standingsOf(prepared.laid));
    }

    /// Decides all that is open for one side, leg by leg, each laid on what those before it give.
    void decideAll(FileChoice side) { decideAll(side, side); }
    void decideAll(FileChoice first, FileChoice later)
    {
        for (std::size_t leg = 0; leg < splice->workLeg(); ++leg) {
            for (std::size_t file = 0; file < splice->files().size(); ++file) {
                if (splice->files()[file].leg == leg) {
                    splice->decideAllOpen(file, leg == 0 ? first : later);
                }
            }
            if (splice->laysCommits()) {
                LayRequest request{scope, splice->decisions(), splice->legs(), {}, {}};
                for (const SpliceFile& own : splice->files()) {
                    if (own.own) {
                        request.oneSided.push_back(own.own);
                    }
                }
                request.below = scope.commits.size() < splice->standings().size()
                                    ? splice->legs().front()
                                    : nullptr;
                (void)putLaid(*splice, layCommits(*place, request).value());
            }
        }
    }

    Result<Recorded> record(const ProgressSink& progress = {})
    {
        return recordSplice(*place,
                            *journal,
                            splice->plan().id,
                            recordingPlanOf(*splice, "as proposed").value(),
                            progress);
    }

    Status giveBack()
    {
        const BegunTexts texts = begunTexts(*splice);
        return handBack(*place,
                        *journal,
                        splice->plan().id,
                        {splice->plan().begun, texts.edits, texts.settled});
    }
};

/// What git and the disk say of it: must be the same again after it was handed back untouched.
QByteArray fingerprintOf(ScratchRepository& scratch)
{
    QByteArray all = scratch.git("for-each-ref refs/heads") + scratch.git("ls-files -s")
                     + scratch.git("status --porcelain=v2 --untracked-files=all")
                     + scratch.git("status") + scratch.read(".git/HEAD");
    for (const QByteArray& path : scratch.git("ls-files").split('\n')) {
        all += path + scratch.read(path.constData());
    }
    return all;
}

/// Nothing is left over: git says what it says of a clean branch.
bool isFinished(ScratchRepository& scratch)
{
    const QByteArray status = scratch.git("status");
    const bool isClean = status == "On branch ours\nnothing to commit, working tree clean";
    if (!isClean) {
        qWarning("%s", status.constData());
    }
    return isClean && scratch.git("fsck --strict --no-dangling").isEmpty();
}

QByteArray subjects(ScratchRepository& scratch, const char* range)
{
    return scratch
        .git({QStringLiteral("log"), QStringLiteral("--format=%s"), QString::fromUtf8(range)})
        .replace('\n', ' ');
}
}  // namespace

class TestBegunRebase : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void rebase_isTold_data();
    void rebase_isTold();
    void rebase_isFinished_data();
    void rebase_isFinished();
    void rebase_secondStop_keepsWhatIsDone();
    void rebase_handedBack_gitFinishesIt();
    void rebase_asFound_afterARefusal();
    void rebase_ownWorkBeside_isCarried();
    void otherSteps_areTold_data();
    void otherSteps_areTold();
    void cherryPick_isFinished();
    void cherryPicks_areFinished();
    void revert_isFinished();
    void reverts_areFinished();
    void patches_areTold();
    void kill_atEachStep_isFinishedOrAsBefore_data();
    void kill_atEachStep_isFinishedOrAsBefore();
    void random_agreesWithGit();
};

/// Called again as a child, goes on and dies by SIGKILL at the step it is told.
void TestBegunRebase::initTestCase()
{
    test::dieIfChild([](const std::string& folder, const ProgressSink& progress) {
        Taken taken(folder);
        taken.decideAll(FileChoice::ours);
        (void)taken.record(progress);
    });
}

void TestBegunRebase::rebase_isTold_data()
{
    QTest::addColumn<QByteArray>("command");
    QTest::newRow("merge backend") << QByteArray("rebase theirs");
    QTest::newRow("apply backend") << QByteArray("rebase --apply theirs");
}

void TestBegunRebase::rebase_isTold()
{
    QFETCH(const QByteArray, command);
    ScratchRepository scratch;
    prepare(scratch);
    stop(scratch, command.constData());
    const QByteArray before = fingerprintOf(scratch);
    const auto place = std::move(openPlace(scratch.path(), {})).value();
    const auto begun = place->begunJoin().value();
    QVERIFY(begun);
    QCOMPARE(begun->kind, UnfinishedWork::rebase);
    QCOMPARE(begun->obstacle, BegunObstacle::none);
    QCOMPARE(begun->line, std::string("refs/heads/ours"));
    QCOMPARE(begun->lineName, std::string("ours"));
    QCOMPARE(begun->lineTip, *place->resolveCommit("ours"));
    QCOMPARE(begun->ours, *place->resolveCommit("theirs"));
    QCOMPARE(begun->theirs, *place->resolveCommit("ours~2"));
    QCOMPARE(
        begun->next,
        (std::vector<ObjectId>{*place->resolveCommit("ours~1"), *place->resolveCommit("ours")}));
    QCOMPARE(begun->open, (std::vector<RepoPath>{"plan.txt"}));
    const Taken taken(scratch.path());
    QCOMPARE(taken.splice->legs().size(), std::size_t{3});
    QCOMPARE(taken.splice->openCountOf(0), std::size_t{1});
    QCOMPARE(fingerprintOf(scratch), before);
}

void TestBegunRebase::rebase_isFinished_data()
{
    rebase_isTold_data();
}

void TestBegunRebase::rebase_isFinished()
{
    QFETCH(const QByteArray, command);
    ScratchRepository scratch;
    prepare(scratch);
    scratch.git("config notes.rewriteRef refs/notes/commits");
    scratch.git("notes add -m reviewed ours");
    const QByteArray third = scratch.git("rev-parse ours");
    stop(scratch, command.constData());
    scratch.addHook("pre-rebase", "exit 1\n");  // it has run already, when it was begun
    // The first commit is decided in the file: both.
    scratch.write("plan.txt", with(with(kLines, "2", "2 of both"), "12", "12 theirs"));
    scratch.git("add plan.txt");
    Taken taken(scratch.path());
    QCOMPARE(taken.splice->openCountOf(0), std::size_t{0});
    QCOMPARE(taken.splice->openCountOf(2), std::size_t{1});
    taken.decideAll(FileChoice::ours);
    const auto recorded = taken.record();
    QVERIFY2(recorded.hasValue(), recorded.hasValue() ? "" : recorded.error().detail.c_str());
    QVERIFY(isFinished(scratch));
    QCOMPARE(subjects(scratch, "theirs..ours"), "third second first");
    QCOMPARE(scratch.git("log -1 --format=%an|%ad --date=raw ours~2"),
             "Tao Lindqvist|1790000000 +0545");
    QCOMPARE(scratch.git("show ours~2:plan.txt") + "\n",
             with(with(kLines, "2", "2 of both"), "12", "12 theirs"));
    QCOMPARE(scratch.read("plan.txt"), with(with(kLines, "2", "2 of both"), "12", "12 ours"));
    QCOMPARE(scratch.git("notes show ours"), "reviewed");
    QCOMPARE(QByteArray::fromStdString(recorded->rewritten.back().first.id.hex()), third);
}

/// git has laid two commits, stopped at the third: those are not laid again, and hooks hear of all.
void TestBegunRebase::rebase_secondStop_keepsWhatIsDone()
{
    ScratchRepository scratch;
    prepare(scratch);
    const QByteArray before = scratch.git("rev-parse ours~2 ours~1 ours");
    scratch.addHook("post-rewrite", "cat > .git/told.log\n");
    stop(scratch, "rebase theirs");
    scratch.write("plan.txt", with(with(kLines, "2", "2 of both"), "12", "12 theirs"));
    scratch.git("add plan.txt");
    stop(scratch, "-c core.editor=true rebase --continue");
    Taken taken(scratch.path());
    QCOMPARE(taken.splice->legs().size(), std::size_t{1});
    QCOMPARE(taken.splice->openCount(), std::size_t{1});
    taken.decideAll(FileChoice::theirs);  // nothing is left of it
    QVERIFY(taken.splice->standings()[0].isEmptied);
    QVERIFY(taken.record());
    QVERIFY(isFinished(scratch));
    QCOMPARE(subjects(scratch, "theirs..ours"), "second first");
    const auto old = before.split('\n');
    QCOMPARE(scratch.read(".git/told.log"),
             old[0] + " " + scratch.git("rev-parse ours~1") + "\n" + old[1] + " "
                 + scratch.git("rev-parse ours") + "\n");
}

void TestBegunRebase::rebase_handedBack_gitFinishesIt()
{
    ScratchRepository scratch;
    prepare(scratch);
    stop(scratch, "rebase theirs");
    Taken taken(scratch.path());
    // Decided in the first commit alone; what follows is git's again.
    taken.splice->decideAllOpen(0, FileChoice::ours);
    const auto handed = taken.giveBack();
    QVERIFY2(handed.hasValue(), handed.hasValue() ? "" : handed.error().detail.c_str());
    QCOMPARE(scratch.read("plan.txt"), with(with(kLines, "2", "2 ours"), "12", "12 theirs"));
    stop(scratch, "-c core.editor=true rebase --continue");
    Taken again(scratch.path(), "splice-2");
    QCOMPARE(again.splice->legs().size(), std::size_t{1});
    // Open, it is given back with markers: what is checked out first, as git has it.
    QVERIFY(again.giveBack());
    const QByteArray text = scratch.read("plan.txt");
    QVERIFY2(text.contains("\n12 theirs\n|||||||") && text.contains("=======\n12 ours\n>>>>>>>"),
             text.constData());
    scratch.write("plan.txt", with(with(kLines, "2", "2 ours"), "12", "12 of both"));
    scratch.git("add plan.txt");
    scratch.git("-c core.editor=true rebase --continue");
    QVERIFY(isFinished(scratch));
    QCOMPARE(subjects(scratch, "theirs..ours"), "third second first");
}

void TestBegunRebase::rebase_asFound_afterARefusal()
{
    ScratchRepository scratch;
    prepare(scratch);
    stop(scratch, "rebase theirs");
    const QByteArray before = fingerprintOf(scratch);
    Taken taken(scratch.path());
    taken.decideAll(FileChoice::ours);
    // The branch cannot be moved: somebody holds its lock.
    scratch.write(".git/refs/heads/ours.lock", "");
    QVERIFY(!taken.record());
    scratch.remove(".git/refs/heads/ours.lock");
    QCOMPARE(fingerprintOf(scratch), before);
    // Somebody has gone on with it meanwhile: nothing is recorded over that.
    scratch.write("plan.txt", with(kLines, "2", "2 of both"));
    scratch.git("add plan.txt");
    const auto refused = taken.record();
    QVERIFY(!refused);
    QCOMPARE(refused.error().reason, Reason::begunChanged);
    scratch.git("rebase --abort");
    QCOMPARE(subjects(scratch, "main..ours"), "third second first");
}

void TestBegunRebase::rebase_ownWorkBeside_isCarried()
{
    ScratchRepository scratch;
    prepare(scratch);
    stop(scratch, "rebase theirs");
    scratch.write("own.txt", "own, not committed\n");
    Taken taken(scratch.path());
    taken.decideAll(FileChoice::ours);
    const auto refused = taken.record();  // this splice looks after no work
    QVERIFY(!refused);
    QCOMPARE(refused.error().reason, Reason::workChanged);
    QCOMPARE(scratch.read("own.txt"), "own, not committed\n");
    QCOMPARE(scratch.git("diff --name-only --diff-filter=U"), "plan.txt");
}

void TestBegunRebase::otherSteps_areTold_data()
{
    QTest::addColumn<QByteArray>("editor");
    QTest::addColumn<QByteArray>("command");
    QTest::addColumn<int>("obstacle");
    const auto row =
        [](const char* name, const char* editor, const char* command, BegunObstacle o) {
            QTest::newRow(name) << QByteArray(editor) << QByteArray(command) << static_cast<int>(o);
        };
    row("exec", "sed -i '$a exec true'", "rebase -i theirs", BegunObstacle::otherSteps);
    row("squash",
        "sed -i 's/^pick \\(.* second\\)/squash \\1/'",
        "rebase -i theirs",
        BegunObstacle::otherSteps);
    row("reword",
        "sed -i 's/^pick \\(.* third\\)/reword \\1/'",
        "rebase -i theirs",
        BegunObstacle::otherSteps);
    row("break", "sed -i '1i break'", "rebase -i theirs", BegunObstacle::otherSteps);
    row("picks", "sed -i '/second/d'", "rebase -i theirs", BegunObstacle::none);
    row("signed off", "true", "rebase --signoff theirs", BegunObstacle::otherSteps);
    row("detached", "true", "rebase theirs ours^0", BegunObstacle::noLine);
    row("own work", "true", "rebase --autostash theirs", BegunObstacle::ownWorkKept);
    row("damaged", "true", "rebase theirs", BegunObstacle::damaged);
}

void TestBegunRebase::otherSteps_areTold()
{
    QFETCH(const QByteArray, editor);
    QFETCH(const QByteArray, command);
    QFETCH(const int, obstacle);
    ScratchRepository scratch;
    prepare(scratch);
    scratch.git(
        {QStringLiteral("config"), QStringLiteral("sequence.editor"), QString::fromUtf8(editor)});
    if (command.contains("autostash")) {
        scratch.write("own.txt", "own, not committed\n");
    }
    int exitCode = 0;
    scratch.tryGit(QString::fromUtf8(command).split(QLatin1Char(' ')), exitCode);
    if (obstacle == static_cast<int>(BegunObstacle::damaged)) {
        scratch.write(".git/rebase-merge/stopped-sha", "not a commit\n");
    }
    const auto begun = openPlace(scratch.path(), {}).value()->begunJoin().value();
    QVERIFY(begun);
    QCOMPARE(static_cast<int>(begun->obstacle), obstacle);
    if (obstacle == static_cast<int>(BegunObstacle::none)) {
        QCOMPARE(begun->next.size(), std::size_t{1});
    }
}

void TestBegunRebase::cherryPick_isFinished()
{
    ScratchRepository scratch;
    prepare(scratch);
    scratch.git("branch picked ours~2");
    scratch.git("switch -q -C ours theirs");
    scratch.addHook("commit-msg", "echo and checked >> \"$1\"\n");
    stop(scratch, "cherry-pick picked");
    const auto told = openPlace(scratch.path(), {}).value()->begunJoin().value();
    QCOMPARE(told->kind, UnfinishedWork::cherryPick);
    QCOMPARE(QString::fromStdString(told->message).section(QLatin1Char('\n'), 0, 0),
             QStringLiteral("first"));
    Taken taken(scratch.path());
    QCOMPARE(taken.splice->openCount(), std::size_t{1});
    QCOMPARE(proposedMessage(*taken.splice, {}), std::string("first\n"));
    taken.decideAll(FileChoice::theirs);
    const auto recorded = taken.record();
    QVERIFY2(recorded.hasValue(), recorded.hasValue() ? "" : recorded.error().detail.c_str());
    QVERIFY(isFinished(scratch));
    QCOMPARE(scratch.git("log -1 --format=%an|%ad|%B --date=raw ours"),
             "Tao Lindqvist|1790000000 +0545|as proposed\nand checked");
    QCOMPARE(scratch.git("rev-parse ours^"), scratch.git("rev-parse theirs"));
    QCOMPARE(scratch.read("plan.txt"), with(with(kLines, "2", "2 ours"), "12", "12 theirs"));
}

void TestBegunRebase::cherryPicks_areFinished()
{
    ScratchRepository scratch;
    prepare(scratch);
    scratch.git("branch picked ours");
    scratch.git("switch -q -C ours theirs");
    stop(scratch, "cherry-pick picked~2 picked~1 picked");
    Taken taken(scratch.path());
    QCOMPARE(taken.join.next.size(), std::size_t{2});
    QCOMPARE(taken.splice->legs().size(), std::size_t{3});
    QVERIFY(taken.splice->standings()[1].as == LaidAs::picked);
    QCOMPARE(taken.splice->legs()[2]->theirs.label, taken.join.next[1].brief());
    taken.decideAll(FileChoice::theirs);
    QCOMPARE(taken.splice->openCount(), std::size_t{0});
    QVERIFY(taken.record());
    QVERIFY(isFinished(scratch));
    QCOMPARE(subjects(scratch, "theirs..ours"), "third second as proposed");
    QCOMPARE(scratch.read("plan.txt"), with(with(kLines, "2", "2 ours"), "12", "12 ours"));
}

void TestBegunRebase::revert_isFinished()
{
    ScratchRepository scratch;
    prepare(scratch);
    scratch.write("plan.txt", with(with(kLines, "2", "2 ours, later"), "12", "12 ours"));
    scratch.commit("fourth");
    stop(scratch, "revert --no-edit ours~3");
    Taken taken(scratch.path());
    QCOMPARE(taken.splice->plan().kind, SpliceKind::revert);
    QCOMPARE(taken.splice->openCount(), std::size_t{1});
    taken.decideAll(FileChoice::theirs);
    QVERIFY(taken.record());
    QVERIFY(isFinished(scratch));
    QCOMPARE(scratch.read("plan.txt"), with(kLines, "12", "12 ours"));
    QCOMPARE(scratch.git("rev-list --count main..ours"), "5");
}

void TestBegunRebase::reverts_areFinished()
{
    ScratchRepository scratch;
    prepare(scratch);
    scratch.write("plan.txt", with(with(kLines, "2", "2 ours, later"), "12", "12 ours"));
    scratch.commit("fourth");
    const QByteArray third = scratch.git("rev-parse ours~1");
    stop(scratch, "revert --no-edit ours~3 ours~1");
    Taken taken(scratch.path());
    QCOMPARE(taken.join.obstacle, BegunObstacle::none);
    QCOMPARE(taken.join.next.size(), std::size_t{1});
    QCOMPARE(taken.splice->legs().size(), std::size_t{2});
    QCOMPARE(taken.splice->legs()[1]->base.label, taken.join.next[0].brief());
    taken.decideAll(FileChoice::theirs);
    QCOMPARE(taken.splice->openCount(), std::size_t{0});
    QVERIFY(taken.record());
    QVERIFY(isFinished(scratch));
    QCOMPARE(scratch.read("plan.txt"), kLines);
    QCOMPARE(scratch.git("log -1 --format=%B ours"),
             "Revert \"third\"\n\nThis reverts commit " + third + ".");
    QCOMPARE(scratch.git("rev-list --count main..ours"), "6");
    QCOMPARE(scratch.git("log -2 --format=%an ours"), "Maren Voss\nMaren Voss");
}

void TestBegunRebase::patches_areTold()
{
    ScratchRepository scratch;
    prepare(scratch);
    scratch.git("format-patch -q -o .git/sent theirs..ours");
    scratch.git("switch -q theirs");
    int exitCode = 0;
    const QStringList sent = QDir(scratch.filePath(".git/sent")).entryList(QDir::Files);
    scratch.tryGit(
        {QStringLiteral("am"), QStringLiteral("-q"), scratch.filePath(".git/sent/") + sent.front()},
        exitCode);
    QVERIFY(exitCode != 0);
    const auto begun = openPlace(scratch.path(), {}).value()->begunJoin().value();
    QVERIFY(begun);
    QCOMPARE(begun->kind, UnfinishedWork::patches);
    QCOMPARE(begun->obstacle, BegunObstacle::noCommits);
    QVERIFY(
        begunInWords(*begun).startsWith(QStringLiteral("A series of mailed patches was begun")));
}

void TestBegunRebase::kill_atEachStep_isFinishedOrAsBefore_data()
{
    QTest::addColumn<QByteArray>("command");
    QTest::addColumn<QByteArray>("step");
    for (const char* const command : {"rebase theirs", "rebase --apply theirs"}) {
        for (const char* const step :
             {"takingOff", "bringing", "committing", "writingCommits", "moving", "finishing"}) {
            QTest::addRow("%s, %s", command, step) << QByteArray(command) << QByteArray(step);
        }
    }
}

void TestBegunRebase::kill_atEachStep_isFinishedOrAsBefore()
{
    QFETCH(const QByteArray, command);
    QFETCH(const QByteArray, step);
    ScratchRepository scratch;
    prepare(scratch);
    stop(scratch, command.constData());
    const QByteArray before = fingerprintOf(scratch);
    test::killAt(scratch.folder(), step);
    const auto place = std::move(openPlace(scratch.path(), {})).value();
    const auto journal = std::move(Journal::open(*place->privateFolder())).value();
    const auto recovery = recoverRecording(*place, *journal);
    QVERIFY(recovery && *recovery);
    QCOMPARE((*recovery)->isFinished, step == "finishing");
    if ((*recovery)->isFinished) {
        QVERIFY(isFinished(scratch));
        QCOMPARE(subjects(scratch, "theirs..ours"), "third second first");
    } else {
        QCOMPARE(fingerprintOf(scratch), before);
    }
    QVERIFY(recoverRecording(*place, *journal));  // once more changes nothing
    scratch.git("fsck --strict --no-dangling");
}

namespace {
/// Resolves what git has stopped at: in every region the side of the commit that it lays.
void resolveForCommit(ScratchRepository& scratch)
{
    for (const QByteArray& path : scratch.git("diff --name-only --diff-filter=U").split('\n')) {
        for (const char* const stage : {"1", "2", "3"}) {
            const QByteArray text = scratch.git(
                {QStringLiteral("show"),
                 QStringLiteral(":%1:%2").arg(QLatin1String(stage), QString::fromUtf8(path))});
            scratch.write((QByteArray(".git/stage") + stage).constData(), text + "\n");
        }
        scratch.git("merge-file -q --theirs .git/stage2 .git/stage1 .git/stage3");
        scratch.write(path.constData(), scratch.read(".git/stage2"));
    }
    scratch.git("add -u");
}
}  // namespace

void TestBegunRebase::random_agreesWithGit()
{
    const unsigned first = test::randomSeed();
    const int rounds = test::roundsUnlessSaid(12);
    int stopped = 0;
    for (int round = 0; round < rounds; ++round) {
        const unsigned seed = first + static_cast<unsigned>(round);
        const QByteArray where = "ROPE_TEST_ROUNDS=1 ROPE_TEST_SEED=" + QByteArray::number(seed);
        test::Random random(seed);
        ScratchRepository scratch;
        const auto edit = [&](const char* side, int number) {
            for (const char* const file : {"a.txt", "b.txt"}) {
                QByteArray text = scratch.read(file);
                auto lines = text.split('\n');
                const auto at = static_cast<qsizetype>(test::below(random, 30));
                lines[at] = QByteArray(side) + QByteArray::number(number) + file;
                scratch.write(file, lines.join('\n'));
            }
            scratch.commit((QByteArray(side) + QByteArray::number(number)).constData());
        };
        QByteArray text;
        for (int line = 0; line < 30; ++line) {
            text += "line " + QByteArray::number(line) + "\n";
        }
        scratch.write("a.txt", text);
        scratch.write("b.txt", text);
        scratch.commit("base");
        scratch.git("switch -q -c theirs");
        for (int i = 0; i < 6; ++i) {
            edit("theirs", i);
        }
        scratch.git("switch -q -c ours main");
        for (int i = 0; i < 5; ++i) {
            edit("ours", i);
        }
        scratch.git("branch kept");
        const bool applies = test::below(random, 2) == 0;
        const QStringList rebase =
            QString::fromLatin1(applies ? "rebase --apply theirs" : "rebase theirs")
                .split(QLatin1Char(' '));
        int exitCode = 0;
        scratch.tryGit(rebase, exitCode);
        if (exitCode == 0) {
            continue;
        }
        ++stopped;
        const auto before = fingerprintOf(scratch);
        {
            Taken taken(scratch.path());
            QVERIFY2(fingerprintOf(scratch) == before, where.constData());
            taken.decideAll(FileChoice::ours);
            QVERIFY2(taken.splice->openCount() == 0, where.constData());
            const auto recorded = taken.record();
            QVERIFY2(recorded.hasValue(), where.constData());
        }
        QVERIFY2(isFinished(scratch), where.constData());
        const QByteArray tree = scratch.git("rev-parse ours^{tree}");
        const QByteArray said = subjects(scratch, "theirs..ours");
        scratch.git("reset -q --hard kept");
        scratch.tryGit(rebase, exitCode);
        for (int i = 0; exitCode != 0 && i < 10; ++i) {
            resolveForCommit(scratch);
            scratch.tryGit({QStringLiteral("-c"),
                            QStringLiteral("core.editor=true"),
                            QStringLiteral("rebase"),
                            QStringLiteral("--continue")},
                           exitCode);
        }
        QVERIFY2(exitCode == 0, where.constData());
        QVERIFY2(scratch.git("rev-parse ours^{tree}") == tree, where.constData());
        QVERIFY2(subjects(scratch, "theirs..ours") == said, where.constData());
    }
    qInfo("%d of %d stopped", stopped, rounds);
    QVERIFY(stopped > 0 || rounds < 10);
}

ROPE_TESTS(TestBegunRebase, QCoreApplication)
#include "tst_begun_rebase.moc"
