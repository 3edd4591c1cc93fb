// SPDX-License-Identifier: GPL-3.0-or-later
// What the files of a begun merge say was decided, read and written.
#include "core/decide/carry_over.h"
#include "core/decide/decided_outcomes.h"
#include "core/join/found_file.h"
#include "core/merge/marker_blocks.h"
#include "core/plan/merge_reading.h"
#include "core/text/text.h"
#include "tests/support/begun_merge.h"
#include "tests/support/random_trees.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;
using rope::test::ScratchRepository;
using rope::test::TakenOver;

namespace {
std::string choiceAt(const TakenOver& taken, const char* path, std::size_t region)
{
    const SplicedText& text = *taken.file(path).text;
    const SlotState& state = text.state(text.slotOfRegion(region));
    return state.isDecided ? state.choice : "open";
}

/// The file with its first conflict, as git marked it, replaced.
QByteArray firstDecided(const QByteArray& marked, const QByteArray& text)
{
    const qsizetype begin = marked.indexOf("<<<<<<<");
    const qsizetype last = marked.indexOf(">>>>>>>", begin);
    return marked.left(begin) + text + marked.mid(marked.indexOf('\n', last) + 1);
}
}  // namespace

class TestBegunDecisions : public QObject
{
    Q_OBJECT
private slots:
    void blocks_areFound();
    void untouched_isAllOpen_data();
    void untouched_isAllOpen();
    void partlyEdited_isReadBetweenTheMarkers();
    void staged_isDecided();
    void editedElsewhere_comesAlong();
    void droppedChange_isAnEdit();
    void putByHand_staysAsFound();
    void putByHand_canBeAnsweredOtherwise();
    void foundTexts_areReadBack();
    void random_settledByHand_givesWhatIsStaged();
    void texts_areWrittenAndReadBack();
    void random_choices_areReadBack();
};

void TestBegunDecisions::blocks_areFound()
{
    const auto blocksIn = [](const char* text) {
        return markerBlocks(splitLines(text));
    };
    const auto both = blocksIn("a\n<<<<<<< HEAD\nx\n=======\ny\n>>>>>>> t\nb\n"
                               "<<<<<<< HEAD\n||||||| base\nz\n=======\n>>>>>>> t\n");
    QCOMPARE(both.size(), std::size_t{2});
    QCOMPARE(both[0].begin, std::size_t{1});
    QCOMPARE(both[0].end, std::size_t{6});
    QCOMPARE(both[0].firstEnd, std::size_t{3});
    QCOMPARE(both[1].firstBegin, both[1].firstEnd);
    QVERIFY(blocksIn("<<<<<<< HEAD\nx\n>>>>>>> t\n").empty());
    QVERIFY(blocksIn("<<<<<<< HEAD\nx\n=======\ny\n").empty());
    QVERIFY(blocksIn("<<<<<<<x\nx\n=======\ny\n>>>>>>> t\n").empty());
    QCOMPARE(blocksIn("<<<<<<<<< H\nx\n=======\n=========\ny\n>>>>>>>>> t\n").size(),
             std::size_t{1});
}

void TestBegunDecisions::untouched_isAllOpen_data()
{
    QTest::addColumn<QString>("style");
    QTest::newRow("without base") << QStringLiteral("merge");
    QTest::newRow("with base") << QStringLiteral("diff3");
    QTest::newRow("with base, short") << QStringLiteral("zdiff3");
}

void TestBegunDecisions::untouched_isAllOpen()
{
    QFETCH(const QString, style);
    ScratchRepository scratch;
    test::makeClashingBranches(scratch);
    scratch.git(
        QStringList{QStringLiteral("config"), QStringLiteral("merge.conflictStyle"), style});
    test::beginMerge(scratch);
    const TakenOver taken = test::takeOver(scratch.path());
    QCOMPARE(taken.splice->openCount(), std::size_t{3});
    QCOMPARE(taken.splice->decidedCount(), std::size_t{0});
    QVERIFY(taken.splice->decisions().empty());
}

void TestBegunDecisions::partlyEdited_isReadBetweenTheMarkers()
{
    ScratchRepository scratch;
    test::makeClashingBranches(scratch);
    test::beginMerge(scratch);
    scratch.write("plan.txt", firstDecided(scratch.read("plan.txt"), "2 theirs\n"));
    const TakenOver theirs = test::takeOver(scratch.path());
    QCOMPARE(choiceAt(theirs, "plan.txt", 0), std::string("theirs"));
    QCOMPARE(choiceAt(theirs, "plan.txt", 1), std::string("open"));
    QCOMPARE(choiceAt(theirs, "tide.txt", 0), std::string("open"));

    scratch.write("tide.txt", firstDecided(scratch.read("tide.txt"), "high of both\n"));
    const TakenOver own = test::takeOver(scratch.path());
    QCOMPARE(choiceAt(own, "tide.txt", 0), std::string(kOwnText));
    QCOMPARE(own.file("tide.txt").text->wholeText(), std::string("low\nhigh of both\n"));
}

void TestBegunDecisions::staged_isDecided()
{
    ScratchRepository scratch;
    test::makeClashingBranches(scratch);
    test::beginMerge(scratch);
    scratch.git("checkout --theirs plan.txt");
    scratch.git("checkout --ours tide.txt");
    scratch.git("add plan.txt tide.txt");
    const TakenOver taken = test::takeOver(scratch.path());
    QCOMPARE(taken.splice->openCount(), std::size_t{0});
    QCOMPARE(choiceAt(taken, "plan.txt", 0), std::string("theirs"));
    QCOMPARE(choiceAt(taken, "plan.txt", 1), std::string("theirs"));
    QCOMPARE(choiceAt(taken, "tide.txt", 0), std::string("ours"));
}

void TestBegunDecisions::editedElsewhere_comesAlong()
{
    ScratchRepository scratch;
    test::makeClashingBranches(scratch);
    test::beginMerge(scratch);
    scratch.write("fees.txt", "fee 16\nfee 20\nfee 26\n");
    scratch.write("own.txt", "own, mended\n");
    scratch.git("add fees.txt own.txt");
    scratch.write("plan.txt", scratch.read("plan.txt").replace("\n7\n", "\n7 mended\n"));
    const TakenOver taken = test::takeOver(scratch.path());
    taken.decideAll(FileChoice::ours);
    const auto tree = taken.place->storeTree(taken.splice->result().value()).value();
    const auto at = [&](const char* path) {
        return scratch.git(QStringList{QStringLiteral("show"),
                                       QString::fromStdString(tree.hex()) + QLatin1Char(':')
                                           + QLatin1String(path)});
    };
    QCOMPARE(at("fees.txt"), QByteArray("fee 16\nfee 20\nfee 26"));
    QCOMPARE(at("own.txt"), QByteArray("own, mended"));
    QVERIFY(at("plan.txt").contains("\n7 mended\n"));
}

void TestBegunDecisions::droppedChange_isAnEdit()
{
    ScratchRepository scratch;
    test::makeClashingBranches(scratch);
    test::beginMerge(scratch);
    scratch.git("checkout HEAD -- fees.txt");
    const TakenOver taken = test::takeOver(scratch.path());
    QCOMPARE(taken.file("fees.txt").text->wholeText(), std::string("fee 15\nfee 20\nfee 25\n"));
}

namespace {
/// What a splice puts at a path: `mode bytes`; empty: no file.
QByteArray recordedAt(const TakenOver& taken, ScratchRepository& scratch, const char* path)
{
    const std::string tree = taken.place->storeTree(taken.splice->result().value()).value().hex();
    const QByteArray entry = scratch.git(("ls-tree " + tree + " " + path).c_str());
    return entry.isEmpty() ? entry
                           : entry.left(7) + scratch.git(("show " + tree + ":" + path).c_str());
}

std::string choiceOf(const TakenOver& taken, const char* path)
{
    return taken.file(path).answer.choice;
}

std::size_t placeOf(const TakenOver& taken, const char* path)
{
    return static_cast<std::size_t>(&taken.file(path) - taken.splice->files().data());
}

void answer(const TakenOver& taken, const char* path, FileChoice choice)
{
    taken.splice->answer(placeOf(taken, path), choice);
}

/// The splice as it is made of its decisions alone.
std::unique_ptr<Splice> carriedOn(const TakenOver& taken)
{
    const auto decisions = taken.splice->decisions();
    auto again = std::make_unique<Splice>(taken.splice->plan(), taken.forecast);
    const auto owned = oneSidedOutcomesOf(*taken.place, taken.forecast->join, decisions);
    for (const OwnedOutcome& own : owned.value()) {
        (void)again->takeUp(own);
    }
    CarriedOver carried = carryOver(decisions, again->decided());
    if (!carried.lost.empty()) {
        qWarning("%zu decisions lost", carried.lost.size());
    }
    again->put(carried.placed);
    return again;
}
}  // namespace

void TestBegunDecisions::putByHand_staysAsFound()
{
    ScratchRepository scratch;
    test::makeClashingBranches(scratch);
    test::beginMerge(scratch);
    scratch.write("extra.txt", "extra\n");
    scratch.git("add extra.txt");
    scratch.git("rm -q -f own.txt");
    scratch.git("rm -q -f tide.txt");  // both sides changed it
    scratch.git("update-index --chmod=+x fees.txt");
    QVERIFY(QFile::setPermissions(scratch.filePath("fees.txt"),
                                  QFile::ReadOwner | QFile::WriteOwner | QFile::ExeOwner));
    const TakenOver taken = test::takeOver(scratch.path());
    for (const char* path : {"extra.txt", "own.txt", "tide.txt", "fees.txt"}) {
        QCOMPARE(choiceOf(taken, path), std::string("as-found"));
    }
    taken.decideAll(FileChoice::ours);
    QCOMPARE(recordedAt(taken, scratch, "extra.txt"), QByteArray("100644 extra"));
    QCOMPARE(recordedAt(taken, scratch, "own.txt"), QByteArray());
    QCOMPARE(recordedAt(taken, scratch, "tide.txt"), QByteArray());
    QVERIFY(recordedAt(taken, scratch, "fees.txt").startsWith("100755 "));
    QCOMPARE(taken.splice->markersLeft().size(), std::size_t{0});
}

void TestBegunDecisions::putByHand_canBeAnsweredOtherwise()
{
    ScratchRepository scratch;
    test::makeClashingBranches(scratch);
    test::beginMerge(scratch);
    scratch.write("extra.txt", "extra\n");
    scratch.git("add extra.txt");
    scratch.git("rm -q -f tide.txt");
    const TakenOver taken = test::takeOver(scratch.path());
    taken.decideAll(FileChoice::ours);
    answer(taken, "extra.txt", FileChoice::base);
    answer(taken, "tide.txt", FileChoice::theirs);
    QCOMPARE(recordedAt(taken, scratch, "extra.txt"), QByteArray());
    QCOMPARE(recordedAt(taken, scratch, "tide.txt"),
             "100644 " + scratch.git("show theirs:tide.txt"));
    // What was found is known from the decisions alone, whatever was answered since.
    const auto again = carriedOn(taken);
    QCOMPARE(again->openCount(), std::size_t{0});
    const auto tree = [&](const Splice& splice) {
        return taken.place->storeTree(splice.result().value()).value().hex();
    };
    QCOMPARE(tree(*again), tree(*taken.splice));
    taken.splice->reopen({placeOf(taken, "tide.txt"), SlotPlace::kQuestion});
    QCOMPARE(carriedOn(taken)->openCount(), std::size_t{1});
    (void)taken.splice->undo();
    (void)taken.splice->undo();
    QCOMPARE(recordedAt(taken, scratch, "tide.txt"), QByteArray());
}

void TestBegunDecisions::foundTexts_areReadBack()
{
    const ObjectId id = *ObjectId::fromHex(std::string(40, 'a'));
    const FoundFiles found{{"a b\tc", FileVersion{EntryKind::executable, id}}, {"gone", {}}};
    QVERIFY(foundIn(foundText(found)) == found);
    QVERIFY(foundIn("") == FoundFiles());
    for (const std::string& broken :
         {std::string("100644"), foundText(found).substr(0, 20), std::string("7 x\ty\0", 6)}) {
        QVERIFY(!foundIn(broken));
    }
}

namespace {
QByteArray withoutMarkers(const QByteArray& text)
{
    QByteArrayList kept;
    for (const QByteArray& line : text.split('\n')) {
        if (!line.startsWith("<<<<<<<") && !line.startsWith("=======")
            && !line.startsWith(">>>>>>>")) {
            kept << line;
        }
    }
    return kept.join('\n');
}

/// Does one of the things that people do with a file of a begun merge, and stages it.
void settleByHand(ScratchRepository& scratch, test::Random& random, const QString& path)
{
    const QString whole = scratch.filePath(path.toUtf8().constData());
    const bool isThere = QFile::exists(whole);
    const auto rewrite = [&](const QByteArray& bytes) {
        QFile::remove(whole);
        scratch.write(path.toUtf8().constData(), bytes);
    };
    if (isThere && QFileInfo(whole).isFile() && !QFileInfo(whole).isSymLink()) {
        const QByteArray text = scratch.read(path.toUtf8().constData());
        if (text.contains("<<<<<<<")) {
            rewrite(withoutMarkers(text));  // both sides, one after the other
        }
    }
    switch (test::below(random, 8)) {
    case 0:
        QFile::remove(whole);
        break;
    case 1:
        rewrite(QByteArray::fromStdString(test::randomText(random, 12, 6)));
        break;
    case 2:
        rewrite(QByteArray("\0\1 by hand", 10));
        break;
    case 3:
        QFile::remove(whole);
        QFile::link(QStringLiteral("elsewhere"), whole);
        break;
    case 4:
        if (isThere) {
            QFile::setPermissions(whole,
                                  QFile::permissions(whole) ^ (QFile::ExeOwner | QFile::ExeUser));
        }
        break;
    case 5:
        rewrite(isThere ? scratch.read(path.toUtf8().constData()).replace('\n', "\nby hand\n")
                        : QByteArray("by hand\n"));
        break;
    default:
        break;
    }
    int exitCode = 0;
    scratch.tryGit({QStringLiteral("add"), QStringLiteral("-A"), QStringLiteral("--"), path},
                   exitCode);
}
}  // namespace

/// Whatever people made of the files of a merge and staged: a splice that takes it over has nothing open, and
/// would record just what git would commit.
void TestBegunDecisions::random_settledByHand_givesWhatIsStaged()
{
    using namespace rope::test;
    const unsigned first = randomSeed();
    const int rounds = test::roundsUnlessSaid(20);
    int taken = 0;
    for (int round = 0; round < rounds; ++round) {
        const unsigned seed = first + static_cast<unsigned>(round);
        const QByteArray where = "ROPE_TEST_ROUNDS=1 ROPE_TEST_SEED=" + QByteArray::number(seed);
        Random random(seed);
        ScratchRepository scratch;
        importRandomBranches(scratch, random, 6, 4);
        scratch.git("checkout -q ours");
        int exitCode = 0;
        scratch.tryGit({QStringLiteral("merge"), QStringLiteral("-q"), QStringLiteral("theirs")},
                       exitCode);
        if (exitCode == 0 || !QFile::exists(scratch.filePath(".git/MERGE_HEAD"))) {
            continue;
        }
        ++taken;
        QStringList paths = QString::fromUtf8(scratch.git("ls-files --full-name")).split(u'\n');
        paths.removeDuplicates();
        const QStringList open =
            QString::fromUtf8(scratch.git("diff --name-only --diff-filter=U")).split(u'\n');
        for (const QString& path : paths) {
            if (open.contains(path) || below(random, 3) == 0) {
                settleByHand(scratch, random, path);
            }
        }
        if (below(random, 2) == 0) {
            settleByHand(scratch, random, QStringLiteral("added by hand"));
        }
        const QByteArray expected = scratch.git("write-tree");
        const TakenOver own = takeOver(scratch.path());
        for (const SpliceFile& file : own.splice->files()) {
            QVERIFY2(file.openCount() == 0,
                     where + " " + file.outcome->path.c_str() + " "
                         + nameOf(file.outcome->kind).data() + "\n"
                         + scratch.git("status --short"));
        }
        const auto result = own.splice->result();
        QVERIFY2(result, where + " " + (result ? "" : result.error().subject.c_str()));
        const QByteArray tree =
            QByteArray::fromStdString(own.place->storeTree(*result).value().hex());
        // And once it is recorded by git, it can be read again.
        scratch.git("commit -q --no-edit");
        const auto head = *own.place->resolveCommit("HEAD");
        QVERIFY2(readMerge(*own.place, head), where.constData());
        QVERIFY2(tree == expected,
                 where + "\n" + scratch.git(("diff-tree -r " + expected + " " + tree).constData()));
    }
    qInfo("%d begun merges settled by hand", taken);
    QVERIFY(taken > 0 || rounds < 10);
}

void TestBegunDecisions::texts_areWrittenAndReadBack()
{
    ScratchRepository scratch;
    test::makeClashingBranches(scratch);
    test::beginMerge(scratch);
    const TakenOver taken = test::takeOver(scratch.path());
    for (std::size_t i = 0; i < taken.splice->files().size(); ++i) {
        const SpliceFile& file = taken.splice->files()[i];
        if (file.text && file.text->openCount() > 0) {  // the first region of each
            taken.splice->change(
                {{{i, file.text->slotOfRegion(0)}, {true, std::string(kOwnText), "by hand\n"}}});
        }
    }
    const BegunTexts texts = begunTexts(*taken.splice);
    QCOMPARE(texts.settled, (std::vector<RepoPath>{"tide.txt"}));
    for (const ResultEdit& edit : texts.edits) {
        scratch.write(edit.path.c_str(), QByteArray::fromStdString(*edit.bytes));
    }
    QVERIFY(scratch.read("plan.txt").contains("<<<<<<< ours\n12 ours\n||||||| base\n12\n"));
    const TakenOver again = test::takeOver(scratch.path());
    QCOMPARE(again.splice->decisions(), taken.splice->decisions());
    QCOMPARE(again.splice->openCount(), std::size_t{1});
}

/// Any mixture of taken sides, own words and what is still marked comes back as it was.
void TestBegunDecisions::random_choices_areReadBack()
{
    constexpr int kRounds = 60;
    ScratchRepository scratch;
    test::makeClashingBranches(scratch);
    test::beginMerge(scratch);
    const QByteArray marked[] = {scratch.read("plan.txt"), scratch.read("tide.txt")};
    const char* const paths[] = {"plan.txt", "tide.txt"};
    const std::size_t regions[] = {2, 1};
    const QByteArray lines[] = {"2", "12", "high"};
    for (int round = 0; round < kRounds; ++round) {
        std::vector<std::string> wanted;
        for (int choice = round, file = 0; file < 2; ++file) {
            QByteArray text = marked[file];
            QByteArray done;
            for (std::size_t region = 0; region < regions[file]; ++region, choice /= 4) {
                const QByteArray line = lines[static_cast<std::size_t>(file) * 2 + region];
                const qsizetype begin = text.indexOf("<<<<<<<");
                const qsizetype end = text.indexOf('\n', text.indexOf(">>>>>>>", begin)) + 1;
                const QByteArray block = text.mid(begin, end - begin);
                const QByteArray written[] = {
                    block, line + " ours\n", line + " theirs\n", line + " of mine\n"};
                const char* const names[] = {"open", "ours", "theirs", "own"};
                done += text.left(begin) + written[choice % 4];
                text = text.mid(end);
                wanted.emplace_back(names[choice % 4]);
            }
            scratch.write(paths[file], done + text);
        }
        const TakenOver taken = test::takeOver(scratch.path());
        const std::vector<std::string> found{choiceAt(taken, "plan.txt", 0),
                                             choiceAt(taken, "plan.txt", 1),
                                             choiceAt(taken, "tide.txt", 0)};
        QVERIFY2(found == wanted, qPrintable(QStringLiteral("round %1").arg(round)));
    }
}

ROPE_TESTS(TestBegunDecisions, QCoreApplication)
#include "tst_begun_decisions.moc"
