// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/snapshot/read_changes.h"
#include "core/system/git/git_place.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

namespace {
std::string lines(int from, int to)
{
    std::string text;
    for (int line = from; line <= to; ++line) {
        text += "line " + std::to_string(line) + "\n";
    }
    return text;
}
}  // namespace

class TestExcerpts : public QObject
{
    Q_OBJECT
private slots:
    void equalTexts_haveNone();
    void oneChange_hasLinesAround();
    void nearChanges_areOneExcerpt();
    void farChanges_areTwo();
    void fromNothing_isAllNew();
    void readCommit_tellsEveryFile();
    void withExcerpts_takesOnlyThose();
};

void TestExcerpts::equalTexts_haveNone()
{
    const auto change = changeBetween(Text(lines(1, 9)), Text(lines(1, 9)));
    QVERIFY(change->excerpts.empty());
    QCOMPARE(change->added + change->removed, std::size_t{0});
}

void TestExcerpts::oneChange_hasLinesAround()
{
    const auto change =
        changeBetween(Text(lines(1, 20)), Text(lines(1, 9) + "other\n" + lines(11, 20)));
    QCOMPARE(change->excerpts.size(), std::size_t{1});
    QCOMPARE(change->excerpts[0].beforeText, lines(7, 13));
    QCOMPARE(change->excerpts[0].afterText, lines(7, 9) + "other\n" + lines(11, 13));
    QCOMPARE(change->excerpts[0].after.begin, LineNumber{6});
    QVERIFY(change->added == 1 && change->removed == 1);
}

void TestExcerpts::nearChanges_areOneExcerpt()
{
    const auto change =
        changeBetween(Text(lines(1, 20)), Text(lines(1, 4) + "a\n" + lines(6, 9) + lines(11, 20)));
    QCOMPARE(change->excerpts.size(), std::size_t{1});
    QCOMPARE(change->excerpts[0].beforeText, lines(2, 13));
    QVERIFY(change->added == 1 && change->removed == 2);
}

void TestExcerpts::farChanges_areTwo()
{
    const auto change =
        changeBetween(Text(lines(1, 40)), Text("new\n" + lines(1, 29) + lines(31, 40)));
    QCOMPARE(change->excerpts.size(), std::size_t{2});
    QCOMPARE(change->excerpts[0].beforeText, lines(1, 3));
    QCOMPARE(change->excerpts[1].afterText, lines(27, 29) + lines(31, 33));
}

void TestExcerpts::fromNothing_isAllNew()
{
    const auto change = changeBetween(Text(), Text(lines(1, 3)));
    QCOMPARE(change->excerpts.size(), std::size_t{1});
    QVERIFY(change->excerpts[0].beforeText.empty());
    QCOMPARE(change->excerpts[0].afterText, lines(1, 3));
}

void TestExcerpts::readCommit_tellsEveryFile()
{
    test::ScratchRepository scratch;
    scratch.write("a.txt", "one\ntwo\n");
    scratch.write("old.txt", "gone soon\n");
    const QByteArray first = scratch.commit("first");
    scratch.write("a.txt", "one\ntwo, changed\n");
    scratch.write("picture", QByteArray("\0\1\2", 3));
    scratch.remove("old.txt");
    const QByteArray second = scratch.commit("second\n\nwith a body");
    const auto place = std::move(GitPlace::open(scratch.path())).value();
    const auto reading = readCommit(*place, *ObjectId::fromHex(second.toStdString()));
    QVERIFY(reading);
    QCOMPARE(reading->fileCount, std::size_t{3});
    QCOMPARE(reading->files[0].change.path, std::string("a.txt"));
    QVERIFY(reading->files[0].text.added == 1 && reading->files[0].text.removed == 1);
    QVERIFY(!reading->files[1].change.after);
    QCOMPARE(static_cast<int>(reading->files[2].content),
             static_cast<int>(FileReading::Content::binary));
    const auto root = readCommit(*place, *ObjectId::fromHex(first.toStdString()));
    QCOMPARE(root->fileCount, std::size_t{2});
    QVERIFY(!root->files[0].change.before);
}

void TestExcerpts::withExcerpts_takesOnlyThose()
{
    const std::string before = "a\nb\nc\nd\ne\n";
    const std::string after = "new\na\nB\nc\ne\nend";
    const auto change = changeBetween(Text(before), Text(after), 0);
    QCOMPARE(change->excerpts.size(), std::size_t{4});
    QCOMPARE(withExcerpts(Text(before), change->excerpts), after);
    QCOMPARE(withExcerpts(Text(before), {}), before);
    const std::vector<Excerpt> some{change->excerpts[1], change->excerpts[2]};
    QCOMPARE(withExcerpts(Text(before), some), std::string("a\nB\nc\ne\n"));
}

ROPE_TESTS(TestExcerpts, QCoreApplication)
#include "tst_excerpts.moc"
