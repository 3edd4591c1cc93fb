// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/findings/structured_text.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

class TestStructuredText : public QObject
{
    Q_OBJECT
private slots:
    void faults_areToldWithTheirLine_data();
    void faults_areToldWithTheirLine();
    void keysTwice_areToldWithTheirPath_data();
    void keysTwice_areToldWithTheirPath();
    void hostileTexts_end();
};

void TestStructuredText::faults_areToldWithTheirLine_data()
{
    QTest::addColumn<Language>("language");
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<int>("line");  // -1: none
    QTest::newRow("json") << Language::json << QByteArray("{\n \"a\": [1, 2],\n \"b\": 3\n}") << -1;
    QTest::newRow("json, comma") << Language::json << QByteArray("{\n \"a\": 1\n \"b\": 3\n}") << 2;
    QTest::newRow("toml") << Language::toml << QByteArray("a = 1\n[b]\nc = 2\n") << -1;
    QTest::newRow("toml, table twice") << Language::toml << QByteArray("[b]\nc = 2\n[b]\n") << 2;
    QTest::newRow("toml, quote") << Language::toml << QByteArray("a = \"1\nb = 2\n") << 0;
    QTest::newRow("yaml") << Language::yaml << QByteArray("a:\n  - b\n  - c: 1\n") << -1;
    QTest::newRow("yaml, indent") << Language::yaml << QByteArray("a:\n  b: 1\n c: 2\n") << 2;
    QTest::newRow("yaml, comma first") << Language::yaml << QByteArray("# a\n, b: 1\n") << 1;
    QTest::newRow("yaml, documents") << Language::yaml << QByteArray("a: 1\n---\nb: 2\n") << -1;
    QTest::newRow("xml") << Language::markup << QByteArray("<a>\n<b/>\n</a>") << -1;
    QTest::newRow("xml, tag") << Language::markup << QByteArray("<a>\n<b>\n</a>") << 2;
    QTest::newRow("ini has none") << Language::ini << QByteArray("[a\nb\n=\n") << -1;
}

void TestStructuredText::faults_areToldWithTheirLine()
{
    QFETCH(const Language, language);
    QFETCH(const QByteArray, text);
    const auto reading = readStructured(text.toStdString(), language);
    QVERIFY(reading);
    QTEST(reading->fault ? static_cast<int>(reading->fault->line) : -1, "line");
    QVERIFY(!reading->fault || !reading->fault->words.empty());
}

void TestStructuredText::keysTwice_areToldWithTheirPath_data()
{
    QTest::addColumn<Language>("language");
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<QByteArray>("key");  // empty: none
    QTest::addColumn<int>("line");
    QTest::newRow("json") << Language::json << QByteArray("{\"a\": {\"b\": 1,\n\"b\": 2}}")
                          << QByteArray("a.b") << 1;
    QTest::newRow("json, elsewhere")
        << Language::json << QByteArray("[{\"a\": 1}, {\"a\": {\"a\": 2}}]") << QByteArray() << 0;
    QTest::newRow("yaml") << Language::yaml << QByteArray("a:\n  b: 1\n  c: 2\n  b: 3\n")
                          << QByteArray("a.b") << 3;
    QTest::newRow("yaml, list") << Language::yaml << QByteArray("- b: 1\n- b: 2\n") << QByteArray()
                                << 0;
    QTest::newRow("yaml, joined in")
        << Language::yaml << QByteArray("x: &x {a: 1}\ny:\n  <<: *x\n  <<: *x\n") << QByteArray()
        << 0;
    QTest::newRow("ini") << Language::ini << QByteArray("[a]\nb = 1\n# b = 2\nb=3\n")
                         << QByteArray("a.b") << 3;
    QTest::newRow("ini, sections")
        << Language::ini << QByteArray("[a]\nb=1\n[c]\nb=1\n") << QByteArray() << 0;
    QTest::newRow("ini, goes on") << Language::ini << QByteArray("[a]\nb =\n  c = 1\n  c = 2\n")
                                  << QByteArray() << 0;
}

void TestStructuredText::keysTwice_areToldWithTheirPath()
{
    QFETCH(const Language, language);
    QFETCH(const QByteArray, text);
    QFETCH(const QByteArray, key);
    QFETCH(const int, line);
    const auto reading = readStructured(text.toStdString(), language);
    QVERIFY(!reading->fault);
    QCOMPARE(reading->twice.size(), key.isEmpty() ? 0U : 1U);
    if (!key.isEmpty()) {
        QCOMPARE(reading->twice.begin()->first, key.toStdString());
        QCOMPARE(static_cast<int>(reading->twice.begin()->second), line);
    }
}

void TestStructuredText::hostileTexts_end()
{
    for (int i = 0; i <= static_cast<int>(Language::html); ++i) {
        for (const std::string& text : {std::string(),
                                        std::string(100'000, '['),
                                        std::string(100'000, '{'),
                                        std::string(50'000, '-') + " a",
                                        std::string("\0\xff\xfe", 3),
                                        std::string("a: &a [*a]\n"),
                                        std::string("<!DOCTYPE a [<!ENTITY b \"bb\"><!ENTITY c "
                                                    "\"&b;&b;&b;\">]><a>&c;</a>")}) {
            (void)readStructured(text, static_cast<Language>(i));
        }
    }
}

ROPE_TESTS(TestStructuredText, QCoreApplication)
#include "tst_structured_text.moc"
