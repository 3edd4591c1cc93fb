// SPDX-License-Identifier: GPL-3.0-or-later
// What was decided is read off the finished text. ROPE_TEST_SEED and ROPE_TEST_ROUNDS as in
// tst_random_merges.cpp.
#include "core/decide/inferred_decisions.h"
#include "core/decide/splice.h"
#include "tests/support/joined_branches.h"
#include "tests/support/random_trees.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;
using rope::test::below;
using rope::test::Random;
using rope::test::ScratchRepository;

namespace {
SplicedText splicedOf(const char* base, const char* ours, const char* theirs)
{
    return SplicedText(
        std::make_shared<const TextJoin>(std::move(joinTexts(base, ours, theirs)).value()));
}

std::string whole(const SplicedText& text, const std::vector<SlotState>& states)
{
    SplicedText copy = text;
    for (std::size_t slot = 0; slot < states.size(); ++slot) {
        copy.setState(slot, states[slot]);
    }
    return copy.wholeText();
}

constexpr const char* kBase = "a\nb\nc\nd\ne\nf\ng\nh\n";
constexpr const char* kOurs = "a\nb ours\nc\nd\ne\nf\ng ours\nh\n";
constexpr const char* kTheirs = "a\nb theirs\nc\nd\ne, theirs\nf\ng theirs\nh\n";
}  // namespace

class TestInferredDecisions : public QObject
{
    Q_OBJECT
private slots:
    void plainCandidates_areNamed_data();
    void plainCandidates_areNamed();
    void spliced_isNamed();
    void ownText_isOwn();
    void editedOutside_isFoundThere();
    void allRewritten_stillGivesTheText();
    void random_everyChoiceIsReadBack();
};

void TestInferredDecisions::plainCandidates_areNamed_data()
{
    QTest::addColumn<QByteArray>("first");
    QTest::addColumn<QByteArray>("choice");
    QTest::newRow("ours") << QByteArray("b ours\n") << QByteArray("ours");
    QTest::newRow("theirs") << QByteArray("b theirs\n") << QByteArray("theirs");
    QTest::newRow("base") << QByteArray("b\n") << QByteArray("base");
    QTest::newRow("both") << QByteArray("b ours\nb theirs\n")
                          << QByteArray(nameOf(CandidateKind::oursTheirs).data());
    QTest::newRow("nothing") << QByteArray() << QByteArray(nameOf(CandidateKind::neither).data());
}

void TestInferredDecisions::plainCandidates_areNamed()
{
    QFETCH(const QByteArray, first);
    QFETCH(const QByteArray, choice);
    const SplicedText text = splicedOf(kBase, kOurs, kTheirs);
    const std::string result = "a\n" + first.toStdString() + "c\nd\ne, theirs\nf\ng theirs\nh\n";
    const auto states = inferredStates(text, result);
    QCOMPARE(states[1].choice, choice.toStdString());
    QVERIFY(states[1].isDecided);
    QCOMPARE(states[3].choice, std::string("theirs"));
    QVERIFY(states[0] == SlotState{} && states[2] == SlotState{});
    QCOMPARE(whole(text, states), result);
}

void TestInferredDecisions::spliced_isNamed()
{
    const SplicedText text =
        splicedOf("x\nf(a, b, c, d)\ny\n", "x\nf(a, B, c, d)\ny\n", "x\nf(a, b, c, D)\ny\n");
    QCOMPARE(text.join().regionCount(), std::size_t{1});
    const auto states = inferredStates(text, "x\nf(a, B, c, D)\ny\n");
    QCOMPARE(states[1].choice, std::string(nameOf(CandidateKind::wordSplice)));
}

void TestInferredDecisions::ownText_isOwn()
{
    const SplicedText text = splicedOf(kBase, kOurs, kTheirs);
    const std::string result = "a\nb of nobody\nand more\nc\nd\ne, theirs\nf\ng ours\nh\n";
    const auto states = inferredStates(text, result);
    QCOMPARE(states[1].choice, std::string(kOwnText));
    QCOMPARE(*states[1].text, std::string("b of nobody\nand more\n"));
    QCOMPARE(states[3].choice, std::string("ours"));
    QCOMPARE(whole(text, states), result);
}

void TestInferredDecisions::editedOutside_isFoundThere()
{
    const SplicedText text = splicedOf(kBase, kOurs, kTheirs);
    const std::string result = "a\nb ours\nc\nslipped in\nd\ne, theirs\nf\ng theirs\nh\n";
    const auto states = inferredStates(text, result);
    QCOMPARE(states[1].choice, std::string("ours"));
    QCOMPARE(states[3].choice, std::string("theirs"));
    QCOMPARE(*states[2].text, std::string("c\nslipped in\nd\ne, theirs\nf\n"));
    QVERIFY(!states[2].isDecided);
    QCOMPARE(whole(text, states), result);
}

void TestInferredDecisions::allRewritten_stillGivesTheText()
{
    const SplicedText text = splicedOf(kBase, kOurs, kTheirs);
    for (const char* const result :
         {"", "nothing of it\n", "h\ng\nf\n", "a\nh\n", "a\nb ours", "c\nc\nc\n"}) {
        QCOMPARE(whole(text, inferredStates(text, result)), std::string(result));
    }
}

/// Joins of random trees, every region and question decided at random, recorded, and read again.
void TestInferredDecisions::random_everyChoiceIsReadBack()
{
    const unsigned first = test::randomSeed();
    const int rounds = test::roundsUnlessSaid(40);
    int read = 0;
    for (int round = 0; round < rounds; ++round) {
        const unsigned seed = first + static_cast<unsigned>(round);
        const QByteArray where = "ROPE_TEST_ROUNDS=1 ROPE_TEST_SEED=" + QByteArray::number(seed);
        Random random(seed);
        ScratchRepository scratch;
        test::importRandomBranches(scratch, random, 3, 6);
        const test::Joined joined = test::joinBranches(scratch);
        const auto forecast = std::make_shared<const Forecast>(joined.forecast);
        Splice splice({}, forecast);
        for (std::size_t i = 0; i < splice.files().size(); ++i) {
            const SpliceFile& file = splice.files()[i];
            if (file.outcome->question) {
                const auto& answers = file.outcome->question->answers;
                const auto which =
                    static_cast<std::size_t>(below(random, static_cast<int>(answers.size())));
                splice.answer(i, answers[which].choice);
            }
            for (std::size_t slot = 1; file.text && slot < file.text->slotCount(); slot += 2) {
                const auto candidates = candidatesFor(
                    file.text->join().regionTexts(file.text->regionOf(slot)), file.text->habits());
                const auto which =
                    static_cast<std::size_t>(below(random, static_cast<int>(candidates.size())));
                splice.takeCandidate({i, slot}, candidates[which]);
            }
        }
        const auto result = splice.result();
        if (!result) {
            continue;  // two answers put files at one path: that is refused, and no merge
        }
        const auto tree = joined.repository->storeTree(*result);
        QVERIFY2(tree.hasValue(), where.constData());
        DecidedJoin again({Leg(forecast, &forecast->join)});
        QVERIFY2(putInferred(again, *joined.repository, *tree).hasValue(), where.constData());
        QVERIFY2(again.openCount() == 0, where.constData());
        const auto same = again.result(0);
        QVERIFY2(same && joined.repository->storeTree(*same).value() == *tree, where.constData());
        const auto decided = splice.decisions();
        const auto inferred = again.decisions();
        QVERIFY2(decided.size() == inferred.size(), where.constData());
        for (std::size_t i = 0; i < decided.size(); ++i) {
            if (decided[i].slot == kQuestionSlot) {
                continue;  // two answers may put the same: then either is right
            }
            QVERIFY2(decided[i].state.text == inferred[i].state.text, where.constData());
            ++read;
        }
    }
    qInfo("%d choices read back", read);
    QVERIFY(read > 0 || rounds < 10);
}

ROPE_TESTS(TestInferredDecisions, QCoreApplication)
#include "tst_inferred_decisions.moc"
