// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diff/diff_tokens.h"
#include "core/diff/folded_tokens.h"
#include "core/diff/word_diff.h"
#include "tests/support/random_texts.h"
#include "tests/support/test_program.h"

#include <QElapsedTimer>
#include <QTest>

#include <algorithm>

using namespace rope;

namespace {
std::vector<TokenId> tokens(const char* letters)
{
    std::vector<TokenId> ids;
    for (const char* c = letters; *c != '\0'; ++c) {
        ids.push_back(static_cast<TokenId>(*c - 'a'));
    }
    return ids;
}

std::vector<TokenId> randomTokens(test::Random& random, int most, int alphabet)
{
    std::vector<TokenId> ids(static_cast<std::size_t>(test::below(random, most + 1)));
    std::generate(ids.begin(), ids.end(), [&] {
        return static_cast<TokenId>(test::below(random, alphabet));
    });
    return ids;
}

/// The second text, rebuilt from the first and the hunks; fails on hunks that are out of order or touch.
std::vector<TokenId> applied(const std::vector<TokenId>& before,
                             const std::vector<TokenId>& after,
                             const std::vector<Hunk>& hunks)
{
    std::vector<TokenId> out;
    LineNumber at = 0;
    for (const Hunk& hunk : hunks) {
        const bool isApart = hunk.before.begin > at || at == 0;
        if (!isApart || hunk.before.end < hunk.before.begin
            || (hunk.before.isEmpty() && hunk.after.isEmpty())) {
            return {~TokenId{0}};
        }
        out.insert(out.end(), before.begin() + at, before.begin() + hunk.before.begin);
        out.insert(out.end(), after.begin() + hunk.after.begin, after.begin() + hunk.after.end);
        at = hunk.before.end;
    }
    out.insert(out.end(), before.begin() + at, before.end());
    return out;
}

std::size_t commonLength(const std::vector<TokenId>& a, const std::vector<TokenId>& b)
{
    std::vector<std::size_t> row(b.size() + 1);
    for (const TokenId x : a) {
        std::size_t diagonal = 0;
        for (std::size_t j = 0; j < b.size(); ++j) {
            const std::size_t above = row[j + 1];
            row[j + 1] = x == b[j] ? diagonal + 1 : std::max(above, row[j]);
            diagonal = above;
        }
    }
    return row[b.size()];
}

std::size_t removedCount(const std::vector<Hunk>& hunks)
{
    std::size_t removed = 0;
    for (const Hunk& hunk : hunks) {
        removed += hunk.before.size();
    }
    return removed;
}
}  // namespace

class TestDiffTokens : public QObject
{
    Q_OBJECT
private slots:
    void diff_knownTexts_givesHunks_data();
    void diff_knownTexts_givesHunks();
    void diff_allSmallTexts_rebuildTheSecond();
    void diff_randomTexts_rebuildTheSecond();
    void diff_myers_isShortest();
    void diff_rareLine_leads();
    void diff_hostileTexts_endSoon_data();
    void diff_hostileTexts_endSoon();
    void diff_stopRequested_isCancelled();
    void fold_stretches_areOneToken();
    void fold_randomTexts_keepWhatTheyAre();
    void words_anyTexts_buildBoth();
    void words_phrase_isOneEdit();
};

void TestDiffTokens::diff_knownTexts_givesHunks_data()
{
    QTest::addColumn<QByteArray>("before");
    QTest::addColumn<QByteArray>("after");
    QTest::addColumn<QList<int>>("hunk");  // the only one: before begin, end, after begin, end
    QTest::newRow("insertion-into-nothing")
        << QByteArray("") << QByteArray("ab") << QList<int>{0, 0, 0, 2};
    QTest::newRow("deletion-of-all")
        << QByteArray("ab") << QByteArray("") << QList<int>{0, 2, 0, 0};
    QTest::newRow("change-in-the-middle")
        << QByteArray("abc") << QByteArray("axc") << QList<int>{1, 2, 1, 2};
    QTest::newRow("repeated-token-slides-down")
        << QByteArray("abc") << QByteArray("abbc") << QList<int>{2, 2, 2, 3};
    QTest::newRow("run-slides-to-the-end")
        << QByteArray("aaa") << QByteArray("aaaa") << QList<int>{3, 3, 3, 4};
}

void TestDiffTokens::diff_knownTexts_givesHunks()
{
    QFETCH(QByteArray, before);
    QFETCH(QByteArray, after);
    QFETCH(QList<int>, hunk);
    for (const DiffMethod method : {DiffMethod::histogram, DiffMethod::myers}) {
        const auto hunks =
            diffTokens(tokens(before.constData()), tokens(after.constData()), 26, method);
        QVERIFY(hunks.hasValue());
        QCOMPARE(hunks->size(), std::size_t{1});
        const Hunk& h = hunks->front();
        const QList<int> found{static_cast<int>(h.before.begin),
                               static_cast<int>(h.before.end),
                               static_cast<int>(h.after.begin),
                               static_cast<int>(h.after.end)};
        QCOMPARE(found, hunk);
    }
}

void TestDiffTokens::diff_allSmallTexts_rebuildTheSecond()
{
    std::vector<std::vector<TokenId>> texts{{}};
    for (std::size_t i = 0; i < texts.size() && texts[i].size() < 5; ++i) {
        for (TokenId token = 0; token < 2; ++token) {
            auto longer = texts[i];
            longer.push_back(token);
            texts.push_back(longer);
        }
    }
    for (const auto& a : texts) {
        for (const auto& b : texts) {
            for (const DiffMethod method : {DiffMethod::histogram, DiffMethod::myers}) {
                const auto hunks = diffTokens(a, b, 2, method);
                QCOMPARE(applied(a, b, *hunks), b);
            }
        }
    }
}

void TestDiffTokens::diff_randomTexts_rebuildTheSecond()
{
    test::Random random(test::randomSeed());
    for (int round = 0; round < 3000; ++round) {
        const int alphabet = 1 + test::below(random, 30);
        const auto a = randomTokens(random, 120, alphabet);
        const auto b = randomTokens(random, 120, alphabet);
        for (const DiffMethod method : {DiffMethod::histogram, DiffMethod::myers}) {
            const auto hunks = diffTokens(a, b, static_cast<TokenId>(alphabet), method);
            QVERIFY2(applied(a, b, *hunks) == b, qPrintable(QStringLiteral("round %1").arg(round)));
        }
    }
}

void TestDiffTokens::diff_myers_isShortest()
{
    test::Random random(test::randomSeed() + 1);
    for (int round = 0; round < 1500; ++round) {
        const auto a = randomTokens(random, 60, 4);
        const auto b = randomTokens(random, 60, 4);
        const auto hunks = diffTokens(a, b, 4, DiffMethod::myers);
        QCOMPARE(a.size() - removedCount(*hunks), commonLength(a, b));
    }
}

void TestDiffTokens::diff_rareLine_leads()
{
    // The braces b are frequent, the names rare: what is inserted is the middle function as a whole.
    const auto hunks = diffTokens(tokens("abcbdb"), tokens("abcbxbdb"), 26);
    QCOMPARE(hunks->size(), std::size_t{1});
    QCOMPARE(hunks->front().after.size(), LineNumber{2});
    QVERIFY(hunks->front().before.isEmpty());
}

void TestDiffTokens::diff_hostileTexts_endSoon_data()
{
    QTest::addColumn<QString>("shape");
    for (const char* shape : {"one-line-repeated",
                              "all-different",
                              "reversed",
                              "two-lines-alternating",
                              "random-pairs"}) {
        QTest::newRow(shape) << QString::fromLatin1(shape);
    }
}

void TestDiffTokens::diff_hostileTexts_endSoon()
{
    QFETCH(QString, shape);
    constexpr TokenId kCount = 100'000;
    std::vector<TokenId> a(kCount);
    std::vector<TokenId> b(kCount + 1000);
    test::Random random(test::randomSeed());
    for (TokenId i = 0; i < a.size(); ++i) {
        a[i] = shape == QLatin1String("one-line-repeated")       ? 0
               : shape == QLatin1String("two-lines-alternating") ? i % 2
               : shape == QLatin1String("random-pairs")
                   ? static_cast<TokenId>(test::below(random, 50'000))
                   : i;
    }
    for (TokenId i = 0; i < b.size(); ++i) {
        b[i] = shape == QLatin1String("one-line-repeated")       ? 0
               : shape == QLatin1String("two-lines-alternating") ? (i / 2) % 2
               : shape == QLatin1String("random-pairs")
                   ? static_cast<TokenId>(test::below(random, 50'000))
               : shape == QLatin1String("reversed") ? kCount - 1 - i % kCount
                                                    : kCount + i;
    }
    QElapsedTimer timer;
    timer.start();
    const auto hunks = diffTokens(a, b, 3 * kCount);
    QCOMPARE(applied(a, b, *hunks), b);
    QVERIFY2(timer.elapsed() < 60'000, qPrintable(QStringLiteral("%1 ms").arg(timer.elapsed())));
    qInfo("%s: %lld ms", qPrintable(shape), timer.elapsed());
}

void TestDiffTokens::diff_stopRequested_isCancelled()
{
    std::stop_source source;
    source.request_stop();
    const auto hunks =
        diffTokens(tokens("abc"), tokens("xbz"), 26, DiffMethod::histogram, source.get_token());
    QVERIFY(!hunks.hasValue());
    QCOMPARE(hunks.error().code, ErrorCode::cancelled);
}

void TestDiffTokens::fold_stretches_areOneToken()
{
    // a b c stand once in both, side by side; so do e f; p q stand in one text only, x x is no stretch.
    const auto [before, after] = foldTokens(tokens("abcdxxef"), tokens("pqabcxdef"), 26);
    QCOMPARE(before.tokens, tokens("adxxe"));
    QCOMPARE(before.starts, (std::vector<LineNumber>{0, 3, 4, 5, 6, 8}));
    QCOMPARE(after.tokens, tokens("paxde"));
    QCOMPARE(after.starts, (std::vector<LineNumber>{0, 2, 5, 6, 7, 9}));
}

void TestDiffTokens::fold_randomTexts_keepWhatTheyAre()
{
    test::Random random(test::randomSeed() + 3);
    for (int round = 0; round < 2000; ++round) {
        const int alphabet = 1 + test::below(random, 60);
        const auto a = randomTokens(random, 40, alphabet);
        const auto b = randomTokens(random, 40, alphabet);
        const auto [before, after] = foldTokens(a, b, static_cast<TokenId>(alphabet));
        const auto stretchOf =
            [](const std::vector<TokenId>& text, const FoldedTokens& folded, LineNumber i) {
                const LineRange range = folded.unfolded({i, i + 1});
                return std::vector<TokenId>(text.begin() + range.begin, text.begin() + range.end);
            };
        QCOMPARE(before.starts.front(), LineNumber{0});
        QCOMPARE(before.starts.back(), static_cast<LineNumber>(a.size()));
        for (LineNumber i = 0; i < before.count(); ++i) {
            const auto stretch = stretchOf(a, before, i);
            QVERIFY(!stretch.empty() && stretch.front() == before.tokens[i]);
            const auto isInBoth = [&b](TokenId token) {
                return std::find(b.begin(), b.end(), token) != b.end();
            };
            const auto shared = std::count_if(stretch.begin(), stretch.end(), isInBoth);
            QVERIFY(shared == 0 || shared == static_cast<std::ptrdiff_t>(stretch.size()));
            for (LineNumber j = 0; j < after.count(); ++j) {
                const bool isSame = stretch == stretchOf(b, after, j);
                QCOMPARE(before.tokens[i] == after.tokens[j], isSame);
            }
        }
    }
}

void TestDiffTokens::words_anyTexts_buildBoth()
{
    test::Random random(test::randomSeed() + 2);
    for (int round = 0; round < 500; ++round) {
        const std::string base = test::numberedText(test::below(random, 6));
        const std::string after =
            test::edited(random, base, test::below(random, 4), "fresh words ");
        std::string rebuiltBefore;
        std::string rebuiltAfter;
        for (const WordRun& run : diffWords(base, after)) {
            rebuiltBefore += run.change == WordChange::added ? "" : run.text;
            rebuiltAfter += run.change == WordChange::removed ? "" : run.text;
        }
        QCOMPARE(rebuiltBefore, base);
        QCOMPARE(rebuiltAfter, after);
    }
}

void TestDiffTokens::words_phrase_isOneEdit()
{
    QCOMPARE(countEdits("a = 1;\n", "a = new thing;\n"), 1);
    QCOMPARE(countEdits("same\n", "same\n"), 0);
    const auto runs = diffWords("slots(lock, start, 20)", "slots(lock, start, lock.cycle)");
    const std::vector<WordRun> expected{{WordChange::kept, "slots(lock, start, "},
                                        {WordChange::removed, "20"},
                                        {WordChange::added, "lock.cycle"},
                                        {WordChange::kept, ")"}};
    QCOMPARE(runs, expected);
}

ROPE_TESTS(TestDiffTokens, QCoreApplication)
#include "tst_diff_tokens.moc"
