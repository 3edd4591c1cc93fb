// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp.
#include "desktop/course/pair_forecasts.h"

#include "core/logbook/forecast_cache.h"
#include "desktop/course/log.h"

#include <QCoreApplication>
#include <QElapsedTimer>
#include <QPointer>
#include <QStandardPaths>

namespace rope {
namespace {
constexpr qint64 kTellEveryMs = 120;

using TellKnown = std::function<void(PairForecasts::Known)>;

std::string cacheFile()
{
    return (QStandardPaths::writableLocation(QStandardPaths::CacheLocation)
            + QStringLiteral("/forecasts.sqlite"))
        .toStdString();
}

/// Collects outcomes, and from time to time keeps them on disk and tells of them.
class Teller
{
public:
    Teller(ForecastCache* cache, const std::vector<CommitPair>& pairs, const TellKnown& tell)
        : m_cache(cache)
        , m_pairs(pairs)
        , m_tell(tell)
    {
        m_clock.start();
    }

    void add(std::size_t pair, const PairOutcome& outcome)
    {
        m_waiting.emplace_back(pair, outcome);
        if (m_clock.elapsed() > kTellEveryMs) {
            flush();
            m_clock.restart();
        }
    }

    void flush()
    {
        if (m_cache != nullptr) {
            std::vector<std::pair<CommitPair, PairOutcome>> outcomes;
            for (const auto& [pair, outcome] : m_waiting) {
                outcomes.emplace_back(m_pairs[pair], outcome);
            }
            if (const auto stored = m_cache->store(outcomes); !stored) {
                logError(stored.error());  // they are worked out again another day
            }
        }
        m_tell(std::exchange(m_waiting, {}));
    }

private:
    ForecastCache* m_cache;
    const std::vector<CommitPair>& m_pairs;
    const TellKnown& m_tell;
    PairForecasts::Known m_waiting;
    QElapsedTimer m_clock;
};

/// Tells what is on disk already, and returns the places of the other pairs.
std::vector<std::size_t>
tellCached(ForecastCache* cache, const std::vector<CommitPair>& pairs, const TellKnown& tell)
{
    const auto found =
        cache != nullptr ? cache->find(pairs) : Result(std::vector<PairOutcome>(pairs.size()));
    PairForecasts::Known known;
    std::vector<std::size_t> left;
    for (std::size_t i = 0; i < pairs.size(); ++i) {
        if (found && (*found)[i].kind != PairOutcome::Kind::notYet) {
            known.emplace_back(i, (*found)[i]);
        } else {
            left.push_back(i);
        }
    }
    // So few at a time that taking them over is not felt.
    constexpr std::size_t kAtOnce = 200;
    for (std::size_t from = 0; from < known.size(); from += kAtOnce) {
        const auto begin = known.begin() + static_cast<std::ptrdiff_t>(from);
        tell({begin, begin + static_cast<std::ptrdiff_t>(std::min(kAtOnce, known.size() - from))});
    }
    return left;
}

Status forecastPairs(const PlaceAddress& address,
                     const std::vector<CommitPair>& pairs,
                     const TellKnown& tell,
                     const std::stop_token& stop)
{
    TRY_ASSIGN(const auto place, openPlace(address.folder, address.permissions));
    TRY_ASSIGN(const std::string rules, place->rulesStamp());
    const auto cache = ForecastCache::open(cacheFile(), rules);  // without one it only takes longer
    ForecastCache* const kept = cache ? cache->get() : nullptr;
    const auto left = tellCached(kept, pairs, tell);
    std::vector<CommitPair> unknown;
    unknown.reserve(left.size());
    for (const std::size_t i : left) {
        unknown.push_back(pairs[i]);
    }
    Teller teller(kept, pairs, tell);
    Status status = collideAll(
        *place,
        unknown,
        [&](std::size_t i, const PairOutcome& outcome) { teller.add(left[i], outcome); },
        stop);
    teller.flush();
    return status;
}
}  // namespace

PairForecasts::PairForecasts(QObject* parent)
    : QObject(parent)
    , m_work(1, this)
{
}

void PairForecasts::start(const PlaceAddress& address, std::vector<CommitPair> pairs)
{
    m_work.supersede();
    const int round = ++m_round;
    m_isWorking = true;
    const TellKnown tell = [self = QPointer<PairForecasts>(this), round](Known outcomes) {
        QMetaObject::invokeMethod(
            QCoreApplication::instance(),
            [self, round, outcomes = std::move(outcomes)] {
                if (self && round == self->m_round && !outcomes.empty()) {
                    emit self->known(outcomes);
                }
            },
            Qt::QueuedConnection);
    };
    m_work.run(
        [address, pairs = std::move(pairs), tell](const std::stop_token& stop) {
            return forecastPairs(address, pairs, tell, stop);
        },
        [this](const Status& status) {
            m_isWorking = false;
            emit done(status);
        });
}

void PairForecasts::stop()
{
    m_work.supersede();
    m_isWorking = false;
    ++m_round;
}
}  // namespace rope
