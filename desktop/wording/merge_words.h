// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/carry_over.h"
#include "core/decide/splice.h"
#include "core/merge/candidates.h"
#include "core/merge/line_origin.h"

#include <QString>

namespace rope {
[[nodiscard]] QString labelOf(CandidateKind kind);
/// With what it came out at, where that is known: "The later of the two: 43".
[[nodiscard]] QString labelOf(const Candidate& candidate, const RegionTexts& texts);
/// What a stored choice is called: a candidate's name, an answer's, or text of one's own.
[[nodiscard]] QString labelOfChoice(const std::string& choice);
/// Where an earlier decision was made: "as in 5d0f7aa by Priya, 3 weeks ago".
[[nodiscard]] QString earlierInWords(const EarlierSource& source, std::int64_t now);
/// One step of the history: "typing in region 2 of notice.py". `before` and `after` are of its first place.
[[nodiscard]] QString stepInWords(const Splice& splice,
                                  const std::vector<SlotChange>& step,
                                  const SlotState& before,
                                  const SlotState& after);
/// What of either side is lost, as in consequencesInWords(); empty: nothing.
[[nodiscard]] QString lossInWords(const std::vector<Consequence>& consequences);
/// "keeps both edits · brackets balance"
[[nodiscard]] QString consequencesInWords(const std::vector<Consequence>& consequences);
[[nodiscard]] bool hasWarning(const std::vector<Consequence>& consequences);

/// An earlier decision that found no place, and why.
[[nodiscard]] QString lostInWords(const LostDecision& lost);
[[nodiscard]] QString nameOfOrigin(LineOrigin origin);
}  // namespace rope
