// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/splice/commit_message.h"
#include "core/splice/splice.h"

#include <QTest>

using namespace rope;

namespace {
/// A forecast made by hand: one text with two regions, one question.
std::shared_ptr<const Forecast> sampleForecast()
{
    auto forecast = std::make_shared<Forecast>();
    FileOutcome text;
    text.path = text.oursPath = text.theirsPath = text.basePath = "a.txt";
    text.text = std::make_shared<const TextJoin>(
        std::move(joinTexts("1\nm\nm2\n2\nend\n", "o1\nm\nm2\no2\nend\n", "t1\nm\nm2\nt2\nend\n"))
            .value());
    text.ours = text.theirs = text.base = FileVersion{};
    FileOutcome gone;
    gone.path = gone.oursPath = gone.basePath = "b.bin";
    gone.ours = FileVersion{EntryKind::file, *ObjectId::fromHex(std::string(40, 'a'))};
    gone.base = gone.ours;
    gone.kind = OutcomeKind::modifyDelete;
    gone.question = FileQuestion{QuestionKind::deletedByTheirs,
                                 {{FileChoice::ours, {{"b.bin", *gone.ours, false}}},
                                  {FileChoice::theirs, {}},
                                  {FileChoice::base, {{"b.bin", *gone.base, false}}}}};
    forecast->join.files = {text, gone};
    return forecast;
}

Splice sampleSplice()
{
    return Splice({"id", "refs/heads/x", "x", "origin/main", {}, {}}, sampleForecast());
}

constexpr SlotPlace kFirst{0, 1};
constexpr SlotPlace kSecond{0, 3};
constexpr SlotPlace kQuestion{1, SlotPlace::kQuestion};

Candidate candidate(const Splice& splice, SlotPlace place, CandidateKind kind)
{
    const SplicedText& text = *splice.files()[place.file].text;
    for (Candidate& c : candidatesFor(text.join().regionTexts(text.regionOf(place.slot)))) {
        if (c.kind == kind) {
            return std::move(c);
        }
    }
    return {};
}
}  // namespace

class TestSplice : public QObject
{
    Q_OBJECT
private slots:
    void splicedText_slots_areTheFile();
    void decide_all_givesTheResult();
    void undoAndRedo_decisions_comeBack();
    void typing_sameSlot_isOneStep();
    void decideAllOpen_isOneStep();
    void restore_storedDecisions_findTheirPlace();
    void sink_changes_areToldFirst();
    void handEdit_outsideRegions_reachesTheResult();
    void origins_editedCandidate_showsTheHand();
    void leftoverMarkers_onlyNewOnesCount();
    void message_decisions_areListed();
};

void TestSplice::splicedText_slots_areTheFile()
{
    const Splice splice = sampleSplice();
    const SplicedText& text = *splice.files()[0].text;
    QCOMPARE(text.slotCount(), std::size_t{5});
    QCOMPARE(text.wholeText(), std::string("1\nm\nm2\n2\nend\n"));  // open regions show the base
    QCOMPARE(text.slotOfRegion(1), std::size_t{3});
    QCOMPARE(text.regionOf(3), std::size_t{1});
    QVERIFY(text.slotWithKey(text.key(3)) == std::optional<std::size_t>(3));
    QCOMPARE(splice.openCount(), std::size_t{3});
}

void TestSplice::decide_all_givesTheResult()
{
    Splice splice = sampleSplice();
    splice.takeCandidate(kFirst, candidate(splice, kFirst, CandidateKind::ours));
    splice.takeCandidate(kSecond, candidate(splice, kSecond, CandidateKind::theirsOurs));
    splice.answer(1, FileChoice::theirs);
    QCOMPARE(splice.openCount(), std::size_t{0});
    const SpliceResult result = splice.result();
    QCOMPARE(result.texts.size(), std::size_t{1});
    QCOMPARE(result.texts.front().bytes, std::string("o1\nm\nm2\nt2\no2\nend\n"));
    QCOMPARE(result.edits.size(),
             std::size_t{2});  // both leave their places, one comes back as text
    QCOMPARE(result.edits.back().path, std::string("b.bin"));
    QVERIFY(!result.edits.back().version.has_value());
}

void TestSplice::undoAndRedo_decisions_comeBack()
{
    Splice splice = sampleSplice();
    splice.takeCandidate(kFirst, candidate(splice, kFirst, CandidateKind::ours));
    splice.answer(1, FileChoice::ours);
    QVERIFY(splice.undo() == std::vector<SlotPlace>{kQuestion});
    QVERIFY(!splice.state(kQuestion).isDecided);
    (void)splice.undo();
    QCOMPARE(splice.openCount(), std::size_t{3});
    QVERIFY(!splice.canUndo());
    (void)splice.redo();
    QCOMPARE(splice.state(kFirst).choice, std::string("ours"));
    splice.reopen(kFirst);
    QVERIFY(!splice.canRedo());  // a new step forgets what was undone
    QCOMPARE(splice.openCount(), std::size_t{3});
}

void TestSplice::typing_sameSlot_isOneStep()
{
    Splice splice = sampleSplice();
    for (const char* text : {"h", "ha", "hand\n"}) {
        splice.change({{kFirst, {true, std::string(kOwnText), text}}}, true);
    }
    splice.endTyping();
    splice.change({{kFirst, {true, std::string(kOwnText), "more\n"}}}, true);
    (void)splice.undo();
    QCOMPARE(*splice.state(kFirst).text, std::string("hand\n"));
    (void)splice.undo();
    QVERIFY(!splice.state(kFirst).isDecided);
}

void TestSplice::decideAllOpen_isOneStep()
{
    Splice splice = sampleSplice();
    splice.takeCandidate(kFirst, candidate(splice, kFirst, CandidateKind::ours));
    splice.decideAllOpen(0, FileChoice::theirs);
    QCOMPARE(splice.files()[0].text->wholeText(), std::string("o1\nm\nm2\nt2\nend\n"));
    (void)splice.undo();
    QCOMPARE(splice.files()[0].openCount(), std::size_t{1});
}

void TestSplice::restore_storedDecisions_findTheirPlace()
{
    std::vector<Decision> stored;
    Splice first = sampleSplice();
    first.setDecisionSink(
        [&](const std::vector<Decision>& d) { stored.insert(stored.end(), d.begin(), d.end()); });
    first.takeCandidate(kSecond, candidate(first, kSecond, CandidateKind::theirs));
    first.answer(1, FileChoice::base);
    stored.push_back({"no such file", "x", {true, "ours", std::nullopt}});
    stored.push_back({"a.txt", "no such slot", {true, "ours", "x"}});
    stored.push_back({"b.bin",
                      std::string(kQuestionSlot),
                      {true, "keep-both", std::nullopt}});  // not offered there
    Splice second = sampleSplice();
    QCOMPARE(second.restore(stored), std::size_t{2});
    QVERIFY(second.state(kSecond) == first.state(kSecond));
    QCOMPARE(second.state(kQuestion).choice, std::string("base"));
    QVERIFY(!second.canUndo());
}

void TestSplice::sink_changes_areToldFirst()
{
    Splice splice = sampleSplice();
    bool wasOpenWhenTold = false;
    splice.setDecisionSink([&](const std::vector<Decision>& decisions) {
        wasOpenWhenTold = !splice.state(kQuestion).isDecided && decisions.front().path == "b.bin"
                          && decisions.front().state.isDecided;
    });
    splice.answer(1, FileChoice::ours);
    QVERIFY(wasOpenWhenTold);
}

void TestSplice::handEdit_outsideRegions_reachesTheResult()
{
    Splice splice = sampleSplice();
    splice.decideAllOpen(0, FileChoice::ours);
    splice.answer(1, FileChoice::ours);
    splice.change({{{0, 4}, {false, {}, "END\n"}}}, true);
    QCOMPARE(splice.result().texts.front().bytes, std::string("o1\nm\nm2\no2\nEND\n"));
    QVERIFY(splice.files()[0].text->isEditedByHand(4));
    QVERIFY(!splice.files()[0].text->isEditedByHand(1));
}

void TestSplice::origins_editedCandidate_showsTheHand()
{
    Splice splice = sampleSplice();
    splice.takeCandidate(kFirst, candidate(splice, kFirst, CandidateKind::oursTheirs));
    SlotState state = splice.state(kFirst);
    state.text = "o1\nby hand\nt1\n";
    splice.change({{kFirst, state}}, true);
    const auto origins = splice.files()[0].text->origins(1);
    QVERIFY(origins
            == (std::vector<LineOrigin>{LineOrigin::ours, LineOrigin::hand, LineOrigin::theirs}));
}

void TestSplice::leftoverMarkers_onlyNewOnesCount()
{
    const auto join =
        std::make_shared<const TextJoin>(std::move(joinTexts("<<<<<<< in the base\nx\n",
                                                             "<<<<<<< in the base\ny\n",
                                                             "<<<<<<< in the base\nx\n"))
                                             .value());
    SplicedText text(join);
    QVERIFY(leftoverMarkers(text).empty());
    text.setState(0, {false, {}, "<<<<<<< in the base\ny\n>>>>>>> pasted\n"});
    QVERIFY(leftoverMarkers(text) == std::vector<LineNumber>{2});
}

void TestSplice::message_decisions_areListed()
{
    Splice splice = sampleSplice();
    splice.takeCandidate(kFirst, candidate(splice, kFirst, CandidateKind::ours));
    splice.takeCandidate(kSecond, candidate(splice, kSecond, CandidateKind::ours));
    splice.answer(1, FileChoice::theirs);
    QCOMPARE(proposedMessage(splice),
             std::string("Merge origin/main into x\n\nDecided while joining:\n  a.txt: ours (2)\n  "
                         "b.bin: theirs\n"));
    QCOMPARE(tidiedMessage("\n\n  Subject  \n\n\n\nbody\n\n"), std::string("  Subject\n\nbody\n"));
    QVERIFY(tidiedMessage(" \n\t\n").empty());
}

QTEST_GUILESS_MAIN(TestSplice)
#include "tst_splice.moc"
