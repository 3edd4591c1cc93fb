// SPDX-License-Identifier: GPL-3.0-or-later
#include "desktop/background/background_runner.h"
#include "tests/support/test_program.h"

#include <QTest>

#include <atomic>
#include <chrono>
#include <memory>
#include <thread>

using namespace rope;

namespace {
void waitUntil(const std::atomic<bool>& flag)
{
    while (!flag) {
        std::this_thread::sleep_for(std::chrono::milliseconds(2));
    }
}
}  // namespace

class TestBackgroundRunner : public QObject
{
    Q_OBJECT
private slots:
    void answer_arrivesOnThisThread();
    void superseded_isStoppedAndDropped();
    void toTheEnd_isHeardOfAnyway();
    void ownerGone_waitsAndDropsTheAnswer();
};

void TestBackgroundRunner::answer_arrivesOnThisThread()
{
    BackgroundRunner runner(1, nullptr);
    QThread* where = nullptr;
    int answer = 0;
    runner.run([](const std::stop_token&) { return 42; },
               [&](int value) {
                   where = QThread::currentThread();
                   answer = value;
               });
    QTRY_COMPARE(answer, 42);
    QCOMPARE(where, QThread::currentThread());
}

void TestBackgroundRunner::superseded_isStoppedAndDropped()
{
    BackgroundRunner runner(2, nullptr);
    std::atomic<bool> hasBegun{false};
    std::atomic<bool> wasStopped{false};
    QStringList answers;
    runner.run(
        [&](const std::stop_token& stop) {
            hasBegun = true;
            while (!stop.stop_requested()) {
                std::this_thread::sleep_for(std::chrono::milliseconds(2));
            }
            wasStopped = true;
            return QStringLiteral("late");
        },
        [&](const QString& answer) { answers << answer; });
    waitUntil(hasBegun);
    runner.supersede();
    runner.run([](const std::stop_token&) { return QStringLiteral("new"); },
               [&](const QString& answer) { answers << answer; });
    QTRY_VERIFY(wasStopped);
    QTRY_COMPARE(answers, QStringList{QStringLiteral("new")});
    QTest::qWait(20);  // nothing else comes
    QCOMPARE(answers.size(), 1);
}

void TestBackgroundRunner::toTheEnd_isHeardOfAnyway()
{
    BackgroundRunner runner(1, nullptr);
    std::atomic<bool> mayEnd{false};
    bool isHeard = false;
    runner.runToTheEnd(
        [&](const std::stop_token& stop) {
            waitUntil(mayEnd);
            return stop.stop_requested();
        },
        [&](bool wasStopped) { isHeard = !wasStopped; },
        {});
    runner.supersede();
    mayEnd = true;
    QTRY_VERIFY(isHeard);
}

void TestBackgroundRunner::ownerGone_waitsAndDropsTheAnswer()
{
    std::atomic<bool> hasEnded{false};
    bool isHeard = false;
    auto runner = std::make_unique<BackgroundRunner>(1, nullptr);
    runner->run(
        [&](const std::stop_token&) {
            std::this_thread::sleep_for(std::chrono::milliseconds(30));
            hasEnded = true;
            return 1;
        },
        [&](int) { isHeard = true; });
    runner.reset();
    QVERIFY(hasEnded);
    QCoreApplication::processEvents();
    QVERIFY(!isHeard);
}

ROPE_TESTS(TestBackgroundRunner, QCoreApplication)
#include "tst_background_runner.moc"
