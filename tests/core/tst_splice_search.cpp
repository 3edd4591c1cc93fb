// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decide/splice.h"
#include "core/decide/splice_search.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

namespace {
Splice sampleSplice()
{
    auto forecast = std::make_shared<Forecast>();
    const auto addText =
        [&](const char* path, std::string base, std::string ours, std::string theirs) {
            FileOutcome file;
            file.path = path;
            file.text = std::make_shared<const TextJoin>(
                std::move(joinTexts(std::move(base), std::move(ours), std::move(theirs))).value());
            file.ours = file.theirs = file.base = FileVersion{};
            forecast->join.files.push_back(std::move(file));
        };
    addText("a.txt", "Lock 1\nm\nlock\n", "Lock ours\nm\nlock\n", "Lock theirs\nm\nlock\n");
    addText("b.txt", "x\ny\nz\n", "X lock\ny\nz\n", "x\ny\nZ\n");
    return Splice({"id", "refs/heads/x", "x", "origin/main", {}, {}}, std::move(forecast));
}
}  // namespace

class TestSpliceSearch : public QObject
{
    Q_OBJECT
private slots:
    void find_caseMattersOnlyIfAsked();
    void count_allFiles();
    void replace_leavesOpenRegionsAlone();
};

void TestSpliceSearch::find_caseMattersOnlyIfAsked()
{
    QVERIFY(findWords("a Lock", {"lock", false}) == std::size_t{2});
    QVERIFY(!findWords("a Lock", {"lock", true}).has_value());
    QVERIFY(findWords("lock lock", {"lock", true}, 1) == std::size_t{5});
    QVERIFY(!findWords("lock", {"", true}).has_value());
    QVERIFY(!findWords("lock", {"lock", true}, 9).has_value());
    QVERIFY(findWords("a \xC3\x84rger", {"\xC3\xA4RG", false}) == std::size_t{2});
    QVERIFY(!findWords("\xC3\x84", {"\xC3\xA4", true}).has_value());
    QVERIFY(findWords("\xFF \xD0\x96 x", {"\xD0\xB6", false}) == std::size_t{2});
    // A capital sharp s takes three bytes, the small one two: bytes after it keep their places.
    QVERIFY(findWords("\xE1\xBA\x9E\xC3\x84", {"\xC3\xA4", false}) == std::size_t{3});
}

void TestSpliceSearch::count_allFiles()
{
    const Splice splice = sampleSplice();
    QCOMPARE(countWords(splice.decided(), {"lock", false}).places, std::size_t{3});
    QCOMPARE(countWords(splice.decided(), {"lock", false}).files, std::size_t{2});
    QCOMPARE(countWords(splice.decided(), {"Lock", true}).places, std::size_t{1});
    QCOMPARE(countWords(splice.decided(), {"nowhere", false}).files, std::size_t{0});
    QVERIFY(holdsWords(splice.files()[1], {"LOCK", false}));
}

void TestSpliceSearch::replace_leavesOpenRegionsAlone()
{
    Splice splice = sampleSplice();
    Replacement replacement = replaceWords(splice.decided(), {"lock", false}, "gate");
    QCOMPARE(replacement.places, std::size_t{2});
    QCOMPARE(replacement.leftInOpen, std::size_t{1});
    splice.change(replacement.changes);
    QCOMPARE(splice.files()[0].text->wholeText(), std::string("Lock 1\nm\ngate\n"));
    QCOMPARE(splice.files()[1].text->wholeText(), std::string("X gate\ny\nZ\n"));
    QCOMPARE(splice.openCount(), std::size_t{1});
    splice.decideAllOpen(0, FileChoice::ours);
    splice.change(replaceWords(splice.decided(), {"Lock", true}, "Gate").changes);
    QCOMPARE(splice.files()[0].text->wholeText(), std::string("Gate ours\nm\ngate\n"));
    QCOMPARE(splice.state({0, 1}).choice, std::string("ours"));
    (void)splice.undo();
    (void)splice.undo();
    (void)splice.undo();
    QCOMPARE(splice.files()[1].text->wholeText(), std::string("X lock\ny\nZ\n"));
}

ROPE_TESTS(TestSpliceSearch, QCoreApplication)
#include "tst_splice_search.moc"
