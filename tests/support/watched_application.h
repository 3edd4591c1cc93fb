// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QApplication>
#include <QElapsedTimer>
#include <QFile>
#include <QThread>

#include <utility>

namespace rope::test {
/// An application that knows how long the interface thread was busy with one event at a stretch: as long
/// the window cannot have answered. Waiting between events does not count, nor does waiting for a
/// processor that another program has: how busy the machine is says nothing of ours.
class WatchedApplication : public QApplication
{
public:
    WatchedApplication(int& argc, char** argv)
        : QApplication(argc, argv)
    {
    }

    /// The longest stall since the last call, in milliseconds, and what it was busy with.
    struct Stall
    {
        qint64 milliseconds = 0;
        QString with;
    };
    Stall takeLongest() { return std::exchange(m_longest, {}); }

    bool notify(QObject* receiver, QEvent* event) override
    {
        if (QThread::currentThread() != thread() || m_depth > 0) {
            return QApplication::notify(receiver, event);  // a worker's, or measured already
        }
        const QString with = QStringLiteral("event %1 of %2")
                                 .arg(event->type())
                                 .arg(QLatin1String(receiver->metaObject()->className()));
        QElapsedTimer clock;
        clock.start();
        const qint64 before = msWithoutProcessor();
        ++m_depth;
        const bool isTaken = QApplication::notify(receiver, event);
        --m_depth;
        const qint64 busy = clock.elapsed() - (msWithoutProcessor() - before);
        if (busy > m_longest.milliseconds) {
            m_longest = {busy, with};
        }
        return isTaken;
    }

private:
    /// How long this thread was ready to run and did not: the second number in proc(5)'s schedstat.
    [[nodiscard]] static qint64 msWithoutProcessor()
    {
        static QFile file(QStringLiteral("/proc/thread-self/schedstat"));
        static const bool isOpen = file.open(QIODevice::ReadOnly | QIODevice::Unbuffered);
        if (!isOpen || !file.seek(0)) {
            return 0;
        }
        const QList<QByteArray> numbers = file.read(100).split(' ');
        return numbers.size() < 2 ? 0 : numbers[1].toLongLong() / 1'000'000;
    }

    int m_depth = 0;
    Stall m_longest;
};
}  // namespace rope::test
