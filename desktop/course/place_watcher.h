// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QFileSystemWatcher>
#include <QObject>
#include <QTimer>

namespace rope {
/// Tells that something may have changed in a place: when one of its folders changes, soon after the
/// last of several changes; and now and then, since not all that matters stands in a watched folder
/// and watching fails on some file systems.
class PlaceWatcher final : public QObject
{
    Q_OBJECT
public:
    explicit PlaceWatcher(QObject* parent);
    /// Watches these folders instead of those before.
    void watch(const QStringList& folders);

signals:
    /// Also where nothing has: whoever hears it looks.
    void mayHaveChanged();

private:
    QStringList m_watched;
    QFileSystemWatcher m_watcher;
    QTimer m_pause;
    QTimer m_poll;
};
}  // namespace rope
