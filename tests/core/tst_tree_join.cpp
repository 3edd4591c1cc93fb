// SPDX-License-Identifier: GPL-3.0-or-later
// The table of tree cases: each row is built as a real repository, joined both ways round, held against
// git's verdict, and every answer to its question is taken and its tree looked at.
#include "core/decide/splice.h"
#include "core/system/memory/memory_place.h"
#include "tests/support/joined_branches.h"
#include "tests/support/test_program.h"
#include "tests/support/tree_recipe.h"

#include <QTest>

#include <algorithm>

using namespace rope;
using rope::test::joinBranches;
using rope::test::Joined;
using rope::test::ScratchRepository;

namespace {
/// "kind path r<regions> ?; …" of what is open; the sign where there is a question.
QByteArray inShort(const Forecast& forecast)
{
    QByteArrayList words;
    for (const FileOutcome& file : forecast.join.files) {
        if (file.needsDecision()) {
            words << QByteArray(nameOf(file.kind).data()) + " " + file.path.c_str()
                         + (file.regionCount() > 0 ? " r" + QByteArray::number(file.regionCount())
                                                   : QByteArray())
                         + (file.question ? " ?" : "");
        }
    }
    return words.join("; ");
}

/// The three trees of a join put into a place in memory, with ids of its own, and joined there.
Forecast joinedInMemory(const Joined& joined, MemoryPlace& memory)
{
    const Forecast& forecast = joined.forecast;
    const auto import = [&](const ObjectId& tree) {
        return memory.importTree(*joined.repository, tree).value();
    };
    const ObjectId base =
        memory.makeCommit(forecast.base ? import(forecast.base->tree) : ObjectId{}, {}, "base");
    const ObjectId ours = memory.makeCommit(import(forecast.ours.tree), {base}, "ours");
    const ObjectId theirs = memory.makeCommit(import(forecast.theirs.tree), {base}, "theirs");
    return forecastJoin(memory, ours, theirs).value();
}

/// Writes what a splice with these decisions gives, and lists its files: "path path …".
QByteArray treeOf(ScratchRepository& scratch, Place& repository, const Splice& splice)
{
    const auto result = splice.result();
    if (!result) {
        return QByteArray("two files at ") + result.error().subject.c_str();
    }
    const auto tree = repository.storeTree(*result);
    return tree ? scratch.git({QStringLiteral("ls-tree"),
                               QStringLiteral("-r"),
                               QStringLiteral("--name-only"),
                               QString::fromStdString(tree->hex())})
                : QByteArray("error: ") + tree.error().detail.c_str();
}
}  // namespace

class TestTreeJoin : public QObject
{
    Q_OBJECT
private slots:
    void cases_data();
    void cases();
    void newFolders_areLeftUnread_whereTheyDecideNothing();
    void clash_insideARename_isARegion();
    void question_renamedTwice_putsTheTextAtTheName();
    void clean_renames_haveGitsTree_data();
    void clean_renames_haveGitsTree();
    void twins_ofACrissCross_areAsked();
};

void TestTreeJoin::cases_data()
{
    QTest::addColumn<QByteArray>("base");
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("theirs");
    QTest::addColumn<QByteArray>("open");     // as inShort() says it
    QTest::addColumn<QByteArray>("answers");  // "choice: files|choice: files"; of the only question
    const auto row = [](const char* name,
                        const char* base,
                        const char* ours,
                        const char* theirs,
                        const char* open,
                        const char* answers) {
        QTest::newRow(name) << QByteArray(base) << QByteArray(ours) << QByteArray(theirs)
                            << QByteArray(open) << QByteArray(answers);
    };
    row("edited-apart", "a=%10", "a=%10/1=x", "a=%10/8=y", "", "");
    row("edited-alike", "a=%10", "a=%10/1=x", "a=%10/1=x", "", "");
    row("edited-same-place", "a=%10", "a=%10/1=x", "a=%10/1=y", "content a r1", "");
    row("deleted-edited",
        "a=%10;z=1",
        "a=%10/1=x",
        "-a",
        "modify-delete a ?",
        "ours: a z|theirs: z|base: a z");
    row("added-alike", "z=1", "a=%10", "a=%10", "", "");
    row("added-differently", "z=1", "a=one", "a=two", "both-added a r1", "");
    row("added-with-modes", "z=1", "a=one", "a=one;+a", "mode a ?", "ours: a z|theirs: a z");
    row("mode-against-edit", "a=%10", "+a", "a=%10/1=x", "", "");
    row("mode-against-deletion", "a=%10;z=1", "+a", "-a", "modify-delete a ?", "");
    row("binary",
        "a=b\\0",
        "a=o\\0",
        "a=t\\0",
        "binary a ?",
        "ours: a|theirs: a|keep-both: a a.theirs|base: a");
    row("binary-name-beside-is-taken",
        "p.png=b\\0;p.theirs.png=kept",
        "p.png=o\\0",
        "p.png=t\\0",
        "binary p.png ?",
        "keep-both: p.png p.theirs-2.png p.theirs.png");
    row("binary-twice-beside",
        "a.b=b\\0;z=1",
        "a.b=o\\0;a.theirs.b=mine",
        "a.b=t\\0",
        "binary a.b ?",
        "keep-both: a.b a.theirs-2.b a.theirs.b z");
    row("renamed-and-copied-binary", "p=x\\0;z=1", "p>i", "i=x\\0", "", "");
    row("renamed-and-copied-executable", "r=%10;+r;z=1", "r>s", "s=%10;+s", "", "");
    row("links", "@a=x;z=1", "@a=o", "@a=t", "symlink a ?", "ours: a z|theirs: a z|base: a z");
    row("file-against-link",
        "z=1",
        "a=%10",
        "@a=t",
        "mode a ?",
        "ours: a z|theirs: a z|keep-both: a a.ours z");
    row("file-against-folder",
        "z=1",
        "a=%10",
        "a/in=1",
        "directory-file a.ours ?",
        "aside: a.ours a/in z|theirs: a/in z");
    row("folder-against-file",
        "z=1",
        "a/in=1",
        "a=%10",
        "directory-file a.theirs ?",
        "aside: a.theirs a/in z|ours: a/in z");
    row("edited-file-became-folder",
        "a=%10",
        "a=%10/1=x",
        "-a;a/in=1",
        "directory-file a.ours ?",
        "aside: a.ours a/in|theirs: a/in");
    row("unchanged-file-became-folder", "a=%10;z=1", "z=2", "-a;a/in=1", "", "");
    row("renamed-and-edited-there", "a=%10", "a=%10/1=x", "a>b", "", "");
    row("renamed-and-edited-both", "a=%10", "a=%10/1=x", "a>b;b=%10/8=y", "", "");
    row("renamed-and-clash", "a=%10", "a=%10/1=x", "a>b;b=%10/1=y", "content b r1", "");
    row("renamed-alike", "a=%10", "a>b;b=%10/1=x", "a>b;b=%10/8=y", "", "");
    row("renamed-deleted",
        "a=%10;z=1",
        "a>b",
        "-a",
        "rename-delete b ?",
        "ours: b z|theirs: z|base: a z");
    row("deleted-renamed",
        "a=%10;z=1",
        "-a",
        "a>b;b=%10/1=x",
        "rename-delete b ?",
        "theirs: b z|ours: z|base: a z");
    row("renamed-twice",
        "a=%10",
        "a>b;b=%10/1=x",
        "a>c;c=%10/8=y",
        "rename-rename b ?",
        "ours: b|theirs: c|keep-both: b c");
    row("renamed-twice-and-clash",
        "a=%10",
        "a>b;b=%10/1=x",
        "a>c;c=%10/1=y",
        "rename-rename b r1 ?",
        "ours: b|theirs: c|keep-both: b c");
    row("two-to-one", "a=%10;b=%12/3=b/4=b/5=b/6=b/7=b/8=b", "a>c", "b>c", "both-added c r1", "");
    row("renamed-onto-added", "a=%10", "a>c", "c=other;a=%10/1=x", "both-added c r1", "");
    row("folder-renamed-new-file",
        "d/a=%10;d/b=%12",
        "d/a>e/a;d/b>e/b",
        "d/new=1",
        "directory-rename e/new ?",
        "follow: e/a e/b e/new|stay: d/new e/a e/b");
    row("folder-renamed-edits-follow", "d/a=%10;d/b=%12", "d/a>e/a;d/b>e/b", "d/a=%10/1=x", "", "");
    row("folder-split-new-file",
        "d/a=%10;d/b=%12",
        "d/a>e/a;d/b>f/b",
        "d/new=1",
        "directory-rename d/new ?",
        "stay: d/new e/a f/b|follow: e/a e/new f/b|follow-other: e/a f/b f/new");
    row("folder-renamed-name-taken",
        "d/a=%10;d/b=%12;e/keep=1",
        "d/a>e/a;d/b>e/b",
        "d/keep=2",
        "directory-rename d/keep ?",
        "stay: d/keep e/a e/b e/keep|aside: e/a e/b e/keep e/keep.theirs");
    row("new-subfolder-stays", "d/a=%10;d/b=%12", "d/a>e/a;d/b>e/b", "d/sub/new=1", "", "");
    row("folder-not-emptied", "d/a=%10;d/b=%12;d/c=1", "d/a>e/a;d/b>e/b", "d/new=1", "", "");
    row("name-exists-again", "a=%10", "a>b;a=other", "a=%10/1=x", "content a r1", "");
    row("seven-of-ten-kept",
        "a=%10",
        "a=%10/9=x",
        "a>b;b=%10/1=this is not 1/2=this is not 2/3=this is not 3",
        "",
        "");
    row("four-of-ten-kept",
        "a=%10",
        "a=%10/9=x",
        "a>b;b=%10/1=other 1/2=other 2/3=other 3/4=other 4/5=other 5/6=other 6",
        "modify-delete a ?",
        "");
    row("empty-files-are-not-renamed", "a=;z=1", "a=;z=2", "-a;b=;z=1", "", "");
}

void TestTreeJoin::cases()
{
    QFETCH(QByteArray, base);
    QFETCH(QByteArray, ours);
    QFETCH(QByteArray, theirs);
    QFETCH(QByteArray, open);
    QFETCH(QByteArray, answers);
    ScratchRepository scratch;
    test::makeBranches(scratch, base, ours, theirs);
    const Joined joined = joinBranches(scratch, "ours", "theirs");
    QCOMPARE(inShort(joined.forecast), open);

    QCOMPARE(joined.forecast.isClean(), !test::gitsTree(scratch).isEmpty());

    // The same on a system whose ids and storage are others.
    MemoryPlace memory;
    const Forecast inMemory = joinedInMemory(joined, memory);
    QCOMPARE(inShort(inMemory), open);
    if (inMemory.isClean()) {
        const ObjectId tree = *storeCleanTree(memory, inMemory);
        const ObjectId gits = *storeCleanTree(*joined.repository, joined.forecast);
        QVERIFY(*memory.importTree(*joined.repository, gits) == tree);
    }

    // What lies in new folders does not have to be read for it.
    const Joined unread =
        joinBranches(scratch, "ours", "theirs", {false, nullptr, NewFolders::leave});
    QCOMPARE(test::verdictOf(unread.forecast), test::verdictOf(joined.forecast));

    const Joined swapped = joinBranches(scratch, "theirs", "ours");
    QCOMPARE(swapped.forecast.regionCount(), joined.forecast.regionCount());
    QCOMPARE(swapped.forecast.questionCount(), joined.forecast.questionCount());

    for (const QByteArray& line : answers.split('|')) {
        if (answers.isEmpty()) {
            break;
        }
        const qsizetype colon = line.indexOf(':');
        Splice splice({"id", "r", "o", "t", {}, {}},
                      std::make_shared<const Forecast>(joined.forecast));
        for (std::size_t i = 0; i < splice.files().size(); ++i) {
            splice.decideAllOpen(i, FileChoice::ours);  // the regions; the question is taken back
            if (splice.files()[i].outcome->question) {
                const auto choice = fileChoiceNamed(line.left(colon).constData());
                QVERIFY2(splice.files()[i].outcome->question->answerOf(*choice), line.constData());
                splice.answer(i, *choice);
            }
        }
        QCOMPARE(treeOf(scratch, *joined.repository, splice).replace('\n', ' '),
                 line.mid(colon + 1).trimmed());
    }
}

/// A renamed file whose edits clash, against an empty file that the other side has at the new name.
/// git records the markers here and calls it clean.
void TestTreeJoin::newFolders_areLeftUnread_whereTheyDecideNothing()
{
    const auto unreadOf = [](const char* ours, const char* theirs) {
        ScratchRepository scratch;
        test::makeBranches(scratch, "a=%10;old/b=%20", ours, theirs);
        const Joined joined =
            joinBranches(scratch, "ours", "theirs", {false, nullptr, NewFolders::leave});
        const Joined whole = joinBranches(scratch);
        QByteArrayList words{test::verdictOf(joined.forecast) == test::verdictOf(whole.forecast)
                                 ? "alike"
                                 : "other"};
        for (const Side side : kSides) {
            for (const NewFolder& folder : joined.forecast.join.newFolders[side]) {
                words << QByteArray(folder.path.c_str());
            }
        }
        return words.join(' ');
    };
    QCOMPARE(unreadOf("mine/x=1;a=%10/1=x", "old/new/y=2;old/new/z/y=3"),
             QByteArray("alike mine old/new"));
    // Something was deleted, so it may have been renamed; a file of the other side has that name.
    QCOMPARE(unreadOf("mine/x=1", "old/new/y=2;-a"), QByteArray("alike"));
    QCOMPARE(unreadOf("mine/x=1;old/b>old/c", "new/y=2"), QByteArray("alike"));
    QCOMPARE(unreadOf("mine/x=1", "mine=2;new/y=2"), QByteArray("alike new"));
}

void TestTreeJoin::clash_insideARename_isARegion()
{
    ScratchRepository scratch;
    test::makeBranches(scratch, "a=%10;z=1", "a>b;b=%10/1=x", "a=%10/1=y;b=\\e");
    for (const auto& [ours, theirs] : {std::pair{"ours", "theirs"}, std::pair{"theirs", "ours"}}) {
        const Joined joined = joinBranches(scratch, ours, theirs);
        QCOMPARE(inShort(joined.forecast), QByteArray("both-added b r1"));
        Splice splice({"id", "r", "o", "t", {}, {}},
                      std::make_shared<const Forecast>(joined.forecast));
        splice.decideAllOpen(0, FileChoice::ours);
        QVERIFY(splice.markersLeft().empty());
        QCOMPARE(treeOf(scratch, *joined.repository, splice), QByteArray("b\nz"));
    }
}

void TestTreeJoin::question_renamedTwice_putsTheTextAtTheName()
{
    ScratchRepository scratch;
    test::makeBranches(scratch, "a=%10", "a>b;b=%10/1=x", "a>c;c=%10/8=y");
    const Joined joined = joinBranches(scratch, "ours", "theirs");
    Splice splice({"id", "r", "o", "t", {}, {}}, std::make_shared<const Forecast>(joined.forecast));
    splice.answer(0, FileChoice::theirs);
    const ResultSnapshot result = *splice.result();
    const auto put = std::find_if(result.edits.begin(), result.edits.end(), [](const auto& edit) {
        return edit.bytes != nullptr;
    });
    QVERIFY(put != result.edits.end());
    QCOMPARE(put->path, std::string("c"));
    QCOMPARE(QByteArray::fromStdString(*put->bytes), test::recipeContent("%10/1=x/8=y"));
}

void TestTreeJoin::clean_renames_haveGitsTree_data()
{
    QTest::addColumn<QByteArray>("base");
    QTest::addColumn<QByteArray>("ours");
    QTest::addColumn<QByteArray>("theirs");
    const auto row = [](const char* name, const char* base, const char* ours, const char* theirs) {
        QTest::newRow(name) << QByteArray(base) << QByteArray(ours) << QByteArray(theirs);
    };
    row("theirs-renames", "a=%10;z=1", "a=%10/1=x", "a>sub/b;sub/b=%10/8=y");
    row("ours-renames", "a=%10;z=1", "a>sub/b;sub/b=%10/8=y", "a=%10/1=x");
    row("both-rename-alike", "a=%10;z=1", "a>b;b=%10/1=x", "a>b;b=%10/8=y");
    row("renamed-and-made-executable", "a=%10;z=1", "a>b", "+a");
    row("renamed-onto-its-copy", "a=%10;z=1", "e=%10", "a>e");
    row("folder-moved", "d/a=%10;d/b=%12;d/c=%14", "d/a=%10/1=x", "d/a>e/a;d/b>e/b;d/c>e/c");
    row("many-of-one-name",
        "a/list=%10/1=a;b/list=%10/1=b/2=b;c/list=%10/1=c/2=c/3=c",
        "a/list=%10/1=a/9=x;c/list=%10/1=c/2=c/3=c/9=x",
        "a/list>n/a/list;b/list>n/b/list;c/list>n/c/list");
}

void TestTreeJoin::clean_renames_haveGitsTree()
{
    QFETCH(QByteArray, base);
    QFETCH(QByteArray, ours);
    QFETCH(QByteArray, theirs);
    ScratchRepository scratch;
    test::makeBranches(scratch, base, ours, theirs);
    const Joined joined = joinBranches(scratch, "ours", "theirs");
    QCOMPARE(inShort(joined.forecast), QByteArray());
    const auto tree = storeCleanTree(*joined.repository, joined.forecast);
    QVERIFY(tree);
    QCOMPARE(QByteArray::fromStdString(tree->hex()), test::gitsTree(scratch));
}

// Ours and theirs each gave a file another name; then each took the other's in, keeping its own name
// and letting go the other. Nobody ever wanted the file gone.
void TestTreeJoin::twins_ofACrissCross_areAsked()
{
    ScratchRepository scratch;
    test::makeBranches(scratch, "a=%10;z=1", "a>b", "a>c");
    scratch.git("branch ours1 ours");
    int exitCode = 0;
    scratch.tryGit({QStringLiteral("merge"), QStringLiteral("theirs")}, exitCode);
    scratch.git("rm -q --cached --ignore-unmatch a c");
    scratch.remove("c");
    scratch.commit("cross, b stays");
    scratch.git("switch -q theirs");
    scratch.tryGit({QStringLiteral("merge"), QStringLiteral("ours1")}, exitCode);
    scratch.git("rm -q --cached --ignore-unmatch a b");
    scratch.remove("b");
    scratch.commit("cross, c stays");
    QCOMPARE(scratch.git("ls-tree --name-only ours"), QByteArray("b\nz"));
    QCOMPARE(scratch.git("ls-tree --name-only theirs"), QByteArray("c\nz"));
    for (const auto& [ours, theirs, names] :
         {std::tuple{"ours", "theirs", "b"}, std::tuple{"theirs", "ours", "c"}}) {
        const Joined joined = joinBranches(scratch, ours, theirs);
        QCOMPARE(joined.forecast.divergence.bases.size(), std::size_t{2});
        QCOMPARE(inShort(joined.forecast), QByteArray("rename-rename ") + names + " ?");
        Splice splice({"id", "r", "o", "t", {}, {}},
                      std::make_shared<const Forecast>(joined.forecast));
        splice.answer(0, FileChoice::keepBoth);
        QCOMPARE(treeOf(scratch, *joined.repository, splice), QByteArray("b\nc\nz"));
    }
}

ROPE_TESTS(TestTreeJoin, QCoreApplication)
#include "tst_tree_join.moc"
