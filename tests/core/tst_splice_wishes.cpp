// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/plan/splice_wishes.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

namespace {
ObjectId idOf(char digit)
{
    return *ObjectId::fromHex(std::string(40, digit));
}

const Standing kInto{"refs/heads/tide", "tide", idOf('1'), true};
const Branch kTheirs{"refs/remotes/origin/main", "origin/main", idOf('2'), {}, true, true};

/// A merge of theirs into tide, recorded as 3.
SplicePlan recordedMerge()
{
    SplicePlan plan = planToJoin("old", kInto, kTheirs, SpliceKind::merge, WorkChoice::setAside);
    plan.work = idOf('9');
    plan.begun = "stamp";
    return plan;
}
}  // namespace

class TestSpliceWishes : public QObject
{
    Q_OBJECT
private slots:
    void join_isOfBothBranches();
    void carryOn_branchesMoved_joinsThemAsTheyStand();
    void carryOn_replacedStillThere_staysReplaced();
    void carryOn_notCheckedOut_leavesFiles();
    void reopen_tipIsMade_nothingIsAbove();
    void reopen_onTop_isCorrectionOfItsKind();
    void reopenMerge_namesTheSecondParent();
    void takeOut_isRevertOfWhatWasMade();
    void roll_backAndForward_areEachOthersWay();
    void follow_nothing_hasNoTheirs();
    void bringBack_putsWorkOnWhereOneStands();
};

void TestSpliceWishes::join_isOfBothBranches()
{
    const SplicePlan plan =
        planToJoin("new", kInto, kTheirs, SpliceKind::rebase, WorkChoice::filesStay);
    QCOMPARE(plan.id, std::string("new"));
    QCOMPARE(plan.oursRef, kInto.ref);
    QCOMPARE(plan.theirsName, kTheirs.name);
    QCOMPARE(plan.ours, kInto.tip);
    QCOMPARE(plan.theirs, kTheirs.tip);
    QCOMPARE(plan.kind, SpliceKind::rebase);
    QCOMPARE(plan.workChoice, WorkChoice::filesStay);
    QCOMPARE(plan.expected(), kInto.tip);
}

void TestSpliceWishes::carryOn_branchesMoved_joinsThemAsTheyStand()
{
    const Branch own{kInto.ref, kInto.name, idOf('4'), {}, false, false};
    Branch moved = kTheirs;
    moved.tip = idOf('5');
    const SplicePlan plan = planToCarryOn("new", recordedMerge(), own, true, &moved);
    QCOMPARE(plan.ours, own.tip);
    QCOMPARE(plan.theirs, moved.tip);
    QVERIFY(plan.begun.empty());
    // Where theirs is gone it is joined as it was.
    QCOMPARE(planToCarryOn("new", recordedMerge(), own, true, nullptr).theirs, kTheirs.tip);
}

void TestSpliceWishes::carryOn_replacedStillThere_staysReplaced()
{
    SplicePlan again = planToReopen("again", recordedMerge(), idOf('3'), idOf('3'), false, {});
    Branch own{kInto.ref, kInto.name, idOf('3'), {}, false, false};
    QCOMPARE(planToCarryOn("new", again, own, true, &kTheirs).replaced, idOf('3'));
    own.tip = idOf('6');
    const SplicePlan moved = planToCarryOn("new", again, own, true, &kTheirs);
    QVERIFY(moved.replaced.isNull());
    QCOMPARE(moved.ours, own.tip);
}

void TestSpliceWishes::carryOn_notCheckedOut_leavesFiles()
{
    const Branch own{kInto.ref, kInto.name, kInto.tip, {}, false, false};
    const SplicePlan away = planToCarryOn("new", recordedMerge(), own, false, &kTheirs);
    QCOMPARE(away.workChoice, WorkChoice::filesStay);
    QCOMPARE(planToCarryOn("new", away, own, true, &kTheirs).workChoice, WorkChoice::carry);
}

void TestSpliceWishes::reopen_tipIsMade_nothingIsAbove()
{
    const SplicePlan plan =
        planToReopen("new", recordedMerge(), idOf('3'), idOf('3'), false, WorkChoice::carry);
    QCOMPARE(plan.kind, SpliceKind::merge);
    QCOMPARE(plan.replaced, idOf('3'));
    QVERIFY(plan.above.isNull());
    QVERIFY(plan.work.isNull());
    QVERIFY(plan.begun.empty());
    QCOMPARE(plan.expected(), idOf('3'));
    QCOMPARE(planToReopen("new", recordedMerge(), idOf('3'), idOf('7'), false, {}).expected(),
             idOf('7'));
}

void TestSpliceWishes::reopen_onTop_isCorrectionOfItsKind()
{
    SplicePlan rebase = recordedMerge();
    QCOMPARE(planToReopen("new", rebase, idOf('3'), idOf('3'), true, {}).kind,
             SpliceKind::correction);
    rebase.kind = SpliceKind::rebase;
    QCOMPARE(planToReopen("new", rebase, idOf('3'), idOf('3'), true, {}).kind,
             SpliceKind::rebaseCorrection);
}

void TestSpliceWishes::reopenMerge_namesTheSecondParent()
{
    Commit merge;
    merge.id = idOf('3');
    merge.parents = {idOf('1'), idOf('2')};
    const SplicePlan plan = planToReopenMerge("new", kInto, merge, false, {}, WorkChoice::carry);
    QCOMPARE(plan.kind, SpliceKind::merge);
    QCOMPARE(plan.ours, idOf('1'));
    QCOMPARE(plan.theirs, idOf('2'));
    QCOMPARE(plan.theirsName, idOf('2').brief());
    QCOMPARE(plan.replaced, idOf('3'));
    QCOMPARE(planToReopenMerge("new", kInto, merge, true, idOf('8'), {}).kind,
             SpliceKind::correction);
}

void TestSpliceWishes::takeOut_isRevertOfWhatWasMade()
{
    SplicePlan recorded = recordedMerge();
    const SplicePlan plan = planToTakeOut("new", recorded, idOf('3'), idOf('7'), {});
    QCOMPARE(plan.kind, SpliceKind::revert);
    QCOMPARE(plan.ours, idOf('7'));
    QCOMPARE(plan.theirs, idOf('3'));
    QCOMPARE(plan.theirsName, kTheirs.name);
    recorded.kind = SpliceKind::correction;  // what it brought in has no branch's name
    QCOMPARE(planToTakeOut("new", recorded, idOf('3'), idOf('7'), {}).theirsName,
             idOf('3').brief());
}

void TestSpliceWishes::roll_backAndForward_areEachOthersWay()
{
    const SplicePlan recorded = recordedMerge();
    const SplicePlan back = planToRoll("new", recorded, idOf('3'), false, WorkChoice::carry);
    const SplicePlan forward = planToRoll("new", recorded, idOf('3'), true, WorkChoice::carry);
    QCOMPARE(back.kind, SpliceKind::rollBack);
    QCOMPARE(forward.kind, SpliceKind::rollForward);
    QCOMPARE(back.ours, idOf('3'));
    QCOMPARE(back.theirs, kInto.tip);
    QCOMPARE(forward.ours, back.theirs);
    QCOMPARE(forward.theirs, back.ours);
}

void TestSpliceWishes::follow_nothing_hasNoTheirs()
{
    const Branch own{kInto.ref, kInto.name, kInto.tip, {}, false, false};
    QVERIFY(planToFollow("new", own, nullptr).theirs.isNull());
    const SplicePlan plan = planToFollow("new", own, &kTheirs);
    QCOMPARE(plan.theirs, kTheirs.tip);
    QCOMPARE(plan.kind, SpliceKind::fastForward);
}

void TestSpliceWishes::bringBack_putsWorkOnWhereOneStands()
{
    const SplicePlan plan = planToBringBack("new", kInto, idOf('9'), "your work");
    QCOMPARE(plan.ours, idOf('9'));
    QCOMPARE(plan.theirs, kInto.tip);
    QCOMPARE(plan.oursRef, kInto.ref);
    QCOMPARE(plan.oursName, std::string("your work"));
    QCOMPARE(plan.theirsName, kInto.name);
    QCOMPARE(plan.expected(), kInto.tip);
}

ROPE_TESTS(TestSpliceWishes, QCoreApplication)
#include "tst_splice_wishes.moc"
