// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/history/divergence.h"
#include "core/join/join.h"
#include "core/system/place.h"

#include <memory>

namespace rope {
/// What joining two commits would give, computed without touching anything. A value.
struct Forecast
{
    Commit ours;
    Commit theirs;
    Divergence divergence;
    /// The newest of the best common ancestors; nothing when unrelated.
    std::optional<Commit> base;
    Join join;

    /// Whether it joins without a question.
    [[nodiscard]] bool isClean() const { return join.isClean(); }
    [[nodiscard]] std::size_t regionCount() const { return join.regionCount(); }
    [[nodiscard]] std::size_t questionCount() const { return join.questionCount(); }
    [[nodiscard]] std::size_t openCount() const { return join.openCount(); }
    /// Files in which something is open.
    [[nodiscard]] std::size_t openFileCount() const;
    /// Files that change in ours by joining, without a question: the one count of what is "joined".
    [[nodiscard]] std::size_t joinedFileCount() const;
};

struct ForecastOptions
{
    /// Joins histories without a common commit over an empty base, where a person said so.
    bool joinsUnrelated = false;
    /// History that is read once for many forecasts; it reads from both tips. Null: it is read anew.
    CommitGraph* history = nullptr;
    /// `leave`, where nothing but the verdict is wanted; see TreeJoinOptions.
    NewFolders newFolders = NewFolders::read;
};

/// Forecasts joining `theirs` into `ours`. Several best common ancestors are joined to one base first
/// (virtual_base.h). Unrelated histories give an empty join, unless asked for.
/// Errors: those of reading; `unsupported` when the history is cut off before a common commit;
/// `cancelled`.
[[nodiscard]] Result<Forecast> forecastJoin(Place& place,
                                            const ObjectId& ours,
                                            const ObjectId& theirs,
                                            const ForecastOptions& options = {},
                                            const ProgressSink& progress = {},
                                            const std::stop_token& stop = {});

/// Forecasts making a commit of elsewhere anew upon the line whose tip is `ours`: its parent is the base, it
/// is theirs. Errors: as forecastRevert().
[[nodiscard]] Result<Forecast> forecastPick(Place& place,
                                            const ObjectId& ours,
                                            const ObjectId& commit,
                                            const ProgressSink& progress = {},
                                            const std::stop_token& stop = {});

/// Forecasts taking out again what a commit brought into the line whose tip is `ours`: that commit is
/// the base, its first parent theirs. Errors: those of reading; `invalidInput` for a commit without a
/// parent; `cancelled`.
[[nodiscard]] Result<Forecast> forecastRevert(Place& place,
                                              const ObjectId& ours,
                                              const ObjectId& commit,
                                              const ProgressSink& progress = {},
                                              const std::stop_token& stop = {});

/// Stores the joined tree of a forecast without open questions, and returns its id.
/// Errors: those of resultTree() and of storing. REQUIRES: forecast.isClean()
[[nodiscard]] Result<ObjectId> storeCleanTree(Place& place, const Forecast& forecast);
}  // namespace rope
