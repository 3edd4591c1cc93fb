// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QApplication>
#include <QElapsedTimer>
#include <QThread>

#include <utility>

namespace rope::test {
/// An application that knows how long the interface thread was busy with one event at a stretch: as long
/// the window cannot have answered. Waiting between events does not count.
class WatchedApplication final : public QApplication
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
        ++m_depth;
        const bool isTaken = QApplication::notify(receiver, event);
        --m_depth;
        if (clock.elapsed() > m_longest.milliseconds) {
            m_longest = {clock.elapsed(), with};
        }
        return isTaken;
    }

private:
    int m_depth = 0;
    Stall m_longest;
};
}  // namespace rope::test
