// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/progress.h"

#include <QCoreApplication>
#include <QProcess>
#include <QTest>

#include <csignal>
#include <functional>
#include <string>
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
        if (progress.step == step) {
            ::kill(::getpid(), SIGKILL);
        }
    });
    ::_exit(3);
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
