// SPDX-License-Identifier: GPL-3.0-or-later
// History as git's commit-graph files tell it, against what rev-list tells: one file, a chain, newer commits,
// octopus merges, what git passes over, and files that were damaged.
#include "core/history/divergence.h"
#include "core/system/git/git_place.h"
#include "core/system/git/stored_graph_stream.h"
#include "tests/support/random_texts.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QTest>

#include <map>
#include <set>

using namespace rope;
using rope::test::Random;
using rope::test::ScratchRepository;

namespace {
/// Adds commits of up to four parents, each of them one of the last eight; marks go on from `first`.
void addCommits(ScratchRepository& scratch, Random& random, int first, int count)
{
    QByteArray stream;
    for (int mark = first; mark < first + count; ++mark) {
        const auto clock = QByteArray::number(1'793'610'000 + 60 * mark
                                              - (test::below(random, 6) == 0 ? 700'000 : 0));
        stream += "commit refs/heads/c" + QByteArray::number(mark)
                  + "\nmark :" + QByteArray::number(mark) + "\ncommitter A <a@b> " + clock
                  + " +0000\ndata 1\nx\n";
        std::set<int> parents;
        for (int i = mark == 1 || test::below(random, 15) == 0 ? 0 : 1 + test::below(random, 4);
             i > 0;
             --i) {
            parents.insert(std::max(1, mark - 1 - test::below(random, 8)));
        }
        const char* word = "from";
        for (const int parent : parents) {
            const QByteArray number = QByteArray::number(parent);
            stream += QByteArray(word)
                      + (parent < first ? " refs/heads/c" + number + "^0\n" : " :" + number + "\n");
            word = "merge";
        }
        stream += "deleteall\n";
    }
    scratch.git(
        {QStringLiteral("fast-import"), QStringLiteral("--quiet"), QStringLiteral("--force")},
        stream);
}

std::vector<ObjectId> tipsOf(ScratchRepository& scratch, const QByteArrayList& names)
{
    std::vector<ObjectId> tips;
    for (const QByteArray& name : names) {
        tips.push_back(*ObjectId::fromHex(scratch.git("rev-parse " + name).toStdString()));
    }
    return tips;
}

/// All that a stream tells, as rev-list --timestamp --parents would, and whether children came first.
struct Told
{
    QByteArrayList lines;
    bool areChildrenFirst = true;
    bool hasFailed = false;
};

Told told(CommitStream& stream)
{
    Told told;
    std::set<ObjectId> seen;
    for (auto next = stream.next(); told.lines.size() < 100'000; next = stream.next()) {
        if (!next) {
            told.hasFailed = true;
            break;
        }
        if (!*next) {
            break;
        }
        QByteArray line = QByteArray::number(static_cast<qint64>((*next)->time)) + " "
                          + QByteArray::fromStdString((*next)->id.hex());
        for (const ObjectId& parent : (*next)->parents) {
            told.areChildrenFirst = told.areChildrenFirst && !seen.contains(parent);
            line += " " + QByteArray::fromStdString(parent.hex());
        }
        seen.insert((*next)->id);
        told.lines << line;
    }
    std::sort(told.lines.begin(), told.lines.end());
    return told;
}

QByteArrayList gits(ScratchRepository& scratch, const QByteArrayList& names)
{
    QByteArrayList lines =
        scratch.git("rev-list --timestamp --parents " + names.join(' ')).split('\n');
    std::sort(lines.begin(), lines.end());
    return lines;
}

/// What the stored graph alone tells; nothing where there is none, or too much is not in it.
std::optional<Told> storedFrom(ScratchRepository& scratch, const QByteArrayList& names)
{
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    auto graph = StoredGraph::load(scratch.path() + "/.git/objects", false);
    if (graph == nullptr) {
        return std::nullopt;
    }
    const auto stream = StoredGraphStream::begin(
        std::move(graph), tipsOf(scratch, names), [&](std::span<const ObjectId> ids) {
            return place->readCommits(ids);
        });
    return stream && *stream ? std::optional(told(**stream)) : std::nullopt;
}

/// What a place tells, whichever way it goes about it.
QByteArrayList placeFrom(ScratchRepository& scratch, const QByteArrayList& names)
{
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    place->expectCommits();
    return told(**place->commitsFrom(tipsOf(scratch, names))).lines;
}
}  // namespace

class TestStoredGraph : public QObject
{
    Q_OBJECT
private slots:
    void random_tellsWhatGitTells_data();
    void random_tellsWhatGitTells();
    void manyNewer_areLeftToGit();
    void replacedOrCutOff_isPassedOver();
    void damaged_neverCrashes_norTellsParentsFirst();
};

void TestStoredGraph::random_tellsWhatGitTells_data()
{
    QTest::addColumn<QByteArray>("write");
    QTest::newRow("one file") << QByteArray("commit-graph write --reachable");
    QTest::newRow("a chain") << QByteArray("commit-graph write --reachable --split=no-merge");
}

void TestStoredGraph::random_tellsWhatGitTells()
{
    QFETCH(const QByteArray, write);
    Random random(test::randomSeed());
    ScratchRepository scratch;
    int count = 0;
    for (int round = 0; round < 6; ++round) {
        addCommits(scratch, random, count + 1, 40);
        count += 40;
        scratch.git(write);
        addCommits(scratch, random, count + 1, 12);  // newer than the graph
        count += 12;
        const QByteArrayList names{"c" + QByteArray::number(count),
                                   "c" + QByteArray::number(count - test::below(random, 30))};
        const auto stored = storedFrom(scratch, names);
        QVERIFY(stored.has_value());
        QCOMPARE(stored->lines, gits(scratch, names));
        QVERIFY(stored->areChildrenFirst);
        QCOMPARE(placeFrom(scratch, names), stored->lines);
    }
}

void TestStoredGraph::manyNewer_areLeftToGit()
{
    Random random(test::randomSeed());
    ScratchRepository scratch;
    addCommits(scratch, random, 1, 20);
    scratch.git("commit-graph write --reachable");
    addCommits(scratch, random, 21, 400);
    const QByteArrayList names{"c420"};
    QVERIFY(!storedFrom(scratch, names).has_value());
    QCOMPARE(placeFrom(scratch, names), gits(scratch, names));
}

/// As git does: the file tells of history as it was stored, not as it is to be seen.
void TestStoredGraph::replacedOrCutOff_isPassedOver()
{
    Random random(test::randomSeed());
    ScratchRepository scratch;
    addCommits(scratch, random, 1, 60);
    scratch.git("commit-graph write --reachable");
    const QByteArrayList names{"c60"};
    const QByteArrayList whole = gits(scratch, names);
    QCOMPARE(placeFrom(scratch, names), whole);
    scratch.git("replace --graft c60");
    QCOMPARE(gits(scratch, names).size(), qsizetype{1});
    QCOMPARE(placeFrom(scratch, names), gits(scratch, names));
    scratch.git("pack-refs --all");
    QCOMPARE(placeFrom(scratch, names), gits(scratch, names));
    scratch.git("replace -d " + scratch.git("rev-parse c60"));
    QCOMPARE(placeFrom(scratch, names), whole);
    scratch.write(".git/shallow", scratch.git("rev-parse c60") + "\n");
    QCOMPARE(placeFrom(scratch, names), gits(scratch, names));
    QCOMPARE(placeFrom(scratch, names).size(), qsizetype{1});
}

void TestStoredGraph::damaged_neverCrashes_norTellsParentsFirst()
{
    Random random(test::randomSeed());
    ScratchRepository scratch;
    addCommits(scratch, random, 1, 60);
    scratch.git("commit-graph write --reachable");
    const QByteArray whole = scratch.read(".git/objects/info/commit-graph");
    const auto tips = tipsOf(scratch, {"c60", "c55"});
    const std::string objects = scratch.path() + "/.git/objects";
    const QString file = scratch.filePath(".git/objects/info/commit-graph");
    int refused = 0;
    for (int round = 0; round < 600; ++round) {
        QByteArray damaged = whole;
        for (int i = 0; i <= test::below(random, 3); ++i) {
            const int at = test::below(
                random, test::below(random, 2) == 0 ? 120 : static_cast<int>(damaged.size()));
            damaged[at] = static_cast<char>(test::below(random, 256));
        }
        if (test::below(random, 5) == 0) {
            damaged.truncate(test::below(random, static_cast<int>(damaged.size())));
        }
        QFile::remove(file);
        scratch.write(".git/objects/info/commit-graph", damaged);
        auto graph = StoredGraph::load(objects, false);
        if (graph == nullptr) {
            ++refused;
            continue;
        }
        const auto stream =
            StoredGraphStream::begin(std::move(graph), tips, [](std::span<const ObjectId> ids) {
                return Result<std::vector<Commit>>(std::vector<Commit>(ids.size()));
            });
        QVERIFY(stream.hasValue());
        if (*stream) {
            const Told walked = told(**stream);
            QVERIFY(walked.areChildrenFirst);
            refused += walked.hasFailed ? 1 : 0;
        }
    }
    QVERIFY(refused > 30);
}

ROPE_TESTS(TestStoredGraph, QCoreApplication)
#include "tst_stored_graph.moc"
