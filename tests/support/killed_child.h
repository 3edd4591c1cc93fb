// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/progress.h"

#include <QCoreApplication>
#include <QProcess>
#include <QTest>

#include <chrono>
#include <csignal>
#include <functional>
#include <optional>
#include <string>
#include <thread>
#include <unistd.h>

namespace rope::test {
/// What a test program does when it is called again as the child that is to die: `record` in the folder that
/// it is told, until the step that it is told. Returns where it is no such child. Call in initTestCase().
inline void
dieIfChild(const std::function<void(const std::string& folder, const ProgressSink&)>& record)
{
    const std::string folder = qgetenv("ROPE_TEST_KILL_FOLDER").toStdString();
    if (folder.empty()) {
        return;
    }
    const std::string step = qgetenv("ROPE_TEST_KILL_STEP").toStdString();
    record(folder, [&step](const Progress& progress) {
        if (nameOf(progress.step) == step) {
            ::kill(::getpid(), SIGKILL);
        }
    });
    ::_exit(3);
}

/// As dieIfChild(), for a child that dies after some time, wherever it is then: it does what it is told by
/// number, and ends with the code that this gives.
inline void dieInTimeIfChild(const std::function<int(const std::string& folder, int what)>& act)
{
    const std::string folder = qgetenv("ROPE_TEST_KILL_FOLDER").toStdString();
    if (folder.empty()) {
        return;
    }
    std::thread([delay = qEnvironmentVariableIntValue("ROPE_TEST_KILL_MS")] {
        std::this_thread::sleep_for(std::chrono::milliseconds(delay));
        ::kill(::getpid(), SIGKILL);
    }).detach();
    ::_exit(act(folder, qEnvironmentVariableIntValue("ROPE_TEST_KILL_WHAT")));
}

/// Calls this test program again, to do something in that folder and die after some time. Gives its exit code;
/// nothing where it was killed.
inline std::optional<int> killAfter(int ms, const QString& folder, int what)
{
    QProcess child;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert(QStringLiteral("ROPE_TEST_KILL_FOLDER"), folder);
    environment.insert(QStringLiteral("ROPE_TEST_KILL_MS"), QString::number(ms));
    environment.insert(QStringLiteral("ROPE_TEST_KILL_WHAT"), QString::number(what));
    child.setProcessEnvironment(environment);
    child.start(QCoreApplication::applicationFilePath(), {});
    child.waitForFinished(60'000);
    return child.exitStatus() == QProcess::CrashExit ? std::nullopt
                                                     : std::optional(child.exitCode());
}

/// Calls this test program again, to die in that folder at that step.
inline void killAt(const QString& folder, const QByteArray& step)
{
    QProcess child;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert(QStringLiteral("ROPE_TEST_KILL_FOLDER"), folder);
    environment.insert(QStringLiteral("ROPE_TEST_KILL_STEP"), QString::fromLatin1(step));
    child.setProcessEnvironment(environment);
    child.start(QCoreApplication::applicationFilePath(), {});
    QVERIFY(child.waitForFinished(60'000));
    QCOMPARE(child.exitStatus(), QProcess::CrashExit);
}
}  // namespace rope::test
