// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diff/marked_lines.h"
#include "core/merge/region_reading.h"
#include "tests/support/random_texts.h"
#include "tests/support/test_program.h"

#include <QTest>

#include <algorithm>
#include <iterator>

using namespace rope;
using Kind = MarkedLine::Kind;

namespace {
/// The marks in one line: "kind words", a word mark as [gone>new].
QByteArray told(const std::string& other, const std::string& text)
{
    const auto otherLines = splitLines(other);
    const auto lines = splitLines(text);
    QByteArray out;
    for (const MarkedLine& marked : markLines(other, text)) {
        std::string line(marked.kind == Kind::removed ? otherLines[marked.line]
                                                      : lines[marked.line]);
        for (auto mark = marked.words.rbegin(); mark != marked.words.rend(); ++mark) {
            const std::string now = line.substr(mark->begin, mark->end - mark->begin);
            line.replace(mark->begin, now.size(), "[" + mark->gone + ">" + now + "]");
        }
        while (!line.empty() && line.back() == '\n') {
            line.pop_back();
        }
        const char signs[] = {'=', '+', '~', '-'};
        out += signs[static_cast<std::size_t>(marked.kind)];
        out += QByteArray::fromStdString(line) + '|';
    }
    return out;
}

std::string randomLines(test::Random& random)
{
    constexpr const char* kWords[] = {
        "one", "two", "rare", "x", "=", "(", ")", " ", " ", "  ", "\t"};
    std::string text;
    for (int words = test::below(random, 60); words > 0; --words) {
        text += test::below(random, 7) == 0 ? "\n" : kWords[test::below(random, std::size(kWords))];
    }
    return text;
}

/// Some bytes taken out, some words put in.
std::string wordsChanged(test::Random& random, std::string text)
{
    for (int edits = test::below(random, 6); edits > 0; --edits) {
        const auto at = static_cast<std::size_t>(test::below(random, int(text.size()) + 1));
        if (test::below(random, 2) == 0) {
            text.erase(at, static_cast<std::size_t>(test::below(random, 5)));
        } else {
            text.insert(at, test::below(random, 3) == 0 ? "\n" : "new");
        }
    }
    return text;
}
}  // namespace

class TestMarkedLines : public QObject
{
    Q_OBJECT
private slots:
    void lines_areMarked_data();
    void lines_areMarked();
    void marks_areOfTheText_whateverItIs();
    void hugeStretches_areToldInLines();
    void region_tellsWhatBothBrought();
    void region_tellsWhatBecameOfTheBase();
    void region_onlyBlanksDiffer();
    void region_isBetterReadAgainstEachOther();
    void around_areOnlyLinesThatAllHave();
};

void TestMarkedLines::lines_areMarked_data()
{
    QTest::addColumn<QByteArray>("other");
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<QByteArray>("expected");
    const auto row =
        [](const char* name, const char* other, const char* text, const char* expected) {
            QTest::newRow(name) << QByteArray(other) << QByteArray(text) << QByteArray(expected);
        };
    row("nothing", "", "", "");
    row("all new", "", "a b\nc\n", "+a b|+c|");
    row("all gone", "a b\n", "", "-a b|");
    row("a number", "TIMEOUT = 30\n", "TIMEOUT = 60\n", "~TIMEOUT = [30>60]|");
    row("in brackets",
        "    lines.append(row(passages[i]))\n",
        "    lines.append(row(passage))\n",
        "~    lines.append(row([passages[i]>passage]))|");
    row("a number alone", "41\n", "43\n", "-41|+43|");
    row("a rewritten block",
        "if test -n \"$host\"; then\n",
        "AC_ARG_WITH([port],\n",
        "-if test -n \"$host\"; then|+AC_ARG_WITH([port],|");
    row("signs alone keep nothing", "(a, b);\n", "(x, y);\n", "-(a, b);|+(x, y);|");
    row("a word added", "call(one)\n", "call(one, two)\n", "~call(one[>, two])|");
    row("a word gone", "call(one, two)\n", "call(one)\n", "~call(one[, two>])|");
    row("indent is never marked",
        "x = first(value)\n",
        "    x = second(value)\n",
        "~    x = [first>second](value)|");
    row("only blanks differ", "x = 1\n", "\tx = 1\n", "~\tx = 1|");
    row("the line end alone", "x = 1", "x = 1\n", "~x = 1|");
    row("the best match is taken, not the first",
        "start(alpha, beta)\nstop(gamma)\n",
        "stop(gamma, now)\n",
        "-start(alpha, beta)|~stop(gamma[>, now])|");
    row("pairs do not cross",
        "aaa(one, two)\nbbb(three, four)\n",
        "bbb(three, five)\naaa(one, six)\n",
        "+bbb(three, five)|~aaa(one, [two>six])|-bbb(three, four)|");
    row("unchanged around", "a\nkeep(b, 1)\nc\n", "a\nkeep(b, 2)\nc\n", "=a|~keep(b, [1>2])|=c|");
}

void TestMarkedLines::lines_areMarked()
{
    QFETCH(const QByteArray, other);
    QFETCH(const QByteArray, text);
    QFETCH(const QByteArray, expected);
    QCOMPARE(told(other.toStdString(), text.toStdString()), expected);
}

void TestMarkedLines::marks_areOfTheText_whateverItIs()
{
    test::Random random(test::randomSeed());
    for (int round = 0; round < 500; ++round) {
        const std::string other = randomLines(random);
        const std::string text = wordsChanged(random, other);
        const auto otherLines = splitLines(other);
        const auto lines = splitLines(text);
        LineNumber next = 0;
        LineNumber nextOther = 0;
        for (const MarkedLine& marked : markLines(other, text)) {
            if (marked.kind == Kind::removed) {
                QCOMPARE(marked.line, nextOther++);
                continue;
            }
            QCOMPARE(marked.line, next++);
            if (marked.kind == Kind::added) {
                continue;
            }
            QCOMPARE(marked.other, nextOther++);
            std::string undone(lines[marked.line]);
            const std::size_t indent = undone.find_first_not_of(" \t\r\n");
            for (auto mark = marked.words.rbegin(); mark != marked.words.rend(); ++mark) {
                QVERIFY(mark->begin >= indent
                        && mark->end <= undone.find_last_not_of(" \t\r\n") + 1);
                undone.replace(mark->begin, mark->end - mark->begin, mark->gone);
            }
            // Indent and line end aside, taking the marks back gives the other line.
            const auto bare = [](std::string_view line) {
                const auto begin = std::min(line.find_first_not_of(" \t\r\n"), line.size());
                return std::string(
                    line.substr(begin, line.find_last_not_of(" \t\r\n") + 1 - begin));
            };
            QCOMPARE(bare(undone), bare(otherLines[marked.other]));
        }
        QCOMPARE(next, LineNumber(lines.size()));
        QCOMPARE(nextOther, LineNumber(otherLines.size()));
    }
}

void TestMarkedLines::hugeStretches_areToldInLines()
{
    std::string other;
    std::string text;
    for (int i = 0; i < 5000; ++i) {
        other += "value number " + std::to_string(i) + " before\n";
        text += "value number " + std::to_string(i) + " after\n";
    }
    const auto marked = markLines(other, text);
    QCOMPARE(marked.size(), std::size_t(10000));
    QVERIFY(std::none_of(marked.begin(), marked.end(), [](const MarkedLine& line) {
        return line.kind == Kind::edited;
    }));
}

void TestMarkedLines::region_tellsWhatBothBrought()
{
    const RegionTexts texts{"a = 1\n", "a = 2\nalike()\nours()\n", "a = 3\nalike()\n"};
    const RegionReading region = readAgainstBase(texts);
    QCOMPARE(region.theirs.lines.size(), std::size_t(2));
    QVERIFY(!region.theirs.lines[0].isShared);
    QVERIFY(region.theirs.lines[1].isShared);
    QVERIFY(region.ours.lines[1].isShared);
    QVERIFY(!region.ours.lines[2].isShared);
}

void TestMarkedLines::region_tellsWhatBecameOfTheBase()
{
    const RegionReading region = readAgainstBase(
        {"gone()\nstays()\nvalue = 1\n", "gone()\nstays()\nvalue = 2\n", "stays()\nvalue = 1\n"});
    QVERIFY(region.base[0].byTheirs == Fate::removed && region.base[0].byOurs == Fate::kept);
    QVERIFY(region.base[1].isKept());
    QVERIFY(region.base[2].byTheirs == Fate::kept && region.base[2].byOurs == Fate::edited);
    QCOMPARE(region.theirs.lines[0].goneBefore, std::vector<std::string>{"gone()\n"});
    const RegionReading emptied = readAgainstBase({"x\n", "", "x\ny\n"});
    QCOMPARE(emptied.ours.goneAtEnd, std::vector<std::string>{"x\n"});
    QVERIFY(!emptied.ours.isUnchanged());
}

void TestMarkedLines::region_onlyBlanksDiffer()
{
    const RegionReading region = readAgainstBase({"a b\nc\n", "a b \nc\n", "a b\nd\n"});
    QVERIFY(region.ours.onlyBlanksDiffer);
    QVERIFY(!region.theirs.onlyBlanksDiffer);
    QVERIFY(!readAgainstBase({"a\n", "a\n", "b\n"}).ours.onlyBlanksDiffer);
    QVERIFY(readAgainstBase({"a\n", "a\n", "b\n"}).ours.isUnchanged());
}

void TestMarkedLines::region_isBetterReadAgainstEachOther()
{
    QVERIFY(areBetterReadAgainstEachOther({"", "a\n", "b\n"}));
    QVERIFY(!areBetterReadAgainstEachOther({"", "", "b\n"}));
    QVERIFY(areBetterReadAgainstEachOther(
        {"end\n", "fee(lock, 20)\nend of it\n", "fee(lock, 30)\nend of it\n"}));
    QVERIFY(!areBetterReadAgainstEachOther({"n = 1\n", "n = 2\n", "n = 3\n"}));
}

void TestMarkedLines::around_areOnlyLinesThatAllHave()
{
    const auto join = joinTexts("a\nb\nc\nx\nd\ne\n", "A\nb\nc\nours\nd\ne\n", "a\nb\nc\ntheirs\nd\nE\n");
    QVERIFY(join);
    QCOMPARE(join->regionCount(), std::size_t{1});
    const LinesAround around = linesAround(*join, 0, 5, 5);
    QCOMPARE(around.before, (std::vector<std::string_view>{"b\n", "c\n"}));
    QCOMPARE(around.after, std::vector<std::string_view>{"d\n"});
    QCOMPARE(linesAround(*join, 0, 1, 0).before, std::vector<std::string_view>{"c\n"});
    const auto whole = joinTexts("x\n", "ours\n", "theirs\n");
    QVERIFY(whole);
    QVERIFY(linesAround(*whole, 0, 2, 2).before.empty());
    QVERIFY(linesAround(*whole, 0, 2, 2).after.empty());
}

ROPE_TESTS(TestMarkedLines, QCoreApplication)
#include "tst_marked_lines.moc"
