// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/system/git/git_progress.h"
#include "tests/support/test_program.h"

#include <QTest>

#include <algorithm>
#include <vector>

using namespace rope;

class TestGitProgress : public QObject
{
    Q_OBJECT
private slots:
    void progressIn_knownLines_areRead_data();
    void progressIn_knownLines_areRead();
    void progressIn_otherLines_areNone_data();
    void progressIn_otherLines_areNone();
    void progressLinesTo_anyPieces_tellsTheLast();
    void withoutProgress_leavesWhatWasSaid();
};

void TestGitProgress::progressIn_knownLines_areRead_data()
{
    QTest::addColumn<QByteArray>("line");
    QTest::addColumn<QString>("step");
    QTest::addColumn<int>("done");
    QTest::addColumn<int>("total");
    QTest::newRow("share") << QByteArray("Receiving objects:  45% (9/20), 1.20 MiB | 3.00 MiB/s")
                           << "Receiving objects" << 9 << 20;
    QTest::newRow("remote") << QByteArray("remote: Compressing objects: 100% (3/3), done.")
                            << "Compressing objects" << 3 << 3;
    QTest::newRow("count") << QByteArray("remote: Enumerating objects: 20, done.")
                           << "Enumerating objects" << 20 << 0;
}

void TestGitProgress::progressIn_knownLines_areRead()
{
    QFETCH(const QByteArray, line);
    const auto progress = progressIn({line.constData(), static_cast<std::size_t>(line.size())});
    QVERIFY(progress);
    QTEST(QString::fromStdString(progress->subject), "step");
    QTEST(static_cast<int>(progress->done), "done");
    QTEST(static_cast<int>(progress->total), "total");
}

void TestGitProgress::progressIn_otherLines_areNone_data()
{
    QTest::addColumn<QByteArray>("line");
    QTest::newRow("nothing") << QByteArray();
    QTest::newRow("summary") << QByteArray("remote: Total 20 (delta 0), reused 0 (delta 0)");
    QTest::newRow("failure") << QByteArray("fatal: unable to access 'http://x/': 404");
    QTest::newRow("words") << QByteArray("remote: gate 3: 12:30 is too late");
    QTest::newRow("halves") << QByteArray("Receiving objects: 45% (9/");
}

void TestGitProgress::progressIn_otherLines_areNone()
{
    QFETCH(const QByteArray, line);
    QVERIFY(!progressIn({line.constData(), static_cast<std::size_t>(line.size())}));
}

void TestGitProgress::progressLinesTo_anyPieces_tellsTheLast()
{
    const std::string said = "Counting objects:  50% (1/2)\rCounting objects: 100% (2/2)\r"
                             "Counting objects: 100% (2/2), done.\nTo /srv/team.git\n";
    for (std::size_t piece = 1; piece <= said.size(); ++piece) {
        std::vector<std::uint64_t> done;
        const auto take =
            progressLinesTo([&done](const Progress& progress) { done.push_back(progress.done); });
        for (std::size_t from = 0; from < said.size(); from += piece) {
            take(std::string_view(said).substr(from, piece));
        }
        // Of several in one piece the last is enough to show.
        QVERIFY(std::is_sorted(done.begin(), done.end()));
        QCOMPARE(done.back(), std::uint64_t{2});
        QVERIFY(done.size() <= 3);
        QVERIFY(piece > 1 || done.size() == 3);
        QVERIFY(piece < said.size() || done.size() == 1);
    }
    QVERIFY(!progressLinesTo({}));
}

void TestGitProgress::withoutProgress_leavesWhatWasSaid()
{
    QCOMPARE(
        withoutProgress("Writing objects: 100% (3/3), done.\nremote: \nremote: No.\r\nerror: x"),
        std::string("remote: No.\nerror: x\n"));
}

ROPE_TESTS(TestGitProgress, QCoreApplication)
#include "tst_git_progress.moc"
