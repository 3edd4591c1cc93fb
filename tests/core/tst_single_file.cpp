// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decide/splice.h"
#include "core/join/single_file.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

class TestSingleFile : public QObject
{
    Q_OBJECT
private slots:
    void texts_areJoinedByLines()
    {
        const auto forecast =
            forecastOfFile({"plan.txt", "a\nb\nc\n", "a\nb ours\nc\n", "a\nb theirs\nc\n"});
        QVERIFY(forecast);
        QCOMPARE((*forecast)->openCount(), std::size_t{1});
        Splice splice({"id", "", "mine", "yours", {}, {}}, *forecast);
        QCOMPARE(splice.openCount(), std::size_t{1});
        splice.decideAllOpen(0, FileChoice::theirs);
        QCOMPARE(splice.files().front().text->wholeText(), std::string("a\nb theirs\nc\n"));
    }
    void withoutBase_isAddedByBoth()
    {
        const auto forecast = forecastOfFile({"plan.txt", {}, "one\n", "two\n"});
        QVERIFY(forecast);
        const FileOutcome& file = (*forecast)->join.files.front();
        QCOMPARE(file.kind, OutcomeKind::bothAdded);
        QVERIFY(!file.base);
        QCOMPARE(file.regionCount(), std::size_t{1});
    }
    void bytesThatAreNoText_areNamed()
    {
        const std::string binary("a\0b", 3);
        QCOMPARE(forecastOfFile({"x", binary, "a", "b"}).error().subject, std::string("base"));
        QCOMPARE(forecastOfFile({"x", "a", binary, "b"}).error().subject, std::string("ours"));
        QCOMPARE(forecastOfFile({"x", "a", "b", binary}).error().subject, std::string("theirs"));
    }
};

ROPE_TESTS(TestSingleFile, QCoreApplication)
#include "tst_single_file.moc"
