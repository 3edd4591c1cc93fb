// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QFutureWatcher>
#include <QThreadPool>
#include <QtConcurrentRun>

#include <utility>

namespace rope {
/// Runs `work` on the pool and gives what it returned to `done` on the owner's thread. `work` gets
/// values, never the owner; when the owner is gone before it ends, the answer goes nowhere.
template <typename Work, typename Done>
void runInBackground(QObject* owner, QThreadPool& pool, Work work, Done done)
{
    using TaskResult = std::invoke_result_t<Work>;
    auto* watcher = new QFutureWatcher<TaskResult>(owner);
    QObject::connect(
        watcher, &QFutureWatcherBase::finished, owner, [watcher, done = std::move(done)]() mutable {
            watcher->deleteLater();
            done(watcher->future().takeResult());
        });
    watcher->setFuture(QtConcurrent::run(&pool, std::move(work)));
}
}  // namespace rope
