// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/diff/excerpts.h"
#include "core/system/place.h"

#include <stop_token>
#include <vector>

namespace rope {
/// What became of one file, read to be shown.
struct FileReading
{
    enum class Content {
        text,      ///< `text` tells what changed in it.
        binary,    ///< No lines.
        tooLarge,  ///< More than kMostReadBytes on either side.
    };
    FileChange change;
    Content content = Content::text;
    TextChange text;
    std::size_t bytesBefore = 0;  ///< Unless it is too large.
    std::size_t bytesAfter = 0;
};

/// A commit and what it changed against its first parent. A value.
struct CommitReading
{
    Commit commit;
    std::vector<FileReading> files;  ///< By path; at most kMostReadFiles.
    std::size_t fileCount = 0;       ///< All of them.
};
inline constexpr std::size_t kMostReadFiles = 200;
inline constexpr std::uint64_t kMostReadBytes = 4'000'000;

/// Reads what a commit changed. A submodule reads as its commit's id in one line.
/// Errors: those of reading; `cancelled`.
[[nodiscard]] Result<CommitReading>
readCommit(Place& place, const ObjectId& commit, const std::stop_token& stop = {});

/// What a result changes against what it is told against. A value.
struct ResultReading
{
    std::vector<FileReading> files;  ///< By path; at most kMostReadFiles.
    std::size_t fileCount = 0;       ///< All of them.
};
/// Reads how two trees differ, with `around` unchanged lines about each stretch. Errors: as above.
[[nodiscard]] Result<ResultReading> readDifference(Snapshots& snapshots,
                                                   const ObjectId& before,
                                                   const ObjectId& after,
                                                   LineNumber around = 3,
                                                   const std::stop_token& stop = {});

/// Reads what a result changes against a tree. Nothing is written. Errors: as above.
[[nodiscard]] Result<ResultReading> readResult(Place& place,
                                               const ObjectId& before,
                                               const ResultSnapshot& result,
                                               const std::stop_token& stop = {});

/// Reads what became of one file. Errors: as above.
[[nodiscard]] Result<FileReading> readChange(Snapshots& snapshots,
                                             const FileChange& change,
                                             const std::stop_token& stop = {},
                                             LineNumber around = 3);
}  // namespace rope
