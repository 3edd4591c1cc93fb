// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/history/divergence.h"
#include "core/snapshot/equal_changes.h"
#include "tests/support/joined_branches.h"
#include "tests/support/test_program.h"
#include "tests/support/tree_recipe.h"

#include <QTest>

using namespace rope;
using rope::test::ScratchRepository;

class TestEqualChanges : public QObject
{
    Q_OBJECT
private slots:
    void cherryPicked_isRecognised();
    void longHistories_areComparedWholeForARebase();
};

// One change is picked over though its lines stand elsewhere there; one is only alike; one is of bytes.
void TestEqualChanges::cherryPicked_isRecognised()
{
    ScratchRepository scratch;
    test::makeBranches(scratch, "a=%30;b=%10;pic=p\\0", "a=%30/2=ours only", "b=%10/1=alike t");
    scratch.git("switch -q theirs");
    scratch.write("a", test::recipeContent("%30/20=picked"));
    scratch.write("new", "added\n");
    const QByteArray text = scratch.commit("to be picked");
    scratch.write("pic", QByteArray("q\0", 2));
    const QByteArray bytes = scratch.commit("a picture to be picked");
    scratch.git("switch -q ours");
    scratch.write("a", "one more line on top\n" + scratch.read("a"));
    scratch.commit("lines move");
    scratch.git({QStringLiteral("cherry-pick"), QString::fromUtf8(text)});
    const QByteArray pickedText = scratch.git("rev-parse HEAD");
    scratch.git({QStringLiteral("cherry-pick"), QString::fromUtf8(bytes)});
    const QByteArray pickedBytes = scratch.git("rev-parse HEAD");
    scratch.write("b", test::recipeContent("%10/1=alike o"));
    scratch.commit("only alike");

    const test::Joined joined = test::joinBranches(scratch);
    const Divergence& divergence = joined.forecast.divergence;
    const auto equal = equalChanges(
        *joined.repository, divergence.oursOnly, divergence.theirsOnly, ChangeLikeness::lines);
    QVERIFY(equal);
    QCOMPARE(equal->size(), std::size_t{2});
    const auto id = [](const QByteArray& hex) {
        return *ObjectId::fromHex(hex.toStdString());
    };
    QVERIFY(equal->at(id(text)) == id(pickedText));
    QVERIFY(equal->at(id(bytes)) == id(pickedBytes));
    const auto swapped = equalChanges(
        *joined.repository, divergence.theirsOnly, divergence.oursOnly, ChangeLikeness::lines);
    QVERIFY(swapped->at(id(pickedText)) == id(text));
}

// What is not written anew has to be known however long ago it came in; what is only told of need not.
void TestEqualChanges::longHistories_areComparedWholeForARebase()
{
    ScratchRepository scratch;
    scratch.write("plan.txt", "1\n2\n3\n");
    scratch.commit("base");
    scratch.git("switch -q -c ours");
    scratch.write("plan.txt", "1\n2 picked\n3\n");
    const QByteArray own = scratch.commit("to be picked");
    scratch.git("switch -q -c theirs main");
    scratch.write("other.txt", "other\n");
    scratch.commit("first of theirs");
    scratch.git({QStringLiteral("cherry-pick"), QString::fromUtf8(own)});
    QByteArray later;
    for (int i = 0; i < 300; ++i) {
        later += "commit refs/heads/theirs\ncommitter Maren Voss <maren@slackwater.example> "
                 + QByteArray::number(1'790'000'000 + i) + " +0000\ndata 5\nlater\n"
                 + (i == 0 ? "from refs/heads/theirs^0\n" : "") + "M 644 inline later.txt\ndata 4\n"
                 + QByteArray::number(1000 + i) + "\n\n";
    }
    scratch.git({QStringLiteral("fast-import"), QStringLiteral("--quiet")}, later);
    scratch.git("switch -q ours");
    const test::Joined joined = test::joinBranches(scratch);
    const Divergence& divergence = joined.forecast.divergence;
    QCOMPARE(divergence.theirsOnly.size(), std::size_t{302});
    const auto found = [&](ChangeLikeness likeness) {
        return equalChanges(
                   *joined.repository, divergence.theirsOnly, divergence.oursOnly, likeness)
            ->size();
    };
    QCOMPARE(found(ChangeLikeness::patch), std::size_t{1});
    QCOMPARE(found(ChangeLikeness::lines), std::size_t{0});
}

ROPE_TESTS(TestEqualChanges, QCoreApplication)
#include "tst_equal_changes.moc"
