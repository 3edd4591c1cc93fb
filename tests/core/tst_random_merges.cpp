// SPDX-License-Identifier: GPL-3.0-or-later
// Random trees, each side brought on by random operations, joined here and by git. ROPE_TEST_SEED sets
// the seed, ROPE_TEST_ROUNDS how many; the seed of a failing round is told, so that it can be had again
// alone. Differences that are meant are listed in docs/engine.md and are not made by these operations:
// line-end conversions, criss-crossing histories, copies.
#include "tests/support/joined_branches.h"
#include "tests/support/random_trees.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;
using rope::test::Random;
using rope::test::ScratchRepository;

class TestRandomMerges : public QObject
{
    Q_OBJECT
private slots:
    void joins_agreeWithGit();
};

void TestRandomMerges::joins_agreeWithGit()
{
    const unsigned first = test::randomSeed();
    const int rounds = test::roundsUnlessSaid(60);
    int clean = 0;
    for (int round = 0; round < rounds; ++round) {
        const unsigned seed = first + static_cast<unsigned>(round);
        Random random(seed);
        ScratchRepository scratch;
        test::importRandomBranches(scratch, random, 6, 3);
        const test::Joined joined = test::joinBranches(scratch);
        const QByteArray gits = test::gitsTree(scratch);
        const QByteArray where = "ROPE_TEST_ROUNDS=1 ROPE_TEST_SEED=" + QByteArray::number(seed);
        QVERIFY2(joined.forecast.isClean() == !gits.isEmpty(), where.constData());
        if (joined.forecast.isClean()) {
            ++clean;
            const auto tree = storeCleanTree(*joined.repository, joined.forecast);
            QVERIFY2(tree.hasValue(), where.constData());
            QVERIFY2(QByteArray::fromStdString(tree->hex()) == gits, where.constData());
        }
    }
    qInfo("%d of %d joined cleanly", clean, rounds);
    QVERIFY(clean > 0 || rounds < 10);
}

ROPE_TESTS(TestRandomMerges, QCoreApplication)
#include "tst_random_merges.moc"
