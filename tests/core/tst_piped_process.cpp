// SPDX-License-Identifier: GPL-3.0-or-later
// Programs that are asked and answer through pipes.
#include "core/base/piped_process.h"
#include "core/base/process_tree.h"
#include "tests/support/test_program.h"

#include <QTemporaryDir>
#include <QTest>

#include <array>
#include <csignal>
#include <sys/wait.h>
#include <unistd.h>

using namespace rope;

namespace {
constexpr int kWaitMs = 20'000;

std::unique_ptr<PipedProcess>
shell(const char* script, const std::vector<std::string>& environment = {"PATH=/usr/bin:/bin"})
{
    auto process = PipedProcess::start("sh", {"-c", script}, environment, "/");
    return process ? std::move(*process) : nullptr;
}

/// All that it prints.
std::string readAll(PipedProcess& process)
{
    std::string all;
    std::array<char, 1000> part{};
    for (;;) {
        const auto got = process.read(part, kWaitMs);
        if (!got || *got == 0) {
            return all;
        }
        all.append(part.data(), *got);
    }
}
}  // namespace

class TestPipedProcess : public QObject
{
    Q_OBJECT
private slots:
    void asked_answers();
    void much_isReadWhole();
    void errors_neverHoldItUp();
    void environmentAndFolder_areAsGiven();
    void exitCode_isTold();
    void silent_isNoticed();
    void severalAtOnce_thoseWithSomethingAreTold();
    void ended_isNoticedAtWriting();
    void missingProgram_isAnError();
    void killed_isTold();
    void gone_isKilled();
    void endedButNotAskedAfter_isNotRunning();
};

void TestPipedProcess::asked_answers()
{
    const auto process = shell("while read line; do echo \"got $line\"; done");
    for (const std::string word : {"one", "two"}) {
        QVERIFY(process->write(word + "\n"));
        std::array<char, 100> answer{};
        const auto got = process->read(answer, kWaitMs);
        QCOMPARE(std::string(answer.data(), *got), "got " + word + "\n");
    }
    process->closeInput();
    QCOMPARE(readAll(*process), std::string());
    QCOMPARE(process->wait(), 0);
}

void TestPipedProcess::much_isReadWhole()
{
    const auto process = shell("head -c 3000000 /dev/zero | tr '\\0' x");
    QCOMPARE(readAll(*process), std::string(3'000'000, 'x'));
}

void TestPipedProcess::errors_neverHoldItUp()
{
    const auto process = shell("head -c 300000 /dev/zero | tr '\\0' e >&2; echo done");
    QCOMPARE(readAll(*process), std::string("done\n"));
    QCOMPARE(process->wait(), 0);
    QCOMPARE(process->errorText(), std::string(300'000, 'e'));
}

void TestPipedProcess::environmentAndFolder_areAsGiven()
{
    const QTemporaryDir folder;
    auto started = PipedProcess::start("sh",
                                       {"-c", "pwd; printf %s \"$ODD\"; env | wc -l"},
                                       {"PATH=/usr/bin:/bin", "ODD=a\xff b\n"},
                                       folder.path().toStdString());
    QVERIFY(started);
    const std::string all = readAll(**started);
    QVERIFY(all.starts_with(folder.path().toStdString() + "\na\xff b\n"));
}

void TestPipedProcess::exitCode_isTold()
{
    QCOMPARE(shell("exit 3")->wait(), 3);
    QCOMPARE(shell("kill -9 $$")->wait(), -1);
    const auto ended = shell("exit 4");
    QTRY_VERIFY(!ended->isRunning());
    QCOMPARE(ended->wait(), 4);
    QVERIFY(shell("sleep 60")->isRunning());
}

void TestPipedProcess::silent_isNoticed()
{
    const auto process = shell("sleep 60");
    std::array<char, 10> answer{};
    const auto got = process->read(answer, 50);
    QVERIFY(!got && got.error().code == ErrorCode::io);
}

void TestPipedProcess::severalAtOnce_thoseWithSomethingAreTold()
{
    const auto asked = shell("read line; echo answer; sleep 60");
    const auto speaks = shell("echo hello; sleep 60");
    const std::array processes{asked.get(), speaks.get()};
    QVERIFY(*PipedProcess::waitForAny(processes, kWaitMs) == std::vector<std::size_t>{1});
    std::array<char, 100> answer{};
    QCOMPARE(*speaks->read(answer, kWaitMs), std::size_t{6});
    QVERIFY(asked->write("question\n"));
    QVERIFY(*PipedProcess::waitForAny(processes, kWaitMs) == std::vector<std::size_t>{0});
    QCOMPARE(*asked->read(answer, kWaitMs), std::size_t{7});
    const auto silent = PipedProcess::waitForAny(processes, 50);
    QVERIFY(!silent && silent.error().code == ErrorCode::io);
}

void TestPipedProcess::ended_isNoticedAtWriting()
{
    const auto process = shell("exit 0");
    QCOMPARE(process->wait(), 0);
    const auto written = process->write("question\n");
    QVERIFY(!written && written.error().code == ErrorCode::io);
}

void TestPipedProcess::missingProgram_isAnError()
{
    const auto process = PipedProcess::start("no-such-program-here", {}, {}, "/");
    QVERIFY(!process && process.error().reason == Reason::programMissing);
    const auto elsewhere = PipedProcess::start("sh", {}, {}, "/no/such/folder");
    QVERIFY(!elsewhere && elsewhere.error().code == ErrorCode::io);
}

void TestPipedProcess::killed_isTold()
{
    const auto killed = shell("echo begun; kill -9 $$");
    QCOMPARE(readAll(*killed), std::string("begun\n"));
    QVERIFY(killed->wasKilled());
    const auto failed = shell("exit 128");
    QCOMPARE(readAll(*failed), std::string());
    QVERIFY(!failed->wasKilled());
    QVERIFY(!shell("read line")->wasKilled());  // it still waits
}

void TestPipedProcess::gone_isKilled()
{
    pid_t id = 0;
    {
        const auto process = shell("echo $$; exec sleep 60");
        std::array<char, 20> answer{};
        const auto got = process->read(answer, kWaitMs);
        id = std::stoi(std::string(answer.data(), *got));
        QCOMPARE(::kill(id, 0), 0);
    }
    QCOMPARE(::kill(id, 0), -1);
}

/// Until its parent asks after it, a process that has ended has its number still.
void TestPipedProcess::endedButNotAskedAfter_isNotRunning()
{
    const pid_t child = ::fork();
    if (child == 0) {
        ::_exit(0);
    }
    siginfo_t ended{};
    QCOMPARE(::waitid(P_PID, static_cast<id_t>(child), &ended, WEXITED | WNOWAIT), 0);
    QCOMPARE(::kill(child, 0), 0);
    QVERIFY(!isRunning(child));
    QCOMPARE(::waitpid(child, nullptr, 0), child);
    QVERIFY(!isRunning(child));
    QVERIFY(isRunning(::getpid()));
    QVERIFY(isRunning(1));
    QVERIFY(!isRunning(0));
    QVERIFY(!isRunning(-1));
}

ROPE_TESTS(TestPipedProcess, QCoreApplication)
#include "tst_piped_process.moc"
