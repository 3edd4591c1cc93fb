// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decide/carry_over.h"
#include "core/decide/splice.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

namespace {
struct Texts
{
    const char* path;
    const char* base;
    const char* ours;
    const char* theirs;
    const char* oldPath = nullptr;  ///< What ours calls it, where that is another name.
};

Splice spliceOf(const std::vector<Texts>& files)
{
    auto forecast = std::make_shared<Forecast>();
    for (const Texts& texts : files) {
        FileOutcome file;
        file.path = file.theirsPath = texts.path;
        file.oursPath = file.basePath = texts.oldPath ? texts.oldPath : texts.path;
        file.base = file.ours = file.theirs = FileVersion{};
        file.text = std::make_shared<const TextJoin>(
            std::move(joinTexts(texts.base, texts.ours, texts.theirs)).value());
        forecast->join.files.push_back(std::move(file));
    }
    return {{"id", "refs/heads/x", "x", "origin/main", {}, {}}, forecast};
}

constexpr const char* kBase = "1\n2\n3\n4\n5\n6\n7\n8\n";
}  // namespace

class TestCarryOver : public QObject
{
    Q_OBJECT
private slots:
    void sameRegions_allFindTheirPlace();
    void renamedFile_isFollowed();
    void movedRegion_isFoundElsewhere();
    void goneRegion_isTold();
    void handEdit_onChangedLines_isJoined();
    void handEdit_thatClashes_isLost();
    void sameRegion_decidedElsewhere_isOffered();
    void ownText_ofAChangedRegion_isOffered();
};

void TestCarryOver::sameRegions_allFindTheirPlace()
{
    Splice before =
        spliceOf({{"a", kBase, "1\nO\n3\n4\n5\n6\n7\n8\n", "1\nT\n3\n4\n5\n6\n7\n8\n"}});
    before.decideAllOpen(0, FileChoice::theirs);
    Splice after =
        spliceOf({{"a", kBase, "1\nO\n3\n4\n5\n6\n7\nacht\n", "1\nT\n3\n4\n5\n6\n7\n8\n"}});
    const CarriedOver carried = carryOver(before.decisions(), after.decided());
    QCOMPARE(carried.placed.size(), std::size_t{1});
    QVERIFY(carried.lost.empty());
    after.put(carried.placed);
    QCOMPARE(after.openCount(), std::size_t{0});
    QVERIFY(!after.canUndo());
}

void TestCarryOver::renamedFile_isFollowed()
{
    const char* ours = "1\nO\n3\n4\n5\n6\n7\n8\n";
    const char* theirs = "1\nT\n3\n4\n5\n6\n7\n8\n";
    Splice before = spliceOf({{"old", kBase, ours, theirs}});
    before.decideAllOpen(0, FileChoice::ours);
    const Splice after = spliceOf({{"new", kBase, ours, theirs, "old"}});
    QCOMPARE(carryOver(before.decisions(), after.decided()).placed.size(), std::size_t{1});
}

void TestCarryOver::movedRegion_isFoundElsewhere()
{
    const char* ours = "1\nO\n3\n4\n5\n6\n7\n8\n";
    const char* theirs = "1\nT\n3\n4\n5\n6\n7\n8\n";
    Splice before = spliceOf({{"a", kBase, ours, theirs}});
    before.decideAllOpen(0, FileChoice::ours);
    const Splice once = spliceOf({{"other", kBase, ours, theirs}});
    QCOMPARE(carryOver(before.decisions(), once.decided()).placed.size(), std::size_t{1});
    // Two places with the same texts: which one was meant cannot be told.
    const Splice twice = spliceOf({{"one", kBase, ours, theirs}, {"two", kBase, ours, theirs}});
    const CarriedOver carried = carryOver(before.decisions(), twice.decided());
    QVERIFY(carried.placed.empty());
    QVERIFY(carried.lost.front().reason == NoPlace::fileGone);
}

void TestCarryOver::goneRegion_isTold()
{
    Splice before =
        spliceOf({{"a", kBase, "1\nO\n3\n4\n5\n6\n7\n8\n", "1\nT\n3\n4\n5\n6\n7\n8\n"}});
    before.decideAllOpen(0, FileChoice::ours);
    const Splice after = spliceOf({{"a", kBase, "1\nO\n3\n4\n5\n6\n7\n8\n", kBase}});
    const CarriedOver carried = carryOver(before.decisions(), after.decided());
    QVERIFY(carried.placed.empty());
    QCOMPARE(carried.lost.size(), std::size_t{1});
    QVERIFY(carried.lost.front().reason == NoPlace::regionGone);
    QCOMPARE(carried.lost.front().decision.path, std::string("a"));
}

void TestCarryOver::handEdit_onChangedLines_isJoined()
{
    Splice before = spliceOf({{"a", kBase, "eins\n2\n3\n4\n5\n6\n7\n8\n", kBase}});
    before.change({{{0, 0}, {false, {}, "eins\n2\n3\nvier\n5\n6\n7\n8\n"}}});
    Splice after =
        spliceOf({{"a", kBase, "eins\n2\n3\n4\n5\n6\n7\n8\n", "1\n2\n3\n4\n5\n6\n7\nacht\n"}});
    const CarriedOver carried = carryOver(before.decisions(), after.decided());
    QCOMPARE(carried.placed.size(), std::size_t{1});
    after.put(carried.placed);
    QCOMPARE(after.files()[0].text->wholeText(), std::string("eins\n2\n3\nvier\n5\n6\n7\nacht\n"));
}

void TestCarryOver::handEdit_thatClashes_isLost()
{
    Splice before = spliceOf({{"a", kBase, "eins\n2\n3\n4\n5\n6\n7\n8\n", kBase}});
    before.change({{{0, 0}, {false, {}, "eins\n2\n3\nvier\n5\n6\n7\n8\n"}}});
    const Splice after =
        spliceOf({{"a", kBase, "eins\n2\n3\n4\n5\n6\n7\n8\n", "1\n2\n3\nquattro\n5\n6\n7\n8\n"}});
    const CarriedOver carried = carryOver(before.decisions(), after.decided());
    QVERIFY(carried.placed.empty());
    QVERIFY(carried.lost.front().reason == NoPlace::clashes);
}

void TestCarryOver::ownText_ofAChangedRegion_isOffered()
{
    Splice before =
        spliceOf({{"a", kBase, "1\nO\n3\n4\n5\n6\n7\n8\n", "1\nT\n3\n4\n5\n6\n7\n8\n"}});
    before.change({{{0, 1}, {true, std::string(kOwnText), "O and T\n"}}});
    Splice after =
        spliceOf({{"a", kBase, "1\nO\nO2\n3\n4\n5\n6\n7\n8\n", "1\nT\n3\n4\n5\n6\n7\n8\n"}});
    const CarriedOver carried = carryOver(before.decisions(), after.decided());
    QVERIFY(carried.placed.empty());
    QCOMPARE(carried.lost.size(), std::size_t{1});
    QCOMPARE(carried.offered.size(), std::size_t{1});
    after.offer(carried.offered);
    const SplicedText& text = *after.files()[0].text;
    const auto candidates = candidatesFor(text.join().regionTexts(0), {}, text.earlierText(1));
    QVERIFY(candidates.front().kind == CandidateKind::earlierDecision);
    QCOMPARE(candidates.front().text, std::string("O and T\n"));
    QCOMPARE(after.openCount(), std::size_t{1});  // offered, never taken unasked
}

/// The same lines in several files are one question met again.
void TestCarryOver::sameRegion_decidedElsewhere_isOffered()
{
    const char* const ours = "1\nO\n3\n4\n5\n6\n7\n8\n";
    const char* const theirs = "1\nT\n3\n4\n5\n6\n7\n8\n";
    Splice splice = spliceOf({{"a", kBase, ours, theirs},
                              {"b", kBase, ours, theirs},
                              {"c", kBase, ours, "1\nother\n3\n4\n5\n6\n7\n8\n"}});
    const SlotPlace a{0, 1};
    const SlotPlace b{1, 1};
    const SlotPlace c{2, 1};
    QVERIFY(!splice.offerFromSameRegion(b));
    splice.change({{a, {true, std::string(kOwnText), "O and T\n"}}});
    QVERIFY(splice.offerFromSameRegion(b));
    QVERIFY(!splice.offerFromSameRegion(b));
    QVERIFY(!splice.offerFromSameRegion(c));
    const SplicedText& text = *splice.files()[1].text;
    QCOMPARE(text.earlierText(1), std::optional<std::string>("O and T\n"));
    QCOMPARE(text.earlierSource(1)->here, std::string("a"));
    QVERIFY(text.isOpen(1));
    (void)splice.undo();
    QVERIFY(splice.offerFromSameRegion(b));
    QVERIFY(!text.earlierText(1));
    // One behind it counts where none stands before it.
    splice.change({{b, {true, "theirs", "T\n"}}});
    QVERIFY(splice.offerFromSameRegion(a));
    QCOMPARE(splice.files()[0].text->earlierSource(1)->here, std::string("b"));
}

ROPE_TESTS(TestCarryOver, QCoreApplication)
#include "tst_carry_over.moc"
