// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_window.cpp, tst_begun_round.cpp.
#include "desktop/wording/behind_words.h"

#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

namespace rope {
QString behindInWords(Behind why, const SplicePlan& plan, const Standing& standing)
{
    const QString ours = shown(plan.oursName);
    const QString theirs = shown(plan.theirsName);
    switch (why) {
    case Behind::no:
        return {};
    case Behind::begunEnded:
        return tr("What this splice was to finish was ended on the command line, or gone on with "
                  "there.");
    case Behind::oursDeleted:
        return tr("%1, the branch of this splice, was deleted.").arg(ours);
    case Behind::oursCheckedOut:
        return tr("%1 is checked out now; this splice was to leave the files as they are.")
            .arg(ours);
    case Behind::onAnotherLine:
        return tr("You are on %1 now; this splice merges into %2.")
            .arg(standing.name.empty() ? tr("no branch") : shown(standing.name), ours);
    case Behind::oursMoved:
        return tr("%1 has moved since this splice of %2 began.").arg(ours, theirs);
    case Behind::theirsMoved:
        return tr("Commits arrived on %1 since this splice began.").arg(theirs);
    }
    return {};
}
}  // namespace rope
