// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/decide/splice_plan.h"
#include "core/system/types.h"

#include <QString>

namespace rope {
/// What was done without a station of its own: a line that moved, a commit of one's own. `standsAt`: where the
/// line is now. `asked`: when the remotes were asked last, in words.
[[nodiscard]] QString
doneInWords(const SplicePlan& plan, const Commit& standsAt, const QString& asked);

/// What became of a branch that was deleted there (`remote`), or here (empty). Names as bytes.
[[nodiscard]] QString deletedInWords(const std::string& branch,
                                     const std::string& remote,
                                     const ObjectId& tip);

/// What is called theirs or ours where work that was set aside comes back.
[[nodiscard]] QString setAsideInWords();
}  // namespace rope
