// SPDX-License-Identifier: GPL-3.0-or-later
// Merges that git recorded, read again: what was decided, and what nothing explains.
#include "core/plan/merge_reading.h"
#include "tests/support/joined_branches.h"
#include "tests/support/random_trees.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;
using rope::test::ScratchRepository;

namespace {
constexpr const char* kBase = "a\nb\nc\nd\ne\nf\ng\nh\ni\nj\n";

/// Ours and theirs clash in line b; each has a change of its own besides, and a file of its own.
void makeBranches(ScratchRepository& scratch)
{
    scratch.write("plan.txt", kBase);
    scratch.write("fees.txt", "fee 15\n");
    scratch.write("old.txt", "old\n");
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("plan.txt", QByteArray(kBase).replace("b\n", "b theirs\n").replace("e\n", "E\n"));
    scratch.write("theirs.txt", "theirs\n");
    scratch.commit("theirs");
    scratch.git("switch -q -c ours main");
    scratch.write("plan.txt", QByteArray(kBase).replace("b\n", "b ours\n").replace("i\n", "I\n"));
    scratch.write("ours.txt", "ours\n");
    scratch.commit("ours");
}

/// git's own merge, finished with this text of the file that clashes.
void merge(ScratchRepository& scratch, const QByteArray& text)
{
    int exitCode = 0;
    scratch.tryGit({QStringLiteral("merge"), QStringLiteral("-q"), QStringLiteral("theirs")},
                   exitCode);
    scratch.write("plan.txt", text);
}

MergeReading readTip(const ScratchRepository& scratch)
{
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    return readMerge(*place, *place->resolveCommit("HEAD")).value();
}

QByteArray resolved(const char* line)
{
    return QByteArray(kBase).replace("b\n", line).replace("e\n", "E\n").replace("i\n", "I\n");
}
}  // namespace

class TestMergeReading : public QObject
{
    Q_OBJECT
private slots:
    void decided_isNothingOdd_data();
    void decided_isNothingOdd();
    void slippedIn_line_isFound();
    void slippedIn_twice_isFoundTwice();
    void slippedIn_otherFile_isFound();
    void droppedChange_isFound();
    void lineRemovedByTheMergeAlone_isOfNeitherSide();
    void editLostFromARenamedFile_isTheSidesWhoseItWas();
    void droppedFile_isFound();
    void answerOfNobody_isFound();
    void takenWhole_isFound();
    void markers_areFound();
    void octopusAndUnrelated_areRead();
    void octopusThatClashes_isTold();
    void random_cleanMergesOfGit_haveNothingOdd();
};

void TestMergeReading::decided_isNothingOdd_data()
{
    QTest::addColumn<QByteArray>("line");
    QTest::addColumn<QByteArray>("choice");
    QTest::newRow("ours") << QByteArray("b ours\n") << QByteArray("ours");
    QTest::newRow("theirs") << QByteArray("b theirs\n") << QByteArray("theirs");
    QTest::newRow("own") << QByteArray("b of nobody\n") << QByteArray("own");
}

void TestMergeReading::decided_isNothingOdd()
{
    QFETCH(const QByteArray, line);
    QFETCH(const QByteArray, choice);
    ScratchRepository scratch;
    makeBranches(scratch);
    merge(scratch, resolved(line.constData()));
    scratch.commit("merged");
    const MergeReading reading = readTip(scratch);
    QVERIFY(reading.odd.empty());
    QCOMPARE(reading.decisions.size(), std::size_t{1});
    QCOMPARE(reading.decisions.front().choice, choice.toStdString());
    QCOMPARE(reading.decisions.front().line, 2);
}

void TestMergeReading::slippedIn_line_isFound()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    merge(scratch, resolved("b ours\n").replace("g\n", "g\nslipped in\n"));
    scratch.commit("merged");
    const MergeReading reading = readTip(scratch);
    QCOMPARE(reading.odd.size(), std::size_t{1});
    QCOMPARE(reading.odd.front().kind, OddKind::neitherSide);
    QCOMPARE(reading.odd.front().line, 8);
    QCOMPARE(reading.odd.front().text, std::string("slipped in"));
    QCOMPARE(reading.decisions.front().choice, std::string("ours"));
}

void TestMergeReading::slippedIn_twice_isFoundTwice()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    merge(scratch,
          resolved("b ours\n").replace("d\n", "d\nslipped in\n").replace("I\n", "i\nand here\n"));
    scratch.commit("merged");
    const MergeReading reading = readTip(scratch);
    QCOMPARE(reading.odd.size(), std::size_t{2});
    QCOMPARE(reading.odd[0].line, 5);
    QCOMPARE(reading.odd[0].text, std::string("slipped in"));
    QCOMPARE(reading.odd[1].kind, OddKind::neitherSide);
    QCOMPARE(reading.odd[1].text, std::string("and here"));
}

void TestMergeReading::slippedIn_otherFile_isFound()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    merge(scratch, resolved("b ours\n"));
    scratch.write("fees.txt", "fee 51\n");
    scratch.commit("merged");
    const MergeReading reading = readTip(scratch);
    QCOMPARE(reading.odd.size(), std::size_t{1});
    QCOMPARE(reading.odd.front().kind, OddKind::neitherSide);
    QCOMPARE(reading.odd.front().path, std::string("fees.txt"));
}

void TestMergeReading::droppedChange_isFound()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    merge(scratch, resolved("b theirs\n").replace("E\n", "e\n"));
    scratch.commit("merged");
    const MergeReading reading = readTip(scratch);
    QCOMPARE(reading.odd.size(), std::size_t{1});
    QCOMPARE(reading.odd.front().kind, OddKind::changeDropped);
    QCOMPARE(reading.odd.front().line, 5);
    QVERIFY(reading.odd.front().side == OddSide::theirs);
}

void TestMergeReading::lineRemovedByTheMergeAlone_isOfNeitherSide()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    merge(scratch, resolved("b theirs\n").replace("g\n", ""));
    scratch.commit("merged");
    const MergeReading reading = readTip(scratch);
    QCOMPARE(reading.odd.size(), std::size_t{1});
    QCOMPARE(reading.odd.front().kind, OddKind::neitherSide);
    QCOMPARE(reading.odd.front().text, std::string("g"));
}

void TestMergeReading::editLostFromARenamedFile_isTheSidesWhoseItWas()
{
    ScratchRepository scratch;
    scratch.write("plan.txt", kBase);
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("plan.txt", QByteArray(kBase).replace("b\n", "B\n"));
    scratch.commit("theirs");
    scratch.git("switch -q -c ours main");
    scratch.git("mv plan.txt moved.txt");
    scratch.write("moved.txt", QByteArray(kBase).replace("i\n", "I\n"));
    scratch.commit("ours");
    scratch.git("merge -q --no-commit theirs");
    scratch.write("moved.txt", QByteArray(kBase).replace("i\n", "I\n"));
    scratch.commit("merged");
    const MergeReading reading = readTip(scratch);
    QCOMPARE(reading.odd.size(), std::size_t{1});
    QCOMPARE(reading.odd.front().kind, OddKind::changeDropped);
    QVERIFY(reading.odd.front().side == OddSide::theirs);
}

void TestMergeReading::droppedFile_isFound()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    merge(scratch, resolved("b theirs\n").replace("I\n", "i\n"));
    scratch.remove("theirs.txt");
    scratch.commit("merged");
    const MergeReading reading = readTip(scratch);
    QCOMPARE(reading.odd.size(), std::size_t{2});
    QCOMPARE(reading.odd[0].kind, OddKind::takenWhole);
    QCOMPARE(reading.odd[0].side, OddSide::theirs);
    QCOMPARE(reading.odd[1].kind, OddKind::changeDropped);
    QCOMPARE(reading.odd[1].path, std::string("theirs.txt"));
    QCOMPARE(reading.odd[1].side, OddSide::theirs);
}

/// One side deleted a file, the other edited it, and what was recorded is neither.
void TestMergeReading::answerOfNobody_isFound()
{
    ScratchRepository scratch;
    scratch.write("plan.txt", "a\nb\nc\n");
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("plan.txt", "a\nb theirs\nc\n");
    scratch.commit("edited");
    scratch.git("switch -q -c ours main");
    scratch.git("rm -q plan.txt");
    scratch.commit("deleted");
    int exitCode = 0;
    scratch.tryGit({QStringLiteral("merge"), QStringLiteral("-q"), QStringLiteral("theirs")},
                   exitCode);
    QCOMPARE(exitCode, 1);
    scratch.write("plan.txt", "of nobody\n");
    scratch.commit("merged");
    const MergeReading reading = readTip(scratch);
    QCOMPARE(reading.odd.size(), std::size_t{1});
    QCOMPARE(reading.odd.front().kind, OddKind::neitherSide);
    QCOMPARE(reading.odd.front().path, std::string("plan.txt"));
    QCOMPARE(reading.decisions.size(), std::size_t{1});
    QVERIFY(reading.decisions.front().choice.empty());
}

void TestMergeReading::takenWhole_isFound()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    scratch.git("merge -q -s ours -m merged theirs");
    const MergeReading reading = readTip(scratch);
    QCOMPARE(reading.odd.size(), std::size_t{2});
    QCOMPARE(reading.odd[0].kind, OddKind::takenWhole);
    QCOMPARE(reading.odd[1].kind, OddKind::changeDropped);
}

void TestMergeReading::markers_areFound()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    int exitCode = 0;
    scratch.tryGit({QStringLiteral("merge"), QStringLiteral("-q"), QStringLiteral("theirs")},
                   exitCode);
    scratch.commit("merged in a hurry");
    const MergeReading reading = readTip(scratch);
    QVERIFY(std::any_of(reading.odd.begin(), reading.odd.end(), [](const OddPlace& odd) {
        return odd.kind == OddKind::markersLeft && odd.path == "plan.txt";
    }));
}

void TestMergeReading::octopusAndUnrelated_areRead()
{
    ScratchRepository scratch;
    scratch.write("a", "1\n");
    scratch.commit("base");
    for (const char* const branch : {"x", "y"}) {
        const QByteArray create = QByteArray("switch -q -c ") + branch + " main";
        scratch.git(create.constData());
        scratch.write(branch, "1\n");
        scratch.commit(branch);
    }
    scratch.git("switch -q main");
    scratch.git("commit -q --allow-empty -m own");
    scratch.git("merge -q -m octopus x y");
    QVERIFY(!readTip(scratch).isUnreadable && readTip(scratch).odd.empty());
    // Another file slipped in, and a change of one branch is gone.
    scratch.write("x", "2\n");
    scratch.git("commit -q -a --amend --no-edit");
    const auto read = readTip(scratch);
    QCOMPARE(read.odd.size(), std::size_t{1});
    QCOMPARE(read.odd.front().path, std::string("x"));
    scratch.git("switch -q --orphan alone");
    scratch.write("b", "1\n");
    scratch.commit("alone");
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    QVERIFY(!readMerge(*place, *place->resolveCommit("HEAD")));
    scratch.git("merge -q --allow-unrelated-histories -m unrelated main");
    QVERIFY(!readTip(scratch).isUnreadable && readTip(scratch).odd.empty());
    scratch.write("b", "slipped in\n");
    scratch.git("commit -q -a --amend --no-edit");
    QCOMPARE(readTip(scratch).odd.size(), std::size_t{1});
}

/// What a join alone does not make of three branches cannot be read.
void TestMergeReading::octopusThatClashes_isTold()
{
    ScratchRepository scratch;
    scratch.write("a", "1\n");
    scratch.commit("base");
    QByteArray parents;
    for (const char* const branch : {"x", "y", "z"}) {
        const QByteArray create = QByteArray("switch -q -c ") + branch + " main";
        scratch.git(create.constData());
        scratch.write("a", QByteArray(branch) + "\n");
        parents += " -p " + scratch.commit(branch);
    }
    const QByteArray make = "commit-tree z^{tree} -m octopus" + parents;
    const QByteArray merge = scratch.git(make.constData());
    const QByteArray reset = "reset -q --hard " + merge;
    scratch.git(reset.constData());
    QVERIFY(readTip(scratch).isUnreadable);
}

/// What git joined without a question has nothing that is not explained.
void TestMergeReading::random_cleanMergesOfGit_haveNothingOdd()
{
    using namespace rope::test;
    const unsigned first = randomSeed();
    const int rounds = test::roundsUnlessSaid(30);
    int read = 0;
    for (int round = 0; round < rounds; ++round) {
        const unsigned seed = first + static_cast<unsigned>(round);
        Random random(seed);
        ScratchRepository scratch;
        importRandomBranches(scratch, random, 6, 3);
        scratch.git("checkout -q ours");
        int exitCode = 0;
        scratch.tryGit({QStringLiteral("merge"),
                        QStringLiteral("-q"),
                        QStringLiteral("-m"),
                        QStringLiteral("x"),
                        QStringLiteral("theirs")},
                       exitCode);
        if (exitCode != 0) {
            continue;
        }
        const QByteArray where = "ROPE_TEST_ROUNDS=1 ROPE_TEST_SEED=" + QByteArray::number(seed);
        QVERIFY2(readTip(scratch).odd.empty(), where.constData());
        ++read;
    }
    qInfo("%d merges of git read", read);
    QVERIFY(read > 0 || rounds < 10);
}

ROPE_TESTS(TestMergeReading, QCoreApplication)
#include "tst_merge_reading.moc"
