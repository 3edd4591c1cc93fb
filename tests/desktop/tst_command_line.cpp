// SPDX-License-Identifier: GPL-3.0-or-later
// The program as it is called from a shell, without a display.
#include "tests/support/scratch_repository.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

using rope::test::ScratchRepository;

namespace {
struct Ran
{
    int exitCode = -1;
    QByteArray out;
    QByteArray err;
    [[nodiscard]] QJsonObject json() const { return QJsonDocument::fromJson(out).object(); }
};

Ran run(const QStringList& arguments, const QString& folder = QDir::tempPath())
{
    QProcess process;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.remove(QStringLiteral("DISPLAY"));
    environment.remove(QStringLiteral("QT_QPA_PLATFORM"));
    process.setProcessEnvironment(environment);
    process.setWorkingDirectory(folder);
    process.start(qEnvironmentVariable("ROPE_SPLICE_PROGRAM"), arguments);
    process.waitForFinished(-1);
    return {process.exitCode(), process.readAllStandardOutput(), process.readAllStandardError()};
}

QStringList words(const char* line)
{
    return QString::fromUtf8(line).split(QLatin1Char(' '));
}
}  // namespace

class TestCommandLine : public QObject
{
    Q_OBJECT
private slots:
    void mergeFile_clean_exitsZero();
    void mergeFile_regions_areMarkedAndTold();
    void mergeFile_output_isWrittenWhole();
    void mergeFile_invalidUtf8_isLatin1InJson();
    void mergeFile_badInput_exitsTwo_data();
    void mergeFile_badInput_exitsTwo();
    void forecast_json_tellsAll();
    void forecast_writeTree_isGitsTree();
    void forecast_errors_exitTwo_data();
    void forecast_errors_exitTwo();
    void forecast_severalBranches_oneAnswerEach();
    void forecast_unrelated_onlyWhenAsked();
    void join_clean_isRecorded();
    void join_toDecide_changesNothing();
    void join_obstacles_areTold();
    void usage_wrong_exitsTwo();
};

void TestCommandLine::mergeFile_clean_exitsZero()
{
    const ScratchRepository files;
    files.write("b", "1\n2\n3\n");
    files.write("o", "one\n2\n3\n");
    files.write("t", "1\n2\nthree\n");
    const Ran ran = run(words("merge-file b o t"), files.folder());
    QCOMPARE(ran.exitCode, 0);
    QCOMPARE(ran.out, QByteArray("one\n2\nthree\n"));
    QVERIFY(ran.err.isEmpty());
}

void TestCommandLine::mergeFile_regions_areMarkedAndTold()
{
    const ScratchRepository files;
    files.write("b", "1\n");
    files.write("o", "one\n");
    files.write("t", "uno\n");
    QCOMPARE(run(words("merge-file b o t"), files.folder()).out,
             QByteArray("<<<<<<< o\none\n||||||| b\n1\n=======\nuno\n>>>>>>> t\n"));
    const Ran ran = run(words("merge-file --json b o t"), files.folder());
    QCOMPARE(ran.exitCode, 1);
    QCOMPARE(ran.json()[QLatin1String("clean")].toBool(true), false);
    QCOMPARE(ran.json()[QLatin1String("encoding")].toString(), QStringLiteral("UTF-8"));
    const QJsonObject region = ran.json()[QLatin1String("regions")].toArray()[0].toObject();
    QCOMPARE(region[QLatin1String("line")].toInt(), 1);
    QCOMPARE(region[QLatin1String("theirs")].toString(), QStringLiteral("uno\n"));
    QVERIFY(region[QLatin1String("candidates")].toArray().size() >= 4);
}

void TestCommandLine::mergeFile_output_isWrittenWhole()
{
    const ScratchRepository files;
    files.write("b", "1\n");
    files.write("o", "1\n");
    files.write("t", QByteArray("\xFF\n", 2));
    const Ran ran = run(words("merge-file -o result b o t"), files.folder());
    QCOMPARE(ran.exitCode, 0);
    QVERIFY(ran.out.isEmpty());
    QCOMPARE(files.read("result"), QByteArray("\xFF\n", 2));
    QCOMPARE(run(words("merge-file -o no/such/folder b o t"), files.folder()).exitCode, 2);
}

void TestCommandLine::mergeFile_invalidUtf8_isLatin1InJson()
{
    const ScratchRepository files;
    files.write("b", "1\n");
    files.write("o", "\xE9\n");
    files.write("t", "1\n");
    const Ran ran = run(words("merge-file --json b o t"), files.folder());
    QCOMPARE(ran.json()[QLatin1String("encoding")].toString(), QStringLiteral("ISO-8859-1"));
    QCOMPARE(ran.json()[QLatin1String("text")].toString(), QStringLiteral("é\n"));
}

void TestCommandLine::mergeFile_badInput_exitsTwo_data()
{
    QTest::addColumn<QByteArray>("content");
    QTest::addColumn<QByteArray>("words");
    QTest::newRow("missing") << QByteArray() << QByteArray("could not be read");
    QTest::newRow("binary") << QByteArray("a\0b", 3) << QByteArray("is not text");
}

void TestCommandLine::mergeFile_badInput_exitsTwo()
{
    QFETCH(QByteArray, content);
    QFETCH(QByteArray, words);
    const ScratchRepository files;
    files.write("b", "1\n");
    files.write("o", "1\n");
    if (!content.isEmpty()) {
        files.write("t", content);
    }
    const Ran ran = run(::words("merge-file b o t"), files.folder());
    QCOMPARE(ran.exitCode, 2);
    QVERIFY2(ran.err.contains(words), ran.err.constData());
    QVERIFY(ran.out.isEmpty());
}

void TestCommandLine::forecast_json_tellsAll()
{
    ScratchRepository scratch;
    rope::test::makeDiverged(scratch);
    const QByteArray before = scratch.fingerprint();
    const Ran ran = run({QStringLiteral("forecast"),
                         QStringLiteral("--repo"),
                         scratch.folder(),
                         QStringLiteral("--json"),
                         QStringLiteral("ours"),
                         QStringLiteral("refs/heads/theirs")});
    QCOMPARE(ran.exitCode, 1);
    const QJsonObject json = ran.json();
    QCOMPARE(json[QLatin1String("relation")].toString(), QStringLiteral("diverged"));
    QCOMPARE(json[QLatin1String("bases")].toArray()[0].toString().toLatin1(),
             scratch.git("rev-parse main"));
    QVERIFY(json[QLatin1String("tree")].isNull());
    const QJsonObject file = json[QLatin1String("files")].toArray()[0].toObject();
    QCOMPARE(file[QLatin1String("path")].toString(), QStringLiteral("plan.txt"));
    QCOMPARE(file[QLatin1String("outcome")].toString(), QStringLiteral("conflict"));
    QCOMPARE(file[QLatin1String("kind")].toString(), QStringLiteral("content"));
    QCOMPARE(file[QLatin1String("regions")].toInt(), 1);
    QCOMPARE(scratch.fingerprint(), before);
}

void TestCommandLine::forecast_writeTree_isGitsTree()
{
    ScratchRepository scratch;
    rope::test::makeDiverged(scratch);
    scratch.git("switch -q -c easy main");
    scratch.write("easy.txt", "easy\n");
    scratch.commit("easy");
    const Ran ran = run({QStringLiteral("forecast"),
                         QStringLiteral("--repo"),
                         scratch.folder(),
                         QStringLiteral("--json"),
                         QStringLiteral("--write-tree"),
                         QStringLiteral("ours"),
                         QStringLiteral("easy")});
    QCOMPARE(ran.exitCode, 0);
    QCOMPARE(ran.json()[QLatin1String("tree")].toString().toLatin1(),
             scratch.git("merge-tree --write-tree ours easy"));
}

void TestCommandLine::forecast_errors_exitTwo_data()
{
    QTest::addColumn<QStringList>("arguments");
    QTest::addColumn<QByteArray>("words");
    QTest::newRow("no-repository")
        << words("--repo /no/such/folder a b") << QByteArray("There is no folder");
    QTest::newRow("no-such-branch")
        << words("--repo . ours nowhere") << QByteArray("nowhere was not found");
    QTest::newRow("unrelated") << words("--repo . ours apart") << QByteArray("no commit in common");
    QTest::newRow("newline-in-name") << QStringList{QStringLiteral("--repo"),
                                                    QStringLiteral("."),
                                                    QStringLiteral("a\nb"),
                                                    QStringLiteral("ours")}
                                     << QByteArray("cannot be used here");
}

void TestCommandLine::forecast_errors_exitTwo()
{
    QFETCH(QStringList, arguments);
    QFETCH(QByteArray, words);
    ScratchRepository scratch;
    rope::test::makeDiverged(scratch);
    scratch.git("switch -q --orphan apart");
    scratch.commit("apart");
    const Ran ran = run(QStringList{QStringLiteral("forecast")} + arguments, scratch.folder());
    QCOMPARE(ran.exitCode, 2);
    QVERIFY2(ran.err.contains(words), ran.err.constData());
}

void TestCommandLine::forecast_severalBranches_oneAnswerEach()
{
    ScratchRepository scratch;
    rope::test::makeDiverged(scratch);
    const Ran ran = run(words("forecast --json ours main theirs ours nobody"), scratch.folder());
    QCOMPARE(ran.exitCode, 2);
    QVERIFY(ran.err.contains("nobody"));
    QStringList relations;
    for (const QByteArray& line : ran.out.trimmed().split('\n')) {
        relations << QJsonDocument::fromJson(line).object()[QLatin1String("relation")].toString();
    }
    QCOMPARE(relations.join(QLatin1Char(' ')), QStringLiteral("ours-ahead diverged same"));
}

void TestCommandLine::forecast_unrelated_onlyWhenAsked()
{
    ScratchRepository scratch;
    scratch.write("a", "1\n");
    scratch.commit("first");
    scratch.git("checkout -q --orphan other");
    scratch.git("rm -rq --cached .");
    scratch.remove("a");
    scratch.write("b", "2\n");
    scratch.commit("of its own");
    QCOMPARE(run(words("forecast main other"), scratch.folder()).exitCode, 2);
    const Ran asked =
        run(words("forecast --unrelated --json --write-tree main other"), scratch.folder());
    QCOMPARE(asked.exitCode, 0);
    QCOMPARE(asked.json()[QLatin1String("tree")].toString().toLatin1(),
             scratch.git("merge-tree --write-tree --allow-unrelated-histories main other"));
    QCOMPARE(run(words("join other"), scratch.folder()).exitCode, 0);  // on it already
    scratch.git("switch -q main");
    QCOMPARE(run(words("join other"), scratch.folder()).exitCode, 2);
    QCOMPARE(run(words("join --unrelated other"), scratch.folder()).exitCode, 0);
    QCOMPARE(scratch.git("ls-tree --name-only main"), QByteArray("a\nb"));
}

void TestCommandLine::join_clean_isRecorded()
{
    ScratchRepository scratch;
    rope::test::makeDiverged(scratch);
    scratch.write("plan.txt", "one\ntwo\nthree\nfour\nFIVE\nsix\n");
    scratch.commit("back to where it joins");
    scratch.git("reset -q --soft main");
    scratch.git("checkout -q main -- plan.txt");
    scratch.write("mine.txt", "mine\n");
    scratch.commit("only mine");
    const QByteArray ours = scratch.git("rev-parse ours");
    const Ran ran = run(QStringList{QStringLiteral("join"),
                                    QStringLiteral("-m"),
                                    QStringLiteral("Take in their work"),
                                    QStringLiteral("theirs")},
                        scratch.folder());
    QVERIFY2(ran.exitCode == 0, ran.err.constData());
    QCOMPARE(ran.out.trimmed(), scratch.git("rev-parse ours"));
    QCOMPARE(scratch.git("log -1 --format=%P%x20%s ours"),
             ours + " " + scratch.git("rev-parse theirs") + " Take in their work");
    QCOMPARE(scratch.git("status --porcelain"), QByteArray());
    QCOMPARE(scratch.read("new.txt"), QByteArray("from theirs\n"));
    QCOMPARE(scratch.git("for-each-ref refs/rope-splice"), QByteArray());
    QCOMPARE(run(words("join theirs"), scratch.folder()).exitCode, 0);  // nothing left to do
    QCOMPARE(ran.out.trimmed(), scratch.git("rev-parse ours"));
}

void TestCommandLine::join_toDecide_changesNothing()
{
    ScratchRepository scratch;
    rope::test::makeDiverged(scratch);
    const QByteArray before = scratch.fingerprint();
    const Ran ran = run(words("join theirs"), scratch.folder());
    QCOMPARE(ran.exitCode, 1);
    QVERIFY(ran.out.contains("plan.txt: 1 region"));
    QCOMPARE(scratch.fingerprint(), before);
}

void TestCommandLine::join_obstacles_areTold()
{
    ScratchRepository scratch;
    rope::test::makeDiverged(scratch);
    scratch.git("switch -q main");
    const Ran forward = run(words("join theirs"), scratch.folder());
    QCOMPARE(forward.exitCode, 2);
    QVERIFY(forward.err.contains("simply move on"));
    scratch.write("keep.txt", "changed\n");
    const QByteArray before = scratch.fingerprint();
    const Ran dirty = run(words("join --commit theirs"), scratch.folder());
    QCOMPARE(dirty.exitCode, 2);
    QVERIFY(dirty.err.contains("keep.txt"));
    QCOMPARE(scratch.fingerprint(), before);
    QCOMPARE(scratch.git("for-each-ref refs/rope-splice"), QByteArray());
    scratch.git("checkout -q keep.txt");
    QCOMPARE(run(words("join --commit theirs"), scratch.folder()).exitCode, 0);
    scratch.git("checkout -q --detach");
    QVERIFY(run(words("join ours"), scratch.folder()).err.contains("on no branch"));
}

void TestCommandLine::usage_wrong_exitsTwo()
{
    QCOMPARE(run(words("merge-file only-one")).exitCode, 2);
    QCOMPARE(run(words("forecast --nonsense a b")).exitCode, 2);
    QCOMPARE(run(words("--help")).exitCode, 0);
    QVERIFY(run(words("--version")).out.startsWith("rope-splice "));
}

QTEST_GUILESS_MAIN(TestCommandLine)
#include "tst_command_line.moc"
