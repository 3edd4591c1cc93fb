// SPDX-License-Identifier: GPL-3.0-or-later
// What the repository itself says about joining: .gitattributes, submodules; and names that clash.
#include "tests/support/joined_branches.h"
#include "tests/support/test_program.h"
#include "tests/support/tree_recipe.h"

#include <QTest>

#include <thread>

using namespace rope;
using rope::test::fileAt;
using rope::test::joinBranches;
using rope::test::Joined;
using rope::test::ScratchRepository;

class TestMergeRules : public QObject
{
    Q_OBJECT
private slots:
    void attributes_areFollowedAsGitDoes_data();
    void attributes_areFollowedAsGitDoes();
    void rules_ofManyPaths_fromSeveralThreads();
    void program_getsVersionsAndQuotedPath();
    void program_thatFails_isAnError();
    void submodule_laterCommit_isTaken();
    void names_thatDifferInCase_arePointedOut_data();
    void names_thatDifferInCase_arePointedOut();
};

void TestMergeRules::attributes_areFollowedAsGitDoes_data()
{
    QTest::addColumn<QByteArray>("attributes");
    QTest::addColumn<QByteArray>("config");  // "key=value"
    QTest::addColumn<QByteArray>("theirs");  // of a ten-line file whose line 1 ours changed
    QTest::newRow("by-lines") << QByteArray("*.txt text") << QByteArray() << QByteArray("%10/8=t");
    QTest::newRow("binary") << QByteArray("*.txt binary") << QByteArray() << QByteArray("%10/8=t");
    QTest::newRow("no-merge") << QByteArray("*.txt -merge") << QByteArray()
                              << QByteArray("%10/8=t");
    QTest::newRow("union") << QByteArray("*.txt merge=union") << QByteArray()
                           << QByteArray("%10/1=t");
    QTest::newRow("unknown-name") << QByteArray("*.txt merge=nobody") << QByteArray()
                                  << QByteArray("%10/8=t");
    QTest::newRow("program") << QByteArray("*.txt merge=mine")
                             << QByteArray("merge.mine.driver=cat %O %B > %A.new && mv %A.new %A")
                             << QByteArray("%10/1=t");
    QTest::newRow("program-clash")
        << QByteArray("*.txt merge=mine") << QByteArray("merge.mine.driver=exit 1")
        << QByteArray("%10/8=t");
    QTest::newRow("default-rule") << QByteArray("other union") << QByteArray("merge.default=union")
                                  << QByteArray("%10/1=t");
}

void TestMergeRules::attributes_areFollowedAsGitDoes()
{
    QFETCH(QByteArray, attributes);
    QFETCH(QByteArray, config);
    QFETCH(QByteArray, theirs);
    ScratchRepository scratch;
    if (!config.isEmpty()) {
        const qsizetype at = config.indexOf('=');
        scratch.git({QStringLiteral("config"),
                     QString::fromUtf8(config.left(at)),
                     QString::fromUtf8(config.mid(at + 1))});
    }
    scratch.write(".gitattributes", attributes + "\n");
    test::makeBranches(scratch, "a.txt=%10", "a.txt=%10/1=o", "a.txt=" + theirs);
    const Joined joined = joinBranches(scratch);
    const QByteArray reference = test::gitsTree(scratch);
    QCOMPARE(joined.forecast.isClean(), !reference.isEmpty());
    if (joined.forecast.isClean()) {
        const auto tree = storeCleanTree(*joined.repository, joined.forecast);
        QCOMPARE(QByteArray::fromStdString(tree->hex()), reference);
    } else {
        const FileOutcome* const file = fileAt(joined.forecast, "a.txt");
        QVERIFY(file->question->kind == QuestionKind::notByLines);
    }
}

/// The one git that is asked lives on from thread to thread, and answers more than a pipe holds.
void TestMergeRules::rules_ofManyPaths_fromSeveralThreads()
{
    ScratchRepository scratch;
    scratch.write(".gitattributes", "u* merge=union\n");
    scratch.write("u", "");
    scratch.commit("base");
    auto place = std::move(GitPlace::open(scratch.path(), {true, {}})).value();
    std::vector<RepoPath> paths;
    for (int i = 0; i < 9'000; ++i) {
        paths.push_back((i % 3 == 0 ? "u" : "f") + std::to_string(i));
    }
    paths.push_back("u" + std::string(30'000, 'x'));
    for (int round = 0; round < 3; ++round) {
        std::vector<MergeRule> rules;
        std::jthread([&] {
            auto told = place->mergeRules(paths);
            rules = told ? std::move(*told) : std::vector<MergeRule>();
        }).join();
        QCOMPARE(rules.size(), paths.size());
        for (std::size_t i = 0; i < paths.size(); ++i) {
            QCOMPARE(rules[i].how == MergeRule::How::unionOfLines, paths[i].front() == 'u');
        }
    }
}

void TestMergeRules::program_getsVersionsAndQuotedPath()
{
    ScratchRepository scratch;
    scratch.git({QStringLiteral("config"),
                 QStringLiteral("merge.show.driver"),
                 QStringLiteral("printf '%%s|%%s|' %P %L > %A; cat %O %B >> %A")});
    scratch.write(".gitattributes", "* merge=show conflict-marker-size=11\n");
    const QByteArray path = "it's $(touch pwned) `x`";
    scratch.write(path.constData(), "base\n");
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write(path.constData(), "theirs\n");
    scratch.commit("theirs");
    scratch.git("switch -q -c ours main");
    scratch.write(path.constData(), "ours\n");
    scratch.commit("ours");
    const Joined joined = joinBranches(scratch);
    QCOMPARE(
        QByteArray::fromStdString(fileAt(joined.forecast, path.constData())->text->cleanText()),
        path + "|11|base\ntheirs\n");
    QVERIFY(!QFile::exists(scratch.filePath("pwned")));
}

void TestMergeRules::program_thatFails_isAnError()
{
    ScratchRepository scratch;
    scratch.git("config merge.broken.driver false-program-of-nobody");
    scratch.git({QStringLiteral("config"),
                 QStringLiteral("merge.broken.driver"),
                 QStringLiteral("exit 129")});
    scratch.write(".gitattributes", "* merge=broken\n");
    test::makeBranches(scratch, "a=%10", "a=%10/1=o", "a=%10/8=t");
    auto repository = std::move(GitPlace::open(scratch.path(), {true, {}})).value();
    const auto forecast = forecastJoin(
        *repository, *repository->resolveCommit("ours"), *repository->resolveCommit("theirs"));
    QVERIFY(!forecast);
    QCOMPARE(forecast.error().code, ErrorCode::systemFailed);
    QCOMPARE(forecast.error().subject, std::string("exit 129"));
}

void TestMergeRules::submodule_laterCommit_isTaken()
{
    ScratchRepository library;
    library.write("f", "1\n");
    const QByteArray first = library.commit("one");
    library.write("f", "2\n");
    const QByteArray second = library.commit("two");
    library.write("f", "3\n");
    const QByteArray third = library.commit("three");
    library.git(QStringList{QStringLiteral("checkout"),
                            QStringLiteral("-q"),
                            QStringLiteral("-b"),
                            QStringLiteral("apart"),
                            QString::fromUtf8(second)});
    library.write("f", "4\n");
    const QByteArray apart = library.commit("apart");

    ScratchRepository scratch;
    scratch.git({QStringLiteral("-c"),
                 QStringLiteral("protocol.file.allow=always"),
                 QStringLiteral("submodule"),
                 QStringLiteral("add"),
                 QStringLiteral("-q"),
                 library.folder(),
                 QStringLiteral("lib")});
    const auto point = [&](const QByteArray& commit) {
        scratch.git({QStringLiteral("-C"),
                     QStringLiteral("lib"),
                     QStringLiteral("checkout"),
                     QStringLiteral("-q"),
                     QString::fromUtf8(commit)});
    };
    point(first);
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    point(third);
    scratch.commit("theirs");
    scratch.git("switch -q -c ours main");
    point(second);
    scratch.commit("ours");
    const Joined joined = joinBranches(scratch);
    QVERIFY(joined.forecast.isClean());
    QCOMPARE(QByteArray::fromStdString(fileAt(joined.forecast, "lib")->settled->id.hex()), third);
    point(apart);
    scratch.commit("ours went apart");
    const Joined parted = joinBranches(scratch);
    QVERIFY(fileAt(parted.forecast, "lib")->question->kind == QuestionKind::submodule);
}

void TestMergeRules::names_thatDifferInCase_arePointedOut_data()
{
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("theirs");
    QTest::addColumn<QByteArray>("clash");  // "first second"
    QTest::newRow("files") << QByteArray("Log=1") << QByteArray("log=2") << QByteArray("Log log");
    QTest::newRow("folders") << QByteArray("src/Tide/a=1") << QByteArray("src/tide/b=2")
                             << QByteArray("src/Tide src/tide");
    QTest::newRow("normalisation") << QByteArray("b\xC3\xA4r=1") << QByteArray("ba\xCC\x88r=2")
                                   << QByteArray("ba\xCC\x88r b\xC3\xA4r");
    QTest::newRow("none") << QByteArray("a=1") << QByteArray("b=2") << QByteArray();
    QTest::newRow("renamed-by-case") << QByteArray("q=1") << QByteArray("z>Z") << QByteArray();
}

void TestMergeRules::names_thatDifferInCase_arePointedOut()
{
    QFETCH(QByteArray, ours);
    QFETCH(QByteArray, theirs);
    QFETCH(QByteArray, clash);
    ScratchRepository scratch;
    test::makeBranches(scratch, "z=%10", ours, theirs);
    const Joined joined = joinBranches(scratch);
    QVERIFY(joined.forecast.isClean());
    QByteArrayList found;
    for (const auto& [first, second] : joined.forecast.join.nameClashes) {
        found << QByteArray::fromStdString(first) + " " + QByteArray::fromStdString(second);
    }
    QCOMPARE(found.join("; "), clash);
}

ROPE_TESTS(TestMergeRules, QCoreApplication)
#include "tst_merge_rules.moc"
