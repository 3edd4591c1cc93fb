// SPDX-License-Identifier: GPL-3.0-or-later
// Own commits laid on another ground, compared with what git makes of the same. ROPE_TEST_SEED and
// ROPE_TEST_ROUNDS as in tst_random_merges.cpp.
#include "core/logbook/recorder.h"
#include "core/plan/laid_commits.h"
#include "core/plan/recording_plan.h"
#include "tests/support/counted_git.h"
#include "tests/support/joined_branches.h"
#include "tests/support/killed_child.h"
#include "tests/support/random_lines_of_work.h"
#include "tests/support/test_program.h"
#include "tests/support/tree_recipe.h"

#include <QTest>

#include <chrono>
#include <thread>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
RebaseForecast forecastOf(const test::Joined& joined)
{
    return forecastRebase(*joined.repository, joined.forecast.divergence, joined.forecast.theirs.id)
        .value();
}

/// Subjects of the commits of a branch that another one has not, oldest first.
QByteArray subjects(ScratchRepository& scratch, const char* range)
{
    return scratch.git({QStringLiteral("log"),
                        QStringLiteral("--reverse"),
                        QStringLiteral("--topo-order"),
                        QStringLiteral("--format=%s"),
                        QString::fromUtf8(range)});
}

/// What would be recorded of a rebase before anything is decided, told as subjects() does.
QByteArray subjectsLaid(const RebaseForecast& forecast)
{
    QByteArrayList kept;
    for (const LaidCommit& laid : forecast.laid) {
        if (!laid.standing.isEmptied) {
            kept << QByteArray::fromStdString(laid.standing.commit.subject());
        }
    }
    return kept.join('\n');
}

/// When the commits were made that would be recorded, oldest first.
QByteArray timesLaid(const RebaseForecast& forecast)
{
    QByteArrayList times;
    for (const LaidCommit& laid : forecast.laid) {
        if (!laid.standing.isEmptied) {
            times << QByteArray::number(static_cast<qlonglong>(laid.standing.commit.author.time));
        }
    }
    return times.join('\n');
}

Splice spliceOf(const test::Joined& joined,
                const RebaseForecast& forecast,
                WorkChoice work = WorkChoice::none)
{
    SplicePlan plan{"splice-1",
                    "refs/heads/ours",
                    "ours",
                    "theirs",
                    joined.forecast.ours.id,
                    joined.forecast.theirs.id};
    plan.kind = SpliceKind::rebase;
    plan.workChoice = work;
    std::vector<Leg> legs;
    std::vector<LegStanding> standings;
    for (const LaidCommit& laid : forecast.laid) {
        legs.push_back(laid.leg);
        standings.push_back(laid.standing);
    }
    return {plan, std::make_shared<const Forecast>(joined.forecast), DecidedJoin(legs), standings};
}

/// Decides every open region of a leg for a text of one's own.
void decideLeg(Splice& splice, std::size_t leg, const std::string& text)
{
    for (std::size_t file = 0; file < splice.files().size(); ++file) {
        const SpliceFile& one = splice.files()[file];
        for (std::size_t slot = 0; one.leg == leg && one.text && slot < one.text->slotCount();
             ++slot) {
            if (one.text->isOpen(slot)) {
                splice.change({{{file, slot}, {true, std::string(kOwnText), text}}});
            }
        }
    }
}

/// Lays a splice's commits anew on what was decided.
void layAnew(const test::Joined& joined, const RebaseScope& scope, Splice& splice)
{
    const auto laid =
        layCommits(*joined.repository, {scope, splice.decisions(), splice.legs()}).value();
    (void)putLaid(splice, laid);
}

/// Three commits of ours on one file, the second of which theirs has made in its own words.
void makeThreeCommits(ScratchRepository& scratch)
{
    scratch.write("plan.txt", "one\ntwo\nthree\nfour\nfive\nsix\nseven\neight\n");
    scratch.write("fees.txt", "fee 10\n\n\n\n\nend\n");
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("plan.txt", "one\ntwo theirs\nthree\nfour\nfive\nsix\nseven\neight\n");
    scratch.write("fees.txt", "fee 12\n\n\n\n\nend theirs\n");
    scratch.commit("theirs edits");
    scratch.git("switch -q -c ours main");
    scratch.write("plan.txt", "one\ntwo ours\nthree\nfour\nfive\nsix\nseven\neight\n");
    scratch.commit("first");
    scratch.write("fees.txt", "fee 12\n\n\n\n\nend\n");
    scratch.commit("second");
    scratch.write("plan.txt", "one\ntwo ours\nthree\nfour\nfive\nsix\nseven ours\neight\n");
    scratch.commit("third");
}
}  // namespace

class TestRebase : public QObject
{
    Q_OBJECT
private slots:
    void sharedCommits_areToldSinceWhen();
    void sharedCommits_costNoProcessPerBranch();
    void initTestCase();
    void parentsFirst_isGitsOrder();
    void random_agreesWithGit();
    void merges_areFlattened();
    void emptied_isSkippedOrKept();
    void decisions_layLaterCommitsAnew();
    void laying_beginsAtTheCommitDecidedOtherwise();
    void decisions_stayInTheirCommit();
    void record_keepsAuthorsAndTellsHooks();
    void record_hookRefuses_nothingChanged();
    void record_indexLockedForAMoment_waits();
    void record_branchNotCheckedOut_filesStay();
    void kill_atEachStep_isBeforeOrAfter_data();
    void kill_atEachStep_isBeforeOrAfter();
    void otherEncoding_isKept();
};

/// A history with merges, against git's own listing.
void TestRebase::parentsFirst_isGitsOrder()
{
    ScratchRepository scratch;
    scratch.write("a", "1\n");
    scratch.commit("base");
    scratch.git("branch theirs");
    scratch.git("switch -q -c ours");
    for (const char* const branch : {"x", "y"}) {
        scratch.git({QStringLiteral("switch"),
                     QStringLiteral("-q"),
                     QStringLiteral("-c"),
                     QString::fromUtf8(branch),
                     QStringLiteral("ours")});
        for (const char* const part : {"1", "2"}) {
            const QByteArray file = QByteArray(branch) + part;
            scratch.write(file.constData(), file);
            scratch.commit(file.constData());
        }
        scratch.git("switch -q ours");
        const QByteArray own = QByteArray("own-") + branch;
        scratch.write(own.constData(), own);
        scratch.commit(own.constData());
        scratch.git({QStringLiteral("merge"),
                     QStringLiteral("-q"),
                     QStringLiteral("--no-ff"),
                     QStringLiteral("-m"),
                     QStringLiteral("joins ") + QString::fromUtf8(branch),
                     QString::fromUtf8(branch)});
    }
    scratch.git("switch -q theirs");
    scratch.write("b", "2\n");
    scratch.commit("theirs");
    scratch.git("switch -q ours");
    const test::Joined joined = test::joinBranches(scratch);
    QByteArrayList ids;
    for (const CommitLink& link : parentsFirst(joined.forecast.divergence.oursOnly)) {
        ids << QByteArray::fromStdString(link.id.hex());
    }
    QCOMPARE(ids.join('\n'), scratch.git("rev-list --reverse --topo-order theirs..ours"));
}

void TestRebase::random_agreesWithGit()
{
    const unsigned first = test::randomSeed();
    const int rounds = test::roundsUnlessSaid(60);
    int clean = 0;
    int leftOut = 0;
    for (int round = 0; round < rounds; ++round) {
        const unsigned seed = first + static_cast<unsigned>(round);
        const test::RandomLinesOfWork work(seed);
        ScratchRepository scratch;
        scratch.git({QStringLiteral("fast-import"), QStringLiteral("--quiet")}, work.stream());
        const RebaseForecast forecast = forecastOf(test::joinBranches(scratch));
        const QByteArray where = "ROPE_TEST_ROUNDS=1 ROPE_TEST_SEED=" + QByteArray::number(seed);
        int exitCode = 0;
        scratch.git("checkout -q ours");
        scratch.tryGit({QStringLiteral("-c"),
                        QStringLiteral("merge.directoryRenames=conflict"),
                        QStringLiteral("rebase"),
                        QStringLiteral("-q"),
                        QStringLiteral("theirs")},
                       exitCode);
        if (exitCode == 0) {
            ++clean;
            QVERIFY2(forecast.openCount() == 0, where.constData());
            QVERIFY2(QByteArray::fromStdString(forecast.tree.hex())
                         == scratch.git("rev-parse ours^{tree}"),
                     where.constData());
            // The same commits, in the same order: each is known by its time.
            const QByteArray written = scratch.git("log --reverse --format=%at theirs..ours");
            QVERIFY2(timesLaid(forecast) == written, (where + '\n' + written).constData());
            leftOut += work.ownCount() - static_cast<int>(written.split('\n').size());
        } else {
            // Where git stops, the first commit with something open is the one that it stops at.
            const QByteArray stopped = scratch.git("rev-parse REBASE_HEAD");
            QByteArray asked;
            for (const LaidCommit& laid : forecast.laid) {
                if (asked.isEmpty() && laid.leg->openCount() > 0) {
                    asked = QByteArray::fromStdString(laid.standing.commit.id.hex());
                }
            }
            QVERIFY2(asked == stopped, where.constData());
        }
    }
    qInfo("%d of %d ran through, %d commits left out or skipped", clean, rounds, leftOut);
    QVERIFY((clean > 0 && leftOut > 0) || rounds < 10);
}

void TestRebase::merges_areFlattened()
{
    ScratchRepository scratch;
    scratch.write("a", "1\n");
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("b", "theirs\n");
    scratch.commit("theirs");
    scratch.git("switch -q -c ours main");
    scratch.write("c", "1\n");
    scratch.commit("own");
    scratch.git("switch -q -c side main");
    scratch.write("d", "1\n");
    scratch.commit("aside");
    scratch.git("switch -q ours");
    scratch.git("merge -q --no-ff -m joined side");
    const test::Joined joined = test::joinBranches(scratch);
    const RebaseForecast forecast = forecastOf(joined);
    QCOMPARE(forecast.scope.merges.size(), std::size_t{1});
    QCOMPARE(QByteArray::fromStdString(forecast.scope.merges.front().subject()), "joined");
    scratch.git("rebase -q theirs");
    QCOMPARE(subjectsLaid(forecast), subjects(scratch, "theirs..ours"));
    QCOMPARE(QByteArray::fromStdString(forecast.tree.hex()), scratch.git("rev-parse ours^{tree}"));
}

void TestRebase::emptied_isSkippedOrKept()
{
    ScratchRepository scratch;
    makeThreeCommits(scratch);
    const test::Joined joined = test::joinBranches(scratch);
    const RebaseForecast forecast = forecastOf(joined);
    QCOMPARE(forecast.laid.size(), std::size_t{3});
    QVERIFY(forecast.laid[1].standing.isEmptied);
    QVERIFY(!forecast.laid[0].standing.isAbout && forecast.laid[1].standing.isAbout);
    QCOMPARE(forecast.openCount(), std::size_t{1});
    Splice splice = spliceOf(joined, forecast);
    QCOMPARE(splice.openCount(), std::size_t{1});
    decideLeg(splice, 0, "two of both\n");
    layAnew(joined, forecast.scope, splice);
    QCOMPARE(splice.openCount(), std::size_t{0});
    const auto plan = recordingPlanOf(splice, {});
    QVERIFY(plan);
    QCOMPARE(plan->commits.size(), std::size_t{2});
    QCOMPARE(plan->commits.back().message, std::string("third\n"));
    QCOMPARE(plan->commits.front().parents.front(), joined.forecast.theirs.id);
    SplicePlan keeping = splice.plan();
    keeping.keepsEmptied = true;
    Splice kept(keeping,
                std::make_shared<const Forecast>(joined.forecast),
                DecidedJoin(splice.legs()),
                splice.standings());
    kept.put(carryOver(splice.decisions(), kept.decided()).placed);
    QCOMPARE(recordingPlanOf(kept, {})->commits.size(), std::size_t{3});
}

/// What stays need not be laid: the same comes of it as of laying all from the first.
void TestRebase::laying_beginsAtTheCommitDecidedOtherwise()
{
    constexpr int kCommits = 5;
    ScratchRepository scratch;
    const auto text = [](int changed, const char* by) {
        QByteArray lines;
        for (int i = 0; i < kCommits; ++i) {
            lines += "line " + QByteArray::number(i) + (i < changed ? by : "") + "\n\n\n\n";
        }
        return lines;
    };
    scratch.write("plan.txt", text(0, ""));
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("plan.txt", text(kCommits, " theirs"));
    scratch.commit("theirs");
    scratch.git("switch -q -c ours main");
    for (int i = 1; i <= kCommits; ++i) {
        scratch.write("plan.txt", text(i, " ours"));
        scratch.commit(QByteArray::number(i).constData());
    }
    const test::Joined joined = test::joinBranches(scratch);
    const RebaseForecast forecast = forecastOf(joined);
    Splice splice = spliceOf(joined, forecast);
    std::vector<LaidCommit> laid = forecast.laid;
    for (const std::size_t leg : {0U, 1U, 3U, 2U, 3U, 4U, 1U}) {
        decideLeg(splice, leg, "decided in " + std::to_string(leg) + "\n");
        const std::string name = "decided anew in " + std::to_string(leg) + "\n";
        splice.change({{{leg, 1}, {true, std::string(kOwnText), name}}});
        const std::size_t before = leg;
        LayRequest request{forecast.scope, splice.decisions(), splice.legs(), {}, {}};
        request.kept.assign(laid.begin(), laid.begin() + static_cast<std::ptrdiff_t>(before));
        std::size_t joins = 0;
        laid = layCommits(*joined.repository, request, [&](const Progress&) { ++joins; }).value();
        QCOMPARE(joins, forecast.laid.size() - before);
        const auto whole =
            layCommits(*joined.repository, {forecast.scope, request.decisions, {}}).value();
        QCOMPARE(laid.size(), whole.size());
        for (std::size_t i = 0; i < whole.size(); ++i) {
            QVERIFY(laid[i].tree == whole[i].tree);
            QVERIFY(laid[i].isOpen == whole[i].isOpen);
            QVERIFY(laid[i].standing.isAbout == whole[i].standing.isAbout);
            QVERIFY(laid[i].standing.isEmptied == whole[i].standing.isEmptied);
            QVERIFY(i >= before || laid[i].leg == splice.legs()[i]);
        }
        (void)putLaid(splice, laid);
    }
}

/// Two commits meet the same three texts in different files. What was decided in the first loses its place, and
/// must not decide the second, which nobody was asked about and which later commits were not laid on.
void TestRebase::decisions_stayInTheirCommit()
{
    ScratchRepository scratch;
    scratch.write("a.txt", "p\n");
    scratch.write("b.txt", "x\n");
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("a.txt", "z\n");
    scratch.write("b.txt", "z\n");
    scratch.commit("theirs");
    scratch.git("switch -q -c ours main");
    scratch.write("a.txt", "x\n");
    scratch.commit("0");
    scratch.write("a.txt", "y\n");
    scratch.commit("1");
    scratch.write("b.txt", "y\n");
    scratch.commit("2");
    scratch.write("b.txt", "y\nmore\n");
    scratch.commit("3");
    const test::Joined joined = test::joinBranches(scratch);
    const RebaseForecast forecast = forecastOf(joined);
    Splice splice = spliceOf(joined, forecast);
    const auto fileOf = [&](std::size_t leg) {
        const auto found = std::find_if(splice.files().begin(),
                                        splice.files().end(),
                                        [&](const auto& f) { return f.leg == leg; });
        return static_cast<std::size_t>(found - splice.files().begin());
    };
    splice.decideAllOpen(fileOf(0), FileChoice::theirs);
    layAnew(joined, forecast.scope, splice);
    QCOMPARE(splice.openCountOf(1), std::size_t{1});
    decideLeg(splice, 1, "decided\n");
    layAnew(joined, forecast.scope, splice);
    QCOMPARE(splice.openCountOf(2), std::size_t{1});
    splice.change({{{fileOf(0), 1}, {true, std::string(nameOf(CandidateKind::ours)), "x\n"}}});
    const auto laid =
        layCommits(*joined.repository, {forecast.scope, splice.decisions(), splice.legs()}).value();
    const auto lost = putLaid(splice, laid);
    QCOMPARE(lost.size(), std::size_t{1});
    for (std::size_t leg = 0; leg < laid.size(); ++leg) {
        QCOMPARE(splice.openCountOf(leg) > 0, laid[leg].isOpen);
    }
    QCOMPARE(splice.openCountOf(2), std::size_t{1});
    // One that waits for a place in a commit that stays does not take the place of what is decided there.
    const std::vector<Decision> all = splice.decisions();
    Decision waiting = all.front();
    QCOMPARE(waiting.leg, std::size_t{0});
    waiting.state.text = "waits\n";
    decideLeg(splice, 2, "in the third\n");
    const auto again =
        layCommits(*joined.repository, {forecast.scope, splice.decisions(), splice.legs()}).value();
    QCOMPARE(firstOtherLeg(splice, again), std::size_t{3});
    QCOMPARE(putLaid(splice, again, {waiting}).size(), std::size_t{1});
    QVERIFY(splice.decisions().front().state == all.front().state);
}

void TestRebase::decisions_layLaterCommitsAnew()
{
    ScratchRepository scratch;
    makeThreeCommits(scratch);
    scratch.write("plan.txt", "one\ntwo ours, again\nthree\nfour\nfive\nsix\nseven ours\neight\n");
    scratch.commit("fourth");
    const test::Joined joined = test::joinBranches(scratch);
    const RebaseForecast forecast = forecastOf(joined);
    Splice splice = spliceOf(joined, forecast);
    decideLeg(splice, 0, "two of both\n");
    layAnew(joined, forecast.scope, splice);
    // The fourth commit changes the very line that the first was decided for.
    QCOMPARE(splice.openCountOf(3), std::size_t{1});
    QVERIFY(!splice.standings()[3].isAbout);
    decideLeg(splice, 3, "two of both, again\n");
    layAnew(joined, forecast.scope, splice);
    QCOMPARE(splice.openCount(), std::size_t{0});
    QVERIFY(splice.canUndo());
    // The first is decided as the commit had it: then the fourth fits by itself.
    const std::size_t slot = splice.files()[0].text->slotOfRegion(0);
    splice.change({{{0, slot}, {true, std::string(kOwnText), "two ours\n"}}});
    layAnew(joined, forecast.scope, splice);
    QCOMPARE(splice.openCount(), std::size_t{0});
    const auto result = splice.result();
    QVERIFY(result);
    const auto tree = joined.repository->storeTree(*result);
    QVERIFY(tree);
    const QByteArray text = scratch.git(("show " + tree->hex() + ":plan.txt").c_str());
    QVERIFY(text.startsWith("one\ntwo ours, again\nthree"));
}

namespace {
/// A rebase of the three commits, decided and ready to be recorded.
struct Bench
{
    test::Joined joined;
    std::unique_ptr<Journal> journal;
    std::unique_ptr<Splice> splice;

    static void prepare(ScratchRepository& scratch)
    {
        makeThreeCommits(scratch);
        scratch.git({QStringLiteral("commit"),
                     QStringLiteral("-q"),
                     QStringLiteral("--amend"),
                     QStringLiteral("--author=Tao Lindqvist <tao@slackwater.example>"),
                     QStringLiteral("--date=@1790000000 +0545"),
                     QStringLiteral("-m"),
                     QStringLiteral("third\n\n# kept as it is")});
    }

    explicit Bench(const std::string& folder, WorkChoice work = WorkChoice::none)
    {
        joined = test::joinBranches(folder);
        const RebaseForecast forecast = forecastOf(joined);
        splice = std::make_unique<Splice>(spliceOf(joined, forecast, work));
        decideLeg(*splice, 0, "two of both\n");
        layAnew(joined, forecast.scope, *splice);
        journal = std::move(Journal::open(*joined.repository->privateFolder())).value();
        JournalEntry entry;
        entry.plan = splice->plan();
        entry.startedAt = 1'793'700'000;
        (void)journal->begin(entry);
    }

    Result<Recorded> record(const ProgressSink& progress = {})
    {
        return recordSplice(*joined.repository,
                            *journal,
                            splice->plan().id,
                            recordingPlanOf(*splice, {}).value(),
                            progress);
    }
};
}  // namespace

/// In a process of its own: is killed at a step of recording.
void TestRebase::initTestCase()
{
    test::dieIfChild([](const std::string& folder, const ProgressSink& progress) {
        (void)Bench(folder).record(progress);
    });
}

void TestRebase::record_keepsAuthorsAndTellsHooks()
{
    ScratchRepository scratch;
    Bench::prepare(scratch);
    Bench bench(scratch.path());
    scratch.addHook("pre-rebase", "echo \"$#:$1\" > before.log\n");
    scratch.addHook("post-rewrite", "echo \"$1\" > after.log; cat >> after.log\n");
    scratch.addHook("pre-commit", "exit 1\n");
    scratch.addHook("commit-msg", "exit 1\n");
    scratch.git("config notes.rewriteRef refs/notes/commits");
    scratch.git("notes add -m reviewed ours");
    const QByteArray third = scratch.git("rev-parse ours");
    const QByteArray first = scratch.git("rev-parse ours~2");
    const auto recorded = bench.record();
    QVERIFY(recorded);
    QCOMPARE(subjects(scratch, "theirs..ours"), "first\nthird");
    QCOMPARE(scratch.git("log -1 --format=%an|%ae|%ad|%B --date=raw ours"),
             "Tao Lindqvist|tao@slackwater.example|1790000000 +0545|third\n\n# kept as it is");
    QCOMPARE(scratch.git("status --porcelain"), "?? after.log\n?? before.log");
    QCOMPARE(scratch.read("plan.txt"),
             "one\ntwo of both\nthree\nfour\nfive\nsix\nseven ours\neight\n");
    QCOMPARE(scratch.read("before.log"), "1:theirs\n");
    QCOMPARE(scratch.read("after.log"),
             "rebase\n" + first + " " + scratch.git("rev-parse ours~1") + "\n" + third + " "
                 + scratch.git("rev-parse ours") + "\n");
    QCOMPARE(scratch.git("notes show ours"), "reviewed");
    QCOMPARE(recorded->rewritten.size(), std::size_t{2});
    QCOMPARE(QByteArray::fromStdString(recorded->rewritten[1].first.id.hex()), third);
    QCOMPARE(scratch.git("log -g -1 --format=%gs ours"), "rebase onto theirs: spliced");
    scratch.git("fsck --strict");
}

void TestRebase::record_hookRefuses_nothingChanged()
{
    ScratchRepository scratch;
    Bench::prepare(scratch);
    Bench bench(scratch.path());
    scratch.addHook("pre-rebase", "echo not on a Friday; exit 1\n");
    const QByteArray before = scratch.fingerprint();
    const auto recorded = bench.record();
    QVERIFY(!recorded);
    QCOMPARE(recorded.error().reason, Reason::hookRefused);
    QVERIFY(recorded.error().detail.find("not on a Friday") != std::string::npos);
    QCOMPARE(scratch.fingerprint(), before);
    scratch.remove(".git/hooks/pre-rebase");
    QVERIFY(bench.record());
}

/// As a `git status` that somebody runs just then.
void TestRebase::record_indexLockedForAMoment_waits()
{
    ScratchRepository scratch;
    Bench::prepare(scratch);
    Bench bench(scratch.path());
    std::jthread other;
    const auto recorded = bench.record([&](const Progress& progress) {
        if (progress.step == ProgressStep::bringing) {
            scratch.write(".git/index.lock", "");
            other = std::jthread([&scratch] {
                std::this_thread::sleep_for(std::chrono::milliseconds(300));
                scratch.remove(".git/index.lock");
            });
        }
    });
    QVERIFY2(recorded.hasValue(), recorded.hasValue() ? "" : recorded.error().detail.c_str());
    QCOMPARE(subjects(scratch, "theirs..ours"), "first\nthird");
    QCOMPARE(scratch.git("status --porcelain"), "");
}

void TestRebase::record_branchNotCheckedOut_filesStay()
{
    ScratchRepository scratch;
    Bench::prepare(scratch);
    scratch.git("switch -q main");
    scratch.write("keep.txt", "not committed\n");
    scratch.addHook("pre-rebase", "echo \"$2\" > before.log\n");
    Bench bench(scratch.path(), WorkChoice::filesStay);
    QVERIFY(bench.record());
    QCOMPARE(subjects(scratch, "theirs..ours"), "first\nthird");
    QCOMPARE(scratch.git("rev-parse --abbrev-ref HEAD"), "main");
    QCOMPARE(scratch.git("status --porcelain"), "?? before.log\n?? keep.txt");
    QCOMPARE(scratch.read("before.log"), "ours\n");
}

void TestRebase::kill_atEachStep_isBeforeOrAfter_data()
{
    QTest::addColumn<QByteArray>("step");
    for (const char* const step :
         {"bringing", "committing", "writingCommits", "moving", "finishing"}) {
        QTest::newRow(step) << QByteArray(step);
    }
}

void TestRebase::kill_atEachStep_isBeforeOrAfter()
{
    QFETCH(const QByteArray, step);
    ScratchRepository scratch;
    Bench::prepare(scratch);
    const QByteArray before = scratch.fingerprint();
    test::killAt(scratch.folder(), step);
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const auto journal = std::move(Journal::open(*place->privateFolder())).value();
    const auto recovery = recoverRecording(*place, *journal);
    QVERIFY(recovery && *recovery);
    QCOMPARE((*recovery)->isFinished, step == "finishing");
    if ((*recovery)->isFinished) {
        QCOMPARE(subjects(scratch, "theirs..ours"), "first\nthird");
        QCOMPARE(scratch.git("status --porcelain"), "");
    } else {
        QCOMPARE(scratch.fingerprint(), before);
    }
    scratch.git("fsck --strict");
}

void TestRebase::otherEncoding_isKept()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.write("keep.txt", "of ours\n");
    scratch.git("config i18n.commitEncoding ISO-8859-1");
    scratch.git("add keep.txt");
    scratch.git(
        {QStringLiteral("commit"), QStringLiteral("-q"), QStringLiteral("-F"), QStringLiteral("-")},
        "Gr\xfc\xdf"
        "e\n");
    scratch.git("config --unset i18n.commitEncoding");
    const test::Joined joined = test::joinBranches(scratch);
    const RebaseForecast forecast = forecastOf(joined);
    Splice splice = spliceOf(joined, forecast);
    decideLeg(splice, 0, "two of both\n");
    layAnew(joined, forecast.scope, splice);
    auto journal = std::move(Journal::open(*joined.repository->privateFolder())).value();
    JournalEntry entry;
    entry.plan = splice.plan();
    QVERIFY(journal->begin(entry));
    QVERIFY(recordSplice(
        *joined.repository, *journal, splice.plan().id, recordingPlanOf(splice, {}).value()));
    QCOMPARE(scratch.git("log -1 --format=%s --encoding=UTF-8"),
             "Gr\xc3\xbc\xc3\x9f"
             "e");
}

/// What a remote has is known from where its branch has stood here, whenever the commits were made.
void TestRebase::sharedCommits_areToldSinceWhen()
{
    ScratchRepository scratch;
    test::makeBranches(scratch, "a=%10", "a=%10/2=ours", "b=%5");
    scratch.git("switch -q ours");
    QByteArrayList made{scratch.git("rev-parse ours")};
    for (const char* text : {"second", "third"}) {
        scratch.write("own", text);
        made << scratch.commit(text);
    }
    const QByteArray base = scratch.git("merge-base ours theirs");
    QByteArray reflog;
    QByteArray before(40, '0');
    int at = 1'790'000'000;
    for (const QByteArray& tip : {base, made[0], made[1]}) {
        reflog += before + ' ' + tip + " Maren Voss <maren@slackwater.example> "
                  + QByteArray::number(at += 100) + " +0000\tupdate by push\n";
        before = tip;
    }
    scratch.git(("update-ref refs/remotes/origin/ours " + made[1]).constData());
    scratch.write(".git/logs/refs/remotes/origin/ours", reflog);
    const test::Joined joined = test::joinBranches(scratch);
    const auto scope =
        rebaseScope(*joined.repository, joined.forecast.divergence, joined.forecast.theirs.id);
    const auto branches = joined.repository->branches();
    const auto shared =
        sharedCommits(*joined.repository, *scope, joined.forecast.ours.id, *branches);
    QCOMPARE(shared->size(), std::size_t{1});
    QCOMPARE(shared->front().commits.size(), std::size_t{2});
    QCOMPARE(shared->front().since.value_or(0), std::int64_t{1'790'000'200});
}

/// However many branches a remote has, what they share is found in one walk.
void TestRebase::sharedCommits_costNoProcessPerBranch()
{
    ScratchRepository scratch;
    test::makeBranches(scratch, "a=%10", "a=%10/2=ours", "b=%5");
    const QByteArray base = scratch.git("merge-base ours theirs");
    const test::Joined joined = test::joinBranches(scratch);
    const auto scope =
        rebaseScope(*joined.repository, joined.forecast.divergence, joined.forecast.theirs.id);
    test::CountedGit git;
    const auto countWith = [&](int branches) {
        for (int i = 0; i < branches; ++i) {
            scratch.git(("update-ref refs/remotes/origin/b" + QByteArray::number(i) + ' ' + base)
                            .constData());
        }
        const auto place = std::move(GitPlace::open(scratch.path())).value();
        const auto all = place->branches();
        (void)git.takeCount();
        const auto shared = sharedCommits(*place, *scope, joined.forecast.ours.id, *all);
        QTest::qVerify(shared && shared->empty(), "shared", "", __FILE__, __LINE__);
        return git.takeCount();
    };
    constexpr int kCountedLate = 3;  // what opening the place has started may write its line later
    const int withFew = countWith(2);
    QVERIFY(withFew > 0);
    QVERIFY(countWith(60) <= withFew + kCountedLate);
}

ROPE_TESTS(TestRebase, QCoreApplication)
#include "tst_rebase.moc"
