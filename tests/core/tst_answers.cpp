// SPDX-License-Identifier: GPL-3.0-or-later
// No answer to a question takes away a file that the question is not about: every question is answered
// with every answer, and what the sides have is looked for in the tree that comes out. ROPE_TEST_SEED and
// ROPE_TEST_ROUNDS as in tst_random_merges.cpp.
#include "core/decide/splice.h"
#include "core/system/tree_difference.h"
#include "tests/support/joined_branches.h"
#include "tests/support/random_trees.h"
#include "tests/support/test_program.h"
#include "tests/support/tree_recipe.h"

#include <QTest>

#include <algorithm>

using namespace rope;
using rope::test::Random;
using rope::test::RandomTree;
using rope::test::ScratchRepository;

namespace {
using Files = std::map<RepoPath, FileVersion>;

Files filesOf(GitPlace& place, const ObjectId& tree)
{
    Files files;
    const auto all = treeDifference(place, {}, tree);
    for (const FileChange& change : *all) {
        files[change.path] = *change.after;
    }
    return files;
}

bool isAbout(const FileOutcome& file, const RepoPath& path)
{
    return file.path == path || file.basePath == path || file.oursPath == path
           || file.theirsPath == path;
}

/// The first file of a side that is nowhere in the result, though the side had made it or changed it and
/// no outcome is about it; empty: there is none.
std::string lostFile(GitPlace& place, const Join& join, const ObjectId& result)
{
    const Files base = filesOf(place, join.base.tree);
    const Files now = filesOf(place, result);
    for (const ObjectId& side : {join.ours.tree, join.theirs.tree}) {
        for (const auto& [path, version] : filesOf(place, side)) {
            const auto before = base.find(path);
            const bool isOwn = before == base.end() || before->second != version;
            const bool isThere = std::any_of(
                now.begin(), now.end(), [&v = version](const auto& f) { return f.second == v; });
            const bool isAsked =
                std::any_of(join.files.begin(), join.files.end(), [&p = path](const auto& file) {
                    return isAbout(file, p);
                });
            const bool isFolded = join.folded.contains(path);
            if (isOwn && !isThere && !isAsked && !isFolded) {
                return path;
            }
        }
    }
    return {};
}

struct Outcome
{
    int results = 0;
    int refused = 0;  ///< Two answers that cannot both be given, told by name.
    std::string problem;
};

/// Answers question after question with each of its answers, the others with their first ones, and last
/// all of them with the same number.
Outcome answerAll(GitPlace& place, const std::shared_ptr<const Forecast>& forecast)
{
    Outcome outcome;
    const auto& files = forecast->join.files;
    std::size_t most = 1;
    for (const FileOutcome& file : files) {
        most = std::max(most, file.question ? file.question->answers.size() : 0);
    }
    const auto tryWith = [&](const auto& answerOf) {
        Splice splice({"id", "refs/heads/ours", "ours", "theirs", {}, {}}, forecast);
        for (std::size_t i = 0; i < splice.files().size(); ++i) {
            const FileOutcome& file = *splice.files()[i].outcome;
            if (file.question) {
                const auto& answers = file.question->answers;
                splice.answer(i, answers[std::min(answerOf(i), answers.size() - 1)].choice);
            }
            splice.decideAllOpen(i, FileChoice::ours);
        }
        const auto result = splice.result();
        const auto tree = result ? place.storeTree(*result) : Result<ObjectId>(result.error());
        if (!tree && tree.error().reason == Reason::pathTwice) {
            ++outcome.refused;
            return;
        }
        if (!tree) {
            outcome.problem = "no tree: " + tree.error().subject + " " + tree.error().detail;
            return;
        }
        ++outcome.results;
        if (forecast->divergence.bases.size() > 1) {
            return;  // its base is in no store; that a result was made is all that can be looked at
        }
        if (const std::string lost = lostFile(place, forecast->join, *tree); !lost.empty()) {
            outcome.problem = "lost: " + lost;
        }
    };
    for (std::size_t asked = 0; asked < files.size(); ++asked) {
        for (std::size_t answer = 0; answer < most; ++answer) {
            tryWith([&](std::size_t i) { return i == asked ? answer : std::size_t{0}; });
        }
    }
    for (std::size_t answer = 0; answer < most; ++answer) {
        tryWith([&](std::size_t) { return answer; });
    }
    return outcome;
}

/// Paths that easily come to stand on, above and below each other.
constexpr const char* kPaths[] = {
    "a", "b", "x", "lib", "a/x", "b/x", "x/a", "lib/a", "lib/c", "src/a"};

bool collides(const RandomTree& tree, const std::string& path)
{
    return std::any_of(tree.begin(), tree.end(), [&](const auto& file) {
        return file.first == path || file.first.starts_with(path + "/")
               || path.starts_with(file.first + "/");
    });
}

RandomTree randomBase(Random& random)
{
    RandomTree base{{"k", {"k\n", false}}};
    for (int i = 0; i < 3; ++i) {
        const std::string path = kPaths[test::below(random, std::size(kPaths))];
        if (!collides(base, path)) {
            base[path] = {test::distinctText(random, 12), false};
        }
    }
    return base;
}

void changeNames(Random& random, RandomTree& tree, const std::string& side)
{
    const std::string to = kPaths[test::below(random, std::size(kPaths))];
    const int what = tree.size() < 2 ? 0 : test::below(random, 5);
    if (what == 0) {
        if (!collides(tree, to)) {
            tree[to] = {test::distinctText(random, 12), false};
        }
        return;
    }
    const std::string from = test::pick(random, tree);
    const test::RandomFile file = tree[from];
    if (what == 4) {
        tree[from].text = test::edited(random, file.text, 1, side + " ");
        return;
    }
    tree.erase(from);
    if (what < 3 && !collides(tree, to)) {
        tree[to] = file;
    } else if (what < 3) {
        tree[from] = file;
    }
}

/// A commit with two parents that holds what it likes.
QByteArray mergeOf(const char* ref, int mark, int first, int second, const RandomTree& tree)
{
    QByteArray merge = test::commitOf(ref, mark, first, tree);
    return merge.replace("deleteall\n", "merge :" + QByteArray::number(second) + "\ndeleteall\n");
}
}  // namespace

class TestAnswers : public QObject
{
    Q_OBJECT
private slots:
    void knownShapes_keepEveryFile_data();
    void knownShapes_keepEveryFile();
    void fileInTheWay_isAskedInBothOrders();
    void random_everyAnswerKeepsEveryFile();
    void randomCrissCross_everyAnswerGivesAResult();
};

void TestAnswers::knownShapes_keepEveryFile_data()
{
    QTest::addColumn<QByteArray>("base");
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("theirs");
    QTest::newRow("old-name-is-a-folder-now")
        << QByteArray("doc=%20;k=k") << QByteArray("-doc;doc/mine=mine") << QByteArray("doc>notes");
    QTest::newRow("old-folder-is-a-file-now")
        << QByteArray("doc/notes=%20;k=k") << QByteArray("-doc/notes;doc=mine")
        << QByteArray("doc/notes>main");
    QTest::newRow("left-folder-is-a-file-now")
        << QByteArray("lib/a=%20;lib/b=%30/1=other;k=k")
        << QByteArray("lib/a>src/a;lib/b>src/b;lib=mine") << QByteArray("lib/c=new");
    QTest::newRow("renamed-twice-into-a-file")
        << QByteArray("a=%20;k=k") << QByteArray("a>b;x=mine") << QByteArray("a>x/a");
    QTest::newRow("folder-in-the-place-of-an-edited-file")
        << QByteArray("a=%20;k=k") << QByteArray("-a;a/x=mine") << QByteArray("a=%20/3=edited");
    QTest::newRow("deleted-below-a-new-file")
        << QByteArray("core/main=%20;k=k") << QByteArray("-core/main;core=mine;main=other")
        << QByteArray("core/main>main");
    QTest::newRow("old-name-is-a-link-now")
        << QByteArray("f=%20;k=k") << QByteArray("f>g") << QByteArray("@f=elsewhere");
    QTest::newRow("renamed-twice-one-below-the-other")
        << QByteArray("f=%20;k=k") << QByteArray("f>a") << QByteArray("f>a/x");
}

void TestAnswers::knownShapes_keepEveryFile()
{
    QFETCH(QByteArray, base);
    QFETCH(QByteArray, ours);
    QFETCH(QByteArray, theirs);
    ScratchRepository scratch;
    test::makeBranches(scratch, base, ours, theirs);
    for (const bool isSwapped : {false, true}) {
        test::Joined joined = test::joinBranches(
            scratch, isSwapped ? "theirs" : "ours", isSwapped ? "ours" : "theirs");
        const auto forecast = std::make_shared<const Forecast>(std::move(joined.forecast));
        const Outcome outcome = answerAll(*joined.repository, forecast);
        QCOMPARE(outcome.problem, std::string());
        QVERIFY(outcome.results > 0);
        QCOMPARE(outcome.refused, 0);
    }
}

void TestAnswers::fileInTheWay_isAskedInBothOrders()
{
    ScratchRepository scratch;
    test::makeBranches(scratch, "a=%20;k=k", "a>b;x=mine", "a>x/a");
    const auto questions = [&](const char* ours, const char* theirs) {
        return test::joinBranches(scratch, ours, theirs).forecast.join.questionCount();
    };
    QCOMPARE(questions("ours", "theirs"), std::size_t{2});
    QCOMPARE(questions("theirs", "ours"), std::size_t{2});
}

void TestAnswers::random_everyAnswerKeepsEveryFile()
{
    const unsigned first = test::randomSeed();
    const int rounds = test::roundsUnlessSaid(120);
    int results = 0;
    int refused = 0;
    for (int round = 0; round < rounds; ++round) {
        const unsigned seed = first + static_cast<unsigned>(round);
        const std::string where =
            "ROPE_TEST_ROUNDS=1 ROPE_TEST_SEED=" + std::to_string(seed) + ": ";
        Random random(seed);
        const RandomTree base = randomBase(random);
        RandomTree ours = base;
        RandomTree theirs = base;
        for (int i = 0; i < 3; ++i) {
            changeNames(random, ours, "o");
            changeNames(random, theirs, "t");
        }
        ScratchRepository scratch;
        scratch.git({QStringLiteral("fast-import"), QStringLiteral("--quiet")},
                    test::commitOf("refs/heads/base", 1, 0, base)
                        + test::commitOf("refs/heads/ours", 2, 1, ours)
                        + test::commitOf("refs/heads/theirs", 3, 1, theirs));
        std::size_t questions[2] = {};
        for (const bool isSwapped : {false, true}) {
            test::Joined joined = test::joinBranches(
                scratch, isSwapped ? "theirs" : "ours", isSwapped ? "ours" : "theirs");
            questions[isSwapped ? 1 : 0] = joined.forecast.join.openCount();
            const test::Joined unread = test::joinBranches(scratch,
                                                           isSwapped ? "theirs" : "ours",
                                                           isSwapped ? "ours" : "theirs",
                                                           {false, nullptr, NewFolders::leave});
            QVERIFY2(test::verdictOf(unread.forecast) == test::verdictOf(joined.forecast),
                     (where + "unread folders make a difference").c_str());
            const auto forecast = std::make_shared<const Forecast>(std::move(joined.forecast));
            const Outcome outcome = answerAll(*joined.repository, forecast);
            QVERIFY2(outcome.problem.empty(), (where + outcome.problem).c_str());
            results += outcome.results;
            refused += outcome.refused;
        }
        QVERIFY2(questions[0] == questions[1], (where + "the orders differ").c_str());
    }
    qInfo("%d results, %d answers that cannot be given together", results, refused);
    QVERIFY(results > rounds);
    QVERIFY(refused * 50 < results);
}

/// Two best common ancestors, joined to one base first: names that it makes up are no obstacle either.
void TestAnswers::randomCrissCross_everyAnswerGivesAResult()
{
    const unsigned first = test::randomSeed();
    const int rounds = test::roundsUnlessSaid(60);
    int results = 0;
    for (int round = 0; round < rounds; ++round) {
        const unsigned seed = first + static_cast<unsigned>(round);
        const std::string where =
            "ROPE_TEST_ROUNDS=1 ROPE_TEST_SEED=" + std::to_string(seed) + ": ";
        Random random(seed);
        const RandomTree base = randomBase(random);
        RandomTree left = base;
        RandomTree right = base;
        changeNames(random, left, "l");
        changeNames(random, left, "l");
        changeNames(random, right, "r");
        changeNames(random, right, "r");
        RandomTree ours = left;
        RandomTree theirs = test::below(random, 2) == 0 ? right : left;
        changeNames(random, ours, "o");
        changeNames(random, theirs, "t");
        ScratchRepository scratch;
        scratch.git({QStringLiteral("fast-import"), QStringLiteral("--quiet")},
                    test::commitOf("refs/heads/base", 1, 0, base)
                        + test::commitOf("refs/heads/left", 2, 1, left)
                        + test::commitOf("refs/heads/right", 3, 1, right)
                        + mergeOf("refs/heads/ours", 4, 2, 3, ours)
                        + mergeOf("refs/heads/theirs", 5, 3, 2, theirs));
        for (const bool isSwapped : {false, true}) {
            test::Joined joined = test::joinBranches(
                scratch, isSwapped ? "theirs" : "ours", isSwapped ? "ours" : "theirs");
            const auto forecast = std::make_shared<const Forecast>(std::move(joined.forecast));
            QVERIFY2(forecast->divergence.bases.size() == 2, where.c_str());
            const Outcome outcome = answerAll(*joined.repository, forecast);
            QVERIFY2(outcome.problem.empty(), (where + outcome.problem).c_str());
            results += outcome.results;
        }
    }
    qInfo("%d results", results);
    QVERIFY(results > 0);
}

ROPE_TESTS(TestAnswers, QCoreApplication)
#include "tst_answers.moc"
