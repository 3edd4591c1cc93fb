// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/findings/definitions.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

class TestDefinitions : public QObject
{
    Q_OBJECT
private slots:
    void definitions_areTold();
    void unknownLanguage_hasNone();
    void oddNamesAndBytes_doNoHarm();
    void crash_marksTheTextAndStartsAnew();
    void missingHelper_isTold();
};

void TestDefinitions::definitions_areTold()
{
    DefinitionReader reader;
    QVERIFY(reader.isAvailable());
    const Definitions found =
        reader.read("a/b.py", "class Lock:\n    def hours(self, day):\n        return 1\n");
    QVERIFY(found);
    QCOMPARE(found->size(), 2U);
    QCOMPARE(found->at(1).name, "hours");
    QCOMPARE(found->at(1).scope, "Lock");
    QCOMPARE(found->at(1).signature, "(self, day)");
    QCOMPARE(found->at(1).line, 1U);
    QCOMPARE(*found->at(1).end, 2U);
    QCOMPARE(reader.read("a/b.py", "class Lock:\n    def hours(self, day):\n        return 1\n"),
             found);
}

void TestDefinitions::unknownLanguage_hasNone()
{
    DefinitionReader reader;
    QVERIFY(reader.read("notes.txt", "anything")->empty());
    QVERIFY(reader.read("a.py", "")->empty());
}

void TestDefinitions::oddNamesAndBytes_doNoHarm()
{
    DefinitionReader reader;
    QCOMPARE(reader.read("a\n\"b\xff --options=x.py", "def f(): # \xff\n    pass\n")->size(), 1U);
    QVERIFY(reader.read("--help", "def f():\n"));
    QCOMPARE(reader.read("x.py", "def g():\n    pass\n")->size(), 1U);
}

void TestDefinitions::crash_marksTheTextAndStartsAnew()
{
    DefinitionReader reader;
    const Definitions hostile = reader.read("a.c", std::string(200'000, '{'));
    QVERIFY(hostile == nullptr || hostile->empty());
    QCOMPARE(reader.read("b.c", "int f(void) { return 0; }\n")->size(), 1U);
    QVERIFY(reader.read("c.c", std::string(kMostDefinitionBytes + 1, ' ')) == nullptr);
}

void TestDefinitions::missingHelper_isTold()
{
    const QByteArray path = qgetenv("PATH");
    qputenv("PATH", "/nowhere");
    DefinitionReader reader;
    const bool isAvailable = reader.isAvailable();
    const Definitions found = reader.read("a.py", "def f():\n    pass\n");
    qputenv("PATH", path);
    QVERIFY(!isAvailable);
    QVERIFY(found == nullptr);
}

ROPE_TESTS(TestDefinitions, QCoreApplication)
#include "tst_definitions.moc"
