// SPDX-License-Identifier: GPL-3.0-or-later
// Notes of decisions: written, read by another program's leave, and held against what a merge says.
#include "core/plan/decision_note.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

namespace {
const std::vector<NotedDecision> kNote{
    {"locks/passage.py", 19, "key-1", "word-splice", digestOfDecided("both\n"), "tide comes first"},
    {"odd\xff name", 3, "key-2", "own", digestOfDecided("mine\n"), {}},
    {"scripts/nightly.sh", 0, {}, "delete", {}, "nobody runs it \xe2\x80\x94 since 2019"},
};

ReadDecision readAs(const NotedDecision& noted, const char* text)
{
    return {noted.path, noted.line, noted.choice, noted.region, {}, text};
}
}  // namespace

class TestDecisionNote : public QObject
{
    Q_OBJECT
private slots:
    void note_isReadBack();
    void behind_isPassedOver();
    void notOurs_isRefused_data();
    void notOurs_isRefused();
    void merge_asNoted_hasReasons();
    void merge_otherwise_isTold();
    void equalRegions_areToldApart();
};

void TestDecisionNote::note_isReadBack()
{
    const std::string text = noteText(kNote);
    QVERIFY(text.ends_with("\n") && text.find("tide comes first") != std::string::npos);
    QCOMPARE(*parseNote(text), kNote);
    QCOMPARE(parseNote(noteText({}))->size(), std::size_t{0});
}

/// Where notes follow rewritten commits, git puts the note of the old commit behind that of the new one.
void TestDecisionNote::behind_isPassedOver()
{
    QCOMPARE(*parseNote(noteText(kNote) + "\n" + noteText({})), kNote);
    QCOMPARE(*parseNote(noteText(kNote) + "\nReviewed by Priya\n"), kNote);
}

void TestDecisionNote::notOurs_isRefused_data()
{
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<bool>("isNewer");
    QTest::newRow("empty") << QByteArray() << false;
    QTest::newRow("words") << QByteArray("Reviewed by Priya\n") << false;
    QTest::newRow("a list") << QByteArray("[1]") << false;
    QTest::newRow("a number") << QByteArray("7") << false;
    QTest::newRow("cut off") << QByteArray::fromStdString(noteText(kNote).substr(0, 60)) << false;
    QTest::newRow("of another") << QByteArray(R"({"format":"x","version":1,"decisions":[]})")
                                << false;
    QTest::newRow("no decisions") << QByteArray(
        R"({"format":"rope-splice decisions","version":1,"decisions":3})")
                                  << false;
    QTest::newRow("odd decision") << QByteArray(
        R"({"format":"rope-splice decisions","version":1,"decisions":[3]})")
                                  << false;
    QTest::newRow("newer") << QByteArray(
        R"({"format":"rope-splice decisions","version":2,"decisions":[]})")
                           << true;
    QTest::newRow("deep") << QByteArray(200'000, '[') << false;
}

void TestDecisionNote::notOurs_isRefused()
{
    QFETCH(const QByteArray, text);
    QFETCH(const bool, isNewer);
    const auto note = parseNote(text.toStdString());
    QVERIFY(!note);
    QCOMPARE(note.error().code, isNewer ? ErrorCode::unsupported : ErrorCode::corrupt);
}

void TestDecisionNote::merge_asNoted_hasReasons()
{
    const auto compared = compareNote(
        kNote, {readAs(kNote[2], ""), readAs(kNote[0], "both\n"), readAs(kNote[1], "mine\n")});
    QVERIFY(compared.gone.empty());
    QCOMPARE(compared.remarks[0]->reason, kNote[2].reason);
    QCOMPARE(compared.remarks[1]->reason, kNote[0].reason);
    for (const auto& remark : compared.remarks) {
        QVERIFY(remark && !remark->otherwise);
    }
}

/// What counts is the text: another candidate that says the same is no disagreement.
void TestDecisionNote::merge_otherwise_isTold()
{
    ReadDecision same = readAs(kNote[0], "both\n");
    same.choice = "theirs";
    ReadDecision other = readAs(kNote[1], "somebody's\n");
    const ReadDecision unknown{"a.txt", 1, "ours", "key-9", {}, "text\n"};
    const auto compared = compareNote(kNote, {same, other, unknown});
    QVERIFY(compared.remarks[0] && !compared.remarks[0]->otherwise);
    QCOMPARE(compared.remarks[1]->otherwise, std::optional<std::string>("own"));
    QVERIFY(!compared.remarks[2]);
    QCOMPARE(compared.gone, std::vector<NotedDecision>{kNote[2]});
    const auto none = compareNote(kNote, {});
    QCOMPARE(none.gone.size(), std::size_t{3});
}

void TestDecisionNote::equalRegions_areToldApart()
{
    NotedDecision first{"a.txt", 3, "key", "ours", digestOfDecided("one\n"), "first"};
    NotedDecision second{"a.txt", 9, "key", "theirs", digestOfDecided("two\n"), "second"};
    const auto compared =
        compareNote({first, second}, {readAs(first, "one\n"), readAs(second, "two\n")});
    QCOMPARE(compared.remarks[0]->reason, std::string("first"));
    QCOMPARE(compared.remarks[1]->reason, std::string("second"));
    QVERIFY(!compared.remarks[0]->otherwise && !compared.remarks[1]->otherwise);
}

ROPE_TESTS(TestDecisionNote, QCoreApplication)
#include "tst_decision_note.moc"
