// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/system/factory/open_place.h"
#include "core/trial/check_commands.h"
#include "core/trial/command_run.h"
#include "core/trial/output_links.h"
#include "core/trial/output_text.h"
#include "tests/support/scratch_repository.h"
#include "tests/support/test_program.h"

#include <QElapsedTimer>
#include <QTest>

#include <csignal>
#include <thread>

using namespace rope;
using namespace rope::test;

namespace {
std::string runnerProgram()
{
    const QString program = qEnvironmentVariable("ROPE_SPLICE_PROGRAM");
    return QFileInfo(program).path().toStdString() + "/rope-splice-run";
}

/// Runs a small program of the shell in a folder of its own.
class Run
{
public:
    Run()
    {
        request.runner = runnerProgram();
        request.folder = m_folder.path().toStdString();
        request.outputFile = m_folder.filePath(QStringLiteral("output")).toStdString();
    }
    Result<RunOutcome> shell(const std::string& script)
    {
        request.words = {"sh", "-c", script};
        return run();
    }
    Result<RunOutcome> run()
    {
        said.clear();
        return runCommand(
            request, [this](std::string_view bytes) { said += bytes; }, stop.get_token());
    }
    [[nodiscard]] QByteArray kept() const
    {
        QFile in(QString::fromStdString(request.outputFile));
        return in.open(QIODevice::ReadOnly) ? in.readAll() : QByteArray("(none)");
    }
    [[nodiscard]] QString file(const char* name) const
    {
        return m_folder.filePath(QString::fromUtf8(name));
    }
    /// A process number that the script wrote into a file; 0: it did not in time.
    [[nodiscard]] pid_t processIn(const char* name) const
    {
        for (int tries = 0; tries < 200; ++tries) {
            QFile in(file(name));
            if (in.open(QIODevice::ReadOnly)) {
                if (const int id = in.readAll().trimmed().toInt(); id > 0) {
                    return id;
                }
            }
            QTest::qSleep(20);
        }
        return 0;
    }

    RunRequest request;
    std::string said;
    std::stop_source stop;

private:
    QTemporaryDir m_folder;
};

bool isAlive(pid_t process)
{
    return ::kill(process, 0) == 0;
}

QStringList styledWords(std::string_view bytes)
{
    OutputText text;
    QStringList words;
    for (const OutputLine& line : text.add(bytes)) {
        for (const OutputRun& run : line.runs) {
            words << QString::fromStdString(run.text)
                         + (run.style.ink ? QStringLiteral(":%1").arg(*run.style.ink, 6, 16)
                                          : QString())
                         + (run.style.isBold ? QStringLiteral(":bold") : QString());
        }
    }
    return words;
}

QStringList linksIn(std::string_view line)
{
    const std::vector<RepoPath> files{"locks/report.py", "main.c", "a b.txt", "x"};
    QStringList found;
    for (const OutputLink& link : findOutputLinks(line, "/cache/files", [&](const RepoPath& path) {
             return std::find(files.begin(), files.end(), path) != files.end();
         })) {
        found << QStringLiteral("%1:%2 [%3]")
                     .arg(QString::fromStdString(link.path))
                     .arg(link.line)
                     .arg(
                         QString::fromStdString(std::string(line.substr(link.begin, link.length))));
    }
    return found;
}
}  // namespace

class TestTrial : public QObject
{
    Q_OBJECT
private slots:
    void words_areSplitWithoutAShell();
    void sharedFile_isRead();
    void settings_areKeptInTheRepository();
    void exit_signalAndOutput();
    void environment_isThePersons();
    void missingProgram_isTold();
    void stop_endsEverything();
    void endOfTheWindow_endsEverything();
    void leftBehind_isEndedAndTold();
    void flood_isBounded();
    void unwritableOutput_endsIt();
    void colours_areReadAsText();
    void portions_giveTheSameText();
    void links_areFound();
};

void TestTrial::words_areSplitWithoutAShell()
{
    using Words = std::vector<std::string>;
    QCOMPARE(*wordsOf("python3 -m unittest"), (Words{"python3", "-m", "unittest"}));
    QCOMPARE(*wordsOf("  ./run \"two words\" 'it''s' a\\ b \"q\\\"q\" ''"),
             (Words{"./run", "two words", "its", "a b", "q\"q", ""}));
    QCOMPARE(*wordsOf("sh -c 'a && b | c > $HOME'"), (Words{"sh", "-c", "a && b | c > $HOME"}));
    QCOMPARE(*wordsOf("test a=b 100$ $ {x}"), (Words{"test", "a=b", "100$", "$", "{x}"}));
    for (const char* unclear : {"", "   ", "make \"test", "'", "\"\" x"}) {
        QCOMPARE(wordsOf(unclear).error().reason, Reason::commandUnclear);
    }
    for (const char* shell : {"make && make test",
                              "a | b",
                              "a; b",
                              "make > log",
                              "CI=1 make",
                              "echo $HOME",
                              "echo ${X}",
                              "echo $(date)",
                              "echo `date`",
                              "make 2>&1"}) {
        const auto words = wordsOf(shell);
        QVERIFY2(!words, shell);
        QCOMPARE(words.error().reason, Reason::needsShell);
    }
    QCOMPARE(wordsOf("make && x").error().subject, std::string("&&"));
}

void TestTrial::sharedFile_isRead()
{
    using Words = std::vector<std::string>;
    QCOMPARE(*sharedCommands("[[check]]\nrun = \"make test\"\n\n[[check]]\nrun = 'make lint'\n"),
             (Words{"make test", "make lint"}));
    QCOMPARE(*sharedCommands("# nothing yet\n"), Words());
    for (const char* bad : {"[[check]\n",
                            "check = 1\n",
                            "[check]\nrun = 'a'\n",
                            "[[check]]\nname = 'a'\n",
                            "[[check]]\nrun = 3\n",
                            "[[check]]\nrun = ' '\n",
                            "check = ['a']\n",
                            "[[check]]\nrun = \"a\\nb\"\n",
                            "\xff\xfe"}) {
        const auto read = sharedCommands(bad);
        QVERIFY2(!read, bad);
        QCOMPARE(read.error().reason, Reason::sharedUnreadable);
        QVERIFY(!read.error().detail.empty());
    }
}

void TestTrial::settings_areKeptInTheRepository()
{
    ScratchRepository scratch;
    scratch.write("a", "a");
    scratch.commit("a");
    const auto place = openPlace(scratch.path()).value();
    QCOMPARE(*place->checkSettings(), CheckSettings());
    CheckSettings settings{{"make \"a b\"", "-dash; # odd = 'x'", "  blanks \\ "}, {}, true, true};
    QVERIFY(place->setCheckSettings(settings));
    // What the place says may have been written by anybody who handed it over.
    settings.ofPlace = {settings.commands.begin(), settings.commands.end()};
    QCOMPARE(*place->checkSettings(), settings);
    QCOMPARE(scratch.git("config --get-all rope-splice.check").count('\n'), 2);
    QVERIFY(place->setCheckSettings({{"make"}, {}, false, true}));
    QCOMPARE(*place->checkSettings(), (CheckSettings{{"make"}, {"make"}, false, true}));
    QVERIFY(place->setCheckSettings({}));
    QCOMPARE(*place->checkSettings(), CheckSettings());
    scratch.git({QStringLiteral("config"),
                 QStringLiteral("rope-splice.checkRequired"),
                 QStringLiteral("Yes")});
    QVERIFY(place->checkSettings()->isRequired);
    scratch.write(".git/config.lock", "");
    QCOMPARE(place->setCheckSettings(settings).error().code, ErrorCode::busy);
}

void TestTrial::exit_signalAndOutput()
{
    Run run;
    auto outcome = run.shell("echo out; echo err >&2; exit 3");
    QVERIFY(outcome);
    QCOMPARE(outcome->exitCode, 3);
    QCOMPARE(outcome->signal, 0);
    QVERIFY(!outcome->isStopped && outcome->leftBehind == 0);
    QCOMPARE(run.said, std::string("out\nerr\n"));
    QCOMPARE(run.kept(), QByteArray("out\nerr\n"));
    outcome = run.shell("kill -SEGV $$");
    QCOMPARE(outcome->signal, SIGSEGV);
    outcome = run.shell("read x || echo no input");  // it reads nothing, rather than waiting
    QCOMPARE(run.said, std::string("no input\n"));
    outcome = run.shell("printf 'no line end'");
    QCOMPARE(run.said, std::string("no line end"));
    QCOMPARE(outcome->outputBytes, std::uint64_t{11});
    run.request.words = {"true"};
    QCOMPARE(run.run()->exitCode, 0);
}

void TestTrial::environment_isThePersons()
{
    Run run;
    qputenv("GIT_DIR", "/somewhere");
    qputenv("OWN_VARIABLE", "kept");
    run.request.unset = {"GIT_DIR"};
    QVERIFY(run.shell("echo \"${GIT_DIR-none} $OWN_VARIABLE\"; pwd; ls /proc/self/fd | wc -l"));
    qunsetenv("GIT_DIR");
    QCOMPARE(QByteArray::fromStdString(run.said).split('\n').value(0), QByteArray("none kept"));
    QCOMPARE(QByteArray::fromStdString(run.said).split('\n').value(1),
             QByteArray::fromStdString(run.request.folder));
    // Input, output, errors, and what ls itself has open.
    QCOMPARE(QByteArray::fromStdString(run.said).split('\n').value(2).trimmed(), QByteArray("4"));
}

void TestTrial::missingProgram_isTold()
{
    Run run;
    run.request.words = {"no-such-program-here", "x"};
    auto outcome = run.run();
    QVERIFY(!outcome);
    QCOMPARE(outcome.error().reason, Reason::commandNotFound);
    QCOMPARE(outcome.error().subject, std::string("no-such-program-here"));
    QFile script(run.file("script"));
    QVERIFY(script.open(QIODevice::WriteOnly));
    script.close();
    run.request.words = {"./script"};  // may not be run
    outcome = run.run();
    QVERIFY(!outcome);
    QCOMPARE(outcome.error().code, ErrorCode::io);
    run.request.runner = "/no/such/runner";
    QCOMPARE(run.run().error().code, ErrorCode::io);
}

void TestTrial::stop_endsEverything()
{
    Run run;
    std::jthread person([&run] {
        (void)run.processIn("third");
        run.stop.request_stop();
    });
    // One that does not listen, one in a session of its own, one that was stopped.
    const auto outcome =
        run.shell("(trap '' TERM; echo $$ > first; sleep 100 & echo $! > deaf; wait; sleep 100) &"
                  "setsid sh -c 'echo $$ > second; sleep 100' &"
                  "sleep 100 & kill -STOP $!; echo $! > stopped;"
                  "sleep 0.3; echo $$ > third; sleep 100");
    QVERIFY(outcome);
    QVERIFY(outcome->isStopped);
    QVERIFY(outcome->durationMs < 12'000);
    for (const char* name : {"deaf", "second", "stopped", "third"}) {
        const pid_t process = run.processIn(name);
        QVERIFY2(process > 0 && !isAlive(process), name);
    }
}

/// What a window that is killed leaves: the runner's standard input ends.
void TestTrial::endOfTheWindow_endsEverything()
{
    const Run run;
    QProcess shell;
    shell.setWorkingDirectory(QString::fromStdString(run.request.folder));
    shell.start(QStringLiteral("sh"),
                {QStringLiteral("-c"),
                 QStringLiteral("sh -c 'echo $$ > window; exec sleep 100' | '%1' sh -c 'setsid "
                                "sleep 100 & echo $! > child; echo $$ > program; sleep 100'")
                     .arg(QString::fromStdString(runnerProgram()))});
    QVERIFY(shell.waitForStarted());
    const pid_t window = run.processIn("window");
    const pid_t child = run.processIn("child");
    const pid_t program = run.processIn("program");
    QVERIFY(window > 0 && child > 0 && program > 0 && isAlive(child));
    QCOMPARE(::kill(window, SIGKILL), 0);
    QTRY_VERIFY_WITH_TIMEOUT(!isAlive(child) && !isAlive(program), 10'000);
    QTRY_COMPARE(shell.state(), QProcess::NotRunning);
    QVERIFY(shell.readAllStandardError().contains("stopped 0\n"));
}

void TestTrial::leftBehind_isEndedAndTold()
{
    Run run;
    const auto outcome =
        run.shell("setsid sleep 100 > /dev/null & echo $! > left; sleep 0.05 & exit 0");
    QVERIFY(outcome);
    QCOMPARE(outcome->exitCode, 0);
    QCOMPARE(outcome->leftBehind, std::size_t{1});
    const pid_t left = run.processIn("left");
    QVERIFY(left > 0 && !isAlive(left));
    QVERIFY(outcome->durationMs < 10'000);
    // What ends by itself at once is nothing to speak of.
    QCOMPARE(run.shell("sleep 0.1 & exit 0")->leftBehind, std::size_t{0});
}

void TestTrial::flood_isBounded()
{
    Run run;
    run.request.words = {"sh", "-c", "head -c 70000000 /dev/zero | tr '\\0' x; echo; echo the end"};
    std::uint64_t bytes = 0;
    const auto outcome = runCommand(
        run.request,
        [&bytes](std::string_view part) { bytes += part.size(); },
        run.stop.get_token());
    QVERIFY(outcome);
    QCOMPARE(bytes, std::uint64_t{70'000'009});
    QCOMPARE(outcome->outputBytes, bytes);
    QCOMPARE(outcome->droppedBytes, bytes - kMostOutputBytes - kLastOutputBytes);
    const QByteArray kept = run.kept();
    QVERIFY(kept.size() > qsizetype(kMostOutputBytes) && kept.size() < 51'100'000);
    QVERIFY(kept.endsWith("x\nthe end\n"));
    QVERIFY(kept.contains("bytes are left out"));
}

void TestTrial::unwritableOutput_endsIt()
{
    Run run;
    run.request.outputFile = "/dev/full";
    const auto outcome = run.shell("echo $$ > program; echo x; sleep 100");
    QVERIFY(!outcome);
    QCOMPARE(outcome.error().code, ErrorCode::io);
    QVERIFY(!isAlive(run.processIn("program")));
    run.request.outputFile = "/no/such/folder/output";
    QCOMPARE(run.shell("true").error().code, ErrorCode::io);
}

void TestTrial::colours_areReadAsText()
{
    QCOMPARE(styledWords("plain\n"), QStringList{QStringLiteral("plain")});
    QCOMPARE(styledWords("\x1b[1;31mFAILED\x1b[0m rest\n"),
             (QStringList{QStringLiteral("FAILED:f0857d:bold"), QStringLiteral(" rest")}));
    QCOMPARE(
        styledWords("\x1b[38;5;196mx\x1b[39my\x1b[38;2;1;2;3mz\x1b[m\n"),
        (QStringList{QStringLiteral("x:ff0000"), QStringLiteral("y"), QStringLiteral("z: 10203")}));
    // What else a terminal would obey.
    QCOMPARE(styledWords("\x1b]0;title\x07"
                         "a\x1b[2J\x1b[10;10Hb\x1bP1$r\x1b\\c\x1b(Bd\x07\x08\n"),
             QStringList{QStringLiteral("abcBd")});
    QCOMPARE(styledWords("10%\r50%\r100%\r\nnext\r\n"),
             (QStringList{QStringLiteral("100%"), QStringLiteral("next")}));
    QCOMPARE(styledWords("<b>&amp;</b>\n"), QStringList{QStringLiteral("<b>&amp;</b>")});
    QCOMPARE(styledWords("\x1b[99999999999;1mx\n"), QStringList{QStringLiteral("x:bold")});
    OutputText endless;
    QCOMPARE(endless.add(std::string(25'000, 'x')).size(), std::size_t{2});
    QCOMPARE(endless.unfinished().text().size(), std::size_t{5'000});
}

void TestTrial::portions_giveTheSameText()
{
    const std::string all = "one\x1b[1;32mtwo\x1b[0m\r\n\x1b]8;;x\x1b\\three\rfour\n\xc3\xa4\n";
    OutputText whole;
    const auto expected = whole.add(all);
    for (std::size_t size = 1; size < 6; ++size) {
        OutputText text;
        std::vector<OutputLine> lines;
        for (std::size_t i = 0; i < all.size(); i += size) {
            for (OutputLine& line : text.add(std::string_view(all).substr(i, size))) {
                lines.push_back(std::move(line));
            }
        }
        QCOMPARE(lines.size(), expected.size());
        for (std::size_t i = 0; i < lines.size(); ++i) {
            QCOMPARE(lines[i].text(), expected[i].text());
            QCOMPARE(lines[i].runs.size(), expected[i].runs.size());
        }
    }
}

void TestTrial::links_areFound()
{
    const auto one = [](const char* link) {
        return QStringList{QString::fromUtf8(link)};
    };
    QCOMPARE(linksIn("main.c:12:5: error: x"), one("main.c:12 [main.c:12]"));
    QCOMPARE(linksIn("  at ./locks/report.py:28"),
             one("locks/report.py:28 [./locks/report.py:28]"));
    QCOMPARE(linksIn("  File \"/cache/files/locks/report.py\", line 28, in daily"),
             one("locks/report.py:28 [/cache/files/locks/report.py\", line 28]"));
    QCOMPARE(linksIn("File \"a b.txt\", line 3"), one("a b.txt:3 [a b.txt\", line 3]"));
    QCOMPARE(linksIn("../src/main.c:7: note"), one("main.c:7 [../src/main.c:7]"));
    QCOMPARE(linksIn("main.c(12): error, main.c(13,4)"),
             (QStringList{QStringLiteral("main.c:12 [main.c(12)]"),
                          QStringLiteral("main.c:13 [main.c(13]")}));
    QCOMPARE(linksIn("[main.c:1] (x:2)"),
             (QStringList{QStringLiteral("main.c:1 [main.c:1]"), QStringLiteral("x:2 [x:2]")}));
    for (const char* none : {"other.c:12: error",
                             "main.c: no line",
                             "main.c:0: none",
                             "12:30:45 started",
                             "http://x.example:80/",
                             "main.c:99999999999999999999",
                             ":12",
                             "(3)",
                             "\", line 4",
                             "x",
                             ""}) {
        QCOMPARE(linksIn(none), QStringList());
    }
    QCOMPARE(linksIn(std::string(6'000, 'a') + " main.c:1"), QStringList());
}

ROPE_TESTS(TestTrial, QCoreApplication)
#include "tst_trial.moc"
