// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/merge/line_choice.h"
#include "core/text/text.h"
#include "tests/support/random_texts.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

namespace {
/// The column: for each line who has it, as letters, and its text.
QByteArray column(const LineChoice& choice)
{
    QByteArray out;
    std::size_t part = 0;
    for (const OfferedLine& line : choice.lines()) {
        if (line.part != part) {
            part = line.part;
            out += "/";
        }
        out += line.inBase ? "B" : "";
        out += line.inOurs ? "O" : "";
        out += line.inTheirs ? "T" : "";
        out += ":" + QByteArray(line.text.data(), qsizetype(line.text.size())).trimmed() + " ";
    }
    return out;
}
}  // namespace

class TestLineChoice : public QObject
{
    Q_OBJECT
private slots:
    void column_hasEachLineOnce();
    void parts_areChosenAsAWhole();
    void lines_arePickedAndMoved();
    void marks_areSetAsATextHasThem();
    void sides_comeBackWhateverTheyAre();
    void parts_data();
    void parts();
    void part_standsWhereItStood();
    void removedLines_canBeTakenBack();
    void longRegions_areQuickEnoughToPick();
};

void TestLineChoice::column_hasEachLineOnce()
{
    const LineChoice choice({"keep\nvalue = 1\nend\n",
                             "keep\nvalue = 2\nours()\nend\n",
                             "keep\nvalue = 3\ntheirs()\nend\nalike\n"});
    QCOMPARE(column(choice),
             QByteArray("BOT:keep /B:value = 1 T:value = 3 O:value = 2 T:theirs() O:ours() BOT:end "
                        "/T:alike "));
    QCOMPARE(choice.lines()[2].words.size(), std::size_t(1));
    const LineChoice both({"", "x\nshared\n", "y\nshared\n"});
    QCOMPARE(column(both), QByteArray("T:y O:x OT:shared "));
    QCOMPARE(both.lines()[2].origin(), LineOrigin::both);
}

void TestLineChoice::parts_areChosenAsAWhole()
{
    const RegionTexts texts{
        "a\nagreed\nb\n", "a ours\nagreed\nb\nnew ours\n", "a theirs\nagreed\nnew theirs\n"};
    LineChoice choice(texts);
    QCOMPARE(choice.parts().size(), std::size_t(2));
    choice.choose(0, PartChoice::ours);
    choice.choose(1, PartChoice::theirs);
    QCOMPARE(choice.text(), std::string("a ours\nagreed\nnew theirs\n"));
    QVERIFY(choice.choiceOf(0) == PartChoice::ours);
    QVERIFY(choice.choiceOf(1) == PartChoice::theirs);
    choice.choose(1, PartChoice::bothOursFirst);
    QCOMPARE(choice.text(), std::string("a ours\nagreed\nnew ours\nnew theirs\n"));
    choice.choose(0, PartChoice::base);
    QCOMPARE(choice.text(), std::string("a\nagreed\nnew ours\nnew theirs\n"));
    QCOMPARE(choice.origins(),
             (std::vector<LineOrigin>{
                 LineOrigin::base, LineOrigin::base, LineOrigin::ours, LineOrigin::theirs}));
}

void TestLineChoice::lines_arePickedAndMoved()
{
    LineChoice choice({"", "one\ntwo\n", "three\nfour"});
    QCOMPARE(column(choice), QByteArray("T:three T:four O:one O:two "));
    choice.toggle(2);
    choice.toggle(1);
    QCOMPARE(choice.text(), std::string("four\none\n"));
    QVERIFY(choice.move(1, 1));
    QCOMPARE(choice.text(), std::string("one\nfour"));
    QVERIFY(!choice.move(1, 1));
    QVERIFY(!choice.move(0, -1));  // it is not taken
    QCOMPARE(choice.placeOf(1), std::optional<std::size_t>(1));
    QVERIFY(!choice.choiceOf(0));
    choice.toggle(1);
    choice.toggle(2);
    QCOMPARE(choice.text(), std::string());
}

void TestLineChoice::marks_areSetAsATextHasThem()
{
    const RegionTexts texts{"a\nx\na\n", "a\nx\na\nb\n", "a\na\nc\n"};
    LineChoice choice(texts);
    choice.setTo("a\nx\na\nc\nb\nnowhere\n");
    QCOMPARE(choice.text(), std::string("a\nx\na\nc\nb\n"));
    QCOMPARE(choice.takenCount(), std::size_t(5));
    choice.setTo("");
    QCOMPARE(choice.takenCount(), std::size_t(0));
}

void TestLineChoice::sides_comeBackWhateverTheyAre()
{
    test::Random random(test::randomSeed());
    for (int round = 0; round < 400; ++round) {
        const std::string base = test::randomText(random, 10, 4);
        const std::string ours = test::edited(random, base, 4, "ours ");
        const std::string theirs = test::edited(random, base, 4, "theirs ");
        LineChoice choice({base, ours, theirs});
        const auto whole = [&](PartChoice side) {
            for (std::size_t part = 0; part < choice.parts().size(); ++part) {
                choice.choose(part, side);
            }
            return choice.text();
        };
        QCOMPARE(whole(PartChoice::ours), ours);
        QCOMPARE(whole(PartChoice::theirs), theirs);
        QCOMPARE(whole(PartChoice::base), base);
        choice.setTo(ours);
        QCOMPARE(choice.text(), ours);
        QCOMPARE(choice.origins().size(), splitLines(ours).size());
    }
}

void TestLineChoice::parts_data()
{
    QTest::addColumn<int>("choice");
    QTest::addColumn<QByteArray>("expected");
    const auto row = [](const char* name, PartChoice choice, const char* expected) {
        QTest::newRow(name) << static_cast<int>(choice) << QByteArray(expected);
    };
    row("ours", PartChoice::ours, "gone by theirs\nvalue = 2\nours()\nalike()\n");
    row("theirs", PartChoice::theirs, "value = 3\ntheirs()\nalike()\n");
    row("base", PartChoice::base, "gone by theirs\nvalue = 1\n");
    row("both, ours first",
        PartChoice::bothOursFirst,
        "value = 2\nours()\nvalue = 3\ntheirs()\nalike()\n");
    row("both, theirs first",
        PartChoice::bothTheirsFirst,
        "value = 3\ntheirs()\nvalue = 2\nours()\nalike()\n");
}

void TestLineChoice::parts()
{
    QFETCH(const int, choice);
    QFETCH(const QByteArray, expected);
    LineChoice lines({"gone by theirs\nvalue = 1\n",
                      "gone by theirs\nvalue = 2\nours()\nalike()\n",
                      "value = 3\ntheirs()\nalike()\n"});
    QCOMPARE(lines.parts().size(), std::size_t(1));
    lines.choose(0, static_cast<PartChoice>(choice));
    QCOMPARE(lines.text(), expected.toStdString());
    QVERIFY(lines.choiceOf(0) == static_cast<PartChoice>(choice));
    QCOMPARE(lines.origins().size(), lines.takenCount());
}

void TestLineChoice::part_standsWhereItStood()
{
    LineChoice lines({"a\nx\nb\ny\nc\n", "a1\nx\nb1\ny\nc1\n", "a2\nx\nb2\ny\nc2\n"});
    QCOMPARE(lines.parts().size(), std::size_t(3));
    for (std::size_t part = 0; part < 3; ++part) {
        lines.choose(part, PartChoice::ours);
    }
    lines.choose(1, PartChoice::theirs);
    QCOMPARE(lines.text(), std::string("a1\nx\nb2\ny\nc1\n"));
    lines.choose(0, PartChoice::base);
    lines.choose(2, PartChoice::bothTheirsFirst);
    QCOMPARE(lines.text(), std::string("a\nx\nb2\ny\nc2\nc1\n"));
    // Left altogether and chosen again it comes back to its place.
    for (std::size_t line = 0; line < lines.lines().size(); ++line) {
        if (lines.lines()[line].part == 1 && lines.isTaken(line)) {
            lines.toggle(line);
        }
    }
    QCOMPARE(lines.text(), std::string("a\nx\nc2\nc1\n"));
    lines.choose(1, PartChoice::ours);
    QCOMPARE(lines.text(), std::string("a\nx\nb1\ny\nc2\nc1\n"));
}

void TestLineChoice::removedLines_canBeTakenBack()
{
    LineChoice lines({"kept\nremoved by both\n", "kept\nours\n", "kept\ntheirs\n"});
    lines.setTo("kept\ntheirs\n");
    for (std::size_t line = 0; line < lines.lines().size(); ++line) {
        if (lines.lines()[line].text == "removed by both\n") {
            QVERIFY(!lines.isTaken(line));
            lines.toggle(line);
        }
    }
    QVERIFY(lines.text().find("removed by both\n") != std::string::npos);
    QCOMPARE(lines.takenCount(), std::size_t(3));
}

void TestLineChoice::longRegions_areQuickEnoughToPick()
{
    const std::string base = test::numberedText(1000);
    test::Random random(test::randomSeed());
    const std::string ours = test::edited(random, base, 400, "ours ");
    const std::string theirs = test::edited(random, base, 400, "theirs ");
    LineChoice lines({base, ours, theirs});
    lines.setTo(base);
    QCOMPARE(lines.text(), base);
    QVERIFY(lines.parts().size() > 50);
    for (std::size_t part = 0; part < lines.parts().size(); ++part) {
        lines.choose(part, PartChoice::theirs);
        QVERIFY(lines.choiceOf(part).has_value());
    }
}

ROPE_TESTS(TestLineChoice, QCoreApplication)
#include "tst_line_choice.moc"
