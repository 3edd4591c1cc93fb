// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/object_id.h"
#include "core/text/encoding.h"
#include "core/text/line_end.h"
#include "core/text/line_interner.h"
#include "core/text/text.h"
#include "core/text/words.h"
#include "tests/support/random_texts.h"
#include "tests/support/test_program.h"

#include <QTest>

#include <map>

using namespace rope;

class TestText : public QObject
{
    Q_OBJECT
private slots:
    void lines_anyText_putTogetherAreTheText();
    void lines_withoutLastLineEnd_areKept();
    void isBinary_nulWithinReach_isSeen();
    void lineEndOf_eachKind_data();
    void lineEndOf_eachKind();
    void withLineEnd_mixedText_becomesUniform();
    void isUtf8_edges_data();
    void isUtf8_edges();
    void latin1_allBytes_comeBack();
    void splitWords_code_isCutAtBorders();
    void intern_equalLines_getEqualNumbers();
    void intern_likeTexts_agreeLineByLine();
    void objectId_hexAndRaw_agree();
};

void TestText::lines_anyText_putTogetherAreTheText()
{
    test::Random random(test::randomSeed());
    for (int round = 0; round < 300; ++round) {
        const std::string bytes =
            test::randomText(random, 20, 3) + (round % 5 == 0 ? "\r\n\n\r" : "");
        const Text text(bytes);
        std::string joined;
        for (LineNumber i = 0; i < text.lineCount(); ++i) {
            QVERIFY(!text.line(i).empty());
            joined += text.line(i);
        }
        QCOMPARE(joined, bytes);
        QCOMPARE(splitLines(bytes).size(), std::size_t{text.lineCount()});
    }
}

void TestText::lines_withoutLastLineEnd_areKept()
{
    const Text text("a\nb");
    QCOMPARE(text.lineCount(), LineNumber{2});
    QCOMPARE(text.line(1), std::string_view("b"));
    QCOMPARE(Text().lineCount(), LineNumber{0});
}

void TestText::isBinary_nulWithinReach_isSeen()
{
    QVERIFY(isBinary(std::string("a\0b", 3)));
    QVERIFY(!isBinary(std::string(8000, 'x') + std::string(1, '\0')));
    QVERIFY(!isBinary(""));
}

void TestText::lineEndOf_eachKind_data()
{
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<int>("style");
    QTest::newRow("none") << QByteArray("abc") << static_cast<int>(LineEnd::none);
    QTest::newRow("lf") << QByteArray("a\nb\n") << static_cast<int>(LineEnd::lf);
    QTest::newRow("crlf") << QByteArray("a\r\nb\r\n") << static_cast<int>(LineEnd::crlf);
    QTest::newRow("mixed") << QByteArray("a\r\nb\n") << static_cast<int>(LineEnd::mixed);
    QTest::newRow("lone-cr-is-no-line-end")
        << QByteArray("a\rb") << static_cast<int>(LineEnd::none);
    QTest::newRow("empty-lines") << QByteArray("\n\r\n") << static_cast<int>(LineEnd::mixed);
}

void TestText::lineEndOf_eachKind()
{
    QFETCH(QByteArray, bytes);
    QFETCH(int, style);
    QCOMPARE(static_cast<int>(lineEndOf(bytes.toStdString())), style);
}

void TestText::withLineEnd_mixedText_becomesUniform()
{
    QCOMPARE(withLineEnd("a\r\nb\nc", LineEnd::lf), std::string("a\nb\nc"));
    QCOMPARE(withLineEnd("a\r\nb\nc\r", LineEnd::crlf), std::string("a\r\nb\r\nc\r"));
}

void TestText::isUtf8_edges_data()
{
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<bool>("expected");
    QTest::newRow("ascii") << QByteArray("plain") << true;
    QTest::newRow("two-bytes") << QByteArray("\xC3\xA9") << true;
    QTest::newRow("overlong") << QByteArray("\xC0\x80") << false;
    QTest::newRow("surrogate") << QByteArray("\xED\xA0\x80") << false;
    QTest::newRow("last-code-point") << QByteArray("\xF4\x8F\xBF\xBF") << true;
    QTest::newRow("beyond-unicode") << QByteArray("\xF4\x90\x80\x80") << false;
    QTest::newRow("cut-short") << QByteArray("\xE2\x82") << false;
    QTest::newRow("lone-tail") << QByteArray("\x80") << false;
}

void TestText::isUtf8_edges()
{
    QFETCH(QByteArray, bytes);
    QFETCH(bool, expected);
    QCOMPARE(isUtf8(bytes.toStdString()), expected);
}

void TestText::latin1_allBytes_comeBack()
{
    std::string all;
    for (int byte = 0; byte < 256; ++byte) {
        all += static_cast<char>(byte);
    }
    QVERIFY(isUtf8(utf8FromLatin1(all)));
    QCOMPARE(latin1FromUtf8(utf8FromLatin1(all)), all);
}

void TestText::splitWords_code_isCutAtBorders()
{
    const std::vector<std::string_view> expected{
        "if", " ", "x_1", "  ", "=", "=", "\t", "é", ";", "\r\n", "y"};
    QCOMPARE(splitWords("if x_1  ==\té;\r\ny"), expected);
    QVERIFY(splitWords("").empty());
}

void TestText::intern_equalLines_getEqualNumbers()
{
    const Text text("a\nb\na\nb");
    LineInterner interner;
    const auto ids = interner.internLines(text);
    QCOMPARE(ids[0], ids[2]);
    QVERIFY(ids[1] != ids[3]);  // "b\n" and "b" differ
    QCOMPARE(interner.idCount(), TokenId{3});
    for (int i = 0; i < 1000; ++i) {  // growing must not renumber
        (void)interner.intern(QByteArray::number(i).append('x').constData());
    }
    QCOMPARE(interner.intern("a\n"), ids[0]);
}

void TestText::intern_likeTexts_agreeLineByLine()
{
    test::Random random(test::randomSeed() + 1);
    for (int round = 0; round < 300; ++round) {
        const std::string first = test::numberedText(test::below(random, 30));
        std::string twice = first;
        twice += "}\n\n" + first + "}\n\n";
        const Text texts[] = {Text(first),
                              Text(twice),
                              Text(test::edited(random, twice, test::below(random, 9), "new ")),
                              Text(test::edited(random, first, test::below(random, 9), "}\n"))};
        LineInterner interner;
        std::map<std::string_view, TokenId> numbers;
        for (const Text& text : texts) {
            const auto ids = interner.internLines(text);
            for (LineNumber i = 0; i < text.lineCount(); ++i) {
                const auto known = numbers.try_emplace(text.line(i), ids[i]).first;
                QCOMPARE(ids[i], known->second);
            }
        }
        QCOMPARE(interner.idCount(), static_cast<TokenId>(numbers.size()));
    }
}

void TestText::objectId_hexAndRaw_agree()
{
    const std::string hex = "0123456789abcdef0123456789abcdef01234567";
    const auto id = ObjectId::fromHex(hex);
    QVERIFY(id.has_value());
    QCOMPARE(id->hex(), hex);
    QVERIFY(ObjectId::fromRaw(id->raw()) == id);
    QVERIFY(!ObjectId::fromHex("0123").has_value());
    QVERIFY(!ObjectId::fromHex(std::string(40, 'g')).has_value());
    QVERIFY(ObjectId::fromHex(std::string(64, 'a')).has_value());
    QVERIFY(ObjectId().isNull());
}

ROPE_TESTS(TestText, QCoreApplication)
#include "tst_text.moc"
