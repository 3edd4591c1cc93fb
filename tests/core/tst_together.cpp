// SPDX-License-Identifier: GPL-3.0-or-later
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

ROPE_TESTS(TestTogether, QCoreApplication)
#include "tst_together.moc"
