// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/snapshot/folder_renames.h"
#include "core/snapshot/similarity.h"
#include "core/snapshot/tree_changes.h"
#include "core/system/git/git_place.h"
#include "tests/support/random_texts.h"
#include "tests/support/tree_recipe.h"

#include <QTest>

using namespace rope;
using rope::test::ScratchRepository;

class TestRenames : public QObject
{
    Q_OBJECT
private slots:
    void similarity_knownPairs_data();
    void similarity_knownPairs();
    void similarity_randomTexts_isSymmetricAndBounded();
    void renames_randomFiles_matchGit();
    void folders_votes_followTheMajority();
    void contested_onlyWhereTheOtherSideAdds();
};

void TestRenames::similarity_knownPairs_data()
{
    QTest::addColumn<QByteArray>("a");
    QTest::addColumn<QByteArray>("b");
    QTest::addColumn<int>("percent");
    QTest::newRow("equal") << QByteArray("a\nb\n") << QByteArray("a\nb\n") << 100;
    QTest::newRow("half") << QByteArray("a\nb\n") << QByteArray("a\nc\n") << 50;
    QTest::newRow("order-does-not-count") << QByteArray("a\nb\n") << QByteArray("b\na\n") << 100;
    QTest::newRow("how-often-counts") << QByteArray("a\na\n") << QByteArray("a\nb\n") << 50;
    QTest::newRow("nothing") << QByteArray("a\n") << QByteArray("b\n") << 0;
    QTest::newRow("empty") << QByteArray() << QByteArray("b\n") << 0;
    QTest::newRow("long-lines-in-pieces")
        << QByteArray(128, 'x') << QByteArray(64, 'x') + QByteArray(64, 'y') << 50;
}

void TestRenames::similarity_knownPairs()
{
    QFETCH(QByteArray, a);
    QFETCH(QByteArray, b);
    QFETCH(int, percent);
    const Fingerprint first(a.toStdString());
    const Fingerprint second(b.toStdString());
    QCOMPARE(qRound(100 * similarity(first, second)), percent);
    const Fingerprint windows(a.replace("\n", "\r\n").toStdString());
    QVERIFY(a.isEmpty() || similarity(first, windows) > 0.6);  // a CR before LF is no change
}

void TestRenames::similarity_randomTexts_isSymmetricAndBounded()
{
    test::Random random(test::randomSeed());
    for (int round = 0; round < 500; ++round) {
        const std::string text = test::randomText(random, 20, 6);
        const Fingerprint a(text);
        const Fingerprint b(test::randomText(random, 20, 6));
        const double there = similarity(a, b);
        QCOMPARE(there, similarity(b, a));
        QVERIFY(there >= 0 && there <= 1);
        QVERIFY(!text.ends_with('\n') || similarity(a, a) == 1);
    }
    // A last piece that nothing ends counts in the size alone, as for git.
    QCOMPARE(similarity(Fingerprint("one\ntwo\nsix"), Fingerprint("one\ntwo\nsix")), 8.0 / 11);
}

// git tells renames of one tree against another without a merge; where names and contents leave no
// choice, ours must be the same.
void TestRenames::renames_randomFiles_matchGit()
{
    test::Random random(test::randomSeed());
    for (int round = 0; round < 6; ++round) {
        ScratchRepository scratch;
        for (int i = 0; i < 12; ++i) {
            const std::string text =
                test::edited(random, test::numberedText(20 + i), 8, "file" + std::to_string(i));
            scratch.write(("src/f" + QByteArray::number(i)).constData(),
                          QByteArray::fromStdString(text));
        }
        scratch.commit("before");
        for (int i = 0; i < 12; ++i) {
            const QByteArray from = "src/f" + QByteArray::number(i);
            const std::string text =
                test::edited(random, scratch.read(from.constData()).toStdString(), i / 2, "new");
            scratch.remove(from.constData());
            scratch.write(("moved/g" + QByteArray::number(i)).constData(),
                          QByteArray::fromStdString(text));
        }
        scratch.commit("after");
        auto repository = std::move(GitPlace::open(scratch.path())).value();
        const auto treeOf = [&](const char* commit) {
            const ObjectId ids[] = {*repository->resolveCommit(commit)};
            return repository->readCommits(ids)->front().tree;
        };
        const ObjectId before = treeOf("HEAD~1");
        const ObjectId after = treeOf("HEAD");
        const auto changes = treeChanges(*repository, {before, {after, before}});
        const auto found =
            findRenames(*repository, changes->ours.files, [](const FileChange&) { return true; });
        QVERIFY(changes->ours.goneFolders.contains("src"));
        QByteArrayList own;
        for (const Rename& rename : *found) {
            own << QByteArray::fromStdString(rename.from + "\t" + rename.to);
        }
        QByteArrayList reference;
        for (const QByteArray& line :
             scratch.git("diff-tree -r -M --diff-filter=R HEAD~1 HEAD").split('\n')) {
            reference << line.mid(line.indexOf('\t') + 1);
        }
        QCOMPARE(own.join('\n'), reference.join('\n'));
    }
}

void TestRenames::folders_votes_followTheMajority()
{
    const std::vector<Rename> renames{{"d/a", "e/a"},
                                      {"d/b", "e/b"},
                                      {"d/c", "f/c"},
                                      {"d/sub/x", "e/sub/x"},
                                      {"p/one", "q/one"},
                                      {"p/two", "r/two"}};
    const FolderRenames folders = folderRenames(renames, {"d", "d/sub", "p"});
    QCOMPARE(folders.to.at("d"), std::string("e"));
    QCOMPARE(folders.to.at("d/sub"), std::string("e/sub"));
    QVERIFY(folders.split.at("p") == (std::vector<RepoPath>{"q", "r"}));
    QCOMPARE(folders.folderAbove("d/new/file"), std::string("d"));
    QCOMPARE(folders.followed("d/new/file", "d"), std::string("e/new/file"));
    QVERIFY(folders.folderAbove("elsewhere/file").empty());
    QCOMPARE(folderRenames({{"d/a", "a"}}, {"d"}).followed("d/b", "d"), std::string("b"));
}

void TestRenames::contested_onlyWhereTheOtherSideAdds()
{
    const std::vector<FileChange> other{{"gone/new", {}, FileVersion{}},
                                        {"also/edited", FileVersion{}, FileVersion{}},
                                        {"gone/sub/new", {}, FileVersion{}}};
    QVERIFY(contestedFolders({"gone", "also"}, other) == (std::set<RepoPath>{"gone"}));
    QVERIFY(liesInAny("gone/sub/deep", {"gone"}));
    QVERIFY(!liesInAny("gonee/file", {"gone"}));
}

QTEST_GUILESS_MAIN(TestRenames)
#include "tst_renames.moc"
