// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/splice/forecast.h"
#include "desktop/widgets/rope_chart_layout.h"

#include <QString>

#include <map>
#include <memory>
#include <optional>
#include <vector>

namespace rope {
/// Where a repository stands, as the survey shows it. A value, read in one go.
struct SurveyFacts
{
    QString repositoryName;
    Standing standing;
    std::vector<Branch> branches;
    std::optional<std::int64_t> lastAsked;
    std::vector<UncommittedFile> uncommitted;
    UnfinishedWork unfinished = UnfinishedWork::none;
    std::int64_t readAt = 0;  ///< Now, in seconds since 1970, when this was read.

    [[nodiscard]] const Branch* branch(const std::string& ref) const;
    /// The branch to bring in unless another is picked: what ours follows; else the first shared one.
    [[nodiscard]] std::string proposedTheirs() const;
};

/// A forecast with the commits of both sides, for show.
struct SurveyForecast
{
    Forecast forecast;
    std::vector<Commit> oursCommits;  ///< Newest first, at most kMostListedCommits.
    std::vector<Commit> theirsCommits;
    std::map<ObjectId, ObjectId>
        equalInOurs;  ///< Theirs' commits whose change ours has, and where.
};
inline constexpr std::size_t kMostListedCommits = 500;

/// One row of the overlap table.
struct OverlapRow
{
    QString path;
    int oursLines = 0;  ///< Lines that side changed; -1 where that is no number.
    int theirsLines = 0;
    QString oursWord;  ///< In place of a number: "deleted", "binary".
    QString theirsWord;
    QString forecast;
    bool isOpen = false;
};

[[nodiscard]] std::vector<OverlapRow> overlapRows(const Forecast& forecast);
[[nodiscard]] RopeChartModel chartModel(const SurveyForecast& survey,
                                        const QString& oursName,
                                        const QString& theirsName,
                                        std::int64_t now);
/// How many files either side touched in all.
[[nodiscard]] std::size_t touchedFileCount(const Forecast& forecast);

/// What stops a splice from starting, as a sentence; empty if nothing does.
[[nodiscard]] QString startObstacle(const SurveyFacts& facts, const Forecast* forecast);
}  // namespace rope
