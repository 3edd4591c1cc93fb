// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/merge/candidate_kind.h"
#include "core/merge/consequences.h"
#include "core/merge/file_habits.h"

#include <vector>

namespace rope {
/// The order to offer kinds of candidates in, by what people chose in such situations (docs/candidates.md). Where
/// nothing tells whose text people take, `isUndecided`.
struct Ranking
{
    std::vector<CandidateKind> kinds;
    bool isUndecided = false;
};
/// By what the two sides did to the region and all over its file.
[[nodiscard]] Ranking rankingOf(const RegionTexts& texts, const FileAdoption& file);

/// Whether an edit of a side is lost.
[[nodiscard]] bool losesAnEdit(const std::vector<Consequence>& consequences);
/// Whether a candidate may stand first although it drops an edit: see putSafeFirst().
[[nodiscard]] bool mayDrop(CandidateKind kind,
                           std::string_view text,
                           const RegionTexts& texts,
                           const FileHabits& file);
/// Where a safe one has to stand first: 0 a side that has the other's edits, 1 what keeps both, 2 the rest.
[[nodiscard]] int groupOf(std::string_view text,
                          const std::vector<Consequence>& consequences,
                          const RegionTexts& texts);
}  // namespace rope
