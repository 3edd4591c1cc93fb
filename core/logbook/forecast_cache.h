// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/collisions.h"
#include "core/logbook/database.h"

#include <memory>

namespace rope {
/// What joining two commits gives, kept on disk by their ids: commits never change, so neither does
/// that while the rules are the same. Can be deleted at any time: all in it is worked out again.
/// One instance belongs to one thread; any number of processes may use one file.
class ForecastCache
{
public:
    /// How many pairs are kept; of more, those that were not asked for longest go.
    static constexpr int kMostPairs = 20'000;

    /// Opens the file, which is made if need be, with its folder. One that cannot be read is replaced.
    /// `rules`: Snapshots::rulesStamp(). Errors: `io`.
    static Result<std::unique_ptr<ForecastCache>> open(const std::string& file,
                                                       const std::string& rules);
    ForecastCache(const ForecastCache&) = delete;
    ForecastCache& operator=(const ForecastCache&) = delete;

    /// What is known of each pair; `notYet` where nothing is. Errors: `io`.
    Result<std::vector<PairOutcome>> find(std::span<const CommitPair> pairs);
    /// Keeps what was worked out; what could not be is not kept. Errors: `io`.
    Status store(std::span<const std::pair<CommitPair, PairOutcome>> outcomes);

private:
    ForecastCache(const std::string& file, std::string rules);
    Status connect();
    [[nodiscard]] std::string keyOf(const CommitPair& pair) const;

    Database m_database;
    std::string m_rules;
};
}  // namespace rope
