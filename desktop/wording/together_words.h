// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/together.h"
#include "desktop/wording/merge_words.h"
#include "desktop/wording/question_words.h"

namespace rope {
/// What an answer for several places is called: "All ours".
[[nodiscard]] QString labelOf(TogetherChoice choice);
/// What it gives up: "gives up 34 lines that theirs added · 1 file goes".
[[nodiscard]] QString
lossInWords(const TogetherLoss& loss, TogetherChoice choice, const SideNames& names);
}  // namespace rope
