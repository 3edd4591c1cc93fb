// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/background/background_runner.h"
#include "desktop/course/place_tasks.h"
#include "desktop/start/start_page.h"

namespace rope {
/// The repositories that were open lately: remembers them with the person's settings, looks into each
/// beside the interface, and tells the start page. A gone one is never dropped by itself.
class RecentPlaces final : public QObject
{
    Q_OBJECT
public:
    RecentPlaces(StartPage& page, QObject* parent);

    /// Newest first.
    [[nodiscard]] static QStringList folders();
    void remember(const QString& folder);
    /// Shows all of them on the page and looks into each.
    void show();
    /// What is still being looked at does not matter any more.
    void stopLooking() { m_looks.supersede(); }

    /// Asks the remotes of all, one after the other; again: stops that.
    void askAll();
    /// How remotes' questions reach the person.
    void setAsking(Asking asking) { m_asking = std::move(asking); }

signals:
    void changed();

private:
    void look(const QString& folder);
    void forget(const QString& folder);
    void find(const QString& folder);
    void askNext(QStringList left);
    void showGone(const QString& folder, const Error& error);

    StartPage& m_page;
    Asking m_asking;
    std::stop_source m_askStop;
    bool m_isAsking = false;
    BackgroundRunner m_looks;
    BackgroundRunner m_asks;
};
}  // namespace rope
