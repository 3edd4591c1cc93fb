// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/merge/line_choice.h"
#include "core/text/text.h"
#include "tests/support/random_texts.h"

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

QTEST_APPLESS_MAIN(TestLineChoice)
#include "tst_line_choice.moc"
