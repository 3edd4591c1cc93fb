// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/findings/balance.h"
#include "core/findings/code_scan.h"
#include "core/findings/finding.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

namespace {
std::string names(std::string_view text, Language language)
{
    std::string all;
    for (const CodeWord& word : scanCode(text, language).words) {
        all += (all.empty() ? "" : " ") + std::string(word.text) + (word.isInString ? "'" : "");
    }
    return all;
}

std::size_t loose(std::string_view text, Language language)
{
    return scanCode(text, language).looseBrackets.size();
}

int broken(std::string_view text)
{
    const CodeScan scan = scanCode(text, Language::python);
    const auto line = firstBrokenIndent(scan.lines);
    return line ? static_cast<int>(*line) : -1;
}
}  // namespace

class TestCodeScan : public QObject
{
    Q_OBJECT
private slots:
    void languages_areToldByNames();
    void words_leaveCommentsOut();
    void words_knowStrings();
    void brackets_inStringsAndComments_doNotCount();
    void brackets_ofBranches_countOnce();
    void quotes_withoutPartner_areTold();
    void quotes_withinWords_areNone();
    void indent_ofPython_isRead_data();
    void indent_ofPython_isRead();
    void hostileTexts_areCutOff();
};

void TestCodeScan::languages_areToldByNames()
{
    QCOMPARE(languageOf("a/b.CPP"), Language::c);
    QCOMPARE(languageOf("CMakeLists.txt"), Language::hash);
    QCOMPARE(languageOf("notes.txt"), Language::prose);
    QCOMPARE(languageOf("a.b/Makefile"), Language::hash);
    QCOMPARE(languageOf(".toml"), Language::prose);
    QCOMPARE(languageOf("x.yml"), Language::yaml);
    QVERIFY(sharesNames(Language::sql, Language::python));
    QVERIFY(!sharesNames(Language::c, Language::python));
    QVERIFY(!sharesNames(Language::prose, Language::prose));
}

void TestCodeScan::words_leaveCommentsOut()
{
    QCOMPARE(names("int a; // b\n/* c\nd */ e", Language::c), "int a e");
    QCOMPARE(names("a = 1 # b\n", Language::python), "a 1");
    QCOMPARE(names("echo ${#a} # b\n", Language::shell), "echo a");
    QCOMPARE(names("select a -- b\nfrom c", Language::sql), "select a from c");
    QCOMPARE(names("<a><!-- b --></a>", Language::markup), "a a");
    QCOMPARE(names("# all of it", Language::prose), "all of it");
}

void TestCodeScan::words_knowStrings()
{
    QCOMPARE(names("f(\"a \\\" b\", c)", Language::c), "f a' b' c");
    QCOMPARE(names("f('''a\nb''', c)", Language::python), "f a' b' c");
    QCOMPARE(names("R\"x(a \" b)x\" c", Language::c), "R c");
    QCOMPARE(names("`a\nb` c", Language::script), "a' b' c");
    QCOMPARE(scanCode("a\nb\n\"\nc", Language::rust).words.back().line, 3U);
}

void TestCodeScan::brackets_inStringsAndComments_doNotCount()
{
    QCOMPARE(loose("f(\"(\", '(') // (\n", Language::c), 0U);
    QCOMPARE(loose("f(a]\n", Language::c), 2U);
    QCOMPARE(loose("{ ( }\n", Language::c), 3U);
    QCOMPARE(loose("(((", Language::prose), 0U);
    QCOMPARE(scanCode("a\n{\n", Language::c).looseBrackets.front().line, 1U);
}

void TestCodeScan::brackets_ofBranches_countOnce()
{
    QCOMPARE(loose("#if A\nvoid f(int a) {\n#else\nvoid f() {\n#endif\n}\n", Language::c), 0U);
    QCOMPARE(loose("#if A\n{\n#endif\n", Language::c), 1U);
}

void TestCodeScan::quotes_withoutPartner_areTold()
{
    QCOMPARE(*scanCode("a\nb = \"c\nd\n", Language::c).openQuote, 1U);
    QVERIFY(!scanCode("b = \"c\\\nd\"\n", Language::c).openQuote);
    QCOMPARE(*scanCode("a\n'''b\nc\n", Language::python).openQuote, 1U);
    QVERIFY(!scanCode("it's\n", Language::prose).openQuote);
}

void TestCodeScan::quotes_withinWords_areNone()
{
    QCOMPARE(loose("int a = 1'000; char b = '{'; x<'a>(b)", Language::c), 0U);
    QVERIFY(!scanCode("fn f<'a>(b: &'a str) {}", Language::rust).openQuote);
}

void TestCodeScan::indent_ofPython_isRead_data()
{
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<int>("line");
    QTest::newRow("in order") << QByteArray("def f():\n    a\n    if b:\n        c\nd\n") << -1;
    QTest::newRow("nothing below a head") << QByteArray("def f():\ndef g():\n    a\n") << 1;
    QTest::newRow("deeper without a head") << QByteArray("a\n    b\n") << 1;
    QTest::newRow("between two") << QByteArray("if a:\n        b\n    c\n") << 2;
    QTest::newRow("within brackets") << QByteArray("f(a,\n        b)\nc = [\n  1]\n") << -1;
    QTest::newRow("goes on") << QByteArray("a = b + \\\n        c\nd\n") << -1;
    QTest::newRow("head over lines") << QByteArray("def f(a,\n      b):\n    c\n") << -1;
    QTest::newRow("comment below") << QByteArray("if a:\n# b\n    c\n") << -1;
    QTest::newRow("string over lines") << QByteArray("a = '''\n  b\n'''\nc\n") << -1;
    QTest::newRow("tab") << QByteArray("if a:\n\tb\n\tc\n") << -1;
    QTest::newRow("one line") << QByteArray("if a: b\nc\n") << -1;
    QTest::newRow("comment after a head") << QByteArray("if a:  # why: because\n    c\n") << -1;
}

void TestCodeScan::indent_ofPython_isRead()
{
    QFETCH(const QByteArray, text);
    QTEST(broken(text.toStdString()), "line");
}

void TestCodeScan::hostileTexts_areCutOff()
{
    QVERIFY(scanCode(std::string(100'000, '{'), Language::c).isTooDeep);
    QCOMPARE(loose(std::string(100'000, '}'), Language::c), kMostLoose);
    std::string branches;
    for (int i = 0; i < 20'000; ++i) {
        branches += "#if A\n{\n";
    }
    (void)scanCode(branches, Language::c);
    (void)scanCode(std::string("\0\xff'\"", 4), Language::python);
    for (const char* text : {"", "\"", "'", "\\", "R\"", "#", "/*", "`", "'''", "\"\"\""}) {
        for (int i = 0; i <= static_cast<int>(Language::html); ++i) {
            (void)scanCode(text, static_cast<Language>(i));
        }
    }
}

ROPE_TESTS(TestCodeScan, QCoreApplication)
#include "tst_code_scan.moc"
