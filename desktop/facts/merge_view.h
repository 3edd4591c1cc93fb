// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/plan/merge_reading.h"

#include <QString>

#include <vector>

namespace rope {
/// A merge of the history, read again, as the logbook lists it. A value.
struct ReadMergeRow
{
    Commit merge;
    std::vector<OddPlace> odd;
    std::size_t decided = 0;
    bool isUnreadable = false;
    bool isFine = false;  ///< A person has said so.

    [[nodiscard]] bool needsLook() const { return !odd.empty() && !isFine; }
};

/// How far the reading of all merges is.
struct MergesProgress
{
    std::size_t read = 0;
    std::size_t total = 0;
    bool isRunning = false;
};

/// "a line that neither side explains", the worst first.
[[nodiscard]] QString worstInWords(const ReadMergeRow& row);
/// Whether all words of the filter stand in subject, person, commit or file.
[[nodiscard]] bool matches(const ReadMergeRow& row, const QString& filter);
}  // namespace rope
