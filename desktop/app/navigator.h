// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/course_bar.h"
#include "desktop/app/window_parts.h"

#include <QTimer>

namespace rope {
class StationPage;

/// Where the person is: goes from page to page, and says at the window's top and foot what is under way, how it
/// stands and which keys there are. Interface thread.
class Navigator final : public QObject
{
    Q_OBJECT
public:
    Navigator(const WindowParts& parts, QObject* parent);

    /// Goes to a station; to Survey where it needs a splice and none is under way.
    void goTo(Station station);
    void showLogbook();
    void showStart();
    /// Instead of the start page, until what was named at the start is open.
    void showOpening(const QString& words);

    /// The station one is at, or goes back to from the logbook.
    [[nodiscard]] Station station() const { return m_station; }
    /// From now on this is the station one is at, whatever is in view.
    void stayAt(Station station) { m_station = station; }
    [[nodiscard]] bool isAt(Station station) const;
    [[nodiscard]] bool isLogbookShown() const;
    /// Null: nothing can be done on what is in view.
    [[nodiscard]] StationPage* page() const;

    /// A word of what was just done, for a few seconds or until the next decision.
    void say(const QString& words);
    /// How far something under way is; empty: it is over.
    void setProgress(const QString& words);
    /// What was said is forgotten if it was said when another number of places was open.
    void forgetSaid(std::size_t openCount);
    /// Hands over typing that is still on its way.
    void flush() const;
    /// Keeps in the journal where one is.
    void storePlace();
    /// Shows anew what stands at the window's foot.
    void showStatus();
    /// Shows anew what stands at the window's top.
    void showFacts();
    /// What can be done may be something else now.
    void refreshAbilities();

signals:
    /// A station will be in view.
    void entering(Station station);
    void abilitiesChanged();
    void titleChanged(const QString& title);

private:
    [[nodiscard]] StationPage* pageOf(Station station) const;

    const WindowParts& m_parts;
    Station m_station = Station::survey;
    QString m_progress;
    QString m_said;
    std::size_t m_openWhenSaid = 0;
    QTimer m_saidTimer;
    QTimer m_clock;  ///< "last asked 5 minutes ago" grows old by itself.
};
}  // namespace rope
