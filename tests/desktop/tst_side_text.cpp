// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/side_text.h"
#include "desktop/widgets/theme.h"
#include "tests/support/test_program.h"

#include <QApplication>
#include <QClipboard>
#include <QDrag>
#include <QMimeData>
#include <QScrollBar>
#include <QTest>
#include <QTextBlock>
#include <QTimer>

#include <set>

using namespace rope;

namespace {
/// A side of a region, shown.
struct Shown
{
    SideText text{Strand::theirs, nullptr};

    Shown(const std::string& base, const std::string& theirs, const std::string& ours = {})
    {
        text.resize(600, 200);
        text.showSide(theirs, readAgainstBase({base, ours, theirs}).theirs, Strand::base);
        text.show();
        QApplication::processEvents();
    }
    std::string copied()
    {
        text.copy();
        return QApplication::clipboard()->text().toStdString();
    }
};
}  // namespace

class TestSideText : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void copying_givesTheSideAndNothingElse_data();
    void copying_givesTheSideAndNothingElse();
    void copying_aPart_countsBytes();
    void gone_isPaintedAndNoText();
    void shared_isSaid();
    void base_isFoldedToWhatDiffers();
    void dragging_endsWithTheDrag();
    void height_isThatOfTheText();
    void otherEncodings_areCopiedAsShown();
    void againstEachOther_saysWhoHasWhat();
    void emptySide_showsWhatIsGone();
    void outcome_hasThePatternOfEachLine();
    void wrappedLines_goOnBelowTheirIndent();
    void sideways_scrollsInsteadOfWrapping();
    void goneWords_areToldWhole();
    void missingLineEnd_isSaid();
    void linesAround_arePaintedAndNoText();
};

void TestSideText::initTestCase()
{
    applyLook(*qApp, Look::light);
}

void TestSideText::copying_givesTheSideAndNothingElse_data()
{
    QTest::addColumn<QByteArray>("base");
    QTest::addColumn<QByteArray>("theirs");
    QTest::newRow("words") << QByteArray("TIMEOUT = 30\n") << QByteArray("TIMEOUT = 60\n");
    QTest::newRow("lines gone") << QByteArray("a b c\nd e f\n") << QByteArray("x y z\n");
    QTest::newRow("no last end") << QByteArray("a\n") << QByteArray("\ta \n  b");
    QTest::newRow("CRLF") << QByteArray("a\r\n") << QByteArray("a\r\nb\r\n");
    QTest::newRow("no-break") << QByteArray("a\n") << QByteArray("a\u00a0b\u2028c\n");
    QTest::newRow("first word") << QByteArray("old = call(x)\n") << QByteArray("new = call(x)\n");
}

void TestSideText::copying_givesTheSideAndNothingElse()
{
    QFETCH(const QByteArray, base);
    QFETCH(const QByteArray, theirs);
    Shown shown(base.toStdString(), theirs.toStdString());
    shown.text.selectAll();
    QCOMPARE(shown.copied(), theirs.toStdString());
}

void TestSideText::copying_aPart_countsBytes()
{
    Shown shown("Slot(lock, start)\n", "\u00e4 Slot(lock.cycle)\nnext\n");
    QTextCursor cursor = shown.text.textCursor();
    cursor.setPosition(2);
    cursor.setPosition(2 + 16 + 1 + 2, QTextCursor::KeepAnchor);
    shown.text.setTextCursor(cursor);
    QCOMPARE(shown.copied(), std::string("Slot(lock.cycle)\nne"));
}

void TestSideText::gone_isPaintedAndNoText()
{
    Shown shown("kept\nAsk the keeper after dusk\nRevision 41 of it\n",
                "kept\nRevision 43 of it\n");
    QCOMPARE(shown.text.toPlainText(), QStringLiteral("kept\nRevision 43 of it"));
    QCOMPARE(shown.text.remarks(),
             (QStringList{QStringLiteral("gone: Ask the keeper after dusk"),
                          QStringLiteral("instead of 41")}));
    Shown first("gone at the top\nkept\n", "kept\n");
    QCOMPARE(first.text.cursorRect(QTextCursor(first.text.document())).top(),
             QFontMetrics(first.text.font()).lineSpacing());
    // The new word stands apart from the old one: there is a gap before it.
    QTextCursor cursor(shown.text.document()->findBlockByNumber(1));
    cursor.setPosition(cursor.position() + 9);
    const int before = shown.text.cursorRect(QTextCursor(cursor.block())).left();
    const QFontMetrics metrics(shown.text.font());
    QVERIFY(shown.text.cursorRect(cursor).left() - before
            > metrics.horizontalAdvance(QStringLiteral("Revision 41")));
}

void TestSideText::shared_isSaid()
{
    Shown shown("", "alike\nmine\n", "alike\n");
    QCOMPARE(shown.text.remarks(), QStringList{QStringLiteral("both added this")});
    Shown blanks("a b\n", "a b \n");
    QCOMPARE(blanks.text.remarks(), QStringList{QStringLiteral("only blanks differ")});
    QVERIFY(blanks.text.areBlanksShown());
    blanks.text.showSide("c\n", readAgainstBase({"d\n", {}, "c\n"}).theirs, Strand::base);
    QVERIFY(!blanks.text.areBlanksShown());  // that was for one text
}

void TestSideText::base_isFoldedToWhatDiffers()
{
    const std::string base = "a\nb\nc\nd\ne\n";
    SideText text(Strand::base, nullptr);
    text.resize(600, 200);
    text.show();
    text.showBase(base, readAgainstBase({base, "a\nb\nc\ne\n", "a\nX\nc\ne\n"}).base, true);
    QCOMPARE(text.remarks(),
             (QStringList{QStringLiteral("1 line the same everywhere"),
                          QStringLiteral("removed by theirs"),
                          QStringLiteral("1 line the same everywhere"),
                          QStringLiteral("removed by both"),
                          QStringLiteral("1 line the same everywhere")}));
    const int folded = text.sizeHint().height();
    text.selectAll();
    QCOMPARE(text.selectedBytes(), base);  // copying over a fold copies all of it
    text.showBase(base, readAgainstBase({base, "a\nb\nc\ne\n", "a\nX\nc\ne\n"}).base, false);
    QCOMPARE(text.remarks().size(), 2);
    QVERIFY(text.sizeHint().height() >= folded - 4);
}

void TestSideText::dragging_endsWithTheDrag()
{
    Shown shown("", "one two three\n");
    shown.text.selectAll();
    const QPoint inside =
        shown.text.cursorRect(QTextCursor(shown.text.document())).center() + QPoint(20, 0);
    int drags = 0;
    QTimer watcher;
    connect(&watcher, &QTimer::timeout, &watcher, [&] {
        if (shown.text.findChild<QDrag*>() != nullptr) {
            ++drags;
            QDrag::cancel();
        }
    });
    watcher.start(20);
    QTest::mousePress(shown.text.viewport(), Qt::LeftButton, {}, inside);
    QTest::mouseMove(shown.text.viewport(), inside + QPoint(60, 0));
    QTest::mouseRelease(shown.text.viewport(), Qt::LeftButton, {}, inside + QPoint(60, 0));
    QTest::qWait(300);  // as long as a scroll timer would need to begin another
    QVERIFY(drags <= 1);
    QTest::mouseClick(shown.text.viewport(), Qt::LeftButton, {}, inside);
    QVERIFY(!shown.text.textCursor().hasSelection());  // it still answers
}

void TestSideText::height_isThatOfTheText()
{
    Shown three("", "a\nb\nc\n");
    Shown six("", "a\nb\nc\nd\ne\nf\n");
    QCOMPARE(six.text.sizeHint().height() - 2, 2 * (three.text.sizeHint().height() - 2));
    Shown wrapping("", std::string(400, 'x') + "\n");
    QVERIFY(wrapping.text.sizeHint().height() > three.text.sizeHint().height());
}

void TestSideText::otherEncodings_areCopiedAsShown()
{
    Shown shown("caf\xE9\n", "caf\xE9s\nnext\n");
    QCOMPARE(shown.text.toPlainText(), QStringLiteral("caf\u00e9s\nnext"));
    QTextCursor cursor = shown.text.textCursor();
    cursor.setPosition(3);
    cursor.setPosition(5, QTextCursor::KeepAnchor);
    shown.text.setTextCursor(cursor);
    QCOMPARE(shown.text.selectedBytes(), std::string("\xE9s"));
}

void TestSideText::againstEachOther_saysWhoHasWhat()
{
    const RegionTexts texts{"", "fee(lock, 20)\nonly ours here\n", "fee(lock, 30)\n"};
    SideText text(Strand::theirs, nullptr);
    text.resize(600, 200);
    text.showSide(texts.theirs, readAgainstEachOther(texts).theirs, Strand::ours);
    QCOMPARE(
        text.remarks(),
        (QStringList{QStringLiteral("instead of 20"), QStringLiteral("gone: only ours here")}));
    QCOMPARE(text.toPlainText(), QStringLiteral("fee(lock, 30)"));
}

void TestSideText::emptySide_showsWhatIsGone()
{
    Shown shown("one line\nanother\n", "");
    QCOMPARE(shown.text.remarks(),
             (QStringList{QStringLiteral("gone: one line"),
                          QStringLiteral("gone: another"),
                          QStringLiteral("nothing here")}));
    QVERIFY(shown.text.toPlainText().isEmpty());
    shown.text.selectAll();
    QVERIFY(shown.text.selectedBytes().empty());
    QVERIFY(shown.text.sizeHint().height() > 2 * QFontMetrics(shown.text.font()).lineSpacing());
    shown.text.showSide("x\n", readAgainstBase({"x\n", {}, "x\n"}).theirs, Strand::base);
    QVERIFY(shown.text.sizeHint().height() < 2 * QFontMetrics(shown.text.font()).lineSpacing());
    shown.text.showSide({}, readAgainstBase({"a\nb\n", {}, {}}).theirs, Strand::base);
    QVERIFY(shown.text.sizeHint().height() > 2 * QFontMetrics(shown.text.font()).lineSpacing());
    shown.text.grab();  // painting nothing but rows must work as well
}

void TestSideText::outcome_hasThePatternOfEachLine()
{
    SideText text(Strand::base, nullptr);
    text.resize(400, 120);
    text.showOutcome("a\nb\nc\n", {LineOrigin::base, LineOrigin::ours, LineOrigin::theirs});
    text.show();
    QApplication::processEvents();
    const QImage picture = text.viewport()->grab().toImage();
    const auto colourBeside = [&](int line) {
        QTextCursor cursor(text.document()->findBlockByNumber(line));
        std::set<QRgb> colours;
        const QRect at = text.cursorRect(cursor);
        for (int y = at.top(); y < at.bottom(); ++y) {
            for (int x = 0; x < 6; ++x) {
                colours.insert(picture.pixel(x, y));
            }
        }
        return colours;
    };
    QCOMPARE(colourBeside(0).size(), std::size_t(1));  // plain
    QVERIFY(colourBeside(1).size() > 1);
    QVERIFY(colourBeside(2).size() > 1);
    QVERIFY(colourBeside(1) != colourBeside(2));
}

void TestSideText::wrappedLines_goOnBelowTheirIndent()
{
    Shown shown("", "        " + std::string(300, 'w') + " end\n");
    const QTextBlock block = shown.text.document()->firstBlock();
    QVERIFY(block.layout()->lineCount() > 1);
    QVERIFY(block.layout()->lineAt(1).x() > 20);
    QTextCursor cursor(block);
    cursor.movePosition(QTextCursor::EndOfBlock);
    QVERIFY(shown.text.cursorRect(cursor).right() <= shown.text.viewport()->width());
}

void TestSideText::sideways_scrollsInsteadOfWrapping()
{
    const std::string line = std::string(400, 'x') + " end\n";
    Shown shown("short\n", line);
    const int wrapped = shown.text.sizeHint().height();
    shown.text.setSideways(true);
    QApplication::processEvents();
    QVERIFY(shown.text.sizeHint().height() < wrapped);
    auto* bar = shown.text.horizontalScrollBar();
    QVERIFY(bar->maximum() > 0);
    bar->setValue(bar->maximum());
    shown.text.selectAll();
    QCOMPARE(shown.copied(), line);
    shown.text.setSideways(false);
    QApplication::processEvents();
    QCOMPARE(shown.text.sizeHint().height(), wrapped);
    QCOMPARE(bar->maximum(), 0);
}

void TestSideText::goneWords_areToldWhole()
{
    const std::string longWord(60, 'g');
    Shown shown("call(first, " + longWord
                    + ", second_argument, third_argument_too, fourth_argument)\n",
                "call(first, x, second_argument, third_argument_too, fourth_argument)\n");
    QCOMPARE(shown.text.remarks(),
             QStringList{QStringLiteral("instead of %1").arg(QString::fromStdString(longWord))});
    // In the picture it is shortened: the gap is not as wide as the word.
    QTextCursor cursor(shown.text.document());
    cursor.setPosition(12);
    const QFontMetrics metrics(shown.text.font());
    QVERIFY(shown.text.cursorRect(cursor).left()
            < metrics.horizontalAdvance(QString(60, QLatin1Char('g'))));
}

void TestSideText::missingLineEnd_isSaid()
{
    Shown whole("a\n", "b\n");
    Shown cut("a\n", "b");
    const auto ink = [](SideText& text) {
        const QImage picture = text.viewport()->grab().toImage();
        int dark = 0;
        for (int x = picture.width() / 2; x < picture.width(); ++x) {
            for (int y = 0; y < picture.height(); ++y) {
                dark += picture.pixelColor(x, y).lightness() < 160 ? 1 : 0;
            }
        }
        return dark;
    };
    QVERIFY(ink(cut.text) > ink(whole.text));  // words stand at its right
    whole.text.setBlanksShown(true);
    QVERIFY(ink(whole.text) > 0);  // "LF" does, when asked for
}

void TestSideText::linesAround_arePaintedAndNoText()
{
    SideText text(Strand::theirs, nullptr);
    text.resize(600, 200);
    const std::string side = "changed\n";
    const SideReading reading = readAgainstBase({"base\n", "ours\n", side}).theirs;
    text.showSide(side, reading, Strand::base);
    text.show();
    QApplication::processEvents();
    const int bare = text.sizeHint().height();
    text.setAround({"two before\n", "one before\n"}, {"after\n"});
    text.showSide(side, reading, Strand::base);
    QApplication::processEvents();
    QCOMPARE(text.toPlainText(), QStringLiteral("changed"));
    text.selectAll();
    QCOMPARE(text.selectedBytes(), side);
    const QStringList remarks = text.remarks();
    QVERIFY(remarks.indexOf(QStringLiteral("around it: two before"))
            < remarks.indexOf(QStringLiteral("around it: one before")));
    QVERIFY(remarks.contains(QStringLiteral("around it: after")));
    QCOMPARE(text.sizeHint().height(), bare + 3 * QFontMetrics(text.font()).lineSpacing());
    text.setAround({}, {});
    text.showSide(side, reading, Strand::base);
    QCOMPARE(text.sizeHint().height(), bare);
}

ROPE_TESTS(TestSideText, QApplication)
#include "tst_side_text.moc"
