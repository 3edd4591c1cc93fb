// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_rebase_round.cpp and tst_window.cpp.
#include "desktop/course/leg_keeper.h"

#include <algorithm>

namespace rope {
namespace {
constexpr int kLayPauseMs = 200;
}  // namespace

LegKeeper::LegKeeper(PlaceSession& place, QObject* parent)
    : QObject(parent)
    , m_place(place)
    , m_work(1, this)
{
    m_timer.setSingleShot(true);
    m_timer.setInterval(kLayPauseMs);
    connect(&m_timer, &QTimer::timeout, this, &LegKeeper::settle);
}

void LegKeeper::start(Splice& splice, Laid laid)
{
    m_splice = &splice;
    m_scope = std::move(laid.scope);
    m_laid = std::move(laid.commits);
    m_firstChanged = m_laid.size();
    m_isPaused = false;
    auto& waiting = laid.waiting;
    const auto work =
        std::stable_partition(waiting.begin(), waiting.end(), [&splice](const Decision& decision) {
            return decision.leg < splice.workLeg();
        });
    m_waitingWork.assign(work, waiting.end());
    waiting.erase(work, waiting.end());
    m_waiting = std::move(waiting);
    // Its commits were laid on all that is decided when it was made.
    m_laidRevision = ++m_revision;
    m_joinedRevision = -1;
    m_timer.start();
}

void LegKeeper::stop()
{
    m_timer.stop();
    m_work.supersede();
    m_isBusy = false;
    m_splice = nullptr;
    m_scope = {};
    m_laid.clear();
    m_waiting.clear();
    m_waitingWork.clear();
}

void LegKeeper::noteChange(std::size_t leg)
{
    m_firstChanged = std::min(m_firstChanged, leg);
    ++m_revision;
    m_timer.start();
}

void LegKeeper::lookAtWork()
{
    if (m_splice != nullptr && (carriesWork() || !isSettled())) {
        m_timer.start();  // what could not be joined a moment ago is tried again
    }
}

void LegKeeper::forgetWork()
{
    m_joinedRevision = -1;
    m_timer.start();
}

void LegKeeper::setPaused(bool isPaused)
{
    m_isPaused = isPaused;
    if (!isPaused && m_splice != nullptr) {
        m_timer.start();
    }
}

/// Of the splice, as it stands.
LayRequest LegKeeper::layRequest() const
{
    LayRequest request{m_scope, m_splice->decisions(), m_splice->legs(), {}, {}};
    request.decisions.insert(request.decisions.end(), m_waiting.begin(), m_waiting.end());
    if (m_scope.commits.size() < m_splice->standings().size()) {
        request.below = m_splice->legs().front();
    }
    for (const SpliceFile& file : m_splice->files()) {
        if (file.own) {
            request.oneSided.push_back(file.own);
        }
    }
    const std::size_t kept = std::min(m_firstChanged, m_laid.size());
    if (kept < request.known.size()) {
        request.kept.assign(m_laid.begin(), m_laid.begin() + static_cast<std::ptrdiff_t>(kept));
    }
    return request;
}

bool LegKeeper::carriesWork() const
{
    return m_splice->plan().workChoice == WorkChoice::carry;
}

bool LegKeeper::isSettled() const
{
    return m_splice == nullptr
           || ((!m_splice->laysCommits() || m_laidRevision == m_revision)
               && (!carriesWork() || m_joinedRevision == m_revision));
}

void LegKeeper::settle()
{
    if (m_splice == nullptr || m_isPaused || m_isBusy) {
        return;
    }
    if (m_splice->laysCommits() && m_laidRevision != m_revision) {
        layCommits();
    } else if (carriesWork() && m_splice->openCountOfCommits() == 0) {
        joinWork();  // before nothing is open there is no result to join work to
    }
}

void LegKeeper::layCommits()
{
    m_isBusy = true;
    m_work.run(
        [address = m_place.address(),
         request = layRequest()](const std::stop_token& stop) -> Result<std::vector<LaidCommit>> {
            TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
            return rope::layCommits(*place, request, {}, stop);
        },
        [this, revision = m_revision](const Result<std::vector<LaidCommit>>& laid) {
            m_isBusy = false;
            if (!laid) {
                emit failed(laid.error());
            } else if (revision == m_revision && !m_isPaused) {
                takeLaid(*laid, revision);
            } else {
                m_timer.start();  // something was decided meanwhile
            }
        });
}

void LegKeeper::takeLaid(const std::vector<LaidCommit>& laid, int revision)
{
    const std::size_t first = firstOtherLeg(*m_splice, laid);
    const bool isOther = first < m_splice->workLeg();
    if (isOther) {
        emit legsAboutToChange(first);
        const std::size_t before = m_waiting.size();
        for (LostDecision& lost : putLaid(*m_splice, laid, std::exchange(m_waiting, {}))) {
            m_waiting.push_back(std::move(lost.decision));
        }
        // What has no place just now stays in the journal: it may have one again.
        emit decisionsToStore(m_splice->decisions());
        if (m_waiting.size() > before) {
            emit decisionsLost(m_waiting.size() - before);
        }
    } else {
        (void)putLaid(*m_splice, laid);
    }
    m_laid = laid;
    m_firstChanged = laid.size();
    m_laidRevision = revision;
    if (isOther) {
        emit legsChanged(first);
    }
    emit settled();
    m_timer.start();  // carried work hangs on all of them
}

void LegKeeper::joinWork()
{
    m_isBusy = true;
    const auto known =
        m_joinedRevision == m_revision ? std::optional(m_splice->plan().work) : std::nullopt;
    m_work.run(
        [address = m_place.address(),
         plan = m_splice->plan(),
         ground = WorkGround{m_splice->sharedResult(), m_splice->legs()[m_splice->lastLeg()]->held},
         known](const std::stop_token& stop) {
            return rope::joinWork(address, plan, ground, known, stop);
        },
        [this, revision = m_revision](const Result<std::optional<JoinedWork>>& joined) {
            m_isBusy = false;
            if (!joined) {
                emit failed(joined.error());
            } else if (revision == m_revision && !m_isPaused) {
                if (*joined) {
                    takeWork(**joined, revision);
                }
            } else {
                m_timer.start();
            }
        });
}

void LegKeeper::takeWork(const JoinedWork& joined, int revision)
{
    const bool isAsBefore = joined.join == nullptr && m_joinedRevision == revision
                            && joined.work == m_splice->plan().work;
    if (isAsBefore) {
        return;
    }
    const std::size_t leg = m_splice->workLeg();
    emit legsAboutToChange(leg);
    std::vector<Decision> earlier = m_waitingWork;
    const auto isOfWork = [leg](const Decision& decision) {
        return decision.leg == leg;
    };
    if (m_splice->hasWorkLeg()) {
        earlier = m_splice->decisions();
        std::erase_if(earlier, [&](const Decision& decision) { return !isOfWork(decision); });
    }
    m_splice->setWorkLeg(joined.join, joined.work);
    m_splice->put(carryOver(earlier, m_splice->decided()).placed);
    m_waitingWork.clear();
    // What found no place must not come back at the next start.
    std::vector<Decision> now = earlier;
    for (Decision& decision : now) {
        decision.state = {};
    }
    const std::vector<Decision> all = m_splice->decisions();
    std::copy_if(all.begin(), all.end(), std::back_inserter(now), isOfWork);
    emit decisionsToStore(now);
    emit workToStore(joined.work);
    m_joinedRevision = revision;
    emit legsChanged(leg);
    emit settled();
}
}  // namespace rope
