// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/system/git/git_parsers.h"
#include "tests/support/test_program.h"

#include <QTest>

using namespace rope;

namespace {
const std::string kId = "0123456789abcdef0123456789abcdef01234567";

std::string entry(const char* mode, const std::string& name)
{
    return std::string(mode) + " " + name + std::string(1, '\0')
           + std::string(ObjectId::fromHex(kId)->raw());
}
}  // namespace

class TestGitParsers : public QObject
{
    Q_OBJECT
private slots:
    void tree_eachKind_isRead();
    void tree_forbiddenNames_areRefused_data();
    void tree_forbiddenNames_areRefused();
    void everyParser_cutShort_neverInvents();
    void commit_signedMessage_isRead();
    void link_parents_areRead();
    void status_allRecords_areRead();
    void status_remarks_arePassedOver();
    void checkedOut_namesGitRefuses_data();
    void checkedOut_namesGitRefuses();
    void signature_zone_isKept();
};

void TestGitParsers::tree_eachKind_isRead()
{
    const auto entries =
        parseTree(entry("100644", "a b\n\"c") + entry("100755", "be") + entry("40000", "dir")
                      + entry("120000", "link") + entry("160000", "sub"),
                  20);
    QVERIFY(entries.has_value());
    QCOMPARE(entries->size(), std::size_t{5});
    QCOMPARE(entries->at(0).name, std::string("a b\n\"c"));
    const EntryKind kinds[] = {EntryKind::file,
                               EntryKind::executable,
                               EntryKind::folder,
                               EntryKind::symlink,
                               EntryKind::submodule};
    for (std::size_t i = 0; i < 5; ++i) {
        QVERIFY(entries->at(i).kind == kinds[i]);
    }
    QVERIFY(parseTree("", 20)->empty());
    // A folder sorts as if its name ended in a slash; anything out of order, or twice, is no tree.
    QVERIFY(parseTree(entry("100644", "a-b") + entry("40000", "a") + entry("100644", "a0"), 20));
    QVERIFY(!parseTree(entry("40000", "a") + entry("100644", "a-b"), 20));
    QVERIFY(!parseTree(entry("100644", "b") + entry("100644", "a"), 20));
    QVERIFY(!parseTree(entry("100644", "a") + entry("100644", "a"), 20));
}

void TestGitParsers::tree_forbiddenNames_areRefused_data()
{
    QTest::addColumn<QByteArray>("name");
    for (const char* name : {"", ".", "..", ".git", ".GIT", "a/b"}) {
        QTest::newRow(*name == '\0' ? "empty" : name) << QByteArray(name);
    }
}

void TestGitParsers::tree_forbiddenNames_areRefused()
{
    QFETCH(QByteArray, name);
    QVERIFY(!parseTree(entry("100644", name.toStdString()), 20).has_value());
}

void TestGitParsers::everyParser_cutShort_neverInvents()
{
    const std::string tree = entry("100644", "one") + entry("100755", "two");
    const std::size_t first = entry("100644", "one").size();
    for (std::size_t size = 1; size < tree.size(); ++size) {
        const auto entries = parseTree(std::string_view(tree).substr(0, size), 20);
        QCOMPARE(entries.has_value(), size == first);
    }
    const std::string status = "1 .M N... 100644 100644 100644 " + kId + " " + kId + " a file"
                               + std::string(1, '\0') + "? new" + std::string(1, '\0');
    for (std::size_t size = 0; size < status.size(); ++size) {
        const auto files = parseStatus(std::string_view(status).substr(0, size));
        QVERIFY(!files || files->size() <= 1);
        const auto ended = parseStatus(status.substr(0, size) + std::string(1, '\0'));
        QVERIFY(!ended || ended->size() <= 2);
    }
    const std::string commit =
        "tree " + kId + "\nauthor A <a@b> 5 +0000\ncommitter A <a@b> 5 +0000\n\nwords\n";
    for (std::size_t size = 0; size < commit.find("\n\n") + 1; ++size) {
        QVERIFY(!parseCommit({}, std::string_view(commit).substr(0, size)).has_value());
    }
    QVERIFY(!parseCommitLink("17 abc").has_value());
    const std::string moves = kId + " a@{b}/c@{20}\n" + kId + " a@{10}\n";
    QCOMPARE(parseReflog(moves).size(), std::size_t{2});
    QCOMPARE(parseReflog(moves).front().at, std::int64_t{10});
    for (std::size_t size = 0; size + 1 < moves.size(); ++size) {
        QVERIFY(parseReflog(moves.substr(0, size)).size() <= 1);
    }
    QVERIFY(!parseObjectHeader(kId + " missing").has_value());
}

void TestGitParsers::commit_signedMessage_isRead()
{
    const std::string bytes =
        "tree " + kId + "\nparent " + kId
        + "\nauthor Maren Voss <maren@slackwater.example> 1793610000 +0100\n"
          "committer <> 17 +0000\ngpgsig -----BEGIN\n line two\n -----END\n\nSubject\n\nBody\n";
    const auto commit = parseCommit(*ObjectId::fromHex(kId), bytes);
    QVERIFY(commit.has_value());
    QCOMPARE(commit->subject(), std::string("Subject"));
    QCOMPARE(commit->author.name, std::string("Maren Voss"));
    QCOMPARE(commit->author.time, std::int64_t{1793610000});
    QCOMPARE(commit->parents.size(), std::size_t{1});
    QCOMPARE(commit->message, std::string("Subject\n\nBody\n"));
}

void TestGitParsers::link_parents_areRead()
{
    const auto link =
        parseCommitLink("42 " + kId + " " + std::string(40, 'a') + " " + std::string(40, 'b'));
    QVERIFY(link.has_value());
    QCOMPARE(link->time, std::int64_t{42});
    QCOMPARE(link->parents.size(), std::size_t{2});
}

void TestGitParsers::status_allRecords_areRead()
{
    const std::string nul(1, '\0');
    const std::string ids = kId + " " + kId;
    const auto files =
        parseStatus("1 .M N... 100644 100644 100644 " + ids + " with blank" + nul
                    + "2 R. N... 100644 100644 100644 " + ids + " R100 new name" + nul + "old name"
                    + nul + "u UU N... 100644 100644 100644 100644 " + ids + " " + kId + " clash"
                    + nul + "? line\nbreak" + nul);
    QVERIFY(files.has_value());
    QCOMPARE(files->size(), std::size_t{4});
    QCOMPARE(files->at(0).path, std::string("with blank"));
    QVERIFY(!files->at(0).isStaged && files->at(1).isStaged && files->at(2).isStaged);
    QCOMPARE(files->at(1).path, std::string("new name"));
    QCOMPARE(files->at(2).path, std::string("clash"));
    QVERIFY(files->at(3).isUntracked);
    QCOMPARE(files->at(3).path, std::string("line\nbreak"));
}

void TestGitParsers::status_remarks_arePassedOver()
{
    const std::string nul(1, '\0');
    const auto files = parseStatus("# branch.head main" + nul + "# stash 1" + nul + "? new" + nul);
    QVERIFY(files.has_value());
    QCOMPARE(files->size(), std::size_t{1});
    QCOMPARE(files->front().path, std::string("new"));
}

void TestGitParsers::checkedOut_namesGitRefuses_data()
{
    QTest::addColumn<QByteArray>("path");
    QTest::addColumn<bool>("isCheckedOutByGit");
    const auto row = [](const QByteArray& path, bool isGood) {
        QTest::newRow(path.left(30).constData()) << path << isGood;
    };
    row("src/main.cpp", true);
    row(".gitignore", true);
    row(".gitting/run", true);
    row("git~10", true);
    row("a/.git/config", false);
    row(".GIT/x", false);
    row("sub/git~1", false);
    row("GIT~1", false);
    row(".git ", false);
    row(".git. . ", false);
    row(".git::$INDEX_ALLOCATION", false);
    row(".git\\config", false);
    row("x/" + QByteArray(255, 'n'), true);
    row("x/" + QByteArray(256, 'n'), false);
}

void TestGitParsers::checkedOut_namesGitRefuses()
{
    QFETCH(QByteArray, path);
    QFETCH(bool, isCheckedOutByGit);
    QCOMPARE(isCheckedOut(path.toStdString()), isCheckedOutByGit);
}

void TestGitParsers::signature_zone_isKept()
{
    QCOMPARE(parseSignature("Priya <p@slackwater.example> 1700000000 +0530\n")->zone,
             std::string("+0530"));
    QCOMPARE(parseSignature("Priya <p@slackwater.example> 1700000000")->zone, std::string("+0000"));
}

ROPE_TESTS(TestGitParsers, QCoreApplication)
#include "tst_git_parsers.moc"
