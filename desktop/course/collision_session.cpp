// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_push_round.cpp.
#include "desktop/course/collision_session.h"

#include "desktop/course/log.h"

#include <QDateTime>

#include <algorithm>

namespace rope {
namespace {
constexpr std::size_t kMostBranches = 60;

}  // namespace

CollisionSession::CollisionSession(PlaceSession& place, QObject* parent)
    : QObject(parent)
    , m_place(place)
    , m_reads(1, this)
    , m_readings(1, this)
    , m_pairs(this)
{
    connect(&m_place, &PlaceSession::opened, this, [this] {
        m_model = {};
        stop();
    });
    connect(&m_pairs, &PairForecasts::known, this, &CollisionSession::take);
    connect(&m_pairs, &PairForecasts::done, this, [this](const Status& status) {
        if (!status && status.error().code != ErrorCode::cancelled) {
            logError(status.error());
        }
        emit progressed(m_model.pairs.size(), m_model.pairCount(), {});
    });
}

void CollisionSession::start()
{
    const auto facts = m_place.facts();
    if (!facts || m_isReading || m_pairs.isWorking()) {
        return;
    }
    m_isReading = true;
    emit progressed(m_model.pairs.size(), m_model.pairCount(), tr("reading the branches"));
    m_reads.run(
        [address = m_place.address(),
         facts](const std::stop_token&) -> Result<std::vector<CollisionBranch>> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            return collisionBranches(
                *place, facts->branches, facts->teamsMain({}), facts->standing.ref, kMostBranches);
        },
        [this](Result<std::vector<CollisionBranch>> branches) {
            m_isReading = false;
            if (branches) {
                begin(std::move(*branches));
            } else {
                logError(branches.error());
                emit progressed(0, 0, {});
            }
        });
}

void CollisionSession::begin(std::vector<CollisionBranch> branches)
{
    m_model = {std::move(branches), {}, QDateTime::currentSecsSinceEpoch()};
    std::size_t own = m_model.branches.size();
    for (std::size_t i = 0; i < m_model.branches.size(); ++i) {
        own = m_model.branches[i].isOwn ? i : own;
    }
    m_order = pairsInOrder(m_model.branches.size(), own);
    std::vector<CommitPair> pairs;
    for (const BranchPair& pair : m_order) {
        pairs.push_back(
            {m_model.branches[pair.first].tip.id, m_model.branches[pair.second].tip.id});
    }
    emit changed(m_model);
    m_pairs.start(m_place.address(), std::move(pairs));
    tellProgress();
}

void CollisionSession::take(const PairForecasts::Known& outcomes)
{
    for (const auto& [pair, outcome] : outcomes) {
        m_model.pairs[m_order[pair]] = outcome;
    }
    emit changed(m_model);
    tellProgress();
}

/// Pairs become known in their order, but for those that the cache knew: the next one is the first
/// that is not.
void CollisionSession::tellProgress()
{
    const auto next = std::find_if(m_order.begin(), m_order.end(), [this](const BranchPair& pair) {
        return !m_model.pairs.contains(pair);
    });
    emit progressed(m_model.pairs.size(),
                    m_model.pairCount(),
                    next == m_order.end() ? QString()
                                          : tr("%1 with %2")
                                                .arg(shortName(m_model.branches[next->first]),
                                                     shortName(m_model.branches[next->second])));
}

void CollisionSession::read(BranchPair pair, const RepoPath& path)
{
    m_readings.supersede();
    const CommitPair commits{m_model.branches[pair.first].tip.id,
                             m_model.branches[pair.second].tip.id};
    m_readings.run(
        [address = m_place.address(), commits, path](
            const std::stop_token& stop) -> Result<PairReading> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            place->setMissingBytes({true, {}, stop});
            return readPair(*place, commits, path, stop);
        },
        [this, pair](const Result<PairReading>& reading) {
            if (reading) {
                emit pairRead(pair, *reading);
            } else if (reading.error().code != ErrorCode::cancelled) {
                logError(reading.error());
                emit failed(reading.error());
            }
        });
}

void CollisionSession::stop()
{
    m_reads.supersede();
    m_isReading = false;
    m_pairs.stop();
    emit changed(m_model);
    emit progressed(m_model.pairs.size(), m_model.pairCount(), {});
}
}  // namespace rope
