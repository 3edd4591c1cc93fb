// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/splice/collisions.h"
#include "core/system/git/git_place.h"
#include "tests/support/scratch_repository.h"

#include <QTest>

using namespace rope;
using rope::test::ScratchRepository;

class TestCollisions : public QObject
{
    Q_OBJECT
private slots:
    void pairs_ownFirst_eachOnce();
    void collide_tellsWhatGitWould();
    void branches_mainThenOwnThenNewest();
};

void TestCollisions::pairs_ownFirst_eachOnce()
{
    const auto pairs = pairsInOrder(5, 2);
    QCOMPARE(pairs.size(), std::size_t{10});
    for (std::size_t i = 0; i < 4; ++i) {
        QVERIFY(pairs[i].first == 2 || pairs[i].second == 2);
    }
    QCOMPARE(std::set<BranchPair>(pairs.begin(), pairs.end()).size(), std::size_t{10});
    QVERIFY(pairsInOrder(1, 0).empty());
}

void TestCollisions::collide_tellsWhatGitWould()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    scratch.git("switch -q -c apart main");
    scratch.write("other.txt", "of its own\n");
    scratch.commit("apart");
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const auto outcome = [&](const char* first, const char* second) {
        return *collide(*place, *place->resolveCommit(first), *place->resolveCommit(second));
    };
    const PairOutcome meets = outcome("ours", "theirs");
    QCOMPARE(static_cast<int>(meets.kind), static_cast<int>(PairOutcome::Kind::collides));
    QCOMPARE(meets.open, std::size_t{1});
    QCOMPARE(meets.files.front().path, std::string("plan.txt"));
    QVERIFY(meets.firstCommits == 1 && meets.secondCommits == 1);
    QCOMPARE(static_cast<int>(outcome("apart", "ours").kind),
             static_cast<int>(PairOutcome::Kind::joins));
    QCOMPARE(static_cast<int>(outcome("main", "ours").kind),
             static_cast<int>(PairOutcome::Kind::contained));
    scratch.git("switch -q --orphan elsewhere");
    scratch.commit("another beginning");
    QCOMPARE(static_cast<int>(outcome("elsewhere", "ours").kind),
             static_cast<int>(PairOutcome::Kind::unknown));
}

void TestCollisions::branches_mainThenOwnThenNewest()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    for (const char* name : {"main", "theirs", "ours"}) {
        scratch.git({QStringLiteral("update-ref"),
                     QStringLiteral("refs/remotes/origin/") + QLatin1String(name),
                     QLatin1String(name)});
    }
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const auto branches = collisionBranches(
        *place, *place->branches(), "refs/remotes/origin/main", "refs/heads/ours", 3);
    QVERIFY(branches);
    QCOMPARE(branches->size(), std::size_t{3});  // origin/ours is in ours
    QCOMPARE(branches->at(0).name, std::string("origin/main"));
    QVERIFY(branches->at(1).isOwn);
    QCOMPARE(branches->at(2).name, std::string("origin/theirs"));
}

QTEST_GUILESS_MAIN(TestCollisions)
#include "tst_collisions.moc"
