// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "core/findings/checked_file.h"

#include <stop_token>

namespace rope {
/// More one-sided files, or bytes of them, than these are not read.
inline constexpr std::size_t kMostOneSidedFiles = 20'000;
inline constexpr std::size_t kMostOneSidedBytes = 300'000'000;

/// The files of a join as they are checked: its outcomes, in their order, then those that only one side
/// changed, and those of `own` (outcomes that a splice has besides) that no side did, by path.
/// Errors: those of reading; `cancelled`.
[[nodiscard]] Result<std::vector<CheckedFile>>
readCheckedFiles(Snapshots& snapshots,
                 const Join& join,
                 const std::vector<OwnedOutcome>& own = {},
                 const std::stop_token& stop = {});

/// What became of a file of a splice. `checked`: the same file as readCheckedFiles() gave it.
[[nodiscard]] std::shared_ptr<const CheckedResult> resultOf(const SpliceFile& file,
                                                            const CheckedFile& checked);

/// Which of the files that are checked a file of a splice's first leg is; nothing where so many were
/// changed that it was not read.
[[nodiscard]] std::optional<std::size_t>
checkedFileOf(const SpliceFile& file, const Join& join, const std::vector<CheckedFile>& files);

/// What became of the files that needed nobody, in the order of readCheckedFiles(); the others are open.
[[nodiscard]] std::vector<std::shared_ptr<const CheckedResult>>
settledResults(const Join& join, const std::vector<CheckedFile>& files);

/// What became of each file of a splice's first leg, in the order of readCheckedFiles().
[[nodiscard]] std::vector<std::shared_ptr<const CheckedResult>>
resultsOf(const Splice& splice, const std::vector<CheckedFile>& files);
}  // namespace rope
