// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/join/virtual_base.h"
#include "tests/support/joined_branches.h"
#include "tests/support/random_texts.h"
#include "tests/support/test_program.h"
#include "tests/support/tree_recipe.h"

#include <QTest>

#include <set>

using namespace rope;
using rope::test::ScratchRepository;

class TestVirtualBase : public QObject
{
    Q_OBJECT
private slots:
    void randomCrissCross_matchesGit_data();
    void randomCrissCross_matchesGit();
    void sameResolutionOnBothSides_joins();
    void madeUpName_isNobodys();
    void bases_areJoinedInMemoryOnly();
};

namespace {
void editAtRandom(ScratchRepository& scratch, test::Random& random, const std::string& mark)
{
    for (int i = 0; i < 3; ++i) {
        const QByteArray path = "f" + QByteArray::number(test::below(random, 3));
        scratch.write(path.constData(),
                      QByteArray::fromStdString(test::edited(
                          random, scratch.read(path.constData()).toStdString(), 1, mark)));
    }
}

/// Merges a commit into the current branch; where git finds conflicts, our side's text stays.
void cross(ScratchRepository& scratch, const QByteArray& commit)
{
    int exitCode = 0;
    scratch.tryGit({QStringLiteral("merge"),
                    QStringLiteral("-q"),
                    QStringLiteral("-X"),
                    QStringLiteral("ours"),
                    QStringLiteral("-m"),
                    QStringLiteral("cross"),
                    QString::fromUtf8(commit)},
                   exitCode);
    if (exitCode != 0) {
        scratch.commit("cross, by hand");
    }
}
}  // namespace

void TestVirtualBase::randomCrissCross_matchesGit_data()
{
    QTest::addColumn<int>("depth");
    for (int depth = 1; depth <= 3; ++depth) {
        QTest::addRow("depth %d", depth) << depth;
    }
}

void TestVirtualBase::randomCrissCross_matchesGit()
{
    QFETCH(int, depth);
    test::Random random(test::randomSeed() + static_cast<unsigned>(depth));
    int clean = 0;
    for (int round = 0; round < 4; ++round) {
        ScratchRepository scratch;
        test::makeBranches(scratch, "f0=%30;f1=%30;f2=%30", "mine=1", "yours=1");
        for (int level = 0; level < depth; ++level) {
            for (const char* branch : {"ours", "theirs"}) {
                scratch.git(
                    {QStringLiteral("switch"), QStringLiteral("-q"), QLatin1String(branch)});
                editAtRandom(scratch, random, branch);
                scratch.commit("edits");
            }
            const QByteArray ours = scratch.git("rev-parse ours");
            cross(scratch, ours);
            const QByteArray theirs = scratch.git("rev-parse theirs^1");
            scratch.git("switch -q ours");
            cross(scratch, theirs);
        }
        for (const char* branch : {"ours", "theirs"}) {
            scratch.git({QStringLiteral("switch"), QStringLiteral("-q"), QLatin1String(branch)});
            editAtRandom(scratch, random, std::string("last ") + branch);
            scratch.commit("last edits");
        }
        const test::Joined joined = test::joinBranches(scratch);
        const QByteArray reference = test::gitsTree(scratch);
        QCOMPARE(joined.forecast.isClean(), !reference.isEmpty());
        if (joined.forecast.isClean()) {
            ++clean;
            const auto tree = storeCleanTree(*joined.repository, joined.forecast);
            QCOMPARE(QByteArray::fromStdString(tree->hex()), reference);
        }
    }
    QVERIFY(clean > 0);
}

void TestVirtualBase::sameResolutionOnBothSides_joins()
{
    ScratchRepository scratch;
    test::makeBranches(scratch, "a=%10", "a=%10/4=o", "a=%10/4=t");
    scratch.git("branch ours1");
    int exitCode = 0;
    scratch.tryGit({QStringLiteral("merge"), QStringLiteral("theirs")}, exitCode);
    scratch.write("a", test::recipeContent("%10/4=both"));
    scratch.commit("resolved");
    scratch.git("switch -q theirs");
    scratch.tryGit({QStringLiteral("merge"), QStringLiteral("ours1")}, exitCode);
    scratch.write("a", test::recipeContent("%10/4=both/8=more"));
    scratch.commit("resolved alike");
    const test::Joined joined = test::joinBranches(scratch);
    QCOMPARE(joined.forecast.divergence.bases.size(), std::size_t{2});
    QVERIFY(joined.forecast.isClean());
}

/// One base has a folder where the other has a file, which then moves aside in the joined base. That name
/// is in no commit: it is neither asked about nor put anywhere.
void TestVirtualBase::madeUpName_isNobodys()
{
    ScratchRepository scratch;
    scratch.write("keep", "1\n");
    scratch.write("a", "x\n");
    scratch.commit("root");
    scratch.git("switch -q -c folder");
    scratch.git("rm -q a");
    scratch.write("a/main.c", "f\n");
    scratch.commit("a is a folder");
    scratch.git("switch -q -c file main");
    scratch.write("a", "1\n2\n3\n");
    scratch.commit("a edited");
    const auto crossed = [&](const QByteArray& first, const QByteArray& second) {
        return scratch.git("commit-tree -p " + first + " -p " + second + " -m m " + first
                           + "^{tree}");
    };
    scratch.git("branch ours " + crossed("folder", "file"));
    scratch.git("branch theirs " + crossed("file", "folder"));
    const test::Joined joined = test::joinBranches(scratch);
    QCOMPARE(joined.forecast.divergence.bases.size(), std::size_t{2});
    const std::set<RepoPath> known{"a", "a/main.c", "keep", ""};
    for (const FileOutcome& file : joined.forecast.join.files) {
        for (const RepoPath& path : {file.path, file.basePath, file.oursPath, file.theirsPath}) {
            QVERIFY2(known.contains(path), path.c_str());
        }
        const auto answers = file.question ? file.question->answers : std::vector<Answer>();
        for (const Answer& answer : answers) {
            for (const Placement& put : answer.puts) {
                QVERIFY2(known.contains(put.path) || answer.choice == FileChoice::aside,
                         put.path.c_str());
            }
        }
    }
    for (const TreeEdit& edit : joined.forecast.join.theirsEdits) {
        QVERIFY2(known.contains(edit.path), edit.path.c_str());
    }
}

void TestVirtualBase::bases_areJoinedInMemoryOnly()
{
    ScratchRepository scratch;
    test::makeBranches(scratch, "a=%10", "a=%10/1=o", "a=%10/4=t;a=%10/1=t");
    auto repository = std::move(GitPlace::open(scratch.path())).value();
    const ObjectId ours = *repository->resolveCommit("ours");
    const ObjectId theirs = *repository->resolveCommit("theirs");
    const ObjectId tips[] = {ours, theirs};
    CommitGraph graph(std::move(repository->commitsFrom(tips)).value());
    const QByteArray before = scratch.git("count-objects");
    Overlay overlay(*repository);
    const auto joined =
        joinBases(*repository, overlay, graph, tips, std::make_shared<MergeRules>());
    QVERIFY(joined);
    QCOMPARE(scratch.git("count-objects"), before);
    QVERIFY(!overlay.isStored(joined->tree));
    const ObjectId trees[] = {joined->tree};
    const auto entries = overlay.readTrees(trees);
    const ObjectId blobs[] = {entries->front()->front().id};
    const std::string text = *overlay.readBlobs(blobs, kAnySize)->front();
    QVERIFY2(text.find("<<<<<<<<< ours\no\n=========\nt\n>>>>>>>>> theirs\n") != std::string::npos,
             text.c_str());  // longer markers, so that they are told from a person's
}

ROPE_TESTS(TestVirtualBase, QCoreApplication)
#include "tst_virtual_base.moc"
