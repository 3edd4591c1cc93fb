// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/merge/candidates.h"
#include "core/merge/file_signs.h"
#include "core/merge/line_splice.h"
#include "core/merge/word_splice.h"
#include "tests/support/random_texts.h"
#include "tests/support/test_program.h"

#include <QTest>

#include <algorithm>
#include <set>
#include <stop_token>

using namespace rope;

namespace {
const Candidate* find(const std::vector<Candidate>& candidates, CandidateKind kind)
{
    const auto found = std::find_if(candidates.begin(),
                                    candidates.end(),
                                    [kind](const Candidate& c) { return c.kind == kind; });
    return found == candidates.end() ? nullptr : &*found;
}

/// What a kind gives that is not offered for the region, with what that would mean.
Candidate ofKind(CandidateKind kind, const RegionTexts& texts)
{
    Candidate candidate;
    candidate.kind = kind;
    candidate.text = candidateText(kind, texts).value();
    candidate.consequences = consequencesOfText(candidate.text, texts);
    return candidate;
}

bool has(const Candidate& candidate, ConsequenceKind kind)
{
    return std::any_of(candidate.consequences.begin(),
                       candidate.consequences.end(),
                       [kind](const Consequence& c) { return c.kind == kind; });
}
}  // namespace

class TestCandidates : public QObject
{
    Q_OBJECT
private slots:
    void candidates_neighbouringEdits_offerWordSpliceFirst();
    void candidates_oneNumber_offerTheGreater_data();
    void candidates_oneNumber_offerTheGreater();
    void candidates_emptyBase_offerBothOrders();
    void candidates_anyRegion_keepTheContract();
    void candidates_composedKinds_giveWhatPeopleWrite_data();
    void candidates_composedKinds_giveWhatPeopleWrite();
    void candidates_systematicRewrite_reachesOurLines();
    void candidates_adoptedEdit_offersThatSideFirst_data();
    void candidates_adoptedEdit_offersThatSideFirst();
    void aFileOfBoth_isAdoptedOnlyIfNearlyTheSame();
    void bothInARow_keepWhatTheyShared_data();
    void bothInARow_keepWhatTheyShared();
    void bothInARow_areNotOfferedOfAnEditedBase();
    void rewrites_longerTargets();
    void ranking_followsTheFile_data();
    void ranking_followsTheFile();
    void texts_areThoseOfTheCandidates();
    void lineSplice_randomTexts_keepEveryUntouchedLine();
    void consequences_bothOfAnEditedLine_warnOfRepeat();
    void consequences_blockTwice_isNamed();
    void consequences_repeats_areOfEqualLinesInOneBlock_data();
    void consequences_repeats_areOfEqualLinesInOneBlock();
    void consequences_removedName_isNamedWhereItIsGoneElsewhere();
    void consequences_brackets_areThoseOfTheFile();
    void first_dropsNothing_whereAnotherKeepsAll();
    void greater_namesTheNumber();
    void consequences_sideTaken_countsDroppedEdits();
    void consequences_lostEdits_areCounted_data();
    void consequences_lostEdits_areCounted();
    void versionOfNobody_isNotOffered();
    void consequences_areOfTheText_whereverItCameFrom();
    void lineSplice_crlf_keepsIt();
    void earlierText_isOfferedFirst_once();
    void stop_givesWhatWasFound();
    void kinds_tableIsWhole();
    void origins_lines_tellTheirSide();
    void originsAfterEdit_newLine_isByHand();
};

void TestCandidates::candidates_neighbouringEdits_offerWordSpliceFirst()
{
    const RegionTexts texts{
        "    if not booked(start):\n        add(Slot(lock, 20))\n",
        "    if not booked(start) and tide_ok(start):\n        add(Slot(lock, 20))\n",
        "    if not booked(start):\n        add(Slot(lock, lock.cycle))\n"};
    const auto candidates = candidatesFor(texts);
    QCOMPARE(candidates.front().kind, CandidateKind::wordSplice);
    QCOMPARE(
        candidates.front().text,
        std::string(
            "    if not booked(start) and tide_ok(start):\n        add(Slot(lock, lock.cycle))\n"));
    QVERIFY(has(candidates.front(), ConsequenceKind::keepsBothEdits));
    QVERIFY(has(candidates.front(), ConsequenceKind::bracketsBalance));
    QVERIFY(!spliceWords({"a = 1\n", "a = 2\n", "a = 3\n"}).has_value());
}

void TestCandidates::candidates_oneNumber_offerTheGreater_data()
{
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("theirs");
    QTest::addColumn<QByteArray>("greater");
    QTest::newRow("integers") << QByteArray("revision = 42\n") << QByteArray("revision = 43\n")
                              << QByteArray("revision = 43\n");
    QTest::newRow("by-value-not-by-letters")
        << QByteArray("v = 2.10\n") << QByteArray("v = 2.9\n") << QByteArray("v = 2.10\n");
    QTest::newRow("dates") << QByteArray("2026-11-02\n") << QByteArray("2026-10-30\n")
                           << QByteArray("2026-11-02\n");
    QTest::newRow("words-differ-too")
        << QByteArray("a = 1\n") << QByteArray("b = 2\n") << QByteArray();
}

void TestCandidates::candidates_oneNumber_offerTheGreater()
{
    QFETCH(QByteArray, ours);
    QFETCH(QByteArray, theirs);
    QFETCH(QByteArray, greater);
    const std::string o = ours.toStdString();
    const std::string t = theirs.toStdString();
    const auto text = candidateText(CandidateKind::greater, {"base\n", o, t});
    QCOMPARE(text.has_value(), !greater.isEmpty());
    if (text) {
        QCOMPARE(QByteArray::fromStdString(*text), greater);
        QCOMPARE(*candidateText(CandidateKind::greater, {"base\n", t, o}), *text);
    }
}

void TestCandidates::candidates_emptyBase_offerBothOrders()
{
    const auto candidates = candidatesFor({"", "x", "y\n"});
    QCOMPARE(candidates.front().kind, CandidateKind::theirsOurs);
    QCOMPARE(candidates.front().text, std::string("y\nx"));
    QCOMPARE(find(candidates, CandidateKind::oursTheirs)->text,
             std::string("x\ny\n"));  // a line end comes between
}

void TestCandidates::candidates_anyRegion_keepTheContract()
{
    test::Random random(test::randomSeed());
    for (int round = 0; round < 600; ++round) {
        const std::string base = test::randomText(random, 6, 5);
        const std::string ours = test::edited(random, base, 2, "o");
        const std::string theirs = test::edited(random, base, 2, "t");
        const RegionTexts texts{base, ours, theirs};
        std::set<std::string> seen;
        for (const Candidate& candidate : candidatesFor(texts)) {
            QVERIFY2(seen.insert(candidate.text).second, "a text was offered twice");
            QCOMPARE(candidate.origins.size(), splitLines(candidate.text).size());
            QVERIFY(!candidate.consequences.empty() || candidate.text == base
                    || candidate.text == ours || candidate.text == theirs
                    || candidate.kind == CandidateKind::neither);
        }
        for (const std::string& text : {base, ours, theirs, std::string()}) {
            QVERIFY(seen.contains(text));
        }
    }
}

void TestCandidates::candidates_composedKinds_giveWhatPeopleWrite_data()
{
    QTest::addColumn<int>("kind");
    QTest::addColumn<QByteArray>("base");
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("theirs");
    QTest::addColumn<QByteArray>("result");  // empty: the kind does not apply
    const auto row = [](const char* name,
                        CandidateKind kind,
                        const char* base,
                        const char* ours,
                        const char* theirs,
                        const char* result) {
        QTest::newRow(name) << static_cast<int>(kind) << QByteArray(base) << QByteArray(ours)
                            << QByteArray(theirs) << QByteArray(result);
    };
    using enum CandidateKind;
    row("lines-that-touch", lineSplice, "a\nb\n", "a\nB\n", "b\n", "B\n");
    row("lines-put-in-at-one-place", lineSplice, "x\n", "o\nx\n", "t\nx\n", "t\no\nx\n");
    row("one-line-changed-by-both",
        lineSplice,
        "call(one, two)\nend\n",
        "call(ONE, two)\nend\n",
        "new\ncall(one, TWO)\nend\n",
        "new\ncall(ONE, TWO)\nend\n");
    row("words-clash", lineSplice, "a = 1\n", "a = 2\n", "a = 3\n", "");
    row("theirs-indented-anew",
        blindSplice,
        "\tif (wet) {\n\t\tpump();\n",
        "#endif\n\tif (wet) {\n\t\tpump();\n",
        "    if (wet) {\n        pump();\n",
        "#endif\n    if (wet) {\n        pump();\n");
    row("edit-moved-along",
        movedEdit,
        "libs = -lm -lcrypto\n",
        "libs = -lm -lnettle\n",
        "ssl = -lcrypto\nlibs = -lm $(ssl)\n",
        "ssl = -lnettle\nlibs = -lm $(ssl)\n");
    row("edit-moved-nowhere", movedEdit, "a b\n", "a c\n", "x\n", "");
    row("one-list", list, "first\n", "our,\nours\n", "their\n", "their,\nour,\nours\n");
    row("no-list", list, "first\n", "our\n", "their\n", "");
}

void TestCandidates::candidates_composedKinds_giveWhatPeopleWrite()
{
    QFETCH(int, kind);
    QFETCH(QByteArray, base);
    QFETCH(QByteArray, ours);
    QFETCH(QByteArray, theirs);
    QFETCH(QByteArray, result);
    const std::string b = base.toStdString();
    const std::string o = ours.toStdString();
    const std::string t = theirs.toStdString();
    const auto text = candidateText(static_cast<CandidateKind>(kind), {b, o, t});
    QCOMPARE(text.has_value(), !result.isEmpty());
    QCOMPARE(QByteArray::fromStdString(text.value_or("")), result);
}

void TestCandidates::candidates_systematicRewrite_reachesOurLines()
{
    const auto join = joinTexts("old_call(1)\nkeep\nold_call(2)\nkeep\nold_call(3)\n",
                                "old_call(1)\nkeep\nold_call(2)\nkeep\nold_call(3, slack)\n",
                                "new_call(1)\nkeep\nnew_call(2)\nkeep\nmore\nnew_call(3)\n");
    QCOMPARE(join->regionCount(), std::size_t{1});
    const Rewrites rewrites = theirsRewrites(*join);
    QCOMPARE(rewrites.names.size(), std::size_t{1});
    QCOMPARE(rewrites.names.at("old_call"), std::string("new_call"));
    // Ours alone says what a rewritten call of its own should look like.
    const RegionTexts added{"", "old_call(7)\n", "more\n"};
    const FileHabits habits{rewrites, {}, {}};
    const auto candidates = candidatesFor(added, habits);
    const Candidate* const found = find(candidates, CandidateKind::rewrite);
    QVERIFY(found == nullptr || found->text.find("old_call") == std::string::npos);
    QCOMPARE(candidateText(CandidateKind::rewrite, added, habits).value_or(""),
             std::string("more\nnew_call(7)\n"));
    QVERIFY(!candidateText(CandidateKind::rewrite, added, {}).has_value());
}

void TestCandidates::candidates_adoptedEdit_offersThatSideFirst_data()
{
    QTest::addColumn<QByteArray>("base");
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("theirs");
    QTest::addColumn<int>("first");
    QTest::newRow("theirs-took-ours-in")
        << QByteArray("int n;\n") << QByteArray("int n = 0; /* set */\n")
        << QByteArray("long n = 0; /* set */\n") << static_cast<int>(CandidateKind::theirs);
    QTest::newRow("ours-changed-blanks")
        << QByteArray("\tgo();\n") << QByteArray("    go();\n") << QByteArray("\tgo(fast);\n")
        << static_cast<int>(CandidateKind::theirs);
    QTest::newRow("ours-removed-it")
        << QByteArray("one line\ntwo lines\nthree lines\n") << QByteArray("gone\n")
        << QByteArray("one line\ntwo long lines\nthree lines\n")
        << static_cast<int>(CandidateKind::ours);
}

void TestCandidates::candidates_adoptedEdit_offersThatSideFirst()
{
    QFETCH(QByteArray, base);
    QFETCH(QByteArray, ours);
    QFETCH(QByteArray, theirs);
    QFETCH(int, first);
    const std::string b = base.toStdString();
    const std::string o = ours.toStdString();
    const std::string t = theirs.toStdString();
    QCOMPARE(static_cast<int>(candidatesFor({b, o, t}).front().kind), first);
}

/// A heading and a last entry alike say nothing; a file that is nearly the same does.
void TestCandidates::aFileOfBoth_isAdoptedOnlyIfNearlyTheSame()
{
    const auto firstOf = [](const std::string& ours, const std::string& theirs) {
        const auto join = joinTexts({}, ours, theirs);
        return candidatesFor(join->regionTexts(0), habitsOf(*join)).front().kind;
    };
    const std::string head = "# Glossary\n\n";
    QCOMPARE(firstOf(head + "neap tide\nsill\n", head + "pound\nsill\n"),
             CandidateKind::theirsOurs);
    std::string many;
    for (int i = 0; i < 20; ++i) {
        many += "entry number " + std::to_string(i) + "\n";
    }
    QCOMPARE(firstOf(head + "neap tide\n" + many, head + "neap tides\n" + many),
             CandidateKind::theirs);
}

void TestCandidates::bothInARow_keepWhatTheyShared_data()
{
    QTest::addColumn<QByteArray>("base");
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("theirs");
    QTest::addColumn<QByteArray>("joined");  // theirs, then ours
    const auto row = [](const char* name,
                        const char* base,
                        const char* ours,
                        const char* theirs,
                        const char* both) {
        QTest::newRow(name) << QByteArray(base) << QByteArray(ours) << QByteArray(theirs)
                            << QByteArray(both);
    };
    row("tail", "", "A\n\n", "B\n\n", "B\n\nA\n\n");
    row("head", "", "\nA\n", "\nB\n", "\nB\n\nA\n");
    row("both", "s\ne\n", "s\n(\nA\n)\ne\n", "s\n(\nB\n)\ne\n", "s\n(\nB\n)\n(\nA\n)\ne\n");
    row("a file of both", "", "# T\n\nA\nz\n", "# T\n\nB\nz\n", "# T\n\nB\nA\nz\n");
    row("crlf",
        "s\r\ne\r\n",
        "s\r\nA\r\n\r\ne\r\n",
        "s\r\nB\r\n\r\ne\r\n",
        "s\r\nB\r\n\r\nA\r\n\r\ne\r\n");
    row("at the end, without a line end", "s\n", "s\n\nA", "s\n\nB", "s\n\nB\n\nA");
    row("nothing shared", "s\ne\n", "s\nA\ne\n", "s\nB\ne\n", "s\nB\nA\ne\n");
}

void TestCandidates::bothInARow_keepWhatTheyShared()
{
    QFETCH(const QByteArray, base);
    QFETCH(const QByteArray, ours);
    QFETCH(const QByteArray, theirs);
    QFETCH(const QByteArray, joined);
    const auto join = joinTexts(base.toStdString(), ours.toStdString(), theirs.toStdString());
    QCOMPARE(join->regionCount(), std::size_t{1});
    std::string text;
    for (const Chunk& chunk : join->chunks()) {
        text += chunk.kind == ChunkKind::region
                    ? candidateText(CandidateKind::theirsOurs, join->regionTexts(0)).value()
                    : std::string(join->joinedText(chunk));
    }
    QCOMPARE(QByteArray::fromStdString(text), joined);
}

void TestCandidates::bothInARow_areNotOfferedOfAnEditedBase()
{
    for (const Candidate& candidate : candidatesFor({"fee 10\n", "fee 12\n", "fee of 10\n"})) {
        QVERIFY(candidate.kind != CandidateKind::theirsOurs);
        QVERIFY(candidate.kind != CandidateKind::oursTheirs);
        QVERIFY(candidate.kind != CandidateKind::unionOfLines);
    }
}

/// theirs has put two values into a structure; what ours writes with them follows.
void TestCandidates::rewrites_longerTargets()
{
    const char* const base = "a(w_min)\nb\nc(w_max)\nd\ng(w_min)\ne\nf(w_max)\n";
    const char* const ours = "a(w_min)\nb\nc(w_max)\nd\nh(w_min, w_max)\ne\nf(w_max)\n";
    const char* const theirs =
        "a(box->w.min)\nb\nc(box->w.max)\nd\ng(box->w.min)\ne\nf(box->w.max)\n";
    const auto join = joinTexts(base, ours, theirs);
    QCOMPARE(join->regionCount(), std::size_t{1});
    const FileHabits habits = habitsOf(*join);
    QCOMPARE(habits.rewrites.names.at("w_min"), std::string("box->w.min"));
    QCOMPARE(candidateText(CandidateKind::rewrite, join->regionTexts(0), habits).value_or(""),
             std::string("h(box->w.min, box->w.max)\n"));
    // A name that stays, with something put in before it.
    const auto led = joinTexts("use(deep)\nx\nget(deep)\ny\nput(deep)\n",
                               "use(deep)\nx\nget(deep)\ny\nput(deep, now)\n",
                               "use(boat.deep)\nx\nget(boat.deep)\ny\nput(boat.deep)\n");
    QCOMPARE(theirsRewrites(*led).names.at("deep"), std::string("boat.deep"));
    // Where most of it is left, nothing was rewritten.
    const auto left = joinTexts("use(deep)\nx\nget(deep)\ny\nput(deep)\nz\ndeep deep deep\n",
                                "use(deep)\nx\nget(deep)\ny\nput(deep, now)\nz\ndeep deep deep\n",
                                "use(low)\nx\nget(low)\ny\nput(deep)\nz\ndeep deep deep\n");
    QVERIFY(theirsRewrites(*left).names.empty());
    QVERIFY(theirsRewrites(*joinTexts("a\n", "b\n", "c\n")).names.empty());
}

void TestCandidates::ranking_followsTheFile_data()
{
    QTest::addColumn<QByteArray>("base");
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("theirs");
    QTest::addColumn<int>("first");
    const auto row = [](const char* name,
                        const char* base,
                        const char* ours,
                        const char* theirs,
                        CandidateKind k) {
        QTest::newRow(name) << QByteArray(base) << QByteArray(ours) << QByteArray(theirs)
                            << static_cast<int>(k);
    };
    using enum CandidateKind;
    row("two different options at one place",
        "case 'h': height = number(value); return done;\nend of it\n",
        "case 'h': height = number(value); return done;\ncase 'w': width = number(value); return "
        "done;\nend of it\n",
        "case 'h': height = number(value); return done;\ncase 'd': depth = number(value); return "
        "done;\nend of it\n",
        theirsOurs);
    row("the same option, more of it",
        "options:\nend of it\n",
        "options:\ncase 'w': width = number(value);\nend of it\n",
        "options:\ncase 'w': width = number(value); return done;\nend of it\n",
        theirs);
    row("adopted elsewhere in the file",
        "first line\nkeep\nsecond line\nkeep this\nlast\n",
        "first of ours\nkeep\nsecond of ours\nkeep this\nlast\n",
        "first of ours\nkeep\nanother second, quite so\nkeep this\nlast\n",
        theirs);
    row("formatted by theirs",
        "name = 'tide'\nother\n",
        "name = 'ebb' + 'tide'\nother\n",
        "name = \"tide\"\nother\n",
        ours);
    row("ours has adopted theirs, and shares no work",
        "open the gate\n",
        "open the gate of the lock at noon tomorrow\n",
        "open the gate of the lock at noon\n",
        theirs);
}

void TestCandidates::ranking_followsTheFile()
{
    QFETCH(const QByteArray, base);
    QFETCH(const QByteArray, ours);
    QFETCH(const QByteArray, theirs);
    QFETCH(const int, first);
    const auto join = joinTexts(base.toStdString(), ours.toStdString(), theirs.toStdString());
    QCOMPARE(join->regionCount(), std::size_t{1});
    const auto candidates = candidatesFor(join->regionTexts(0), habitsOf(*join));
    QCOMPARE(QByteArray::fromStdString(std::string(nameOf(candidates.front().kind))),
             QByteArray::fromStdString(std::string(nameOf(static_cast<CandidateKind>(first)))));
}

void TestCandidates::texts_areThoseOfTheCandidates()
{
    test::Random random(test::randomSeed());
    for (int round = 0; round < 200; ++round) {
        const std::string base = test::randomText(random, 6, 5);
        const std::string ours = test::edited(random, base, 2, "o");
        const std::string theirs = test::edited(random, base, 2, "t");
        const RegionTexts texts{base, ours, theirs};
        const auto whole = candidatesFor(texts);
        const auto alone = candidateTexts(texts);
        QCOMPARE(alone.size(), whole.size());
        for (std::size_t i = 0; i < whole.size(); ++i) {
            QVERIFY(alone[i].kind == whole[i].kind && alone[i].text == whole[i].text);
        }
        QCOMPARE(candidateTexts(texts, {}, {}, {}, 1).front().text, whole.front().text);
    }
}

void TestCandidates::lineSplice_randomTexts_keepEveryUntouchedLine()
{
    test::Random random(test::randomSeed());
    int spliced = 0;
    for (int round = 0; round < 2'000; ++round) {
        const std::string base = test::numberedText(8);
        const std::string ours = test::edited(random, base, 3, "o");
        const std::string theirs = test::edited(random, base, 3, "t");
        for (const Blanks blanks : {Blanks::count, Blanks::ignore}) {
            const auto text = spliceLines({base, ours, theirs}, blanks);
            if (!text) {
                continue;
            }
            ++spliced;
            for (const std::string_view line : splitLines(base)) {
                const bool isKept =
                    ours.find(line) != std::string::npos && theirs.find(line) != std::string::npos;
                QVERIFY2(!isKept || text->find(line) != std::string::npos, text->c_str());
            }
            QCOMPARE(*spliceLines({base, base, theirs}, blanks), theirs);
            QCOMPARE(*spliceLines({base, ours, base}, blanks), ours);
        }
    }
    QVERIFY(spliced > 200);
}

void TestCandidates::consequences_bothOfAnEditedLine_warnOfRepeat()
{
    const RegionTexts texts{
        "total = fee(boat, 20)\n", "total = fee(boat, 20) + tax\n", "total = fee(boat, 30)\n"};
    const Candidate both = ofKind(CandidateKind::theirsOurs, texts);
    QVERIFY(has(both, ConsequenceKind::twoVersions));
    QVERIFY(both.consequences.back().isWarning());
}

void TestCandidates::consequences_blockTwice_isNamed()
{
    const RegionTexts texts{
        "if ready:\n    go()\n", "if ready:\n    go(fast)\n", "if ready:\n    go(slow)\n"};
    QVERIFY(has(ofKind(CandidateKind::oursTheirs, texts), ConsequenceKind::opensBlockTwice));
}

void TestCandidates::consequences_repeats_areOfEqualLinesInOneBlock_data()
{
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("theirs");
    QTest::addColumn<bool>("isRepeat");
    const auto row = [](const char* name, const char* ours, const char* theirs, bool isRepeat) {
        QTest::newRow(name) << QByteArray(ours) << QByteArray(theirs) << isRepeat;
    };
    row("two sections", "[season.winter]\nfee = 20\n", "[season.regatta]\nfee = 20\n", false);
    row("two columns", "tide_height REAL,\n", "tide_time REAL,\n", false);
    row("the same import", "import os\nimport sys\n", "import json\nimport sys\n", true);
    row("two functions", "def a():\n    return one\n", "def b():\n    return one\n", false);
    row("the same call", "open(gate)\nfill(lock)\n", "open(gate)\nring(bell)\n", true);
}

void TestCandidates::consequences_repeats_areOfEqualLinesInOneBlock()
{
    QFETCH(const QByteArray, ours);
    QFETCH(const QByteArray, theirs);
    QFETCH(const bool, isRepeat);
    const std::string first = ours.toStdString();
    const std::string second = theirs.toStdString();
    const auto candidates = candidatesFor({"", first, second});
    const Candidate* both = find(candidates, CandidateKind::theirsOurs);
    QVERIFY(both != nullptr);
    QCOMPARE(has(*both, ConsequenceKind::repeatsLines)
                 || has(*both, ConsequenceKind::opensBlockTwice),
             isRepeat);
}

void TestCandidates::consequences_removedName_isNamedWhereItIsGoneElsewhere()
{
    const auto join = joinTexts("for i in range(n):\n    use(a[i])\nend\nmiddle\nlog(i)\n",
                                "for i in range(n):\n    use(a[i])\nend\nmiddle\nlog(i, twice)\n",
                                "for item in a:\n    use(item)\nend\nmiddle\nlog(item)\n");
    QVERIFY(join.hasValue() && join->regionCount() == 1);
    const FileSigns signs = signsOf(*join);
    auto candidates = candidatesFor(join->regionTexts(0));
    addFileConsequences(candidates, *join, 0, signs);
    const Candidate* ours = find(candidates, CandidateKind::ours);
    QCOMPARE(ours->consequences.back(),
             (Consequence{ConsequenceKind::usesNameTheirsRemoved, 1, "i"}));
    QVERIFY(!has(*find(candidates, CandidateKind::theirs), ConsequenceKind::usesNameTheirsRemoved));
    // Renamed in this place alone, it is no danger: nothing else depends on it.
    const auto local =
        joinTexts("x\nold_name = 1\ny\n", "x\nold_name = 2\ny\n", "x\nname = 1\ny\n");
    QVERIFY(fileConsequences("old_name = 2\n", *local, 0, signsOf(*local)).empty());
}

void TestCandidates::consequences_brackets_areThoseOfTheFile()
{
    // Theirs wraps the call in a block whose end joins outside the region.
    const auto join = joinTexts("call(a);\nmiddle\nother\nlast\n",
                                "call(b);\nmiddle\nother\nlast\n",
                                "if (x) { call(a);\nmiddle\nother\n}\nlast\n");
    QVERIFY(join.hasValue() && join->regionCount() == 1);
    auto candidates = candidatesFor(join->regionTexts(0));
    addFileConsequences(candidates, *join, 0, signsOf(*join));
    QVERIFY(has(*find(candidates, CandidateKind::ours), ConsequenceKind::bracketsExtra));
    QVERIFY(!has(*find(candidates, CandidateKind::theirs), ConsequenceKind::bracketsExtra));
}

/// Nobody should lose an edit by taking what stands first.
void TestCandidates::first_dropsNothing_whereAnotherKeepsAll()
{
    // Both added an argument: theirs was first, and composing both is what keeps both.
    const RegionTexts both{"f(a)\n", "f(a, b)\n", "f(a, c)\n"};
    const Candidate first = candidatesFor(both).front();
    QVERIFY(has(first, ConsequenceKind::keepsBothEdits));
    QCOMPARE(candidateTexts(both, {}, {}, {}, 1).front().text, first.text);
    QVERIFY(find(candidatesFor(both), CandidateKind::theirs)->rank == 0);
    // Theirs has taken over ours' work all over the splice.
    FileHabits habits;
    habits.takenOver = 0.06;
    QCOMPARE(candidatesFor(both, habits).front().kind, CandidateKind::theirs);
    habits.takenOver = 0.05;
    QCOMPARE(candidatesFor(both, habits).front().text, first.text);
    // Two additions of one shape: that the other has the same signs does not make it hold ours.
    const char* const ours = "[season.regatta]\nfrom = \"06-12\"\nfactor = 1.4\n";
    const char* const theirs = "[season.winter]\nfrom = \"11-01\"\nfactor = 0.8\n";
    QCOMPARE(candidatesFor({"", ours, theirs}).front().kind, CandidateKind::theirsOurs);
    // A side that did what the other did, and more, drops nothing.
    QCOMPARE(candidatesFor({"x = a\n", "x = a + 1  # next\n", "x = a + 1\n"}).front().kind,
             CandidateKind::ours);
    // Nothing keeps both: the order is the measured one.
    const auto clash = candidatesFor({"x = 1\n", "x = one\n", "x = two\n"});
    QVERIFY(std::none_of(clash.begin(), clash.end(), [](const Candidate& candidate) {
        return has(candidate, ConsequenceKind::keepsBothEdits)
               && std::none_of(candidate.consequences.begin(),
                               candidate.consequences.end(),
                               [](const Consequence& c) { return c.isWarning(); });
    }));
    QVERIFY(std::is_sorted(clash.begin(), clash.end(), [](const Candidate& a, const Candidate& b) {
        return a.rank < b.rank;
    }));
}

void TestCandidates::greater_namesTheNumber()
{
    const auto named = [](const char* ours, const char* theirs) {
        const auto number = greaterNumber({"0\n", ours, theirs});
        return !number ? std::string()
                       : number->text + (number->isOurs ? " ours" : " theirs")
                             + (number->kind == NumberKind::date      ? " date"
                                : number->kind == NumberKind::version ? " version"
                                                                      : " count");
    };
    QCOMPARE(named("v = 1.10\n", "v = 1.9\n"), std::string("1.10 ours version"));
    QCOMPARE(named("v = 2\n", "v = 0\n"), std::string("2 ours count"));
    QCOMPARE(named("on 2026-04-11.\n", "on 2026-04-12.\n"), std::string("2026-04-12 theirs date"));
    QCOMPARE(named("version: 2026_04_11_140000\n", "version: 2026_04_12_083000\n"),
             std::string("2026_04_12_083000 theirs date"));
    QCOMPARE(named("at 10:20\n", "at 10:30\n"), std::string("10:30 theirs count"));
    QCOMPARE(named("v = 2\n", "w = 3\n"), std::string());
}

void TestCandidates::consequences_sideTaken_countsDroppedEdits()
{
    const auto candidates = candidatesFor({"a b c d e\n", "A b c d E\n", "a b X d e\n"});
    const Candidate* ours = find(candidates, CandidateKind::ours);
    QCOMPARE(ours->consequences.front(), (Consequence{ConsequenceKind::dropsTheirs, 1, "X"}));
    QCOMPARE(find(candidates, CandidateKind::theirs)->consequences.front(),
             (Consequence{ConsequenceKind::dropsOurs, 1, {}}));  // two words of one line
    const auto removal = candidatesFor({"a\nb\nc\n", "a\nc\n", "a\nB\nc\n"});
    QCOMPARE(find(removal, CandidateKind::theirs)->consequences.front(),
             (Consequence{ConsequenceKind::undoesOursRemoval, 1, {}}));
}

void TestCandidates::origins_lines_tellTheirSide()
{
    const RegionTexts texts{"keep\nold\n", "keep\nmine\nshared\n", "keep\nyours\nshared\n"};
    const auto origins =
        originsOfLines("keep\nmine\nyours\nshared\nfree\n", texts, LineOrigin::hand);
    const std::vector<LineOrigin> expected{
        LineOrigin::base, LineOrigin::ours, LineOrigin::theirs, LineOrigin::both, LineOrigin::hand};
    QVERIFY(origins == expected);
}

void TestCandidates::originsAfterEdit_newLine_isByHand()
{
    const std::vector<LineOrigin> before{LineOrigin::ours, LineOrigin::theirs};
    const auto origins = originsAfterEdit("a\nb\n", before, "a\nnew\nb\n");
    QVERIFY(origins
            == (std::vector<LineOrigin>{LineOrigin::ours, LineOrigin::hand, LineOrigin::theirs}));
}

void TestCandidates::consequences_lostEdits_areCounted_data()
{
    QTest::addColumn<QByteArray>("side");
    QTest::addColumn<QByteArray>("other");
    QTest::addColumn<QByteArray>("result");
    QTest::addColumn<int>("lost");
    const auto row =
        [](const char* name, const char* side, const char* other, const char* result, int lost) {
            QTest::newRow(name) << QByteArray(side) << QByteArray(other) << QByteArray(result)
                                << lost;
        };
    // The base is "alpha beta gamma\n".
    row("both-kept",
        "alpha BETA gamma\n",
        "alpha beta gamma delta\n",
        "alpha BETA gamma delta\n",
        0);
    row("word-missing",
        "alpha BETA gamma\n",
        "alpha beta gamma delta\n",
        "alpha beta gamma delta\n",
        1);
    row("removal-undone",
        "alpha gamma\n",
        "alpha beta gamma delta\n",
        "alpha beta gamma delta\n",
        1);
    row("removal-kept", "alpha gamma\n", "alpha beta gamma delta\n", "alpha gamma delta\n", 0);
    row("two-of-two", "ALPHA beta GAMMA\n", "alpha beta gamma\n", "alpha beta gamma\n", 2);
    row("one-of-two", "ALPHA beta GAMMA\n", "alpha beta gamma\n", "ALPHA beta gamma\n", 1);
    row("other-removed-it-too", "alpha gamma\n", "alpha gamma\n", "alpha gamma\n", 0);
    row("nothing-done", "alpha beta gamma\n", "alpha beta\n", "alpha beta\n", 0);
}

void TestCandidates::consequences_lostEdits_areCounted()
{
    QFETCH(QByteArray, side);
    QFETCH(QByteArray, other);
    QFETCH(QByteArray, result);
    QFETCH(int, lost);
    QCOMPARE(
        lostEdits("alpha beta gamma\n", side.constData(), other.constData(), result.constData())
            .edits,
        lost);
}

void TestCandidates::versionOfNobody_isNotOffered()
{
    const RegionTexts texts{"version = 1.1.0\n", "version = 1.2.0\n", "version = 1.1.1\n"};
    for (const Candidate& candidate : candidatesFor(texts)) {
        QVERIFY2(candidate.text.find("1.2.1") == std::string::npos, candidate.text.c_str());
    }
}

void TestCandidates::consequences_areOfTheText_whereverItCameFrom()
{
    // One side's text, taken again from an earlier decision: it drops what the other did.
    const RegionTexts texts{"a\nb\n", "a ours\nb\n", "a\nb theirs\n"};
    const auto ofOurs = candidatesFor(texts, {}, std::string(texts.ours));
    QVERIFY(has(ofOurs.front(), ConsequenceKind::dropsTheirs));
    QVERIFY(!has(ofOurs.front(), ConsequenceKind::keepsBothEdits));
    const auto ofTheirs = candidatesFor(texts, {}, std::string(texts.theirs));
    QVERIFY(has(ofTheirs.front(), ConsequenceKind::dropsOurs));
    QVERIFY(!has(ofTheirs.front(), ConsequenceKind::keepsBothEdits));
}

void TestCandidates::lineSplice_crlf_keepsIt()
{
    // The last line has no end, and another one follows it in the splice.
    const RegionTexts texts{"one\r\ntwo", "one\r\nTWO", "one\r\ntwo\r\nthree\r\n"};
    for (const Candidate& candidate : candidatesFor(texts)) {
        for (std::size_t at = candidate.text.find('\n'); at != std::string::npos;
             at = candidate.text.find('\n', at + 1)) {
            QVERIFY2(at > 0 && candidate.text[at - 1] == '\r', candidate.text.c_str());
        }
    }
}

void TestCandidates::earlierText_isOfferedFirst_once()
{
    const RegionTexts texts{"b\n", "o\n", "t\n"};
    const auto candidates = candidatesFor(texts, {}, "written before\n");
    QCOMPARE(candidates.front().kind, CandidateKind::earlierDecision);
    QCOMPARE(candidates.front().text, std::string("written before\n"));
    // Where it is what a side has, it is not told twice.
    const auto same = candidatesFor(texts, {}, "o\n");
    QCOMPARE(std::count_if(same.begin(), same.end(), [](const auto& c) { return c.text == "o\n"; }),
             1);
    QVERIFY(!candidateText(CandidateKind::earlierDecision, texts).has_value());
}

void TestCandidates::stop_givesWhatWasFound()
{
    std::stop_source stop;
    stop.request_stop();
    const RegionTexts texts{"b\n", "o\n", "t\n"};
    QVERIFY(candidatesFor(texts, {}, {}, stop.get_token()).empty());
    QCOMPARE(candidatesFor(texts, {}, "kept\n", stop.get_token()).size(), std::size_t{1});
}

void TestCandidates::kinds_tableIsWhole()
{
    std::set<std::string_view> names;
    for (int i = 0; i <= static_cast<int>(kLastCandidateKind); ++i) {
        const auto kind = static_cast<CandidateKind>(i);
        QVERIFY(candidateKindNamed(nameOf(kind)) == kind);
        const QByteArray label(labelInEnglish(kind));
        QVERIFY(label.size() > 3 && label.front() >= 'A' && label.front() <= 'Z');
        names.insert(nameOf(kind));
    }
    QCOMPARE(names.size(), static_cast<std::size_t>(kLastCandidateKind) + 1);
    QVERIFY(!candidateKindNamed("own").has_value());
    QVERIFY(compositionOf(CandidateKind::wordSplice) == Composition::composed);
    QVERIFY(compositionOf(CandidateKind::greater) == Composition::oneText);
}

ROPE_TESTS(TestCandidates, QCoreApplication)
#include "tst_candidates.moc"
