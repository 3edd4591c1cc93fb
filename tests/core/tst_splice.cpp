// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decide/carry_over.h"
#include "core/decide/splice.h"
#include "core/plan/commit_message.h"
#include "core/plan/recording_plan.h"
#include "core/text/tidied_message.h"
#include "tests/support/test_program.h"

#include <QTest>

#include <atomic>
#include <thread>

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
    Candidate candidate;
    candidate.kind = kind;
    candidate.text =
        candidateText(kind, text.join().regionTexts(text.regionOf(place.slot))).value();
    return candidate;
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
    void message_whatWasEditedBesides_isListed();
    void message_ofACorrection_listsWhatDiffers();
    void message_conventions_areKept();
    void frozen_changesNothing();
    void twoAnswersAtOnePath_areRefused();
    void legs_keepTheirFilesApart();
    void result_isOneValueUntilSomethingChanges();
    void copy_isReadWhileTheSpliceChanges();
    void steps_ofAnEarlierRun_areUndone();
    void gaps_areWhereLinesWereTakenOut();
    void steps_aboutPlacesThatAreGone_areLeftOut();
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
    const ResultSnapshot result = *splice.result();
    QCOMPARE(result.edits.size(), std::size_t{2});
    QCOMPARE(result.edits.front().path, std::string("a.txt"));
    QCOMPARE(*result.edits.front().bytes, std::string("o1\nm\nm2\nt2\no2\nend\n"));
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
    first.setChangeSink([&](const SpliceChange& change) {
        stored.insert(stored.end(), change.after.begin(), change.after.end());
    });
    first.takeCandidate(kSecond, candidate(first, kSecond, CandidateKind::theirs));
    first.answer(1, FileChoice::base);
    stored.push_back({"no such file", "x", {true, "ours", std::nullopt}, 0, {}});
    stored.push_back({"a.txt", "no such slot", {true, "ours", "x"}, 0, {}});
    stored.push_back({"b.bin",
                      std::string(kQuestionSlot),
                      {true, "keep-both", std::nullopt},
                      0,
                      {}});  // not offered there
    Splice second = sampleSplice();
    const CarriedOver carried = carryOver(stored, second.decided());
    QCOMPARE(carried.placed.size(), std::size_t{2});
    QCOMPARE(carried.lost.size(), std::size_t{3});
    second.put(carried.placed);
    QVERIFY(second.state(kSecond) == first.state(kSecond));
    QCOMPARE(second.state(kQuestion).choice, std::string("base"));
    QVERIFY(!second.canUndo());
}

void TestSplice::sink_changes_areToldFirst()
{
    Splice splice = sampleSplice();
    bool wasOpenWhenTold = false;
    splice.setChangeSink([&](const SpliceChange& change) {
        const Decision& decision = change.after.front();
        wasOpenWhenTold = !splice.state(kQuestion).isDecided && decision.path == "b.bin"
                          && decision.state.isDecided && !change.before.front().state.isDecided;
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
    QCOMPARE(*splice.result()->edits.front().bytes, std::string("o1\nm\nm2\no2\nEND\n"));
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
    FileOutcome file;
    file.ownMarkers = {"<<<<<<< in the base\n"};
    QVERIFY(leftoverMarkers(file, "<<<<<<< in the base\ny\n").empty());
    QVERIFY(leftoverMarkers(file, "<<<<<<< in the base\ny\n>>>>>>>>> pasted\n")
            == std::vector<LineNumber>{2});
    QVERIFY(leftoverMarkers(file, "<<<<<< six\n<<<<<<<seven\n=======\n").empty());
    Splice splice = sampleSplice();
    splice.decideAllOpen(0, FileChoice::ours);
    splice.answer(1, FileChoice::ours);
    QVERIFY(recordingPlanOf(splice, "message"));
    splice.change({{{0, 4}, {false, {}, "end\n<<<<<<< theirs\n"}}});
    const auto plan = recordingPlanOf(splice, "message");
    QVERIFY(!plan);
    QCOMPARE(plan.error().reason, Reason::markersLeft);
    QCOMPARE(plan.error().subject, std::string("a.txt:6"));
}

void TestSplice::message_decisions_areListed()
{
    Splice splice = sampleSplice();
    splice.takeCandidate(kFirst, candidate(splice, kFirst, CandidateKind::ours));
    splice.takeCandidate(kSecond, candidate(splice, kSecond, CandidateKind::ours));
    splice.answer(1, FileChoice::theirs);
    QCOMPARE(proposedMessage(splice),
             std::string("Merge origin/main into x\n\nConflicts resolved:\n  a.txt:1: as in x\n"
                         "  a.txt:4: as in x\n  b.bin: as in origin/main\n"));
    QCOMPARE(tidiedMessage("\n\n  Subject  \n\n\n\nbody\n\n"), std::string("  Subject\n\nbody\n"));
    QVERIFY(tidiedMessage(" \n\t\n").empty());
    QCOMPARE(tidiedMessage("Subject\n; a hint\n#12\n", ";"), std::string("Subject\n#12\n"));
}

void TestSplice::message_whatWasEditedBesides_isListed()
{
    Splice splice = sampleSplice();
    splice.decideAllOpen(0, FileChoice::ours);
    splice.answer(1, FileChoice::theirs);
    splice.change({{{0, 4}, {false, {}, "end\nand more\n"}}});
    const std::string message = proposedMessage(splice);
    QVERIFY2(message.find("a.txt:6: edited besides\n") != std::string::npos, message.c_str());
}

void TestSplice::message_ofACorrection_listsWhatDiffers()
{
    Splice splice = sampleSplice();
    splice.takeCandidate(kFirst, candidate(splice, kFirst, CandidateKind::ours));
    splice.takeCandidate(kSecond, candidate(splice, kSecond, CandidateKind::ours));
    splice.answer(1, FileChoice::theirs);
    MessageParts parts;
    parts.corrected = splice.decisions();
    splice.takeCandidate(kSecond, candidate(splice, kSecond, CandidateKind::theirs));
    const std::string message = proposedMessage(splice, parts);
    QVERIFY2(message.find("a.txt:4: as in origin/main\n") != std::string::npos, message.c_str());
    QVERIFY2(message.find("a.txt:1") == std::string::npos, message.c_str());
    QVERIFY2(message.find("b.bin") == std::string::npos, message.c_str());
}

void TestSplice::message_conventions_areKept()
{
    Splice splice = sampleSplice();
    MessageParts parts;
    parts.conventions.mostListed = 1;
    parts.conventions.beginning = "Ticket:\n# which one";
    parts.joinedSubjects = {"Second\n", "First"};
    parts.signedOffBy = Signature{"Maren Voss", "maren@slackwater.example", 0};
    QCOMPARE(proposedMessage(splice, parts),
             std::string("Merge origin/main into x\n\n* origin/main:\n  Second?\n\n"
                         "Ticket:\n# which one\n\n"
                         "Signed-off-by: Maren Voss <maren@slackwater.example>\n"));
    splice.decideAllOpen(0, FileChoice::ours);
    splice.answer(1, FileChoice::ours);
    const auto plan = recordingPlanOf(splice, proposedMessage(splice, parts), {"#", false});
    QVERIFY(plan);
    QVERIFY(plan->commits.front().message.find("which one") == std::string::npos);
}

void TestSplice::frozen_changesNothing()
{
    Splice splice = sampleSplice();
    splice.takeCandidate(kFirst, candidate(splice, kFirst, CandidateKind::ours));
    splice.setFrozen(true);
    splice.takeCandidate(kSecond, candidate(splice, kSecond, CandidateKind::ours));
    splice.decideAllOpen(0, FileChoice::theirs);
    splice.answer(1, FileChoice::ours);
    QVERIFY(!splice.canUndo() && !splice.canRedo());
    QCOMPARE(splice.openCount(), std::size_t{2});
    splice.setFrozen(false);
    QVERIFY(splice.canUndo());
}

void TestSplice::twoAnswersAtOnePath_areRefused()
{
    Forecast forecast = *sampleForecast();
    const FileVersion version{EntryKind::file, *ObjectId::fromHex(std::string(40, 'c'))};
    FileOutcome other = forecast.join.files[1];
    other.path = other.oursPath = other.basePath = "c.bin";
    other.question->answers.front().puts = {{"b.bin", version, false}};
    forecast.join.files.push_back(other);
    Splice splice({"id", "refs/heads/x", "x", "origin/main", {}, {}},
                  std::make_shared<const Forecast>(forecast));
    splice.decideAllOpen(0, FileChoice::ours);
    splice.answer(1, FileChoice::ours);
    splice.answer(2, FileChoice::ours);
    const auto result = splice.result();
    QVERIFY(!result);
    QCOMPARE(result.error().reason, Reason::pathTwice);
    QCOMPARE(result.error().subject, std::string("b.bin"));
}

void TestSplice::result_isOneValueUntilSomethingChanges()
{
    const auto forecast = sampleForecast();
    Splice splice({"id", "refs/heads/x", "x", "origin/main", {}, {}}, forecast);
    splice.decideAllOpen(0, FileChoice::ours);
    splice.answer(1, FileChoice::ours);
    const auto result = splice.sharedResult();
    QVERIFY(splice.sharedResult() == result);
    QVERIFY(splice.copy()->sharedResult() == result);
    QVERIFY(&result->get() == &result->get());
    QCOMPARE(*result->get()->edits.front().bytes, std::string("o1\nm\nm2\no2\nend\n"));
    splice.decideAllOpen(0, FileChoice::theirs);
    QVERIFY(splice.sharedResult() == result);  // nothing was open
    splice.undo();
    splice.undo();
    splice.decideAllOpen(0, FileChoice::theirs);
    splice.answer(1, FileChoice::ours);
    QVERIFY(splice.sharedResult() != result);
    QCOMPARE(*splice.result()->edits.front().bytes, std::string("t1\nm\nm2\nt2\nend\n"));
    QCOMPARE(*result->get()->edits.front().bytes, std::string("o1\nm\nm2\no2\nend\n"));
}

void TestSplice::copy_isReadWhileTheSpliceChanges()
{
    constexpr int kRounds = 200;
    const auto forecast = sampleForecast();
    Splice splice({"id", "refs/heads/x", "x", "origin/main", {}, {}}, forecast);
    splice.decideAllOpen(0, FileChoice::ours);
    splice.answer(1, FileChoice::ours);
    const auto copy = splice.copy();
    const auto result = splice.sharedResult();
    std::vector<std::thread> readers;
    std::atomic<int> wrong = 0;
    for (int i = 0; i < 4; ++i) {
        readers.emplace_back([&] {
            for (int round = 0; round < kRounds; ++round) {
                wrong += copy->openCount() == 0 && copy->result() ? 0 : 1;
                wrong += *result->get()->edits.front().bytes == "o1\nm\nm2\no2\nend\n" ? 0 : 1;
            }
        });
    }
    for (int round = 0; round < kRounds; ++round) {
        splice.undo();
        splice.redo();
    }
    for (std::thread& reader : readers) {
        reader.join();
    }
    QCOMPARE(wrong.load(), 0);
}

void TestSplice::legs_keepTheirFilesApart()
{
    const auto forecast = sampleForecast();
    const auto second = std::make_shared<Join>(forecast->join);
    second->ours.tree = *ObjectId::fromHex(std::string(40, 'd'));
    Splice splice({"id", "refs/heads/x", "x", "origin/main", {}, {}},
                  forecast,
                  DecidedJoin({Leg(forecast, &forecast->join), second}));
    QCOMPARE(splice.files().size(), std::size_t{4});
    splice.decideAllOpen(0, FileChoice::ours);
    splice.answer(1, FileChoice::ours);
    splice.decideAllOpen(2, FileChoice::theirs);
    splice.answer(3, FileChoice::theirs);
    QCOMPARE(*splice.result(0)->edits.front().bytes, std::string("o1\nm\nm2\no2\nend\n"));
    QCOMPARE(*splice.result(1)->edits.front().bytes, std::string("t1\nm\nm2\nt2\nend\n"));
    QVERIFY(splice.result(1)->from == second->ours.tree);
    // Stored decisions go back to their own leg.
    Splice again({"id", "refs/heads/x", "x", "origin/main", {}, {}},
                 forecast,
                 DecidedJoin({Leg(forecast, &forecast->join), second}));
    const CarriedOver carried = carryOver(splice.decisions(), again.decided());
    QVERIFY(carried.lost.empty());
    again.put(carried.placed);
    QVERIFY(again.decisions() == splice.decisions());
}

void TestSplice::steps_ofAnEarlierRun_areUndone()
{
    Splice first = sampleSplice();
    std::vector<SpliceChange> told;
    first.setChangeSink([&](const SpliceChange& change) { told.push_back(change); });
    first.takeCandidate(kFirst, candidate(first, kFirst, CandidateKind::ours));
    first.takeCandidate(kFirst, candidate(first, kFirst, CandidateKind::theirs));
    first.answer(1, FileChoice::base);
    (void)first.undo();
    QCOMPARE(told.size(), std::size_t{4});
    QVERIFY(told[3].kind == StepKind::undone);
    QCOMPARE(told[3].step, std::size_t{2});

    Splice second = sampleSplice();
    second.put(carryOver(first.decisions(), second.decided()).placed);
    second.restoreSteps({7, {told[0].before, told[1].before}, {told[3].before}});
    (void)second.redo();
    QCOMPARE(second.state(kQuestion).choice, std::string("base"));
    (void)second.undo();
    (void)second.undo();
    QCOMPARE(second.state(kFirst).choice, std::string("ours"));
    (void)second.undo();
    QVERIFY(!second.state(kFirst).isDecided);
    QVERIFY(!second.canUndo());
    (void)second.redo();
    (void)second.redo();
    QCOMPARE(second.state(kFirst).choice, std::string("theirs"));
    std::size_t number = 0;
    second.setChangeSink([&](const SpliceChange& change) { number = change.step; });
    (void)second.redo();
    QCOMPARE(number, std::size_t{9});  // they go on counting
}

void TestSplice::steps_aboutPlacesThatAreGone_areLeftOut()
{
    Splice splice = sampleSplice();
    const SlotState ours{true, "ours", "o1\n"};
    const std::string key = splice.files()[0].text->key(1);
    const Decision here{"a.txt", key, {}, 0, {}};
    const Decision gone{"gone.txt", key, {}, 0, {}};
    const Decision later{"a.txt", key, ours, 0, {}};
    splice.restoreSteps({0, {{here}, {gone}, {here}}, {{later}, {gone}, {later}}});
    (void)splice.undo();
    QVERIFY(!splice.canUndo());
    (void)splice.redo();
    (void)splice.redo();
    QVERIFY(splice.state(kFirst) == ours);
    QVERIFY(!splice.canRedo());
}

void TestSplice::gaps_areWhereLinesWereTakenOut()
{
    using Gaps = std::vector<LineNumber>;
    QCOMPARE(gapsAfterEdit("a\nb\nc\nd\n", "a\nd\n"), (Gaps{1}));
    QCOMPARE(gapsAfterEdit("a\nb\nc\n", "a\nnew\nc\n"), Gaps());  // put in its place
    QCOMPARE(gapsAfterEdit("a\nb\nc\n", "b\n"), (Gaps{0, 1}));
    QCOMPARE(gapsAfterEdit("a\n", ""), (Gaps{0}));
    QCOMPARE(gapsAfterEdit("a\n", "a\nb\n"), Gaps());
    Splice splice = sampleSplice();
    splice.change({{{0, 2}, {false, {}, "m\n"}}});
    QCOMPARE(splice.files()[0].text->gaps(2), (Gaps{1}));
    QCOMPARE(splice.files()[0].text->gaps(4), Gaps());
    splice.takeCandidate(kFirst, candidate(splice, kFirst, CandidateKind::oursTheirs));
    QCOMPARE(splice.files()[0].text->gaps(1), Gaps());
    SlotState state = splice.state(kFirst);
    state.text = "t1\n";
    splice.change({{kFirst, state}});
    QCOMPARE(splice.files()[0].text->gaps(1), (Gaps{0}));
}

ROPE_TESTS(TestSplice, QCoreApplication)
#include "tst_splice.moc"
