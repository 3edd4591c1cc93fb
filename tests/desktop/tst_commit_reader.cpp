// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/commits/change_words.h"
#include "desktop/commits/commit_reader.h"
#include "desktop/commits/commit_table.h"
#include "desktop/widgets/side_text.h"
#include "desktop/widgets/theme.h"
#include "tests/support/test_program.h"

#include <QApplication>
#include <QLabel>
#include <QListWidget>
#include <QTest>

using namespace rope;

namespace {
CommitReading reading()
{
    CommitReading made;
    made.commit.id = *ObjectId::fromHex(std::string(40, 'a'));
    made.commit.message = "Use <b>each</b> lock\n\nBecause.\n";
    made.commit.author = {"Isa Falk", "isa@slackwater.example", 1'000, "+0000"};
    FileReading edited;
    edited.change = {"locks/passage.py", FileVersion{}, FileVersion{}};
    edited.text = *changeBetween(Text("a\nslots = 20\nb\n"), Text("a\nslots = 30\nb\n"));
    FileReading added;
    added.change = {"picture.png", {}, FileVersion{}};
    added.content = FileReading::Content::binary;
    made.files = {edited, added};
    made.fileCount = 2;
    return made;
}
}  // namespace

class TestCommitReader : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase() { applyLook(*qApp, Look::light); }
    void table_keepsThePickedCommit();
    void commit_showsMessageAndFiles();
    void file_showsWhatChanged();
    void words_tellWhatExcerptsDoNot();
};

/// What is known is looked at again while somebody reads.
void TestCommitReader::table_keepsThePickedCommit()
{
    std::vector<Commit> commits(3);
    commits[0].id = *ObjectId::fromHex(std::string(40, 'a'));
    commits[1].id = *ObjectId::fromHex(std::string(40, 'b'));
    commits[2].id = *ObjectId::fromHex(std::string(40, 'c'));
    CommitTable table("table", nullptr);
    table.showCommits(commits, 0);
    table.selectRow(2);
    table.showCommits({}, 0);
    QVERIFY(!table.currentIndex().isValid());
    table.showCommits({commits[2], commits[1]}, 0);
    QCOMPARE(table.picked(), commits[2].id);
    QVERIFY(table.selectionModel()->isRowSelected(0));
    table.showCommits({commits[0], commits[1]}, 0);
    QVERIFY(!table.currentIndex().isValid());  // another branch: nothing of it was picked
}

void TestCommitReader::commit_showsMessageAndFiles()
{
    CommitReader reader(Strand::theirs, "reader", nullptr);
    reader.showWaiting(reading().commit.id);
    reader.showCommit(reading(), 1'060);
    const auto* message = reader.findChild<QLabel*>(QStringLiteral("commitMessage"));
    QCOMPARE(message->text(), QStringLiteral("Use <b>each</b> lock\n\nBecause."));
    QCOMPARE(message->textFormat(), Qt::PlainText);
    const auto* files = reader.findChild<QListWidget*>();
    QCOMPARE(files->count(), 2);
    QCOMPARE(files->item(0)->text(), QStringLiteral("locks/passage.py  +1 −1"));
    QCOMPARE(files->item(1)->text(), QStringLiteral("picture.png  no text"));
}

void TestCommitReader::file_showsWhatChanged()
{
    CommitReader reader(Strand::theirs, "reader", nullptr);
    reader.showCommit(reading(), 1'060);
    auto texts = reader.findChildren<SideText*>();
    QCOMPARE(texts.size(), 1);
    QCOMPARE(texts.front()->toPlainText(), QStringLiteral("a\nslots = 30\nb"));
    auto* files = reader.findChild<QListWidget*>();
    files->setCurrentRow(1);
    QVERIFY(reader.findChild<ChangeView*>()->widget()->findChildren<SideText*>().isEmpty());
}

void TestCommitReader::words_tellWhatExcerptsDoNot()
{
    FileReading file;
    file.change = {
        "run.sh", FileVersion{EntryKind::file, {}}, FileVersion{EntryKind::executable, {}}};
    QCOMPARE(changeRemark(file), QStringLiteral("made executable"));
    file.change.after.reset();
    QCOMPARE(changeRemark(file), QStringLiteral("deleted"));
    file.content = FileReading::Content::tooLarge;
    QVERIFY(changeRemark(file).contains(QStringLiteral("too large")));
}

ROPE_TESTS(TestCommitReader, QApplication)
#include "tst_commit_reader.moc"
