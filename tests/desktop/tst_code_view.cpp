// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/widgets/code_view.h"
#include "desktop/widgets/theme.h"
#include "tests/support/test_program.h"

#include <QApplication>
#include <QInputMethodEvent>
#include <QSignalSpy>
#include <QTest>
#include <Qsci/qsciscintilla.h>

using namespace rope;

namespace {
QsciScintilla& editorOf(const CodeView& view)
{
    return *qobject_cast<QsciScintilla*>(view.editor());
}

QString headingAt(const CodeView& view, int line)
{
    return editorOf(view).annotation(line).trimmed();
}
}  // namespace

class TestCodeView : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void bytes_anyContent_areKept_data();
    void bytes_anyContent_areKept();
    void typing_tellsOfEachEdit();
    void ownChanges_areNotTold();
    void enter_followsLineEndAndIndentation();
    void replaceBytes_caretStaysWithItsText();
    void undoKey_isLeftToTheWindow();
    void headings_onlyThoseGiven_areShown();
    void headings_afterEdits_followTheirPlace();
    void strands_replaceEachOther();
    void regionMarks_canBeTakenBack();
    void reveal_farLine_comesIntoView();
    void readOnly_textCannotBeTyped();
    void comment_comesAndGoes_inTheIndentOfItsLines();
    void typeOver_onlyWhatDiffers_isEdited();
    void bracket_andLine_areGoneTo();
    void gaps_areMarked_andMarksTakenBack();
    void belowTheText_nothingIsNumbered();
};

void TestCodeView::initTestCase()
{
    applyLook(*qApp, Look::light);
}

void TestCodeView::bytes_anyContent_areKept_data()
{
    QTest::addColumn<QByteArray>("content");
    QTest::newRow("empty") << QByteArray();
    QTest::newRow("nul") << QByteArray("a\0b\n", 4);
    QTest::newRow("invalid-utf8") << QByteArray("\xFF\xFE caf\xE9\n");
    QTest::newRow("crlf-and-lone-cr") << QByteArray("a\r\nb\rc\n");
    QTest::newRow("no-last-line-end") << QByteArray("one\ntwo");
    QTest::newRow("unicode") << QByteArray("\xF0\x9F\x9A\xA2 h\xC3\xA9\n");
}

void TestCodeView::bytes_anyContent_areKept()
{
    QFETCH(QByteArray, content);
    CodeView view(nullptr);
    view.setText(content.toStdString(), QStringLiteral("name.py"));
    QCOMPARE(view.size(), static_cast<std::size_t>(content.size()));
    QCOMPARE(QByteArray::fromStdString(view.bytes(0, view.size())), content);
    view.setText("other", QStringLiteral("name.unknown"));
    QCOMPARE(view.bytes(0, view.size()), std::string("other"));
}

void TestCodeView::typing_tellsOfEachEdit()
{
    CodeView view(nullptr);
    view.show();
    view.setText("ab\n", QStringLiteral("x.txt"));
    QSignalSpy edits(&view, &CodeView::textEdited);
    view.placeCaret(1);
    QInputMethodEvent composed;  // as an input method gives it: QTest's keys are ASCII
    composed.setCommitString(QStringLiteral("é"));
    QApplication::sendEvent(view.editor(), &composed);
    QCOMPARE(edits.size(), 1);
    QCOMPARE(edits[0][0].value<std::size_t>(), std::size_t{1});
    QCOMPARE(edits[0][2].value<std::size_t>(), std::size_t{2});  // bytes, not characters
    QTest::keyClick(view.editor(), Qt::Key_Backspace);
    QCOMPARE(edits.size(), 2);
    QCOMPARE(edits[1][1].value<std::size_t>(), std::size_t{2});
    QCOMPARE(view.bytes(0, view.size()), std::string("ab\n"));
}

void TestCodeView::ownChanges_areNotTold()
{
    CodeView view(nullptr);
    QSignalSpy edits(&view, &CodeView::textEdited);
    view.setText("one\ntwo\n", QStringLiteral("x.txt"));
    view.replaceBytes(0, 3, "three");
    view.setHeadings({{1, QStringLiteral("heading"), CodeView::HeadingLook::open}});
    QCOMPARE(edits.size(), 0);
    QCOMPARE(view.bytes(0, view.size()), std::string("three\ntwo\n"));
}

void TestCodeView::enter_followsLineEndAndIndentation()
{
    CodeView view(nullptr);
    view.show();
    view.setText("if x:\r\n    go()\r\n", QStringLiteral("x.py"));
    view.placeCaret(15);
    QTest::keyClick(view.editor(), Qt::Key_Return);
    QTest::keyClicks(view.editor(), QStringLiteral("on()"));
    QCOMPARE(view.bytes(0, view.size()), std::string("if x:\r\n    go()\r\n    on()\r\n"));
}

void TestCodeView::replaceBytes_caretStaysWithItsText()
{
    CodeView view(nullptr);
    view.setText("aaa\nbbb\nccc\n", QStringLiteral("x.txt"));
    view.placeCaret(9);  // within ccc
    view.replaceBytes(0, 4, "a longer first line\n");
    QCOMPARE(view.caret(), std::size_t{9 + 16});
    view.placeCaret(2);
    view.replaceBytes(view.size() - 4, 4, "");
    QCOMPARE(view.caret(), std::size_t{2});
}

void TestCodeView::undoKey_isLeftToTheWindow()
{
    CodeView view(nullptr);
    view.show();
    view.setText("text\n", QStringLiteral("x.txt"));
    view.placeCaret(0);
    QTest::keyClicks(view.editor(), QStringLiteral("new "));
    QTest::keyClick(view.editor(), Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(view.bytes(0, view.size()), std::string("new text\n"));
}

void TestCodeView::headings_onlyThoseGiven_areShown()
{
    CodeView view(nullptr);
    view.setText("1\n2\n3\n4\n", QStringLiteral("x.txt"));
    view.setHeadings({{1, QStringLiteral("first"), CodeView::HeadingLook::open},
                      {3, QStringLiteral("second"), CodeView::HeadingLook::decided}});
    QCOMPARE(headingAt(view, 0), QStringLiteral("first"));
    QCOMPARE(headingAt(view, 2), QStringLiteral("second"));
    view.setHeadings({{3, QStringLiteral("second, changed"), CodeView::HeadingLook::decided}});
    QCOMPARE(headingAt(view, 0), QString());
    QCOMPARE(headingAt(view, 2), QStringLiteral("second, changed"));
    view.setHeadings({{2, QStringLiteral("one"), CodeView::HeadingLook::open},
                      {2, QStringLiteral("two"), CodeView::HeadingLook::open}});
    QVERIFY(headingAt(view, 1).startsWith(QLatin1String("one")));
    QVERIFY(headingAt(view, 1).contains(QLatin1String("two")));
    QCOMPARE(headingAt(view, 2), QString());
}

void TestCodeView::headings_afterEdits_followTheirPlace()
{
    CodeView view(nullptr);
    std::string text;
    for (int i = 0; i < 40; ++i) {
        text += "line " + std::to_string(i) + "\n";
    }
    view.setText(text, QStringLiteral("x.txt"));
    view.setHeadings({{10, QStringLiteral("a"), CodeView::HeadingLook::open},
                      {30, QStringLiteral("b"), CodeView::HeadingLook::open}});
    view.replaceBytes(
        view.positionOfLine(10), view.positionOfLine(13) - view.positionOfLine(10), "x\n");
    view.setHeadings({{10, QStringLiteral("a"), CodeView::HeadingLook::decided},
                      {28, QStringLiteral("b"), CodeView::HeadingLook::open}});
    int shown = 0;
    for (int line = 0; line < view.lineCount(); ++line) {
        shown += headingAt(view, line).isEmpty() ? 0 : 1;
    }
    QCOMPARE(shown, 2);
    QCOMPARE(headingAt(view, 9), QStringLiteral("a"));
    QCOMPARE(headingAt(view, 27), QStringLiteral("b"));
}

void TestCodeView::strands_replaceEachOther()
{
    CodeView view(nullptr);
    view.setText("1\n2\n3\n", QStringLiteral("x.txt"));
    view.setStrands(0, {Strand::ours, Strand::theirs, Strand::open});
    QVERIFY(editorOf(view).markersAtLine(0) != editorOf(view).markersAtLine(1));
    QVERIFY(editorOf(view).markersAtLine(1) != editorOf(view).markersAtLine(2));
    view.setStrands(0, {Strand::theirs, Strand::theirs, Strand::base});
    QCOMPARE(editorOf(view).markersAtLine(0), editorOf(view).markersAtLine(1));
    QCOMPARE(editorOf(view).markersAtLine(2), 0U);  // the base is plain
    // Joined lines carry the marks of both; painting anew leaves one.
    view.replaceBytes(1, 1, "");
    view.setStrands(0, {Strand::base});
    QCOMPARE(editorOf(view).markersAtLine(0), 0U);
}

void TestCodeView::regionMarks_canBeTakenBack()
{
    CodeView view(nullptr);
    view.setText("1\n2\n3\n", QStringLiteral("x.txt"));
    view.markRegion(1, 2, RegionLook::open);
    view.markRegion(1, 2, RegionLook::selectedOpen);
    QVERIFY(editorOf(view).markersAtLine(2) != 0);
    view.markRegion(1, 2, std::nullopt);
    QCOMPARE(editorOf(view).markersAtLine(1), 0U);
    QCOMPARE(editorOf(view).markersAtLine(2), 0U);
}

void TestCodeView::reveal_farLine_comesIntoView()
{
    CodeView view(nullptr);
    view.resize(600, 300);
    view.show();
    view.setText(std::string(2000, '\n'), QStringLiteral("x.txt"));
    view.reveal(1500, 3);
    QVERIFY(view.firstVisibleLine() > 1400 && view.firstVisibleLine() <= 1500);
    const int before = view.firstVisibleLine();
    view.reveal(before + 4, 1);
    QCOMPARE(view.firstVisibleLine(), before);  // already in view: nothing moves
}

void TestCodeView::readOnly_textCannotBeTyped()
{
    CodeView view(nullptr);
    view.show();
    view.setText("text\n", QStringLiteral("x.txt"));
    view.setReadOnly(true);
    QTest::keyClicks(view.editor(), QStringLiteral("new"));
    QCOMPARE(view.bytes(0, view.size()), std::string("text\n"));
    view.replaceBytes(0, 4, "ours");
    QCOMPARE(view.bytes(0, view.size()), std::string("ours\n"));
}

void TestCodeView::comment_comesAndGoes_inTheIndentOfItsLines()
{
    CodeView view(nullptr);
    const std::string text = "def f():\n    if x:\n\n        go()\nend\n";
    view.setText(text, QStringLiteral("a.py"));
    editorOf(view).setSelection(1, 0, 4, 0);
    view.toggleComment();
    QCOMPARE(view.bytes(0, view.size()),
             std::string("def f():\n    # if x:\n\n    #     go()\nend\n"));
    editorOf(view).setSelection(1, 0, 4, 0);
    view.toggleComment();
    QCOMPARE(view.bytes(0, view.size()), text);
    view.setText("plain\n", QStringLiteral("notes"));
    view.toggleComment();  // no language, no comment
    QCOMPARE(view.bytes(0, view.size()), std::string("plain\n"));
    view.setText("int a;\n", QStringLiteral("a.cpp"));
    view.setReadOnly(true);
    view.toggleComment();
    QCOMPARE(view.bytes(0, view.size()), std::string("int a;\n"));
}

void TestCodeView::typeOver_onlyWhatDiffers_isEdited()
{
    CodeView view(nullptr);
    view.setText("one\ntwo\nthree\nfour\nfive\n", QStringLiteral("a"));
    QSignalSpy edits(&view, &CodeView::textEdited);
    view.typeOver("one\nTWO\nthree\nfive\nsix");
    QCOMPARE(view.bytes(0, view.size()), std::string("one\nTWO\nthree\nfive\nsix"));
    std::size_t removed = 0;
    std::size_t added = 0;
    for (const auto& edit : edits) {
        removed += edit.at(1).value<std::size_t>();
        added += edit.at(2).value<std::size_t>();
    }
    QCOMPARE(removed, std::string("two\nfour\n").size());
    QCOMPARE(added, std::string("TWO\nsix").size());
    edits.clear();
    view.typeOver("one\nTWO\nthree\nfive\nsix");
    QVERIFY(edits.isEmpty());
    view.typeOver("");
    QCOMPARE(view.size(), std::size_t{0});
}

void TestCodeView::bracket_andLine_areGoneTo()
{
    CodeView view(nullptr);
    view.setText("f(a, (b))\nx\ny\n", QStringLiteral("a.py"));
    (void)view.grab();  // brackets in comments and strings do not count: colours come first
    view.placeCaret(1);
    view.goToMatchingBracket();
    QVERIFY(view.caret() == 8 || view.caret() == 9);
    QSignalSpy moved(&view, &CodeView::caretMoved);
    view.goToLine(2);
    QCOMPARE(view.lineAt(view.caret()), 2);
    QCOMPARE(moved.size(), 1);
    view.goToLine(99);
    QCOMPARE(view.lineAt(view.caret()), view.lineCount() - 1);
}

void TestCodeView::gaps_areMarked_andMarksTakenBack()
{
    CodeView view(nullptr);
    view.setText("a\nb\nc\n", QStringLiteral("a"));
    const auto marks = [&](int line) {
        return editorOf(view).markersAtLine(line);
    };
    view.markGaps(0, 3, {1, 3});
    QVERIFY(marks(0) == 0);
    QVERIFY(marks(1) != 0);
    QVERIFY(marks(2) != 0 && marks(2) != marks(1));
    view.markGaps(0, 3, {});
    QVERIFY(marks(1) == 0 && marks(2) == 0);
    view.markGaps(0, 0, {0});  // all of them were taken out: the mark stands where they stood
    QVERIFY(marks(0) != 0);
}

void TestCodeView::belowTheText_nothingIsNumbered()
{
    CodeView view(nullptr);
    view.resize(400, 300);
    view.setText("a\nb\n", QStringLiteral("a"));
    view.show();
    QVERIFY(QTest::qWaitForWindowExposed(&view));
    const QImage picture = view.grab().toImage();
    const int margin = editorOf(view).marginWidth(0) + 5;  // on the rail
    QVERIFY(picture.pixelColor(margin, 4) == theme().base.word);
    for (int y = picture.height() - 200; y < picture.height() - 4; ++y) {
        QCOMPARE(picture.pixelColor(margin, y), theme().paper);
    }
    const int lineHeight =
        static_cast<int>(editorOf(view).SendScintilla(QsciScintillaBase::SCI_TEXTHEIGHT, 0));
    QCOMPARE(picture.pixelColor(margin, 2 * lineHeight + lineHeight / 2), theme().paper);
}

ROPE_TESTS(TestCodeView, QApplication)
#include "tst_code_view.moc"
