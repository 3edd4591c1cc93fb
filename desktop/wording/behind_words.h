// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice_plan.h"
#include "core/system/types.h"

#include <QString>

namespace rope {
/// Why a splice does not stand where its branches stand.
enum class Behind {
    no,              ///< It does.
    begunEnded,      ///< What it was to finish was ended or gone on with elsewhere.
    oursDeleted,     ///< Its branch is gone.
    oursCheckedOut,  ///< It was to leave the files alone, and they are its branch's now.
    onAnotherLine,   ///< The files are not its branch's any more.
    oursMoved,
    theirsMoved,
};

/// The same as a sentence; empty for Behind::no. `standing`: what is checked out.
[[nodiscard]] QString behindInWords(Behind why, const SplicePlan& plan, const Standing& standing);
}  // namespace rope
