// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice_plan.h"
#include "desktop/facts/survey_view.h"
#include "desktop/wording/behind_words.h"

namespace rope {
/// Why a splice does not stand where its branches stand now.
[[nodiscard]] Behind behindOf(const SplicePlan& plan, const SurveyFacts& facts);
}  // namespace rope
