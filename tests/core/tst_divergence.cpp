// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/history/arrived.h"
#include "core/history/divergence.h"
#include "core/history/line_history.h"
#include "core/system/git/git_place.h"
#include "core/system/memory/memory_place.h"
#include "tests/support/random_texts.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QTest>

#include <algorithm>
#include <set>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
/// A random history: each commit has one or two parents among the earlier ones; now and then a root.
std::vector<QByteArray>
randomHistory(ScratchRepository& scratch, test::Random& random, int count, int wrongBySeconds)
{
    const QByteArray tree = scratch.git({QStringLiteral("mktree")}, "");
    std::vector<QByteArray> ids;
    for (int i = 0; i < count; ++i) {
        std::set<int> parents;
        for (int p = test::below(random, 12) == 0 || i == 0 ? 0 : 1 + test::below(random, 2); p > 0;
             --p) {
            parents.insert(std::max(0, i - 1 - test::below(random, 6)));
        }
        QByteArray text = "tree " + tree + "\n";
        for (const int parent : parents) {
            text += "parent " + ids[static_cast<std::size_t>(parent)] + "\n";
        }
        // Clocks run wrong by a little now and then, as they do.
        const QByteArray who =
            "A <a@b> "
            + QByteArray::number(1'793'610'000 + 60 * i
                                 - (test::below(random, 5) == 0 ? wrongBySeconds : 0))
            + " +0000\n";
        text += "author " + who + "committer " + who + "\ncommit " + QByteArray::number(i) + "\n";
        ids.push_back(scratch.git({QStringLiteral("hash-object"),
                                   QStringLiteral("-t"),
                                   QStringLiteral("commit"),
                                   QStringLiteral("-w"),
                                   QStringLiteral("--stdin")},
                                  text));
    }
    return ids;
}

QByteArrayList sortedLines(const QByteArray& text)
{
    QByteArrayList lines = text.split('\n');
    lines.removeAll(QByteArray());
    std::sort(lines.begin(), lines.end());
    return lines;
}

QByteArrayList sortedIds(const std::vector<CommitLink>& links)
{
    QByteArrayList ids;
    for (const CommitLink& link : links) {
        ids << QByteArray::fromStdString(link.id.hex());
    }
    std::sort(ids.begin(), ids.end());
    return ids;
}
}  // namespace

class TestDivergence : public QObject
{
    Q_OBJECT
private slots:
    void divergence_randomHistories_agreeWithGit_data();
    void divergence_randomHistories_agreeWithGit();
    void divergence_reachesNoFurtherThanNeeded();
    void divergence_relations_areNamed();
    void lastTouching_lines_findTheirCommit();
    void arrived_randomHistories_agreeWithGit();
};

void TestDivergence::divergence_randomHistories_agreeWithGit_data()
{
    QTest::addColumn<int>("wrongBySeconds");
    QTest::addColumn<bool>("hasGraph");
    QTest::newRow("clocks-a-little-wrong") << 100 << false;
    QTest::newRow("clocks-wrong-by-months") << 90 * 24 * 60 * 60 << false;
    QTest::newRow("clocks-of-the-future") << -400 * 24 * 60 * 60 << false;
    QTest::newRow("with-a-commit-graph") << 90 * 24 * 60 * 60 << true;
}

void TestDivergence::divergence_randomHistories_agreeWithGit()
{
    QFETCH(int, wrongBySeconds);
    QFETCH(bool, hasGraph);
    test::Random random(test::randomSeed());
    for (int round = 0; round < 6; ++round) {
        ScratchRepository scratch;
        const auto ids = randomHistory(scratch, random, 40, wrongBySeconds);
        // git's own answer to what is on one side only needs the graph to be right whatever clocks say.
        for (const QByteArray& id : ids) {
            scratch.git(QStringList{QStringLiteral("update-ref"),
                                    QStringLiteral("refs/all/") + QString::fromLatin1(id),
                                    QString::fromLatin1(id)});
        }
        const auto graph = [&] {
            scratch.git("commit-graph write --reachable");
        };
        if (hasGraph) {
            graph();
        }
        struct Pair
        {
            QByteArray a;
            QByteArray b;
            Divergence found;
        };
        std::vector<Pair> pairs;
        const auto repository = GitPlace::open(scratch.path());
        for (int pair = 0; pair < 12; ++pair) {
            const QByteArray a = ids[static_cast<std::size_t>(test::below(random, 40))];
            const QByteArray b = ids[static_cast<std::size_t>(test::below(random, 40))];
            auto found = findDivergence(**repository,
                                        *ObjectId::fromHex(a.toStdString()),
                                        *ObjectId::fromHex(b.toStdString()));
            QVERIFY(found);
            pairs.push_back({a, b, std::move(*found)});
        }
        if (!hasGraph) {
            graph();
        }
        for (const auto& [a, b, found] : pairs) {
            int exitCode = 0;
            const QString left = QString::fromLatin1(a);
            const QString right = QString::fromLatin1(b);
            const QByteArray bases = scratch.tryGit(
                {QStringLiteral("merge-base"), QStringLiteral("--all"), left, right}, exitCode);
            QByteArrayList own;
            for (const ObjectId& base : found.bases) {
                own << QByteArray::fromStdString(base.hex());
            }
            QCOMPARE(own, sortedLines(bases));
            QCOMPARE(sortedIds(found.theirsOnly),
                     sortedLines(scratch.git(
                         {QStringLiteral("rev-list"), left + QStringLiteral("..") + right})));
            QCOMPARE(sortedIds(found.oursOnly),
                     sortedLines(scratch.git(
                         {QStringLiteral("rev-list"), right + QStringLiteral("..") + left})));
        }
    }
}

/// An ordinary long history is not read to its end.
void TestDivergence::divergence_reachesNoFurtherThanNeeded()
{
    constexpr int kCommits = 4000;
    MemoryPlace place;
    const ObjectId tree = place.makeTree({}, {{"a", "1"}});
    ObjectId tip;
    for (int i = 0; i < kCommits; ++i) {
        tip = place.makeCommit(
            tree, tip.isNull() ? std::vector<ObjectId>{} : std::vector{tip}, std::to_string(i));
    }
    const ObjectId ours = place.makeCommit(tree, {tip}, "ours");
    const ObjectId theirs = place.makeCommit(tree, {tip}, "theirs");
    const ObjectId tips[] = {ours, theirs};
    CommitGraph graph(std::move(place.commitsFrom(tips)).value());
    const auto found = findDivergence(graph, ours, theirs);
    QVERIFY(found->bases == std::vector{tip});
    QVERIFY(graph.readCount() < 1'100);
}

void TestDivergence::divergence_relations_areNamed()
{
    ScratchRepository scratch;
    const auto id = [](const QByteArray& hex) {
        return *ObjectId::fromHex(hex.toStdString());
    };
    const ObjectId first = id(scratch.commit("first"));
    const ObjectId second = id(scratch.commit("second"));
    scratch.git("switch -q -c side HEAD~1");
    const ObjectId side = id(scratch.commit("side"));
    scratch.git("switch -q --orphan other");
    const ObjectId other = id(scratch.commit("other"));
    const auto repository = GitPlace::open(scratch.path());
    const auto relation = [&](const ObjectId& a, const ObjectId& b) {
        return findDivergence(**repository, a, b)->relation;
    };
    QCOMPARE(relation(first, first), Relation::same);
    QCOMPARE(relation(second, first), Relation::oursAhead);
    QCOMPARE(relation(first, second), Relation::theirsAhead);
    QCOMPARE(relation(second, side), Relation::diverged);
    QCOMPARE(relation(second, other), Relation::unrelated);
}

void TestDivergence::lastTouching_lines_findTheirCommit()
{
    ScratchRepository scratch;
    scratch.write("dir/f", "1\n2\n3\n4\n5\n6\n");
    scratch.commit("base");
    scratch.git("branch other");
    scratch.write("dir/f", "1\ntwo\n3\n4\n5\n6\n");
    const QByteArray two = scratch.commit("two");
    scratch.write("dir/f", "0\n1\ntwo\n3\n4\n6\n");
    const QByteArray zero = scratch.commit("zero, and five is gone");
    scratch.commit("touches nothing");
    const auto repository = GitPlace::open(scratch.path());
    const ObjectId tip = *(*repository)->resolveCommit("main");
    const auto divergence =
        findDivergence(**repository, tip, *(*repository)->resolveCommit("other"));
    const auto found = lastTouching(
        **repository, "dir/f", tip, divergence->oursOnly, {{2, 3}, {0, 1}, {3, 4}, {5, 5}});
    QVERIFY(found);
    QCOMPARE(QByteArray::fromStdString(found->at(0).hex()), two);
    QCOMPARE(QByteArray::fromStdString(found->at(1).hex()), zero);
    QVERIFY(found->at(2).isNull());
    QCOMPARE(QByteArray::fromStdString(found->at(3).hex()),
             zero);  // the removal is found by its place
}

void TestDivergence::arrived_randomHistories_agreeWithGit()
{
    ScratchRepository scratch;
    test::Random random(20'261'201);
    const auto ids = randomHistory(scratch, random, 60, 100'000);
    for (std::size_t i = 0; i < ids.size(); i += 3) {
        scratch.git(("update-ref refs/heads/b" + QByteArray::number(static_cast<int>(i)) + " "
                     + ids[i])
                        .constData());
    }
    const auto place = GitPlace::open(scratch.folder().toStdString());
    QVERIFY(place);
    std::vector<ObjectId> tips;
    for (std::size_t i = 0; i < ids.size(); i += 3) {
        tips.push_back(*ObjectId::fromHex(ids[i].toStdString()));
    }
    for (const std::size_t tip : {std::size_t{59}, std::size_t{40}, std::size_t{7}}) {
        const auto found =
            arrivedIn(**place, *ObjectId::fromHex(ids[tip].toStdString()), tips);
        QVERIFY(found);
        QByteArrayList ours;
        for (const ObjectId& id : *found) {
            ours << QByteArray::fromStdString(id.hex());
        }
        std::sort(ours.begin(), ours.end());
        QCOMPARE(ours,
                 sortedLines(scratch.git(
                     ("for-each-ref --format=%(objectname) refs/heads/b* --merged=" + ids[tip])
                         .constData())));
    }
    std::stop_source stop;
    stop.request_stop();
    QCOMPARE(arrivedIn(**place, tips.back(), tips, stop.get_token()).error().code,
             ErrorCode::cancelled);
}

ROPE_TESTS(TestDivergence, QCoreApplication)
#include "tst_divergence.moc"
