// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decide/carry_over.h"
#include "core/decide/decided_outcomes.h"
#include "core/findings/checked_splice.h"
#include "core/findings/tree_checker.h"
#include "core/join/found_file.h"
#include "tests/support/joined_branches.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;
using namespace rope::test;

namespace {
/// A file that both changed, and some that one side alone did.
void makeBranches(ScratchRepository& scratch)
{
    scratch.write("both.txt", "one\ntwo\nthree\nfour\nfive\n");
    scratch.write("theirs.txt", "a\nb\n");
    scratch.write("ours.txt", "c\n");
    scratch.write("picture.bin", QByteArray("\0\1", 2));
    scratch.commit("base");
    scratch.git("branch -q theirs");
    scratch.git("checkout -q -b ours");
    scratch.write("both.txt", "ONE\ntwo\nthree\nfour\nfive\n");
    scratch.write("ours.txt", "c\nd\n");
    scratch.commit("ours");
    scratch.git("checkout -q theirs");
    scratch.write("both.txt", "one\ntwo\nthree\nfour\nFIVE\n");
    scratch.write("theirs.txt", "a\nB\n");
    scratch.write("new.txt", "new\n");
    scratch.write("picture.bin", QByteArray("\0\2", 2));
    scratch.commit("theirs");
}

SlotChange written(std::size_t file, std::string text)
{
    return {{file, 0}, {false, {}, std::move(text)}};
}

QByteArray bytesOf(const ResultSnapshot& result, const char* path)
{
    for (const ResultEdit& edit : result.edits) {
        if (edit.path == path && edit.bytes) {
            return QByteArray::fromStdString(*edit.bytes);
        }
    }
    return {};
}
}  // namespace

class TestOneSidedFile : public QObject
{
    Q_OBJECT
private slots:
    void outcome_readsAsTheSideHasIt();
    void takenUp_isEditedLikeAnyOther();
    void takenUp_keepsSteps();
    void decisions_findItAgain();
    void checkedFiles_areAllThatChanged();
    void checkedFiles_haveWhatWasPutByHand();
};

void TestOneSidedFile::outcome_readsAsTheSideHasIt()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    const Joined joined = joinBranches(scratch);
    const auto read = [&](const char* path) {
        return *oneSidedOutcome(*joined.repository, joined.forecast.join, path);
    };
    QCOMPARE(read("theirs.txt")->text->cleanText(), "a\nB\n");
    QCOMPARE(read("ours.txt")->text->cleanText(), "c\nd\n");
    QCOMPARE(read("new.txt")->text->cleanText(), "new\n");
    QVERIFY(!read("new.txt")->base);
    QVERIFY(!read("both.txt"));
    QVERIFY(!read("picture.bin"));
    QVERIFY(!read("nowhere.txt"));
}

void TestOneSidedFile::takenUp_isEditedLikeAnyOther()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    const Joined joined = joinBranches(scratch);
    const auto forecast = std::make_shared<const Forecast>(joined.forecast);
    Splice splice({"id", "refs/heads/ours", "ours", "theirs", {}, {}}, forecast);
    const auto before = splice.result();
    const std::size_t theirs =
        splice.takeUp(*oneSidedOutcome(*joined.repository, forecast->join, "theirs.txt"));
    const std::size_t ours =
        splice.takeUp(*oneSidedOutcome(*joined.repository, forecast->join, "ours.txt"));
    QCOMPARE(splice.takeUp(*oneSidedOutcome(*joined.repository, forecast->join, "theirs.txt")),
             theirs);
    QCOMPARE(splice.files().size(), 3U);
    QCOMPARE(splice.openCount(), 0U);
    QCOMPARE(splice.result()->edits.size(), before->edits.size());
    splice.change({written(theirs, "a\nmended\n")});
    splice.change({written(ours, "c\nmended too\n")});
    const auto result = splice.result();
    QCOMPARE(bytesOf(*result, "theirs.txt"), QByteArray("a\nmended\n"));
    QCOMPARE(bytesOf(*result, "ours.txt"), QByteArray("c\nmended too\n"));
    (void)splice.undo();
    (void)splice.undo();
    QCOMPARE(splice.result()->edits.size(), before->edits.size());
}

void TestOneSidedFile::takenUp_keepsSteps()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    const Joined joined = joinBranches(scratch);
    const auto forecast = std::make_shared<const Forecast>(joined.forecast);
    Splice splice({"id", "refs/heads/ours", "ours", "theirs", {}, {}},
                  forecast,
                  DecidedJoin({Leg(forecast, &forecast->join), Leg(forecast, &forecast->join)}));
    QCOMPARE(splice.files().size(), 2U);
    splice.change({written(1, "in the second leg\n")});
    const std::size_t place =
        splice.takeUp(*oneSidedOutcome(*joined.repository, forecast->join, "theirs.txt"));
    QCOMPARE(place, 1U);
    QCOMPARE(splice.files()[2].leg, splice.workLeg());
    QCOMPARE(splice.undo().front().file, 2U);
    QVERIFY(!splice.files()[2].text->state(0).text);
    QCOMPARE(splice.redo().front().file, 2U);
    QCOMPARE(*splice.files()[2].text->state(0).text, "in the second leg\n");
}

void TestOneSidedFile::decisions_findItAgain()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    const Joined joined = joinBranches(scratch);
    const auto forecast = std::make_shared<const Forecast>(joined.forecast);
    const SplicePlan plan{"id", "refs/heads/ours", "ours", "theirs", {}, {}};
    Splice splice(plan, forecast);
    const std::size_t file =
        splice.takeUp(*oneSidedOutcome(*joined.repository, forecast->join, "theirs.txt"));
    splice.change({written(file, "a\nmended\n")});
    Splice again(plan, forecast);
    const auto outcomes =
        *oneSidedOutcomesOf(*joined.repository, forecast->join, splice.decisions());
    for (const OwnedOutcome& outcome : outcomes) {
        again.takeUp(outcome);
    }
    const CarriedOver carried = carryOver(splice.decisions(), again.decided());
    QVERIFY(carried.lost.empty());
    again.put(carried.placed);
    QCOMPARE(bytesOf(*again.result(), "theirs.txt"), QByteArray("a\nmended\n"));
}

void TestOneSidedFile::checkedFiles_areAllThatChanged()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    const Joined joined = joinBranches(scratch);
    const auto forecast = std::make_shared<const Forecast>(joined.forecast);
    Splice splice({"id", "refs/heads/ours", "ours", "theirs", {}, {}}, forecast);
    const auto files = *readCheckedFiles(*joined.repository, forecast->join);
    QCOMPARE(files.size(), 5U);
    QCOMPARE(files[1].path, "new.txt");
    QVERIFY(!files[1].base && !files[1].ours && *files[1].theirs == "new\n");
    QVERIFY(!files[3].theirs);  // no text
    auto results = resultsOf(splice, files);
    QCOMPARE(*results[0]->text, "ONE\ntwo\nthree\nfour\nFIVE\n");
    QCOMPARE(results[0]->origins.front(), LineOrigin::ours);
    QCOMPARE(*results[2]->text, "c\nd\n");
    QCOMPARE(results[2]->origins.back(), LineOrigin::ours);
    const std::size_t place =
        splice.takeUp(*oneSidedOutcome(*joined.repository, forecast->join, "theirs.txt"));
    splice.change({written(place, "mended\n")});
    results = resultsOf(splice, files);
    QCOMPARE(*results[4]->text, "mended\n");
    TreeChecker checker(files);
    QCOMPARE(checker.check(results).checkedFiles, 4U);
}

/// A file that no side has is read through as well, with what was written by hand in it.
void TestOneSidedFile::checkedFiles_haveWhatWasPutByHand()
{
    ScratchRepository scratch;
    makeBranches(scratch);
    const Joined joined = joinBranches(scratch);
    const auto forecast = std::make_shared<const Forecast>(joined.forecast);
    scratch.write(".git/extra", "by hand\n");
    const QByteArray id = scratch.git("hash-object -w .git/extra");
    const FoundFiles found{
        {"extra.txt", FileVersion{EntryKind::file, *ObjectId::fromHex(id.toStdString())}}};
    const OwnedOutcome own = *foundOutcome(*joined.repository, forecast->join, "extra.txt", found);
    const auto files = *readCheckedFiles(*joined.repository, forecast->join, {own});
    QCOMPARE(files.size(), 6U);
    QCOMPARE(files[1].path, "extra.txt");
    Splice splice({"id", "refs/heads/ours", "ours", "theirs", {}, {}}, forecast);
    const std::size_t place = splice.takeUp(own);
    splice.put({{{place, SlotPlace::kQuestion}, {true, "as-found", foundText(found)}}});
    QCOMPARE(*resultsOf(splice, files)[1]->text, "by hand\n");
    QCOMPARE(resultsOf(splice, files)[1]->origins.front(), LineOrigin::hand);
    splice.answer(place, FileChoice::base);
    QVERIFY(!resultsOf(splice, files)[1]->text);
    // Bytes that are no lines are not read as such.
    auto bytes = std::make_shared<FileOutcome>(*own);
    bytes->found = std::make_shared<const std::string>("\0\1", 2);
    splice.takeUp(bytes);
    splice.answer(place, FileChoice::found);
    QVERIFY(!resultsOf(splice, files)[1]->text);
}

ROPE_TESTS(TestOneSidedFile, QCoreApplication)
#include "tst_one_sided_file.moc"
