// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/merge/marked_text.h"
#include "core/merge/text_join.h"
#include "core/text/text_form.h"
#include "tests/support/random_texts.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

namespace {
TextJoin join(const std::string& base, const std::string& ours, const std::string& theirs)
{
    auto joined = joinTexts(base, ours, theirs);
    return std::move(joined).value();
}

/// One side's text, put together again from the chunks.
std::string rebuilt(const TextJoin& joined, const Text& text, LineRange Chunk::*side)
{
    std::string bytes;
    for (const Chunk& chunk : joined.chunks()) {
        bytes += text.lines(chunk.*side);
    }
    return bytes;
}

ChunkKind mirrored(ChunkKind kind)
{
    return kind == ChunkKind::ours     ? ChunkKind::theirs
           : kind == ChunkKind::theirs ? ChunkKind::ours
                                       : kind;
}
}  // namespace

class TestTextJoin : public QObject
{
    Q_OBJECT
private slots:
    void join_editsApart_inAnyOrder_giveTheSame();
    void join_unicodeForms_areProperties_data();
    void join_unicodeForms_areProperties();
    void join_legacyText_isReadAndWrittenBack();
    void encoded_missingCharacter_isRefused();
    void join_knownCases_data();
    void join_knownCases();
    void join_randomTexts_keepsPromises();
    void join_randomTexts_agreesWithGit();
    void join_lineEndsConverted_joinsEdits();
    void join_mixedLineEnds_areLeftAlone();
    void markedText_missingLastLineEnd_keepsMarkersApart();
    void regionKey_sameTexts_isStable();
};

void TestTextJoin::join_knownCases_data()
{
    QTest::addColumn<QByteArray>("base");
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("theirs");
    QTest::addColumn<int>("regions");
    QTest::addColumn<QByteArray>("text");  // joined, where clean
    const auto row = [](const char* name,
                        const char* base,
                        const char* ours,
                        const char* theirs,
                        int regions,
                        const char* text) {
        QTest::newRow(name) << QByteArray(base) << QByteArray(ours) << QByteArray(theirs) << regions
                            << QByteArray(text);
    };
    row("one-side-only", "a\nb\n", "a\nB\n", "a\nb\n", 0, "a\nB\n");
    row("same-change-twice", "a\nb\n", "a\nB\n", "a\nB\n", 0, "a\nB\n");
    row("one-line-between-is-enough", "a\nb\nc\n", "A\nb\nc\n", "a\nb\nC\n", 0, "A\nb\nC\n");
    row("adjacent-changes", "a\nb\n", "A\nb\n", "a\nB\n", 1, "");
    row("insertion-beside-a-change", "a\nb\n", "a\nx\nb\n", "a\nB\n", 1, "");
    row("touching-deletions", "a\nb\nc\nd\n", "a\nc\nd\n", "a\nb\nd\n", 1, "");
    row("equal-appends", "a\n", "a\nx\n", "a\nx\n", 0, "a\nx\n");
    row("different-appends", "a\n", "a\nx\n", "a\ny\n", 1, "");
    row("last-line-end-removed-by-one", "a\nb\n", "a\nb", "a\nb\n", 0, "a\nb");
    row("equal-last-lines-but-for-the-end", "a\n", "a\nx\n", "a\nx", 1, "");
    row("added-twice-one-empty", "", "x\n", "", 0, "x\n");
    row("regions-stay-apart", "a\nm\nb\n", "A1\nm\nB1\n", "A2\nm\nB2\n", 2, "");
    row("invalid-utf8-survives",
        "a\n\xFF\xFE\nb\nc\n",
        "A\n\xFF\xFE\nb\nc\n",
        "a\n\xFF\xFE\nb\nC\n",
        0,
        "A\n\xFF\xFE\nb\nC\n");
}

void TestTextJoin::join_knownCases()
{
    QFETCH(QByteArray, base);
    QFETCH(QByteArray, ours);
    QFETCH(QByteArray, theirs);
    QFETCH(int, regions);
    QFETCH(QByteArray, text);
    const TextJoin joined = join(base.toStdString(), ours.toStdString(), theirs.toStdString());
    QCOMPARE(static_cast<int>(joined.regionCount()), regions);
    if (joined.isClean()) {
        QCOMPARE(QByteArray::fromStdString(joined.cleanText()), text);
    }
}

void TestTextJoin::join_randomTexts_keepsPromises()
{
    test::Random random(test::randomSeed());
    for (int round = 0; round < 4000; ++round) {
        const int alphabet = 2 + test::below(random, 12);
        const std::string base = test::randomText(random, 14, alphabet);
        const std::string ours = test::randomText(random, 14, alphabet);
        const std::string theirs = round % 2 == 0 ? test::randomText(random, 14, alphabet)
                                                  : test::edited(random, base, 3, "t");
        const TextJoin joined = join(base, ours, theirs);
        QCOMPARE(rebuilt(joined, joined.base(), &Chunk::base), base);
        QCOMPARE(rebuilt(joined, joined.ours(), &Chunk::ours), ours);
        QCOMPARE(rebuilt(joined, joined.theirs(), &Chunk::theirs), theirs);
        const TextJoin swapped = join(base, theirs, ours);
        QCOMPARE(swapped.chunks().size(), joined.chunks().size());
        for (std::size_t i = 0; i < joined.chunks().size(); ++i) {
            const Chunk& a = joined.chunks()[i];
            const Chunk& b = swapped.chunks()[i];
            QVERIFY(a.kind == mirrored(b.kind) && a.base == b.base && a.ours == b.theirs
                    && a.theirs == b.ours);
        }
        const TextJoin unchangedOurs = join(base, base, theirs);
        QVERIFY(unchangedOurs.isClean());
        QCOMPARE(unchangedOurs.cleanText(), theirs);
        const TextJoin sameChange = join(base, ours, ours);
        QVERIFY(sameChange.isClean());
        QCOMPARE(sameChange.cleanText(), ours);
    }
}

void TestTextJoin::join_randomTexts_agreesWithGit()
{
    // Distinct lines with clear edits: here every sound three-way join must find the same regions.
    test::Random random(test::randomSeed() + 7);
    test::ScratchRepository scratch;
    for (int round = 0; round < 150; ++round) {
        const std::string base = test::numberedText(5 + test::below(random, 40));
        const std::string ours = test::edited(random, base, test::below(random, 6), "ours ");
        const std::string theirs = test::edited(random, base, test::below(random, 6), "theirs ");
        scratch.write("base", QByteArray::fromStdString(base));
        scratch.write("ours", QByteArray::fromStdString(ours));
        scratch.write("theirs", QByteArray::fromStdString(theirs));
        QProcess git;
        git.setWorkingDirectory(scratch.folder());
        git.start(QStringLiteral("git"),
                  {QStringLiteral("merge-file"),
                   QStringLiteral("-p"),
                   QStringLiteral("--diff3"),
                   QStringLiteral("ours"),
                   QStringLiteral("base"),
                   QStringLiteral("theirs")});
        QVERIFY(git.waitForFinished());
        const TextJoin joined = join(base, ours, theirs);
        QCOMPARE(joined.isClean(), git.exitCode() == 0);
        if (joined.isClean()) {
            QCOMPARE(QByteArray::fromStdString(joined.cleanText()), git.readAllStandardOutput());
        } else {
            QCOMPARE(static_cast<int>(joined.regionCount()), git.exitCode());
        }
    }
}

void TestTextJoin::join_lineEndsConverted_joinsEdits()
{
    const TextJoin joined = join("a\nb\nc\n", "a\nB\nc\n", "a\r\nb\r\nc\r\n");
    QVERIFY(joined.isClean());
    QVERIFY(joined.hasConvertedLineEnds());
    QCOMPARE(joined.cleanText(), std::string("a\r\nB\r\nc\r\n"));
    const TextJoin back = join("a\r\nb\r\n", "a\nb\n", "a\r\nb\r\nc\r\n");
    QCOMPARE(back.cleanText(), std::string("a\nb\nc\n"));
}

void TestTextJoin::join_mixedLineEnds_areLeftAlone()
{
    const TextJoin joined = join("a\r\nb\nc\n", "a\r\nb\nC\n", "A\r\nb\nc\n");
    QVERIFY(joined.isClean());
    QCOMPARE(joined.cleanText(), std::string("A\r\nb\nC\n"));
    QVERIFY(!joined.hasConvertedLineEnds());
}

void TestTextJoin::markedText_missingLastLineEnd_keepsMarkersApart()
{
    const MarkedText marked = markedText(join("a\n", "a\nx", "a\ny"), {"O", "B", "T"});
    QCOMPARE(marked.text, std::string("a\n<<<<<<< O\nx\n||||||| B\n=======\ny\n>>>>>>> T\n"));
    QCOMPARE(marked.regionLines, std::vector<LineNumber>{1});
    const MarkedText two = markedText(join("a\nm\nb\n", "1\nm\n2\n", "3\nm\n4\n"));
    QCOMPARE(two.regionLines, (std::vector<LineNumber>{0, 8}));
}

void TestTextJoin::regionKey_sameTexts_isStable()
{
    const TextJoin one = join("a\nb\n", "a\nx\n", "a\ny\n");
    const TextJoin moved = join("z\nz\na\nb\n", "z\nz\na\nx\n", "z\nz\na\ny\n");
    QCOMPARE(one.regionKey(0), moved.regionKey(0));
    QVERIFY(one.regionKey(0) != join("a\nb\n", "a\ny\n", "a\nx\n").regionKey(0));
}

namespace {
QByteArray inForm(const char* text, const char* encoding, bool hasMark)
{
    return QByteArray::fromStdString(*encodedText(text, {encoding, hasMark}));
}
}  // namespace

void TestTextJoin::join_unicodeForms_areProperties_data()
{
    QTest::addColumn<QByteArray>("base");
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("theirs");
    QTest::addColumn<QByteArray>("joined");
    constexpr const char* kBase = "eins\nzwölf\ndrei\nvier\n";
    constexpr const char* kOurs = "EINS\nzwölf\ndrei\nvier\n";
    constexpr const char* kTheirs = "eins\nzwölf\ndrei\nvier €\n";
    constexpr const char* kJoined = "EINS\nzwölf\ndrei\nvier €\n";
    for (const char* encoding : {"UTF-16LE", "UTF-16BE", "UTF-32LE", "UTF-32BE"}) {
        QTest::newRow(encoding) << inForm(kBase, encoding, true) << inForm(kOurs, encoding, true)
                                << inForm(kTheirs, encoding, true)
                                << inForm(kJoined, encoding, true);
    }
    QTest::newRow("mark-kept") << inForm(kBase, "UTF-8", true) << inForm(kOurs, "UTF-8", true)
                               << inForm(kTheirs, "UTF-8", true) << inForm(kJoined, "UTF-8", true);
    QTest::newRow("ours-adds-the-mark")
        << inForm(kBase, "UTF-8", false) << inForm(kOurs, "UTF-8", true)
        << inForm(kTheirs, "UTF-8", false) << inForm(kJoined, "UTF-8", true);
    QTest::newRow("theirs-drops-the-mark")
        << inForm(kBase, "UTF-8", true) << inForm(kOurs, "UTF-8", true)
        << inForm(kTheirs, "UTF-8", false) << inForm(kJoined, "UTF-8", false);
    QTest::newRow("theirs-converts-to-utf-8")
        << inForm(kBase, "UTF-16LE", true) << inForm(kOurs, "UTF-16LE", true)
        << inForm(kTheirs, "UTF-8", false) << inForm(kJoined, "UTF-8", false);
}

void TestTextJoin::join_unicodeForms_areProperties()
{
    QFETCH(QByteArray, base);
    QFETCH(QByteArray, ours);
    QFETCH(QByteArray, theirs);
    QFETCH(QByteArray, joined);
    for (const bool isSwapped : {false, true}) {
        const auto join = joinTexts(base.toStdString(),
                                    (isSwapped ? theirs : ours).toStdString(),
                                    (isSwapped ? ours : theirs).toStdString());
        QVERIFY(join->isClean());
        QCOMPARE(QByteArray::fromStdString(join->encoded(join->cleanText()).value()), joined);
    }
    const auto untouched = joinTexts(base.toStdString(), base.toStdString(), theirs.toStdString());
    QCOMPARE(QByteArray::fromStdString(untouched->encoded(untouched->cleanText()).value()), theirs);
}

void TestTextJoin::join_legacyText_isReadAndWrittenBack()
{
    const std::string base =
        *encodedText("Погода в порту сегодня хорошая\nодин\nдва\nтри\n", {"WINDOWS-1251", false});
    const std::string ours =
        *encodedText("Погода в порту сегодня плохая\nодин\nдва\nтри\n", {"WINDOWS-1251", false});
    const std::string theirs = *encodedText("Погода в порту сегодня хорошая\nодин\nдва\nчетыре\n",
                                            {"WINDOWS-1251", false});
    const auto join = joinTexts(base, ours, theirs, {}, LegacyText::decoded);
    QVERIFY(join->isClean());
    QVERIFY(join->form().has_value());
    QCOMPARE(QString::fromStdString(join->cleanText()),
             QStringLiteral("Погода в порту сегодня плохая\nодин\nдва\nчетыре\n"));
    const auto asBytes = joinTexts(base, ours, theirs);
    QCOMPARE(join->encoded(join->cleanText()).value(), asBytes->cleanText());
    // A side that is plain ASCII has not converted anything.
    const auto ascii = joinTexts(base, ours, "one\n", {}, LegacyText::decoded);
    QVERIFY(!ascii->hasConvertedForm());
}

void TestTextJoin::encoded_missingCharacter_isRefused()
{
    QVERIFY(!encodedText("Пять\n", {"ISO-8859-1", false}).has_value());
    QVERIFY(!decodedText(std::string("\xFF\xFE\x00", 3), {"UTF-16LE", true}).has_value());
    QVERIFY(!formOf("\xC3\x28").has_value());
    // What the fuzzer found: an empty version has no form, one with a mark alone is not empty, and two
    // new forms are no property to join.
    const std::string markOnly = "\xFF\xFE";
    QCOMPARE(joinTexts("", markOnly + "(\n", "")->cleanText(), markOnly + "(\n");
    QCOMPARE(joinTexts(markOnly, "", "")->cleanText(), std::string());
    const std::string otherMark("\0\0\xFE\xFF", 4);
    QCOMPARE(joinTexts(markOnly, otherMark, "x\n")->isClean(),
             joinTexts(markOnly, "x\n", otherMark)->isClean());
    QVERIFY(isBeyondLines(std::string("a\0b", 3)));
    QVERIFY(!isBeyondLines(*encodedText("a\n", {"UTF-16BE", true})));
}

// Associativity, where it must hold: edits that never meet may be joined in any order.
void TestTextJoin::join_editsApart_inAnyOrder_giveTheSame()
{
    test::Random random(test::randomSeed());
    const auto part = [](const char* name) {
        std::string text;
        for (int i = 0; i < 15; ++i) {
            text += std::string(name) + " line " + std::to_string(i) + "\n";
        }
        return text + "kept after " + name + "\n";
    };
    const std::string parts[] = {part("first"), part("second"), part("third")};
    const std::string base = parts[0] + parts[1] + parts[2];
    const auto joined = [&base](const std::string& ours, const std::string& theirs) {
        return joinTexts(base, ours, theirs)->cleanText();
    };
    for (int round = 0; round < 300; ++round) {
        std::string edits[3];
        for (int i = 0; i < 3; ++i) {
            // The last line of a part stays, so that the edits of two parts never touch.
            const std::string tail = parts[i].substr(parts[i].rfind("kept"));
            const std::string head = parts[i].substr(0, parts[i].size() - tail.size());
            edits[i] = test::edited(random, head, 3, "new" + std::to_string(i) + "-") + tail;
        }
        const std::string x = edits[0] + parts[1] + parts[2];
        const std::string y = parts[0] + edits[1] + parts[2];
        const std::string z = parts[0] + parts[1] + edits[2];
        const std::string all = edits[0] + edits[1] + edits[2];
        QCOMPARE(joined(joined(x, y), z), all);
        QCOMPARE(joined(x, joined(y, z)), all);
        QCOMPARE(joined(joined(z, x), y), all);
    }
}

ROPE_TESTS(TestTextJoin, QCoreApplication)
#include "tst_text_join.moc"
