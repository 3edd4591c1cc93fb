// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/join/forecast.h"
#include "core/system/git/git_place.h"
#include "tests/support/scratch_repository.h"

#include <memory>

namespace rope::test {
/// The forecast of two branches, and the repository it was read through.
struct Joined
{
    std::unique_ptr<GitPlace> repository;
    Forecast forecast;
};

inline Joined joinBranches(const std::string& folder,
                           const char* ours = "ours",
                           const char* theirs = "theirs",
                           const ForecastOptions& options = {})
{
    Joined joined;
    joined.repository = std::move(GitPlace::open(folder, {true, {}})).value();
    joined.forecast = forecastJoin(*joined.repository,
                                   *joined.repository->resolveCommit(ours),
                                   *joined.repository->resolveCommit(theirs),
                                   options)
                          .value();
    return joined;
}

inline Joined joinBranches(const ScratchRepository& scratch,
                           const char* ours = "ours",
                           const char* theirs = "theirs",
                           const ForecastOptions& options = {})
{
    return joinBranches(scratch.path(), ours, theirs, options);
}

/// All that a forecast tells of the files that both sides have to do with.
inline QByteArray verdictOf(const Forecast& forecast)
{
    QByteArrayList words;
    for (const FileOutcome& file : forecast.join.files) {
        words << QByteArray(nameOf(file.kind).data()) + " " + file.path.c_str() + " r"
                     + QByteArray::number(file.regionCount()) + (file.question ? " ?" : "");
    }
    for (const auto& [first, second] : forecast.join.nameClashes) {
        words << QByteArray("clash ") + first.c_str() + " " + second.c_str();
    }
    return words.join("; ");
}

/// Null where the forecast does not tell of such a file.
inline const FileOutcome* fileAt(const Forecast& forecast, const char* path)
{
    for (const FileOutcome& file : forecast.join.files) {
        if (file.path == path) {
            return &file;
        }
    }
    return nullptr;
}

/// What git makes of branches ours and theirs: the tree's id where it joins cleanly, else nothing.
inline QByteArray gitsTree(ScratchRepository& scratch)
{
    int exitCode = 0;
    const QByteArray out = scratch.tryGit({QStringLiteral("merge-tree"),
                                           QStringLiteral("--write-tree"),
                                           QStringLiteral("ours"),
                                           QStringLiteral("theirs")},
                                          exitCode);
    return exitCode == 0 ? out : QByteArray();
}
}  // namespace rope::test
