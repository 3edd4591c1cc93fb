// SPDX-License-Identifier: GPL-3.0-or-later
// A merge that is recorded anew with what stands upon it carried along, and corrected with that below it;
// compared with what git's own commands make of the same.
#include "core/logbook/recorder.h"
#include "core/plan/carried_commits.h"
#include "core/plan/laid_commits.h"
#include "core/plan/recording_plan.h"
#include "tests/support/joined_branches.h"
#include "tests/support/killed_child.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
constexpr const char* kMessage = "Merge theirs\n\nas decided again";

/// ours and theirs clash in the second line; git's merge of them was decided for ours, and commits stand
/// upon it: two on other places, the third where the merge was decided if it `meets` that.
void prepare(ScratchRepository& scratch, bool meets)
{
    scratch.write("plan.txt", "one\ntwo\nthree\nfour\nfive\nsix\nseven\neight\n");
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("plan.txt", "one\ntwo theirs\nthree\nfour\nfive\nsix\nseven\neight\n");
    scratch.write("theirs.txt", "theirs\n");
    scratch.commit("theirs edits");
    scratch.git("switch -q -c ours main");
    scratch.write("plan.txt", "one\ntwo ours\nthree\nfour\nfive\nsix\nseven\neight\n");
    scratch.commit("ours edits");
    int exitCode = 0;
    (void)scratch.tryGit({QStringLiteral("merge"), QStringLiteral("-q"), QStringLiteral("theirs")},
                         exitCode);
    scratch.git("checkout --ours plan.txt");
    scratch.commit("Merge theirs");
    scratch.git("branch merged");
    scratch.write("plan.txt", "one\ntwo ours\nthree\nfour\nfive\nsix\nseven\neight later\n");
    scratch.git({QStringLiteral("commit"),
                 QStringLiteral("-qam"),
                 QStringLiteral("first later"),
                 QStringLiteral("--author=Tao Lindqvist <tao@slackwater.example>"),
                 QStringLiteral("--date=@1790000000 +0545")});
    scratch.write("later.txt", "a file of its own\n");
    scratch.commit("second later");
    if (meets) {
        scratch.write("plan.txt",
                      "one\ntwo ours, later\nthree\nfour\nfive\nsix\nseven\neight later\n");
        scratch.commit("third later");
    }
}

/// The merge opened again, decided for theirs, with everything that stands upon it.
struct Reopened
{
    test::Joined joined;
    std::unique_ptr<Journal> journal;
    std::unique_ptr<Splice> splice;
    LayRequest request;

    explicit Reopened(const std::string& folder, SpliceKind kind = SpliceKind::merge)
    {
        joined = test::joinBranches(folder, "merged^1", "theirs");
        GitPlace& place = *joined.repository;
        SplicePlan plan{"splice-1",
                        "refs/heads/ours",
                        "ours",
                        "theirs",
                        joined.forecast.ours.id,
                        joined.forecast.theirs.id};
        plan.kind = kind;
        plan.replaced = place.resolveCommit("merged").value();
        plan.above = place.resolveCommit("ours").value();
        const auto forecast = std::make_shared<const Forecast>(joined.forecast);
        request.below = Leg(forecast, &forecast->join);
        (void)addCarriedCommits(place, plan, request.scope);
        std::vector<Leg> legs;
        std::vector<LegStanding> standings;
        const auto laid = layCommits(place, request).value();
        for (const LaidCommit& one : laid) {
            legs.push_back(one.leg);
            standings.push_back(one.standing);
        }
        splice = std::make_unique<Splice>(plan, forecast, DecidedJoin(legs), standings);
        decide(0, FileChoice::theirs);
        journal = std::move(Journal::open(*place.privateFolder())).value();
        JournalEntry entry;
        entry.plan = plan;
        entry.startedAt = 1'793'700'000;
        (void)journal->begin(entry);
        (void)keepAlive(place, *journal, plan);
    }

    /// Decides all that is open in a leg for a side, and lays what follows on that.
    void decide(std::size_t leg, FileChoice side)
    {
        for (std::size_t file = 0; file < splice->files().size(); ++file) {
            if (splice->files()[file].leg == leg) {
                splice->decideAllOpen(file, side);
            }
        }
        request.decisions = splice->decisions();
        request.known = splice->legs();
        (void)putLaid(*splice, layCommits(*joined.repository, request).value());
    }

    Result<Recorded> record(const ProgressSink& progress = {})
    {
        return recordSplice(*joined.repository,
                            *journal,
                            splice->plan().id,
                            recordingPlanOf(*splice, kMessage).value(),
                            progress);
    }
};

QByteArray subjects(ScratchRepository& scratch)
{
    return scratch.git("log --format=%s --first-parent ours -4");
}
}  // namespace

class TestCarriedCommits : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void merge_takesItsPlace_andTheRestFollows();
    void laterCommit_meetsTheDecision_isAsked();
    void laterCommit_becomesEmpty_isSkipped();
    void correction_isJoinedToWhatCameAfter();
    void mergeAbove_isRefused_butCorrected();
    void hooks_areToldOfBoth();
    void kill_atEachStep_isBeforeOrAfter_data();
    void kill_atEachStep_isBeforeOrAfter();
};

/// In a process of its own: is killed at a step of recording.
void TestCarriedCommits::initTestCase()
{
    test::dieIfChild([](const std::string& folder, const ProgressSink& progress) {
        (void)Reopened(folder).record(progress);
    });
}

void TestCarriedCommits::merge_takesItsPlace_andTheRestFollows()
{
    ScratchRepository scratch;
    prepare(scratch, false);
    scratch.git("branch before ours");
    Reopened again(scratch.path());
    QCOMPARE(again.splice->openCount(), std::size_t{0});
    QCOMPARE(again.splice->legs().size(), std::size_t{3});
    QVERIFY(!again.splice->standings()[0].isCarried && again.splice->standings()[1].isCarried);
    const auto recorded = again.record();
    QVERIFY2(recorded.hasValue(), recorded.hasValue() ? "" : recorded.error().detail.c_str());
    QCOMPARE(recorded->rewritten.size(), std::size_t{2});
    QCOMPARE(subjects(scratch), "second later\nfirst later\nMerge theirs\nours edits");
    QCOMPARE(scratch.git("log -1 --format=%B ours~2"), QByteArray(kMessage));
    QCOMPARE(scratch.git("log -1 --format=%an|%ad --date=raw ours~1"),
             "Tao Lindqvist|1790000000 +0545");
    QCOMPARE(scratch.git("rev-parse ours~2^1 ours~2^2"),
             scratch.git("rev-parse merged^1 merged^2"));
    QCOMPARE(scratch.read("plan.txt"),
             "one\ntwo theirs\nthree\nfour\nfive\nsix\nseven\neight later\n");
    QCOMPARE(scratch.git("status --porcelain"), "");
    // git picks the same commits onto the same merge.
    const QByteArray ours = scratch.git("rev-parse ours^{tree}");
    scratch.git("checkout -q --detach ours~2");
    scratch.git("cherry-pick merged..before");
    QCOMPARE(scratch.git("rev-parse HEAD^{tree}"), ours);
    // The logbook can tell the merge from what followed it.
    QCOMPARE((*again.journal->splice("splice-1"))->carried, std::size_t{2});
    scratch.git("fsck --strict");
}

void TestCarriedCommits::laterCommit_meetsTheDecision_isAsked()
{
    ScratchRepository scratch;
    prepare(scratch, true);
    Reopened again(scratch.path());
    QCOMPARE(again.splice->openCount(), std::size_t{1});
    QCOMPARE(again.splice->openCountOf(3), std::size_t{1});
    QVERIFY(!again.splice->standings()[3].isAbout);
    again.decide(3, FileChoice::ours);
    QVERIFY(again.record());
    QCOMPARE(subjects(scratch), "third later\nsecond later\nfirst later\nMerge theirs");
    QCOMPARE(scratch.git("show ours~1:plan.txt").split('\n')[1], "two theirs");
    QCOMPARE(scratch.git("show ours:plan.txt").split('\n')[1], "two ours, later");
}

void TestCarriedCommits::laterCommit_becomesEmpty_isSkipped()
{
    ScratchRepository scratch;
    prepare(scratch, false);
    scratch.write("plan.txt", "one\ntwo theirs\nthree\nfour\nfive\nsix\nseven\neight later\n");
    scratch.commit("theirs after all");
    Reopened again(scratch.path());
    QVERIFY(again.splice->standings()[3].isEmptied);
    QVERIFY(again.record());
    QCOMPARE(subjects(scratch), "second later\nfirst later\nMerge theirs\nours edits");
    QCOMPARE((*again.journal->splice("splice-1"))->carried, std::size_t{2});
}

void TestCarriedCommits::correction_isJoinedToWhatCameAfter()
{
    ScratchRepository scratch;
    prepare(scratch, false);
    const QByteArray before = scratch.git("rev-parse ours");
    Reopened again(scratch.path(), SpliceKind::correction);
    QCOMPARE(again.splice->legs().size(), std::size_t{2});
    QVERIFY(again.record());
    QCOMPARE(scratch.git("rev-parse ours^"), before);
    QCOMPARE(scratch.git("diff --unified=0 ours^ ours").split('\n').mid(5).join('\n'),
             "-two ours\n+two theirs");
    QCOMPARE(scratch.read("later.txt"), "a file of its own\n");
    QCOMPARE(scratch.git("status --porcelain"), "");
}

void TestCarriedCommits::mergeAbove_isRefused_butCorrected()
{
    ScratchRepository scratch;
    prepare(scratch, false);
    scratch.git("switch -q -c side main");
    scratch.write("side.txt", "aside\n");
    scratch.commit("aside");
    scratch.git("switch -q ours");
    scratch.git("merge -q --no-ff -m joined side");
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    SplicePlan plan{"splice-1", "refs/heads/ours", "ours", "theirs", {}, {}};
    plan.replaced = place->resolveCommit("merged").value();
    plan.above = place->resolveCommit("ours").value();
    RebaseScope scope;
    const Status refused = addCarriedCommits(*place, plan, scope);
    QVERIFY(!refused);
    QCOMPARE(refused.error().reason, Reason::mergeAbove);
    QCOMPARE(QByteArray::fromStdString(refused.error().subject),
             scratch.git("rev-parse ours").left(7));
    std::swap(plan.replaced, plan.above);
    QCOMPARE(addCarriedCommits(*place, plan, scope).error().reason, Reason::lineMoved);
    Reopened again(scratch.path(), SpliceKind::correction);
    QVERIFY(again.record());
    QCOMPARE(scratch.git("rev-list --count ours^..ours"), "1");
    QCOMPARE(scratch.read("side.txt"), "aside\n");
    QCOMPARE(scratch.read("plan.txt"),
             "one\ntwo theirs\nthree\nfour\nfive\nsix\nseven\neight later\n");
}

void TestCarriedCommits::hooks_areToldOfBoth()
{
    ScratchRepository scratch;
    prepare(scratch, false);
    scratch.addHook("pre-merge-commit", "echo merge >> told.log\n");
    scratch.addHook("commit-msg", "echo and checked >> \"$1\"\n");
    scratch.addHook("post-rewrite", "echo \"$1\" >> told.log; cat >> told.log\n");
    const QByteArray pairs =
        scratch.git("rev-parse ours~1") + " %1\n" + scratch.git("rev-parse ours") + " %2\n";
    {
        Reopened again(scratch.path());
        QVERIFY(again.record());
    }
    QCOMPARE(scratch.git("log -1 --format=%B ours~2"), QByteArray(kMessage) + "\nand checked");
    QCOMPARE(scratch.read("told.log"),
             "merge\nrebase\n"
                 + QByteArray(pairs)
                       .replace("%1", scratch.git("rev-parse ours~1"))
                       .replace("%2", scratch.git("rev-parse ours")));
    // What a hook stages besides has no place below commits that do not hold it.
    scratch.remove("told.log");
    scratch.git("branch -f merged ours~2");
    scratch.addHook("pre-merge-commit", "echo made > made.txt; git add made.txt\n");
    const QByteArray before = scratch.git("rev-parse ours");
    Reopened again(scratch.path());
    const auto refused = again.record();
    QVERIFY(!refused);
    QCOMPARE(refused.error().reason, Reason::hookChangedResult);
    QCOMPARE(scratch.git("rev-parse ours"), before);
}

void TestCarriedCommits::kill_atEachStep_isBeforeOrAfter_data()
{
    QTest::addColumn<QByteArray>("step");
    for (const char* const step :
         {"bringing", "committing", "writingCommits", "moving", "finishing"}) {
        QTest::newRow(step) << QByteArray(step);
    }
}

void TestCarriedCommits::kill_atEachStep_isBeforeOrAfter()
{
    QFETCH(const QByteArray, step);
    ScratchRepository scratch;
    prepare(scratch, false);
    const QByteArray before = scratch.fingerprint();
    test::killAt(scratch.folder(), step);
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const auto journal = std::move(Journal::open(*place->privateFolder())).value();
    const auto recovery = recoverRecording(*place, *journal);
    QVERIFY(recovery && *recovery);
    QCOMPARE((*recovery)->isFinished, step == "finishing");
    QCOMPARE((*journal->splice("splice-1"))->carried, std::size_t{2});
    if ((*recovery)->isFinished) {
        QCOMPARE(subjects(scratch), "second later\nfirst later\nMerge theirs\nours edits");
        QCOMPARE(scratch.git("status --porcelain"), "");
    } else {
        QCOMPARE(scratch.fingerprint(), before);
    }
    scratch.git("fsck --strict");
}

ROPE_TESTS(TestCarriedCommits, QCoreApplication)
#include "tst_carried_commits.moc"
