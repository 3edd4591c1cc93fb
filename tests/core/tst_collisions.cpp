// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/join/collisions.h"
#include "core/join/pair_reading.h"
#include "core/system/git/git_place.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;
using rope::test::ScratchRepository;

class TestCollisions : public QObject
{
    Q_OBJECT
private slots:
    void pairs_ownFirst_eachOnce();
    void collide_tellsWhatGitWould();
    void manyPairs_areAsEachAlone();
    void readPair_saysWhatBothMade_andSinceWhen();
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
        const CommitPair pair{*place->resolveCommit(first), *place->resolveCommit(second)};
        PairOutcome found;
        const auto done = collideAll(*place,
                                     std::vector{pair},
                                     [&](std::size_t, const PairOutcome& known) { found = known; });
        return done ? found : PairOutcome{};
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

/// History is read once for all pairs; each must come out as if it had been asked about alone.
void TestCollisions::manyPairs_areAsEachAlone()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    QStringList names{QStringLiteral("ours"), QStringLiteral("theirs"), QStringLiteral("main")};
    for (int i = 0; i < 6; ++i) {
        const QString name = QStringLiteral("topic%1").arg(i);
        scratch.git(
            {QStringLiteral("switch"), QStringLiteral("-q"), QStringLiteral("-c"), name, names[i]});
        scratch.write(i % 2 == 0 ? "plan.txt" : "other.txt",
                      QByteArray("by topic ") + char('0' + i) + "\n");
        scratch.commit("a topic");
        if (i == 4) {
            scratch.git("merge -q -s ours topic1 -m crossed");
        }
        names << name;
    }
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    std::vector<CommitPair> pairs;
    for (const QString& first : names) {
        for (const QString& second : names) {
            pairs.push_back({*place->resolveCommit(first.toStdString()),
                             *place->resolveCommit(second.toStdString())});
        }
    }
    std::vector<PairOutcome> together(pairs.size());
    QVERIFY(collideAll(
        *place, pairs, [&](std::size_t i, const PairOutcome& outcome) { together[i] = outcome; }));
    for (std::size_t i = 0; i < pairs.size(); ++i) {
        const auto alone = forecastJoin(*place, pairs[i].first, pairs[i].second);
        QVERIFY(alone);
        QCOMPARE(static_cast<int>(together[i].relation),
                 static_cast<int>(alone->divergence.relation));
        QCOMPARE(together[i].open, alone->openCount());
        QCOMPARE(together[i].firstCommits, alone->divergence.oursOnly.size());
        QCOMPARE(together[i].secondCommits, alone->divergence.theirsOnly.size());
    }
}

void TestCollisions::readPair_saysWhatBothMade_andSinceWhen()
{
    ScratchRepository scratch;
    test::makeDiverged(scratch);
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const CommitPair pair{*place->resolveCommit("ours"), *place->resolveCommit("theirs")};
    const auto reading = readPair(*place, pair, "plan.txt");
    QVERIFY(reading);
    QVERIFY(!reading->first.text.excerpts.empty() && !reading->second.text.excerpts.empty());
    QVERIFY(reading->firstCommit && reading->secondCommit);
    const Commit* since = reading->since();
    QVERIFY(since != nullptr);
    QVERIFY(
        since->committer.time
        == std::max(reading->firstCommit->committer.time, reading->secondCommit->committer.time));
    QVERIFY(!readPair(*place, pair, "nowhere.txt"));
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

ROPE_TESTS(TestCollisions, QCoreApplication)
#include "tst_collisions.moc"
