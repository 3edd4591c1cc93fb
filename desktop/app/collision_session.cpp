// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_push_round.cpp.
#include "desktop/app/collision_session.h"

#include "desktop/app/log.h"

#include <QDateTime>

#include <algorithm>

namespace rope {
namespace {
constexpr std::size_t kMostBranches = 60;
constexpr std::size_t kPairsAtOnce = 8;  // for each time that the place is opened
constexpr qint64 kShowEveryMs = 150;

/// What the remote starts new copies with is not always known; its name mostly tells.
std::string mainRefOf(const SurveyFacts& facts)
{
    for (const char* name : {"main", "master", "trunk"}) {
        for (const Branch& branch : facts.branches) {
            if (branch.isShared && branch.name.ends_with("/" + std::string(name))) {
                return branch.ref;
            }
        }
    }
    return {};
}

using PairOutcomes = std::vector<std::pair<BranchPair, PairOutcome>>;
}  // namespace

CollisionSession::CollisionSession(PlaceSession& place, QObject* parent)
    : QObject(parent)
    , m_place(place)
    , m_work(1, this)
{
    connect(&m_place, &PlaceSession::opened, this, [this] {
        stop();
        m_known.clear();
        m_model = {};
        emit changed(m_model);
    });
}

void CollisionSession::start()
{
    const auto facts = m_place.facts();
    if (!facts || m_isWorking) {
        return;
    }
    m_isWorking = true;
    emit progressed(m_model.pairs.size(), m_model.pairCount(), tr("reading the branches"));
    m_work.run(
        [address = m_place.address(),
         facts](const std::stop_token&) -> Result<std::vector<CollisionBranch>> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            return collisionBranches(
                *place, facts->branches, mainRefOf(*facts), facts->standing.ref, kMostBranches);
        },
        [this](Result<std::vector<CollisionBranch>> branches) {
            m_isWorking = false;
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
    m_left.clear();
    for (const BranchPair& pair : pairsInOrder(m_model.branches.size(), own)) {
        const auto known = m_known.find(
            {m_model.branches[pair.first].tip.id, m_model.branches[pair.second].tip.id});
        if (known == m_known.end()) {
            m_left.push_back(pair);
        } else {
            m_model.pairs[pair] = known->second;
        }
    }
    std::reverse(m_left.begin(), m_left.end());
    emit changed(m_model);
    workOutNext();
}

void CollisionSession::workOutNext()
{
    if (m_left.empty()) {
        emit changed(m_model);
        emit progressed(m_model.pairs.size(), m_model.pairCount(), {});
        return;
    }
    m_isWorking = true;
    struct Task
    {
        BranchPair pair;
        ObjectId first;
        ObjectId second;
    };
    std::vector<Task> tasks;
    for (std::size_t i = 0; i < std::min(kPairsAtOnce, m_left.size()); ++i) {
        const BranchPair pair = m_left[m_left.size() - 1 - i];
        tasks.push_back(
            {pair, m_model.branches[pair.first].tip.id, m_model.branches[pair.second].tip.id});
    }
    const BranchPair next = tasks.front().pair;
    emit progressed(m_model.pairs.size(),
                    m_model.pairCount(),
                    tr("%1 with %2")
                        .arg(shortName(m_model.branches[next.first]),
                             shortName(m_model.branches[next.second])));
    m_work.run(
        [address = m_place.address(), tasks](const std::stop_token& stop) -> Result<PairOutcomes> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            PairOutcomes outcomes;
            for (const Task& task : tasks) {
                TRY_ASSIGN(PairOutcome outcome, collide(*place, task.first, task.second, stop));
                outcomes.emplace_back(task.pair, std::move(outcome));
            }
            return outcomes;
        },
        [this](const Result<PairOutcomes>& outcomes) {
            m_isWorking = false;
            if (!outcomes) {
                logError(outcomes.error());
                emit progressed(m_model.pairs.size(), m_model.pairCount(), {});
                return;
            }
            for (const auto& [pair, outcome] : *outcomes) {
                take(pair, outcome);
            }
            const qint64 now = QDateTime::currentMSecsSinceEpoch();
            if (now - m_shownAt > kShowEveryMs) {
                m_shownAt = now;
                emit changed(m_model);
            }
            workOutNext();
        });
}

void CollisionSession::take(BranchPair pair, const PairOutcome& outcome)
{
    m_known[{m_model.branches[pair.first].tip.id, m_model.branches[pair.second].tip.id}] = outcome;
    m_model.pairs[pair] = outcome;
    std::erase(m_left, pair);
}

void CollisionSession::stop()
{
    m_work.supersede();
    m_isWorking = false;
    emit changed(m_model);
    emit progressed(m_model.pairs.size(), m_model.pairCount(), {});
}
}  // namespace rope
