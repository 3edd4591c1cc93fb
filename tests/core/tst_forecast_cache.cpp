// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/logbook/forecast_cache.h"
#include "tests/support/test_program.h"

#include <QFile>
#include <QTemporaryDir>
#include <QTest>

using namespace rope;

namespace {
ObjectId idOf(int number)
{
    return *ObjectId::fromHex(
        QStringLiteral("%1").arg(number, 40, 16, QLatin1Char('0')).toStdString());
}

PairOutcome someOutcome(std::size_t open)
{
    return {open > 0 ? PairOutcome::Kind::collides : PairOutcome::Kind::joins,
            Relation::diverged,
            open,
            {{"locks/gates.py", open, false}, {"a\xff name", 0, true}},
            3,
            12};
}
}  // namespace

class TestForecastCache : public QObject
{
    Q_OBJECT
private slots:
    void stored_isFoundAgain_underTheSameRulesOnly();
    void unknown_isNotKept();
    void damagedFile_isReplaced();
    void size_isBounded();

private:
    [[nodiscard]] std::string file() const
    {
        return m_folder.filePath(QStringLiteral("cache/f.sqlite")).toStdString();
    }
    QTemporaryDir m_folder;
};

void TestForecastCache::stored_isFoundAgain_underTheSameRulesOnly()
{
    const CommitPair pair{idOf(1), idOf(2)};
    const CommitPair turned{idOf(2), idOf(1)};
    {
        const auto cache = std::move(ForecastCache::open(file(), "rules")).value();
        QVERIFY(cache->store(std::vector{std::pair(pair, someOutcome(7))}));
    }
    const auto cache = std::move(ForecastCache::open(file(), "rules")).value();
    const auto known = cache->find(std::vector{turned, pair});
    QVERIFY(known);
    QCOMPARE(static_cast<int>(known->at(0).kind), static_cast<int>(PairOutcome::Kind::notYet));
    QVERIFY(known->at(1) == someOutcome(7));
    const auto other = std::move(ForecastCache::open(file(), "other rules")).value();
    QVERIFY(other->find(std::vector{pair})->front() == PairOutcome{});
}

void TestForecastCache::unknown_isNotKept()
{
    const auto cache = std::move(ForecastCache::open(file(), "unknown")).value();
    const CommitPair pair{idOf(1), idOf(2)};
    PairOutcome outcome;
    outcome.kind = PairOutcome::Kind::unknown;
    QVERIFY(cache->store(std::vector{std::pair(pair, outcome)}));
    QVERIFY(cache->find(std::vector{pair})->front() == PairOutcome{});
}

void TestForecastCache::damagedFile_isReplaced()
{
    const std::string damaged = m_folder.filePath(QStringLiteral("damaged.sqlite")).toStdString();
    QFile bytes(QString::fromStdString(damaged));
    QVERIFY(bytes.open(QIODevice::WriteOnly));
    bytes.write("this is no database, however long it may be");
    bytes.close();
    const auto cache = ForecastCache::open(damaged, "rules");
    QVERIFY(cache);
    const CommitPair pair{idOf(1), idOf(2)};
    QVERIFY((*cache)->store(std::vector{std::pair(pair, someOutcome(0))}));
    QVERIFY((*cache)->find(std::vector{pair})->front() == someOutcome(0));
    QVERIFY(!ForecastCache::open("/proc/none/f.sqlite", "rules"));
}

void TestForecastCache::size_isBounded()
{
    const auto cache =
        std::move(ForecastCache::open(
                      m_folder.filePath(QStringLiteral("full.sqlite")).toStdString(), "r"))
            .value();
    std::vector<std::pair<CommitPair, PairOutcome>> many;
    std::vector<CommitPair> pairs;
    for (int i = 0; i < ForecastCache::kMostPairs + 50; ++i) {
        many.emplace_back(CommitPair{idOf(i + 1), idOf(1)}, someOutcome(1));
        pairs.push_back(many.back().first);
    }
    QVERIFY(cache->store(many));
    const auto known = cache->find(pairs);
    QVERIFY(known);
    const auto kept = std::count_if(known->begin(), known->end(), [](const PairOutcome& outcome) {
        return outcome.kind != PairOutcome::Kind::notYet;
    });
    QCOMPARE(static_cast<int>(kept), ForecastCache::kMostPairs);
}

ROPE_TESTS(TestForecastCache, QCoreApplication)
#include "tst_forecast_cache.moc"
