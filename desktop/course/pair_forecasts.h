// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/collisions.h"
#include "desktop/background/background_runner.h"
#include "desktop/course/place_tasks.h"

#include <QObject>

namespace rope {
/// Works out what joining pairs of commits gives, beside the interface: first all that the cache on
/// disk knows, then the rest in the order asked. Outcomes arrive several at a time, as often as a
/// person can see. Interface thread.
class PairForecasts final : public QObject
{
    Q_OBJECT
public:
    using Known = std::vector<std::pair<std::size_t, PairOutcome>>;

    explicit PairForecasts(QObject* parent);
    /// Begins with these pairs and forgets those asked for before.
    void start(const PlaceAddress& address, std::vector<CommitPair> pairs);
    /// What was worked out so far stays known.
    void stop();
    [[nodiscard]] bool isWorking() const { return m_isWorking; }

signals:
    /// Outcomes by the place of their pair among those asked for.
    void known(const rope::PairForecasts::Known& outcomes);
    /// All are known; or, with an error, the rest will not be.
    void done(const rope::Status& status);

private:
    BackgroundRunner m_work;
    int m_round = 0;
    bool m_isWorking = false;
};
}  // namespace rope
