// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/adoption.h"
#include "core/merge/rewrites.h"

namespace rope {
/// What the sides did all over a file, as far as candidates of a region are made and ranked by it. A value,
/// computed once a file. What is not known (a default one) changes nothing.
struct FileHabits
{
    Rewrites rewrites;  ///< Of theirs.
    FileAdoption adoption;
    /// Of the lines that ours added in all files of the splice that both sides changed, the share that theirs
    /// added as well. A file by itself is a splice of its own.
    std::optional<double> takenOver;
};
/// Near-linear in what was changed; in the whole file where both put pieces in at one place. Threads: any.
[[nodiscard]] inline FileHabits habitsOf(const TextJoin& join)
{
    FileHabits habits{theirsRewrites(join), fileAdoption(join), {}};
    habits.takenOver = habits.adoption.added;
    return habits;
}
}  // namespace rope
