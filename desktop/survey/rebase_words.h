// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "desktop/facts/survey_view.h"

#include <map>

namespace rope {
/// What a rebase would write, leave out and ask, and how it compares with a merge commit of the same.
/// `forecast`: of that merge commit; `ours`: the branch that is rewritten.
[[nodiscard]] QString
rebaseInWords(const SurveyRebase& rebase, const Forecast& forecast, const QString& ours);

/// What to think about before: what is shared already, what is flattened; empty: nothing.
[[nodiscard]] QString
rebaseWarning(const SurveyRebase& rebase, const QString& ours, std::int64_t now);

/// What becomes of each commit, to stand behind its subject.
[[nodiscard]] std::map<ObjectId, QString> remarksOf(const SurveyRebase& rebase);

[[nodiscard]] QString rebaseStartLabel(const RebaseForecast& forecast);
}  // namespace rope
