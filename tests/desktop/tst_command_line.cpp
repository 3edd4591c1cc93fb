// SPDX-License-Identifier: GPL-3.0-or-later
// The program as it is called from a shell, without a display.
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

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
    void addedTwice_isWarnedOf();
    void mergeFile_output_isWrittenWhole();
    void mergeFile_invalidUtf8_isLatin1InJson();
    void mergeFile_labels_andMarkerSize();
    void setupGit_writesAndUndoes();
    void setupGit_otherTool_staysFirst();
    void setupGit_driver_joinsInGit();
    void mergeFile_badInput_exitsTwo_data();
    void mergeFile_badInput_exitsTwo();
    void forecast_json_tellsAll();
    void forecast_writeTree_isGitsTree();
    void forecast_errors_exitTwo_data();
    void forecast_errors_exitTwo();
    void forecast_severalBranches_oneAnswerEach();
    void collisions_eachPairOnce();
    void audit_tellsWhatIsOdd();
    void forecast_unrelated_onlyWhenAsked();
    void join_clean_isRecorded();
    void join_toDecide_changesNothing();
    void join_obstacles_areTold();
    void output_thatTakesNoMore_exitsTwo();
    void mergeFile_output_keepsModeAndLinks();
    void names_controlCharacters_areShown();
    void mistakes_getOneSentence();
    void merge_isAlsoCalledJoin();
    void paths_notUtf8_work();
    void forecast_namesGitRefuses_areAsked();
    void forecast_localMergeProgram_runsOnlyWhenAllowed();
    void join_killed_canBeDoneAgain();
    void join_whileAnotherRecords_leaves();
    void join_interrupted_takesItBack();
    void join_interruptedTwice_takesItBack();
    void join_interruptedTwice_filtersGoOn();
    void join_hookInterruptedFirst_takesItBack();
    void wantOfMemory_isASentence();
    void demo_isWhatTheScenarioBuilds();
    void demo_endedMidway_isMadeAgain();
    void withoutGit_theErrorSaysSo();
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

/// Both put the same function in, before and behind one that nobody changed.
void TestCommandLine::addedTwice_isWarnedOf()
{
    const QByteArray old = "def fee(boat):\n    return boat.length * rate\n\n";
    const QByteArray added = "def tide(hour):\n    level = table.read(hour)\n    return level\n\n";
    const QByteArray rest = "def last(day):\n    return day.closing\n";
    ScratchRepository scratch;
    scratch.write("b", old + rest);
    scratch.write("o", added + old + rest);
    scratch.write("t", old + added + rest);
    const Ran ran = run(words("merge-file --json b o t"), scratch.folder());
    QCOMPARE(ran.exitCode, 0);
    const QJsonArray warnings = ran.json()[QLatin1String("warnings")].toArray();
    QCOMPARE(warnings.size(), qsizetype{1});
    const QJsonObject warning = warnings[0].toObject();
    QCOMPARE(warning[QLatin1String("kind")].toString(), QStringLiteral("added-twice"));
    QCOMPARE(warning[QLatin1String("otherLine")].toInt(), 1);
    QCOMPARE(warning[QLatin1String("line")].toInt(), 8);
    QCOMPARE(warning[QLatin1String("lines")].toInt(), 3);
    scratch.write("t", old + "def other(x):\n    return x\n\n" + rest);
    QVERIFY(run(words("merge-file --json b o t"), scratch.folder())
                .json()[QLatin1String("warnings")]
                .toArray()
                .isEmpty());
    // The same of a file of two branches.
    scratch.write("gate.py", old + rest);
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("gate.py", old + added + rest);
    scratch.commit("theirs");
    scratch.git("switch -q -c ours main");
    scratch.write("gate.py", added + old + rest);
    scratch.commit("ours");
    const QJsonObject file = run(words("forecast --json ours theirs"), scratch.folder())
                                 .json()[QLatin1String("files")]
                                 .toArray()[0]
                                 .toObject();
    QCOMPARE(file[QLatin1String("warnings")].toArray().size(), qsizetype{1});
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

void TestCommandLine::mergeFile_labels_andMarkerSize()
{
    const ScratchRepository files;
    files.write("b", "a\n");
    files.write("o", "o\n");
    files.write("t", "t\n");
    const Ran ran =
        run(words("merge-file --marker-size 9 --labels base mine yours b o t"), files.folder());
    QCOMPARE(ran.exitCode, 1);
    QCOMPARE(ran.out,
             QByteArray("<<<<<<<<< mine\no\n||||||||| base\na\n=========\nt\n>>>>>>>>> yours\n"));
}

void TestCommandLine::setupGit_writesAndUndoes()
{
    ScratchRepository scratch;
    scratch.write(".git/info/attributes", "*.bin binary\n");
    const QByteArray before = scratch.read(".git/config");
    const Ran ran = run(words("setup-git --driver"), scratch.folder());
    QCOMPARE(ran.exitCode, 0);
    QVERIFY2(ran.out.contains("+ merge.tool = rope-splice\n"), ran.out.constData());
    QVERIFY(ran.out.contains("+ * merge=rope-splice\n"));
    QCOMPARE(scratch.git("config mergetool.rope-splice.trustExitCode"), QByteArray("true"));
    QCOMPARE(scratch.read(".git/info/attributes"),
             QByteArray("* merge=rope-splice\n*.bin binary\n"));
    QVERIFY(run(words("setup-git --driver"), scratch.folder()).out.contains("already"));
    const Ran undone = run(words("setup-git --undo"), scratch.folder());
    QVERIFY2(undone.out.contains("- merge.tool = rope-splice\n"), undone.out.constData());
    QCOMPARE(scratch.read(".git/info/attributes"), QByteArray("*.bin binary\n"));
    QCOMPARE(scratch.read(".git/config"), before);
    QCOMPARE(run(words("setup-git --global --local"), scratch.folder()).exitCode, 2);
    const QTemporaryDir nowhere;
    QCOMPARE(run(words("setup-git"), nowhere.path()).exitCode, 2);
}

void TestCommandLine::setupGit_otherTool_staysFirst()
{
    ScratchRepository scratch;
    scratch.git("config merge.tool mine");
    QVERIFY(run(words("setup-git"), scratch.folder()).out.contains("merge.tool stays mine"));
    QCOMPARE(run(words("setup-git --undo"), scratch.folder()).exitCode, 0);
    QCOMPARE(scratch.git("config merge.tool"), QByteArray("mine"));
}

/// git merges by calling merge-file for each file; what it writes is what git itself would.
void TestCommandLine::setupGit_driver_joinsInGit()
{
    ScratchRepository scratch;
    rope::test::makeDiverged(scratch);
    QCOMPARE(run(words("setup-git --driver"), scratch.folder()).exitCode, 0);
    int exitCode = 0;
    scratch.tryGit(words("merge -q theirs"), exitCode);
    QCOMPARE(exitCode, 1);
    QCOMPARE(scratch.read("plan.txt"),
             QByteArray("one\n<<<<<<< ours\ntwo ours\n||||||| base\ntwo\n=======\ntwo theirs\n"
                        ">>>>>>> theirs\nthree\nfour\nfive\nSIX\n"));
    scratch.git("merge --abort");
    // Our own joins take the driver for what it is.
    const Ran forecast = run(words("forecast --json ours theirs"), scratch.folder());
    QCOMPARE(forecast.exitCode, 1);
    QVERIFY2(!forecast.out.contains("programLeftOut") && !forecast.err.contains("not run"),
             forecast.err.constData());
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

void TestCommandLine::audit_tellsWhatIsOdd()
{
    ScratchRepository scratch;
    rope::test::makeDiverged(scratch);
    QCOMPARE(run(words("audit"), scratch.folder()).exitCode, 0);
    int exitCode = 0;
    scratch.tryGit(words("merge -q theirs"), exitCode);
    scratch.write("plan.txt", "one\ntwo of both\nthree\nfour\nfive\nSIX\n");
    scratch.commit("merged");
    const Ran clean = run(words("audit main..ours"), scratch.folder());
    QCOMPARE(clean.exitCode, 0);
    QCOMPARE(clean.out, QByteArray("Nothing odd in 1 merge.\n"));
    scratch.write("keep.txt", "slipped in\n");
    scratch.git("add keep.txt");
    scratch.git("commit -q --amend -m merged");
    const Ran odd = run(words("audit --json"), scratch.folder());
    QCOMPARE(odd.exitCode, 1);
    const QJsonObject merge = odd.json().value(QLatin1String("merges")).toArray().at(0).toObject();
    const QJsonObject decision = merge.value(QLatin1String("decisions")).toArray().at(0).toObject();
    QCOMPARE(decision.value(QLatin1String("choice")).toString(), QStringLiteral("own"));
    const QJsonObject place = merge.value(QLatin1String("odd")).toArray().at(0).toObject();
    QCOMPARE(place.value(QLatin1String("kind")).toString(), QStringLiteral("neither-side"));
    QCOMPARE(place.value(QLatin1String("path")).toString(), QStringLiteral("keep.txt"));
    QVERIFY(run(words("audit"), scratch.folder()).out.contains("keep.txt: a file as neither side has it"));
    QCOMPARE(run(words("audit nothing..here"), scratch.folder()).exitCode, 2);
}

void TestCommandLine::collisions_eachPairOnce()
{
    ScratchRepository scratch;
    rope::test::makeDiverged(scratch);
    const Ran ran = run(words("collisions --json main ours theirs"), scratch.folder());
    QCOMPARE(ran.exitCode, 1);
    const QJsonArray pairs = QJsonDocument::fromJson(ran.out).array();
    QCOMPARE(pairs.size(), 3);
    int open = 0;
    for (const auto pair : pairs) {
        const QJsonObject object = pair.toObject();
        open += object[QLatin1String("open")].toInt();
        if (object[QLatin1String("first")].toString() == QLatin1String("main")) {
            QCOMPARE(object[QLatin1String("relation")].toString(), QStringLiteral("theirs-ahead"));
        }
    }
    QCOMPARE(open, 1);
    for (const char* name : {"ours", "theirs"}) {
        scratch.git({QStringLiteral("update-ref"),
                     QStringLiteral("refs/remotes/origin/") + QLatin1String(name),
                     QLatin1String(name)});
    }
    const Ran shared = run(words("collisions"), scratch.folder());
    QCOMPARE(shared.out.count('\n'), qsizetype{1});  // the shared ones alone
    QVERIFY(shared.out.contains("1 conflict in 1 file"));
    QCOMPARE(run(words("collisions nobody main"), scratch.folder()).exitCode, 2);
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
    // The logbook can reopen it for as long as the journal knows it.
    const QByteArray kept = scratch.git("for-each-ref --format=%(objectname) refs/rope-splice");
    QCOMPARE(kept, ours + "\n" + scratch.git("rev-parse theirs"));
    QCOMPARE(run(words("join theirs"), scratch.folder()).exitCode, 0);  // nothing left to do
    QCOMPARE(scratch.git("for-each-ref --format=%(objectname) refs/rope-splice"), kept);
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
    scratch.git("config rope-splice.checkRequired true");
    const Ran unchecked = run(words("join --commit theirs"), scratch.folder());
    QCOMPARE(unchecked.exitCode, 2);
    QVERIFY(unchecked.err.contains("check command"));
    QCOMPARE(scratch.git("for-each-ref refs/rope-splice"), QByteArray());
    scratch.git("config --unset rope-splice.checkRequired");
    QCOMPARE(run(words("join --commit theirs"), scratch.folder()).exitCode, 0);
    scratch.git("checkout -q --detach");
    QVERIFY(run(words("join ours"), scratch.folder()).err.contains("on no branch"));
}

/// Two branches that join without a question, `ours` checked out.
static void makeClean(ScratchRepository& scratch)
{
    scratch.write("a.txt", "1\n2\n3\n4\n5\n");
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("a.txt", "eins\n2\n3\n4\n5\n");
    scratch.write("new.txt", "new\n");
    scratch.commit("theirs");
    scratch.git("switch -q -c ours main");
    scratch.write("a.txt", "1\n2\n3\n4\nfuenf\n");
    scratch.commit("ours");
}

/// Runs a line in a shell, the program as "$RS".
static Ran shell(const QString& line, const QString& folder)
{
    QProcess process;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert(QStringLiteral("RS"), qEnvironmentVariable("ROPE_SPLICE_PROGRAM"));
    process.setProcessEnvironment(environment);
    process.setWorkingDirectory(folder);
    process.start(QStringLiteral("bash"), {QStringLiteral("-c"), line});
    process.waitForFinished(-1);
    return {process.exitCode(), process.readAllStandardOutput(), process.readAllStandardError()};
}

void TestCommandLine::output_thatTakesNoMore_exitsTwo()
{
    ScratchRepository scratch;
    makeClean(scratch);
    for (const char* command : {"merge-file a.txt a.txt a.txt",
                                "merge-file --json a.txt a.txt a.txt",
                                "forecast --json ours theirs",
                                "forecast ours theirs"}) {
        const Ran ran = shell(QStringLiteral("\"$RS\" %1 >/dev/full").arg(QLatin1String(command)),
                              scratch.folder());
        QVERIFY2(ran.exitCode == 2, command);
        QVERIFY(ran.err.contains("could not be written"));
    }
}

void TestCommandLine::mergeFile_output_keepsModeAndLinks()
{
    const QTemporaryDir folder;
    const Ran ran =
        shell(QStringLiteral("printf '1\n2\n3\n' >b; printf 'o\n2\n3\n' >o; printf '1\n2\nt\n' >t\n"
                             "cp o script; chmod 755 script; cp o private; chmod 600 private\n"
                             "cp o goal; ln -s goal link; mkfifo pipe; (cat pipe >from-pipe) &\n"
                             "for f in script private link pipe fresh; do \"$RS\" merge-file -o $f "
                             "b o t || exit 1; done\n"
                             "wait; umask 022; stat -c %a script private; readlink link; cat goal "
                             "from-pipe; [ -p pipe ] && echo pipe; ls -A | grep rope"),
              folder.path());
    QCOMPARE(ran.out, QByteArray("755\n600\ngoal\no\n2\nt\no\n2\nt\npipe\n"));
}

void TestCommandLine::names_controlCharacters_areShown()
{
    ScratchRepository scratch;
    scratch.write("esc\x1b]0;title\a.txt", "1\n2\n3\n");
    scratch.write("c1\xc2\x9b"
                  "31m.txt",
                  "1\n2\n3\n");
    scratch.write("rtl\xe2\x80\xae.txt", "1\n2\n3\n");
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    for (const char* side : {"theirs", "ours"}) {
        if (QByteArray(side) == "ours") {
            scratch.git("switch -q -c ours main");
        }
        for (const char* name : {"esc\x1b]0;title\a.txt",
                                 "c1\xc2\x9b"
                                 "31m.txt",
                                 "rtl\xe2\x80\xae.txt"}) {
            scratch.write(name, QByteArray("1\n") + side + "\n3\n");
        }
        scratch.commit(side);
    }
    scratch.write("esc\x1b]0;title\a.txt", "not committed\n");
    for (const char* command : {"forecast ours theirs", "join theirs"}) {
        const Ran ran = run(words(command), scratch.folder());
        for (const char* control : {"\x1b", "\a", "\xc2\x9b", "\xe2\x80\xae"}) {
            QVERIFY2(!(ran.out + ran.err).contains(control), command);
        }
    }
    // Other programs get the names as they are, in JSON's own escapes.
    QVERIFY(run(words("forecast --json ours theirs"), scratch.folder()).out.contains("\\u001b"));
}

/// Whoever mistypes a command, or has no display, is told so in one sentence.
void TestCommandLine::mistakes_getOneSentence()
{
    const QTemporaryDir folder;
    const Ran typo = run(words("frcast HEAD x"), folder.path());
    QCOMPARE(typo.exitCode, 2);
    QVERIFY2(typo.err.contains("There is no command frcast. Did you mean forecast?"), typo.err);
    const QStringList blank{QStringLiteral("merge"),
                            QStringLiteral("-m"),
                            QStringLiteral("  "),
                            QStringLiteral("theirs")};
    QCOMPARE(run(blank, folder.path()).exitCode, 2);
    const Ran hidden = shell(
        QStringLiteral("unset DISPLAY WAYLAND_DISPLAY QT_QPA_PLATFORM; \"$RS\""), folder.path());
    QCOMPARE(hidden.exitCode, 2);
    QVERIFY2(hidden.err.startsWith("rope-splice: There is no display here"), hidden.err);
    QCOMPARE(hidden.err.count('\n'), 1);
}

void TestCommandLine::merge_isAlsoCalledJoin()
{
    ScratchRepository scratch;
    scratch.write("a", "1\n");
    scratch.commit("base");
    scratch.git("switch -q -c theirs");
    scratch.write("b", "theirs\n");
    scratch.commit("theirs");
    scratch.git("switch -q main");
    scratch.write("c", "ours\n");
    scratch.commit("ours");
    QCOMPARE(run(words("merge theirs"), scratch.folder()).exitCode, 0);
    QCOMPARE(scratch.git("rev-list --count --merges HEAD"), QByteArray("1"));
    scratch.git("reset -q --hard HEAD~1");
    QCOMPARE(run(words("join theirs"), scratch.folder()).exitCode, 0);
    QCOMPARE(scratch.git("rev-list --count --merges HEAD"), QByteArray("1"));
}

void TestCommandLine::paths_notUtf8_work()
{
    const QTemporaryDir folder;
    const Ran ran = shell(
        QStringLiteral(
            "d=$(printf 'caf\\351'); git init -q \"$d\" && cd \"$d\" && git config user.name M && "
            "git config user.email m@slackwater.example\n"
            "f=$(printf 'na\\357ve'); printf '1\n2\n3\n' >\"$f\"; git add -A; git commit -qm base; "
            "git switch -qc theirs; printf '1\n2\nt\n' >\"$f\"; git commit -qam t\n"
            "git switch -qc ours HEAD~1; printf 'o\n' >other; git add -A; git commit -qm o\n"
            "\"$RS\" forecast ours theirs >/dev/null || exit 3; cd ..; \"$RS\" join --repo \"$d\" "
            "-m joined theirs >/dev/null || exit 4\n"
            "git -C \"$d\" status --porcelain; cat \"$d/$f\"; git -C \"$d\" log -1 --format=%s"),
        folder.path());
    QVERIFY2(ran.exitCode == 0, ran.err.constData());
    QCOMPARE(ran.out, QByteArray("1\n2\nt\njoined\n"));
}

void TestCommandLine::forecast_namesGitRefuses_areAsked()
{
    ScratchRepository scratch;
    makeClean(scratch);
    const QByteArray blob = scratch.git(
        {QStringLiteral("hash-object"), QStringLiteral("-w"), QStringLiteral("--stdin")}, "x");
    const QByteArray tree =
        scratch.git({QStringLiteral("mktree")}, "100644 blob " + blob + "\tgit~1\n");
    const QByteArray both = scratch.git("ls-tree theirs") + "\n040000 tree " + tree + "\tsub";
    const QByteArray whole = scratch.git({QStringLiteral("mktree")}, both + "\n");
    scratch.commitUpon("theirs", whole);
    const Ran ran = run(words("forecast ours theirs"), scratch.folder());
    QCOMPARE(ran.exitCode, 1);
    QVERIFY2(ran.out.contains("sub/git~1"), ran.out.constData());
    const Ran asJson = run(words("forecast --json ours theirs"), scratch.folder());
    QCOMPARE(asJson.exitCode, 1);
    QVERIFY2(asJson.out.contains("sub/git~1"), asJson.out.constData());
    QCOMPARE(run(words("join theirs"), scratch.folder()).exitCode, 1);
    QVERIFY(scratch.git("status --porcelain").isEmpty());
}

void TestCommandLine::forecast_localMergeProgram_runsOnlyWhenAllowed()
{
    ScratchRepository scratch;
    scratch.write(".gitattributes", "a.txt merge=mine\n");
    makeClean(scratch);
    scratch.git({QStringLiteral("config"),
                 QStringLiteral("merge.mine.driver"),
                 QStringLiteral("env >%A; touch .git/it-ran")});
    const Ran locked = run(words("forecast ours theirs"), scratch.folder());
    QCOMPARE(locked.exitCode, 1);
    QVERIFY(locked.err.contains("touch .git/it-ran") && locked.err.contains("--allow-programs"));
    QVERIFY(!QFile::exists(scratch.filePath(".git/it-ran")));
    qputenv("GIT_DIR", scratch.filePath(".git").toUtf8());  // as within a hook
    const Ran allowed =
        run(words("forecast --allow-programs --write-tree ours theirs"), scratch.folder());
    qunsetenv("GIT_DIR");
    QCOMPARE(allowed.exitCode, 0);
    QVERIFY(QFile::exists(scratch.filePath(".git/it-ran")));
    const QByteArray tree = allowed.out.trimmed().right(40);
    QVERIFY(!scratch
                 .git(QStringList{QStringLiteral("show"),
                                  QString::fromLatin1(tree) + QStringLiteral(":a.txt")})
                 .contains("GIT_DIR="));
}

void TestCommandLine::join_killed_canBeDoneAgain()
{
    ScratchRepository scratch;
    makeClean(scratch);
    scratch.addHook("pre-merge-commit", "kill -9 $(ps -o ppid= -p $PPID)");
    shell(QStringLiteral("\"$RS\" join theirs"), scratch.folder());
    QVERIFY(!scratch.git("status --porcelain").isEmpty());
    scratch.remove(".git/hooks/pre-merge-commit");
    const Ran again = run(words("join -m again theirs"), scratch.folder());
    QVERIFY2(again.exitCode == 0, again.err.constData());
    QVERIFY(scratch.git("status --porcelain").isEmpty());
    QCOMPARE(scratch.git("log -1 --format=%s"), QByteArray("again"));
    QVERIFY(QDir(scratch.filePath(".git/rope-splice"))
                .entryList({QStringLiteral("*-*-*")}, QDir::Dirs)
                .isEmpty());
}

void TestCommandLine::join_whileAnotherRecords_leaves()
{
    ScratchRepository scratch;
    makeClean(scratch);
    scratch.addHook("pre-merge-commit",
                    "touch .git/in-hook; while [ ! -e .git/go-on ]; do sleep 0.05; done");
    const Ran both = shell(QStringLiteral("\"$RS\" join -m first theirs >first & p=$!\n"
                                          "while [ ! -e .git/in-hook ]; do sleep 0.05; done\n"
                                          "\"$RS\" join -m second theirs; echo \"second $?\"; "
                                          "touch .git/go-on; wait $p; echo \"first $?\"; rm first"),
                           scratch.folder());
    QCOMPARE(both.out, QByteArray("second 2\nfirst 0\n"));
    QVERIFY(both.err.contains("is recording in this repository right now (process "));
    QCOMPARE(scratch.git("log -1 --format=%s"), QByteArray("first"));
    QCOMPARE(scratch.read("new.txt"), QByteArray("new\n"));
    QVERIFY(scratch.git("status --porcelain").isEmpty());
}

void TestCommandLine::join_interrupted_takesItBack()
{
    ScratchRepository scratch;
    makeClean(scratch);
    const QByteArray before = scratch.fingerprint();
    scratch.addHook("pre-merge-commit", "touch .git/in-hook; sleep 1000");
    const Ran ran = shell(QStringLiteral("\"$RS\" join theirs & p=$!\n"
                                         "while [ ! -e .git/in-hook ]; do sleep 0.05; done\n"
                                         "kill -TERM $p; wait $p"),
                          scratch.folder());
    QCOMPARE(ran.exitCode, 2);
    QCOMPARE(scratch.fingerprint(), before);
    QVERIFY(run(words("forecast ours theirs"), scratch.folder()).exitCode == 0);
}

/// A key that is held down, or pressed again: what takes things back is not cut off by it.
void TestCommandLine::join_interruptedTwice_takesItBack()
{
    ScratchRepository scratch;
    makeClean(scratch);
    const QByteArray before = scratch.fingerprint();
    scratch.addHook("pre-merge-commit", "touch .git/in-hook; sleep 1000");
    // As a terminal does it: to all of the group, git included.
    const Ran ran =
        shell(QStringLiteral("setsid \"$RS\" join theirs & p=$!\n"
                             "while [ ! -e .git/in-hook ]; do sleep 0.05; done\n"
                             "for i in 1 2 3 4 5; do kill -INT -- -$p; sleep 0.02; done\n"
                             "wait $p"),
              scratch.folder());
    QCOMPARE(ran.exitCode, 2);
    QVERIFY2(ran.err.contains("topped"), ran.err.constData());
    QCOMPARE(scratch.fingerprint(), before);
}

/// A shell takes back the blocking of signals; the filters that git starts by one are not cut off either.
void TestCommandLine::join_interruptedTwice_filtersGoOn()
{
    ScratchRepository scratch;
    makeClean(scratch);
    const QByteArray before = scratch.fingerprint();
    scratch.write(".git/info/attributes", "*.txt filter=slow\n");
    scratch.git({QStringLiteral("config"),
                 QStringLiteral("filter.slow.smudge"),
                 QStringLiteral("sleep 0.2 && cat")});
    scratch.git("config filter.slow.required true");
    scratch.git("config filter.slow.clean cat");
    scratch.addHook("pre-merge-commit", "touch .git/in-hook; sleep 1000");
    const Ran ran =
        shell(QStringLiteral("setsid \"$RS\" join theirs & p=$!\n"
                             "while [ ! -e .git/in-hook ]; do sleep 0.05; done\n"
                             "for i in {1..40}; do kill -INT -- -$p 2>/dev/null; sleep 0.02; done\n"
                             "wait $p"),
              scratch.folder());
    QCOMPARE(ran.exitCode, 2);
    QCOMPARE(ran.err, QByteArray("rope-splice: Stopped.\n"));
    QCOMPARE(scratch.fingerprint(), before);
}

/// Ctrl+C reaches hook and program each on its own way: the hook may be gone before the program knows.
void TestCommandLine::join_hookInterruptedFirst_takesItBack()
{
    ScratchRepository scratch;
    makeClean(scratch);
    const QByteArray before = scratch.fingerprint();
    scratch.addHook("pre-merge-commit",
                    "program=$(ps -o ppid= -p $PPID)\n"
                    "(sleep 0.05; kill -INT $program) >/dev/null 2>&1 &\n"
                    "exit 130");
    const Ran ran = run(words("join theirs"), scratch.folder());
    QCOMPARE(ran.exitCode, 2);
    QVERIFY2(ran.err.contains("topped"), ran.err.constData());
    QCOMPARE(scratch.fingerprint(), before);
}

void TestCommandLine::wantOfMemory_isASentence()
{
    ScratchRepository files;
    files.write("o", "1\n");
    const Ran ran = shell(QStringLiteral("truncate -s 1500M big; ulimit -c 0; ulimit -v 800000; "
                                         "\"$RS\" merge-file big o o"),
                          files.folder());
    QCOMPARE(ran.exitCode, 2);
    QVERIFY2(ran.err.contains("not enough memory"), ran.err.constData());
    QVERIFY(!ran.err.contains("terminate"));
}

void TestCommandLine::usage_wrong_exitsTwo()
{
    QCOMPARE(run(words("merge-file only-one")).exitCode, 2);
    QCOMPARE(run(words("forecast --nonsense a b")).exitCode, 2);
    QCOMPARE(run(words("--help")).exitCode, 0);
    QVERIFY(run(words("--version")).out.startsWith("rope-splice "));
}

void TestCommandLine::demo_isWhatTheScenarioBuilds()
{
    const QTemporaryDir folder;
    const QString made = folder.filePath(QStringLiteral("it's made here"));
    const Ran ran = run({QStringLiteral("demo"), made});  // without a display no window is opened
    QCOMPARE(ran.exitCode, 0);
    QVERIFY(ran.out.contains("Your repository: " + made.toUtf8() + "/slackwater\n"));
    const QString built = folder.filePath(QStringLiteral("built"));
    QProcess builder;
    builder.start(QStringLiteral("python3"),
                  {rope::test::sourceFolder() + QStringLiteral("/demo/build.py"),
                   built,
                   QStringLiteral("--uncommitted")});
    builder.waitForFinished(-1);
    QCOMPARE(builder.exitCode(), 0);
    const auto git = [](const QString& repository, const char* line) {
        QProcess process;
        process.setWorkingDirectory(repository);
        process.start(QStringLiteral("git"), words(line));
        process.waitForFinished(-1);
        return process.readAllStandardOutput();
    };
    for (const char* name : {"/shared.git", "/slackwater"}) {
        const QString here = made + QLatin1String(name);
        const QString there = built + QLatin1String(name);
        QCOMPARE(git(here, "for-each-ref"), git(there, "for-each-ref"));
        QCOMPARE(git(here, "fsck --strict --no-dangling"), QByteArray());
    }
    for (const char* line : {"diff", "status -sb", "config user.name"}) {
        QCOMPARE(git(made + QStringLiteral("/slackwater"), line),
                 git(built + QStringLiteral("/slackwater"), line));
    }
    const auto fetched = [](const QString& clone) {
        return QFileInfo(clone + QStringLiteral("/slackwater/.git/FETCH_HEAD")).lastModified();
    };
    QCOMPARE(fetched(made), fetched(built));
    QProcess teammate;
    teammate.start(made + QStringLiteral("/teammate-push"), {});
    teammate.waitForFinished(-1);
    QVERIFY(teammate.readAllStandardOutput().startsWith("W. Otieno sent "));

    const Ran again = run({QStringLiteral("demo"), made});
    QCOMPARE(again.exitCode, 2);
    QVERIFY(again.err.contains("is there already, and not empty"));
}

void TestCommandLine::demo_endedMidway_isMadeAgain()
{
    const QTemporaryDir folder;
    const QDir made(folder.path());
    QVERIFY(made.mkpath(QStringLiteral("shared.git/objects")));
    QFile marker(made.filePath(QStringLiteral("unfinished")));
    QVERIFY(marker.open(QIODevice::WriteOnly));
    marker.close();
    const Ran ran = run({QStringLiteral("demo"), folder.path()});
    QCOMPARE(ran.exitCode, 0);
    QVERIFY(!marker.exists());
    QVERIFY(QFileInfo::exists(made.filePath(QStringLiteral("slackwater/locks/passage.py"))));
    // What is not the demo's stays, and then nothing is made.
    QVERIFY(marker.open(QIODevice::WriteOnly));
    marker.close();
    QFile own(made.filePath(QStringLiteral("mine.txt")));
    QVERIFY(own.open(QIODevice::WriteOnly));
    own.close();
    QCOMPARE(run({QStringLiteral("demo"), folder.path()}).exitCode, 2);
    QVERIFY(own.exists());
}

void TestCommandLine::withoutGit_theErrorSaysSo()
{
    QProcess process;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert(QStringLiteral("PATH"), QStringLiteral("/nonexistent"));
    process.setProcessEnvironment(environment);
    process.start(qEnvironmentVariable("ROPE_SPLICE_PROGRAM"), words("forecast HEAD HEAD"));
    QVERIFY(process.waitForFinished(10'000));
    QCOMPARE(process.exitCode(), 2);
    QVERIFY(process.readAllStandardError().contains("git was not found on this machine."));
}

ROPE_TESTS(TestCommandLine, QCoreApplication)
#include "tst_command_line.moc"
