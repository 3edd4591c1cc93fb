// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/course/place_session.h"
#include "desktop/facts/collision_model.h"

namespace rope {
/// Works out who collides with whom in the open place, pair by pair, one's own first; what was worked
/// out before is known at once. Interface thread.
class CollisionSession final : public QObject
{
    Q_OBJECT
public:
    CollisionSession(PlaceSession& place, QObject* parent);
    /// Begins, or goes on, with the branches as they stand now. Nothing is asked of any remote.
    void start();
    /// What was worked out so far stays known.
    void stop();
    /// Reads what a pair made of a file; the last one asked for is answered.
    void read(BranchPair pair, const RepoPath& path);

signals:
    /// Answers read().
    void pairRead(rope::BranchPair pair, const rope::PairReading& reading);
    /// Branches or a pair could not be read; the rest is worked out all the same.
    void failed(const rope::Error& error);
    /// The model with what became known since.
    void changed(const rope::CollisionModel& model);
    /// `now`: what is being worked out, in words; empty: nothing.
    void progressed(std::size_t known, std::size_t all, const QString& now);

private:
    void begin(std::vector<CollisionBranch> branches);
    void take(const PairForecasts::Known& outcomes);
    void tellProgress();

    PlaceSession& m_place;
    CollisionModel m_model;
    std::vector<BranchPair> m_order;  ///< In which pairs are worked out.
    bool m_isReading = false;         ///< Which branches there are.
    BackgroundRunner m_reads;
    BackgroundRunner m_readings;  ///< Superseded by each next one.
    PairForecasts m_pairs;
};
}  // namespace rope
