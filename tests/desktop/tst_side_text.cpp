// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/side_text.h"
#include "desktop/widgets/theme.h"

#include <QApplication>
#include <QClipboard>
#include <QDrag>
#include <QMimeData>
#include <QTest>
#include <QTextBlock>
#include <QTimer>

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
}

void TestSideText::base_isFoldedToWhatDiffers()
{
    const std::string base = "a\nb\nc\nd\ne\n";
    SideText text(Strand::base, nullptr);
    text.resize(600, 200);
    text.show();
    text.showBase(base, readAgainstBase({base, "a\nb\nc\ne\n", "a\nX\nc\ne\n"}).base, true);
    QCOMPARE(text.remarks(),
             (QStringList{QStringLiteral("1 line on which all agree"),
                          QStringLiteral("removed by theirs"),
                          QStringLiteral("1 line on which all agree"),
                          QStringLiteral("removed by both"),
                          QStringLiteral("1 line on which all agree")}));
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

QTEST_MAIN(TestSideText)
#include "tst_side_text.moc"
