// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/course/place_watcher.h"

namespace rope {
namespace {
constexpr int kWatchPauseMs = 250;  // a git command changes many things in a row
constexpr int kPollMs = 10'000;
}  // namespace

PlaceWatcher::PlaceWatcher(QObject* parent)
    : QObject(parent)
{
    m_pause.setSingleShot(true);
    m_pause.setInterval(kWatchPauseMs);
    m_poll.setInterval(kPollMs);
    connect(&m_watcher, &QFileSystemWatcher::directoryChanged, this, [this] { m_pause.start(); });
    connect(&m_pause, &QTimer::timeout, this, &PlaceWatcher::mayHaveChanged);
    connect(&m_poll, &QTimer::timeout, this, &PlaceWatcher::mayHaveChanged);
}

void PlaceWatcher::watch(const QStringList& folders)
{
    if (folders == m_watched) {
        return;
    }
    if (const QStringList before = m_watcher.directories(); !before.isEmpty()) {
        m_watcher.removePaths(before);
    }
    m_watched = folders;
    if (!folders.isEmpty()) {
        m_watcher.addPaths(folders);
        m_poll.start();
    } else {
        m_poll.stop();
    }
}
}  // namespace rope
