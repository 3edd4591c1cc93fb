// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QFutureWatcher>
#include <QObject>
#include <QThreadPool>
#include <QtConcurrentRun>

#include <stop_token>
#include <utility>

namespace rope {
/// Runs work beside the interface and gives what it returned back on the owner's thread. The one place
/// where answers that come too late are dropped: those to questions asked before the last
/// supersede(), and those whose owner is gone. Lives on the interface thread.
class BackgroundRunner final : public QObject
{
    Q_OBJECT
public:
    BackgroundRunner(int threads, QObject* parent)
        : QObject(parent)
    {
        m_pool.setMaxThreadCount(threads);
    }
    ~BackgroundRunner() override
    {
        m_stop.request_stop();
        m_pool.waitForDone();
    }

    /// Asks all that is under way to stop; its answers go nowhere.
    void supersede()
    {
        m_stop.request_stop();
        m_stop = {};
        ++m_generation;
    }

    /// Returns once all work has ended; the answers come later, as always.
    void waitForAll() { m_pool.waitForDone(); }

    /// Runs `work(stop)` and gives what it returned to `done`. `work` gets values, never the owner.
    template <typename Work, typename Done>
    void run(Work work, Done done)
    {
        start(
            std::move(work),
            [this, generation = m_generation, done = std::move(done)](auto result) mutable {
                if (generation == m_generation) {
                    done(std::move(result));
                }
            },
            m_stop.get_token());
    }

    /// As run(), for what must be heard of whatever was asked since: an answer that changed the world.
    template <typename Work, typename Done>
    void runToTheEnd(Work work, Done done, std::stop_token stop)
    {
        start(std::move(work), std::move(done), std::move(stop));
    }

private:
    template <typename Work, typename Done>
    void start(Work work, Done done, std::stop_token stop)
    {
        using TaskResult = std::invoke_result_t<Work, std::stop_token>;
        auto* watcher = new QFutureWatcher<TaskResult>(this);
        connect(watcher,
                &QFutureWatcherBase::finished,
                this,
                [watcher, done = std::move(done)]() mutable {
                    watcher->deleteLater();
                    done(watcher->future().takeResult());
                });
        watcher->setFuture(
            QtConcurrent::run(&m_pool, [work = std::move(work), stop = std::move(stop)]() mutable {
                return work(std::move(stop));
            }));
    }

    QThreadPool m_pool;
    std::stop_source m_stop;
    int m_generation = 0;
};
}  // namespace rope
