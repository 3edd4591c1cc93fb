// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/app/place_session.h"
#include "desktop/survey/collision_model.h"

namespace rope {
/// Works out who collides with whom in the open place, pair by pair, one's own first. What is known is
/// kept by commit ids for as long as the place is open. Interface thread.
class CollisionSession final : public QObject
{
    Q_OBJECT
public:
    CollisionSession(PlaceSession& place, QObject* parent);
    /// Begins, or goes on, with the branches as they stand now. Nothing is asked of any remote.
    void start();
    void stop();

signals:
    void changed(const rope::CollisionModel& model);
    /// `now`: what is being worked out, in words; empty: nothing.
    void progressed(std::size_t known, std::size_t all, const QString& now);

private:
    void begin(std::vector<CollisionBranch> branches);
    void workOutNext();
    void take(BranchPair pair, const PairOutcome& outcome);

    PlaceSession& m_place;
    CollisionModel m_model;
    std::vector<BranchPair> m_left;  ///< Next last.
    std::map<std::pair<ObjectId, ObjectId>, PairOutcome> m_known;
    bool m_isWorking = false;
    qint64 m_shownAt = 0;
    BackgroundRunner m_work;
};
}  // namespace rope
