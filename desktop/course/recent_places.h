// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/background/background_runner.h"
#include "desktop/course/place_tasks.h"
#include "desktop/facts/recent_place.h"

#include <QStringList>

namespace rope {
/// The repositories that were open lately: remembers them with the person's settings, looks into each
/// beside the interface, and tells what it saw. A gone one is never dropped by itself. Interface thread.
class RecentPlaces final : public QObject
{
    Q_OBJECT
public:
    explicit RecentPlaces(QObject* parent);

    /// Newest first.
    [[nodiscard]] static QStringList folders();
    /// Puts it first.
    void remember(const QString& folder);
    /// Lists all of them and looks into each.
    void show();
    /// Looks into one again.
    void look(const QString& folder);
    /// Takes it off the list; the repository itself is not touched.
    void forget(const QString& folder);
    /// It was moved: from now on the other one is meant.
    void replace(const QString& folder, const QString& by);
    /// What is still being looked at does not matter any more.
    void stopLooking() { m_looks.supersede(); }

    /// Asks the remotes of all, one after the other; again: stops that.
    void askAll();
    /// How remotes' questions reach the person.
    void setAsking(Asking asking) { m_asking = std::move(asking); }

signals:
    /// Which they are has changed.
    void changed();
    /// Newest first; nothing is known of any until it is read.
    void listed(const QStringList& folders);
    void placeRead(const QString& folder, const rope::RecentPlace& place);
    /// It cannot be read: why, and what was last known of it, in words.
    void goneSeen(const QString& folder, const QString& why, const QString& lastKnown);
    /// Whether the remotes of all are being asked.
    void askingAll(bool isAsking);
    /// How far asking the remotes of one is, or how it failed, in words.
    void asked(const QString& folder, const QString& words);

private:
    void askNext(QStringList left);
    void showGone(const QString& folder, const Error& error);

    Asking m_asking;
    std::stop_source m_askStop;
    bool m_isAsking = false;
    BackgroundRunner m_looks;
    BackgroundRunner m_asks;
};
}  // namespace rope
