// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice.h"
#include "desktop/wording/question_words.h"

namespace rope {
/// Who stands on either side of a file. In the leg of carried work no branches do.
[[nodiscard]] SideNames namesOf(const Splice& splice, const SpliceFile& file);
}  // namespace rope
