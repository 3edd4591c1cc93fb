// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/merge/line_splice.h"
#include "core/merge/touching_splice.h"
#include "core/merge/word_splice.h"
#include "tests/support/random_texts.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

class TestTouchingSplice : public QObject
{
    Q_OBJECT
private slots:
    void texts_data();
    void texts();
    void random_keepsBothSides();
    void hugeTexts_areLeft();
};

void TestTouchingSplice::texts_data()
{
    QTest::addColumn<QByteArray>("base");
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("theirs");
    QTest::addColumn<QByteArray>("theirsFirst");  // empty: nothing
    QTest::addColumn<QByteArray>("oursFirst");    // empty: no other order
    const auto row = [](const char* name,
                        const char* base,
                        const char* ours,
                        const char* theirs,
                        const char* theirsFirst,
                        const char* oursFirst) {
        QTest::newRow(name) << QByteArray(base) << QByteArray(ours) << QByteArray(theirs)
                            << QByteArray(theirsFirst) << QByteArray(oursFirst);
    };
    row("put in beside a replacement",
        "f(a, b)\n",
        "f(a, 1, b)\n",
        "f(a,\n  c)\n",
        "f(a, 1,\n  c)\n",
        "");
    row("two put in at one place",
        "x y\n",
        "x --p y\n",
        "x --q y\n",
        "x --q --p y\n",
        "x --p --q y\n");
    row("removed beside a replacement",
        "v = 1.1 old\n",
        "v = 1.1\n",
        "v = 1.2 old\n",
        "v = 1.2\n",
        "");
    row("both replace the same", "a = 1\n", "a = 2\n", "a = 3\n", "", "");
    row("both the same", "a = 1\n", "a = 2\n", "a = 2\n", "a = 2\n", "");
    row("lines at one place", "x\n", "o\nx\n", "t\nx\n", "t\no\nx\n", "");
    row("line ends", "a\r\nb\r\n", "a\r\nB\r\n", "b\r\n", "B\r\n", "");
    row("no line end at the end", "a", "a\no", "t\na", "t\na\no", "");
    row("nothing", "", "", "", "", "");
}

void TestTouchingSplice::texts()
{
    QFETCH(const QByteArray, base);
    QFETCH(const QByteArray, ours);
    QFETCH(const QByteArray, theirs);
    QFETCH(const QByteArray, theirsFirst);
    QFETCH(const QByteArray, oursFirst);
    const std::string b = base.toStdString();
    const std::string o = ours.toStdString();
    const std::string t = theirs.toStdString();
    const auto spliced = spliceTouching(RegionTexts{b, o, t});
    QCOMPARE(QByteArray::fromStdString(spliced ? spliced->text : std::string()), theirsFirst);
    QCOMPARE(spliced && spliced->oursFirst, !oursFirst.isEmpty());
    if (!oursFirst.isEmpty()) {
        QCOMPARE(QByteArray::fromStdString(*spliced->oursFirst), oursFirst);
    }
}

/// With one side unchanged it is the other; what neither touched stays; sides swapped change no more than
/// the order at one place.
void TestTouchingSplice::random_keepsBothSides()
{
    test::Random random(test::randomSeed());
    int spliced = 0;
    for (int round = 0; round < 3'000; ++round) {
        const std::string base = test::numberedText(8);
        const std::string ours = test::edited(random, base, 3, "o");
        const std::string theirs = test::edited(random, base, 3, "t");
        QCOMPARE(spliceTouching(RegionTexts{base, base, theirs})->text, theirs);
        QCOMPARE(spliceTouching(RegionTexts{base, ours, base})->text, ours);
        QCOMPARE(spliceTouching(RegionTexts{base, ours, ours})->text, ours);
        const auto text = spliceTouching(RegionTexts{base, ours, theirs});
        if (!text) {
            continue;
        }
        ++spliced;
        for (const std::string_view line : splitLines(base)) {
            const bool isKept =
                ours.find(line) != std::string::npos && theirs.find(line) != std::string::npos;
            QVERIFY2(!isKept || text->text.find(line) != std::string::npos, text->text.c_str());
        }
        QCOMPARE(spliceTouching(RegionTexts{base, theirs, ours}).has_value(), true);
    }
    QVERIFY(spliced > 500);
}

void TestTouchingSplice::hugeTexts_areLeft()
{
    const std::string huge(500'000, 'x');
    QVERIFY(!spliceTouching(RegionTexts{huge, huge + "a", huge + "b"}));
}

ROPE_TESTS(TestTouchingSplice, QCoreApplication)
#include "tst_touching_splice.moc"
