// SPDX-License-Identifier: GPL-3.0-or-later
// Every triple of small texts: what the text join promises (core/merge/text_join.h) must hold for all.
#include "core/merge/text_join.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

namespace {
/// All texts of up to `mostLines` lines over the first `letters` letters, with and without a last line
/// end.
std::vector<std::string> allTexts(int letters, int mostLines)
{
    std::vector<std::string> texts{""};
    std::vector<std::string> longest{""};
    for (int lines = 1; lines <= mostLines; ++lines) {
        std::vector<std::string> longer;
        for (const std::string& text : longest) {
            for (int letter = 0; letter < letters; ++letter) {
                longer.push_back(text + static_cast<char>('a' + letter) + "\n");
            }
        }
        for (const std::string& text : longer) {
            texts.push_back(text);
            texts.push_back(text.substr(0, text.size() - 1));
        }
        longest = std::move(longer);
    }
    return texts;
}

TextJoin joined(const std::string& base, const std::string& ours, const std::string& theirs)
{
    return joinTexts(base, ours, theirs).value();
}

/// A version put together again from the join's chunks.
std::string version(const TextJoin& join, const Text& text, LineRange Chunk::*side)
{
    std::string whole;
    for (const Chunk& chunk : join.chunks()) {
        whole += text.lines(chunk.*side);
    }
    return whole;
}

/// The joined text, with each region as "<base|ours|theirs>".
std::string inShort(const TextJoin& join, bool isSwapped)
{
    std::string whole;
    std::size_t region = 0;
    for (const Chunk& chunk : join.chunks()) {
        if (chunk.kind != ChunkKind::region) {
            whole += join.joinedText(chunk);
            continue;
        }
        const RegionTexts texts = join.regionTexts(region++);
        whole.append("<").append(texts.base).append("|");
        whole.append(isSwapped ? texts.theirs : texts.ours).append("|");
        whole.append(isSwapped ? texts.ours : texts.theirs).append(">");
    }
    return whole;
}
}  // namespace

class TestSmallTexts : public QObject
{
    Q_OBJECT
private slots:
    void promises_holdForAll_data();
    void promises_holdForAll();
};

void TestSmallTexts::promises_holdForAll_data()
{
    QTest::addColumn<int>("letters");
    QTest::addColumn<int>("lines");
    QTest::newRow("two-letters-three-lines") << 2 << 3;
    QTest::newRow("three-letters-two-lines") << 3 << 2;
    QTest::newRow("one-letter-six-lines") << 1 << 6;
}

void TestSmallTexts::promises_holdForAll()
{
    QFETCH(int, letters);
    QFETCH(int, lines);
    const auto texts = allTexts(letters, lines);
    for (const std::string& base : texts) {
        for (const std::string& ours : texts) {
            for (const std::string& theirs : texts) {
                const TextJoin join = joined(base, ours, theirs);
                QCOMPARE(version(join, join.base(), &Chunk::base), base);
                QCOMPARE(version(join, join.ours(), &Chunk::ours), ours);
                QCOMPARE(version(join, join.theirs(), &Chunk::theirs), theirs);
                QCOMPARE(inShort(joined(base, theirs, ours), true), inShort(join, false));
                if (ours == base || ours == theirs) {
                    QVERIFY(join.isClean());
                    QCOMPARE(join.cleanText(), theirs);
                }
                if (theirs == base) {
                    QCOMPARE(join.cleanText(), ours);
                }
            }
        }
    }
}

ROPE_TESTS(TestSmallTexts, QCoreApplication)
#include "tst_small_texts.moc"
