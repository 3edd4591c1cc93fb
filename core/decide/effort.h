// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/decided_join.h"

#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace rope {
/// What stands first among the candidates of a region, before anybody has decided anything.
struct FirstCandidate
{
    std::size_t file = 0;    ///< Among the files of the join.
    std::size_t region = 0;  ///< Of that file's text.
    CandidateKind kind = CandidateKind::ours;
    std::string text;
    bool keepsAllEdits = false;  ///< It keeps what both sides did, and nothing warns of it.
};

/// How much of a merge a person has to think about: what is proposed for each conflict.
struct Effort
{
    std::vector<FirstCandidate> regions;  ///< In the order of the join.
    std::size_t keepingAll = 0;           ///< Regions whose first candidate keeps all edits.
    std::size_t greater = 0;              ///< Regions in which the greater of two numbers stands first.
    std::size_t yours = 0;                ///< All other regions, and the questions.
    [[nodiscard]] std::size_t total() const { return keepingAll + greater + yours; }
};

/// At most so many regions are looked at; a merge that leaves more is worked through in any case.
inline constexpr std::size_t kMostRegionsOfEffort = 300;

/// Works out what stands first in each region, as Resolve will show it but for what was decided in earlier
/// splices and for what the check of the whole file adds. Some milliseconds a region.
/// Nothing where it is stopped, or there are more than kMostRegionsOfEffort. Threads: any.
[[nodiscard]] std::optional<Effort> effortOf(const Leg& join, const std::stop_token& stop);
}  // namespace rope
