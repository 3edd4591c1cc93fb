// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decide/alike.h"
#include "core/decide/splice.h"
#include "core/decide/together.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

namespace {
/// Two files with a region each (one of pure additions), and a file that theirs deleted.
Splice sampleSplice()
{
    auto forecast = std::make_shared<Forecast>();
    const auto addText =
        [&](const char* path, std::string base, std::string ours, std::string theirs) {
            FileOutcome file;
            file.path = file.oursPath = file.theirsPath = file.basePath = path;
            file.text = std::make_shared<const TextJoin>(
                std::move(joinTexts(std::move(base), std::move(ours), std::move(theirs))).value());
            file.ours = file.theirs = file.base = FileVersion{};
            forecast->join.files.push_back(std::move(file));
        };
    addText("a.txt", "1\nend\n", "o1\nend\n", "t1\nt2\nend\n");
    addText("b.txt", "head\nend\n", "head\nours\nend\n", "head\ntheirs\nend\n");
    FileOutcome gone;
    gone.path = gone.oursPath = gone.basePath = "c.bin";
    gone.base = gone.ours = FileVersion{EntryKind::file, *ObjectId::fromHex(std::string(40, 'a'))};
    gone.kind = OutcomeKind::modifyDelete;
    gone.question = FileQuestion{
        QuestionKind::deletedByTheirs,
        {{FileChoice::ours, {{"c.bin", *gone.ours, false}}}, {FileChoice::theirs, {}}}};
    forecast->join.files.push_back(std::move(gone));
    return Splice({"id", "refs/heads/x", "x", "origin/main", {}, {}}, std::move(forecast));
}

const std::vector<SlotPlace> kAll{{0, 1}, {1, 1}, {2, SlotPlace::kQuestion}};
}  // namespace

class TestTogether : public QObject
{
    Q_OBJECT
private slots:
    void change_isOneStep();
    void both_leavesQuestionsOut();
    void loss_isCounted();
    void leaveOpen_takesBack();
    void openPlaces_areThoseOfTheFile();
    void alike_areThoseOfOneSort();
};

void TestTogether::change_isOneStep()
{
    Splice splice = sampleSplice();
    splice.change(changesTogether(splice.decided(), kAll, TogetherChoice::theirs));
    QCOMPARE(splice.openCount(), std::size_t{0});
    QCOMPARE(splice.files()[0].text->wholeText(), std::string("t1\nt2\nend\n"));
    QCOMPARE(splice.state(kAll[2]).choice, std::string("theirs"));
    QCOMPARE(splice.undo().size(), std::size_t{3});
    QCOMPARE(splice.openCount(), std::size_t{3});
}

void TestTogether::both_leavesQuestionsOut()
{
    Splice splice = sampleSplice();
    const auto changes = changesTogether(splice.decided(), kAll, TogetherChoice::theirsOurs);
    QCOMPARE(changes.size(), std::size_t{2});
    splice.change(changes);
    QCOMPARE(splice.files()[1].text->wholeText(), std::string("head\ntheirs\nours\nend\n"));
    QCOMPARE(lossTogether(splice.decided(), kAll, TogetherChoice::theirsOurs).leftOut,
             std::size_t{1});
}

void TestTogether::loss_isCounted()
{
    Splice splice = sampleSplice();
    const TogetherLoss ours = lossTogether(splice.decided(), kAll, TogetherChoice::ours);
    QCOMPARE(ours.theirsLines, std::size_t{3});
    QCOMPARE(ours.oursLines, std::size_t{0});
    QCOMPARE(ours.filesGone, std::size_t{0});
    QCOMPARE(ours.handTexts, std::size_t{0});
    const TogetherLoss theirs = lossTogether(splice.decided(), kAll, TogetherChoice::theirs);
    QCOMPARE(theirs.oursLines, std::size_t{2});
    QCOMPARE(theirs.filesGone, std::size_t{1});
    const TogetherLoss both = lossTogether(splice.decided(), {{1, 1}}, TogetherChoice::oursTheirs);
    QCOMPARE(both.oursLines + both.theirsLines, std::size_t{0});
    splice.change({{kAll[0], {true, std::string(kOwnText), "mine\n"}}});
    QCOMPARE(lossTogether(splice.decided(), kAll, TogetherChoice::ours).handTexts, std::size_t{1});
}

void TestTogether::leaveOpen_takesBack()
{
    Splice splice = sampleSplice();
    splice.change(changesTogether(splice.decided(), kAll, TogetherChoice::ours));
    const TogetherLoss none = lossTogether(splice.decided(), kAll, TogetherChoice::leaveOpen);
    QCOMPARE(none.filesGone + none.oursLines + none.theirsLines, std::size_t{0});
    splice.change(changesTogether(splice.decided(), kAll, TogetherChoice::leaveOpen));
    QCOMPARE(splice.openCount(), std::size_t{3});
    QVERIFY(!splice.state(kAll[0]).text.has_value());
}

void TestTogether::openPlaces_areThoseOfTheFile()
{
    Splice splice = sampleSplice();
    QVERIFY((openPlacesOf(splice.decided(), 0) == std::vector<SlotPlace>{kAll[0]}));
    QVERIFY((openPlacesOf(splice.decided(), 2) == std::vector<SlotPlace>{kAll[2]}));
    splice.answer(2, FileChoice::ours);
    QVERIFY(openPlacesOf(splice.decided(), 2).empty());
}

void TestTogether::alike_areThoseOfOneSort()
{
    // Stops whose minutes both changed, lines that both changed in the same way, and one of its own.
    std::string base;
    std::string ours;
    std::string theirs;
    const auto add = [&](const std::string& b, const std::string& o, const std::string& t) {
        const std::string between = "[" + std::to_string(base.size()) + "]\nname\nfirst\n";
        base += between + b;
        ours += between + o;
        theirs += between + t;
    };
    for (int i = 0; i < 4; ++i) {
        const std::string n = std::to_string(i);
        add("minutes = 2" + n + "\n", "minutes = 3" + n + "\n", "minutes = 104" + n + "\n");
    }
    add("seconds = 2\n", "seconds = 3\n", "seconds = 4\n");  // two of a sort are none
    add("seconds = 2\n", "seconds = 3\n", "seconds = 4\n");
    for (int i = 0; i < 3; ++i) {
        add("import a\n", "import b\n", "import c\n");
    }
    add("x1\n", "y1\n", "x2\n");  // not numbers alone
    const auto join = joinTexts(base, ours, theirs);
    QVERIFY(join && join->regionCount() == 10);
    const std::vector<AlikeRegions> groups = alikeRegions(*join);
    QCOMPARE(groups.size(), std::size_t{2});
    QVERIFY(groups[0].what == AlikeRegions::What::numbers);
    QCOMPARE(groups[0].regions, (std::vector<std::size_t>{0, 1, 2, 3}));
    QVERIFY(groups[1].what == AlikeRegions::What::sameTexts);
    QCOMPARE(groups[1].regions, (std::vector<std::size_t>{6, 7, 8}));
}

ROPE_TESTS(TestTogether, QCoreApplication)
#include "tst_together.moc"
