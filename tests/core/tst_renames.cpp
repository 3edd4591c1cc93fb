// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/snapshot/folder_renames.h"
#include "core/snapshot/similarity.h"
#include "core/snapshot/tree_changes.h"
#include "core/system/git/git_place.h"
#include "tests/support/joined_branches.h"
#include "tests/support/random_texts.h"
#include "tests/support/test_program.h"
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
    void equalFiles_editGoesWhereItsFileWent_data();
    void equalFiles_editGoesWhereItsFileWent();
    void settings_areFollowed();
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
        const auto found = findRenames(*repository, changes->ours.files, {});
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

void TestRenames::equalFiles_editGoesWhereItsFileWent_data()
{
    QTest::addColumn<QByteArray>("base");
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("theirs");
    QTest::addColumn<QByteArray>("where");  // "asked": which of them it is, cannot be told
    const QByteArray edit = "%12/3=EDIT";
    QTest::newRow("same-name-before-a-copy")
        << QByteArray("a/util.c=%12;k=k") << "a/util.c=" + edit
        << QByteArray("a/util.c>c/util.c;b/backup.c=%12") << QByteArray("c/util.c");
    QTest::newRow("path-that-ends-alike")
        << QByteArray("packages/a/init.py=%12;packages/b/init.py=%12;packages/c/init.py=%12;k=k")
        << "packages/b/init.py=" + edit
        << QByteArray("-packages/a/init.py;packages/b/init.py>libs/b/init.py;"
                      "packages/c/init.py>libs/c/init.py")
        << QByteArray("libs/b/init.py");
    QTest::newRow("dropped-beside-moved")
        << QByteArray("packages/a/init.py=%12;packages/b/init.py=%12;k=k")
        << "packages/a/init.py=" + edit
        << QByteArray("-packages/a/init.py;packages/b/init.py>libs/b/init.py;libs/new/init.py=%12")
        << QByteArray("asked");
    QTest::newRow("where-the-rest-of-the-folder-went")
        << QByteArray("one/init=%12;one/own=%30/1=x;two/init=%12;k=k") << "one/init=" + edit
        << QByteArray("one/init>first/init;one/own>first/own;two/init>second/init")
        << QByteArray("first/init");
    QTest::newRow("all-moved-and-edited")
        << QByteArray("packages/a/conf=%12;packages/b/conf=%12;k=k") << "packages/b/conf=" + edit
        << QByteArray(
               "-packages/a/conf;-packages/b/conf;libs/a/conf=%12/9=all;libs/b/conf=%12/9=all")
        << QByteArray("libs/b/conf");
    QTest::newRow("as-the-other-side-chose")
        << QByteArray("d/b=%12;k=k") << "d/b>src/core/main.c;src/core/main.c=" + edit
        << QByteArray("d/b>src/core/main.c;other/f=%12") << QByteArray("src/core/main.c");
    QTest::newRow("two-equally-good-places")
        << QByteArray("a/x=%12;k=k") << "a/x=" + edit << QByteArray("a/x>b/y;c/z=%12")
        << QByteArray("asked");
    QTest::newRow("an-untouched-file-is-the-better-match")
        << QByteArray("src/A=%30/25=alpha/26=alpha2/27=alpha3/28=alpha4/29=alpha5;"
                      "src/B=%30/25=beta/26=beta2/27=beta3/28=beta4/29=beta5;k=k")
        << QByteArray("src/B=%30/3=EDIT/25=beta/26=beta2/27=beta3/28=beta4/29=beta5")
        << QByteArray(
               "src/A>new/X;new/X=%30/25=alpha/26=alpha2/27=ALPHA/28=alpha4/29=alpha5;-src/B")
        << QByteArray("asked");
}

void TestRenames::equalFiles_editGoesWhereItsFileWent()
{
    QFETCH(QByteArray, base);
    QFETCH(QByteArray, ours);
    QFETCH(QByteArray, theirs);
    QFETCH(QByteArray, where);
    ScratchRepository scratch;
    test::makeBranches(scratch, base, ours, theirs);
    for (const bool isSwapped : {false, true}) {
        const test::Joined joined = test::joinBranches(
            scratch, isSwapped ? "theirs" : "ours", isSwapped ? "ours" : "theirs");
        if (where == "asked") {
            QVERIFY(!joined.forecast.isClean());
            continue;
        }
        QVERIFY(joined.forecast.isClean());
        const auto tree = storeCleanTree(*joined.repository, joined.forecast);
        QVERIFY(tree.hasValue());
        const QByteArray found =
            scratch.git("grep -l EDIT " + QByteArray::fromStdString(tree->hex()));
        QCOMPARE(found.mid(found.indexOf(':') + 1), where);
    }
}

void TestRenames::settings_areFollowed()
{
    ScratchRepository scratch;
    test::makeBranches(scratch, "d/a=%12;d/b=%20/1=x;k=k", "d/new=mine;k=kk", "d/a>e/a;d/b>e/b");
    const auto opened = [&] {
        return test::joinBranches(scratch);
    };
    QVERIFY(!opened().forecast.isClean());  // asked unless something is set
    scratch.git("config merge.directoryRenames true");
    {
        const test::Joined joined = opened();
        QVERIFY(joined.forecast.isClean());
        const auto tree = storeCleanTree(*joined.repository, joined.forecast);
        QVERIFY(tree.hasValue());
        QVERIFY(scratch.git("ls-tree -r --name-only " + QByteArray::fromStdString(tree->hex()))
                    .contains("e/new"));
        QCOMPARE(QByteArray::fromStdString(tree->hex()), test::gitsTree(scratch));
    }
    scratch.git("config merge.directoryRenames false");
    QVERIFY(opened().forecast.isClean());
    scratch.git("config merge.renames false");
    QVERIFY(opened().forecast.isClean());
    scratch.git("switch -q ours");
    test::applyRecipe(scratch, "d/a=%12/3=edited");
    scratch.commit("edited");
    QVERIFY(!opened().forecast.isClean());  // without renames, theirs deleted what ours edited
    scratch.git("config merge.renames true");
    QVERIFY(opened().forecast.isClean());
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

ROPE_TESTS(TestRenames, QCoreApplication)
#include "tst_renames.moc"
