// SPDX-License-Identifier: GPL-3.0-or-later
// Tested by tst_wording.cpp.
#include "desktop/wording/progress_words.h"

#include "core/base/assert.h"
#include "desktop/wording/shown_text.h"
#include "desktop/wording/tr.h"

namespace rope {
namespace {
QString stepInWords(const Progress& progress)
{
    switch (progress.step) {
    case ProgressStep::findingBase:
        return tr("Finding where the branches parted");
    case ProgressStep::joiningBases:
        return tr("Merging the common ancestors");
    case ProgressStep::findingRenames:
        return tr("Looking for renamed files");
    case ProgressStep::joiningFile:
        return tr("Merging %1").arg(shown(progress.subject));
    case ProgressStep::layingCommits:
        return tr("Rebasing commits");
    case ProgressStep::layingOutCopy:
        return tr("Preparing the scratch copy");
    case ProgressStep::takingOff:
        return tr("Saving your uncommitted changes");
    case ProgressStep::bringing:
        return tr("Updating the working tree");
    case ProgressStep::committing:
        return tr("Running hooks and writing the commit");
    case ProgressStep::writingCommits:
        return tr("Writing commits");
    case ProgressStep::moving:
        return tr("Moving the branch");
    case ProgressStep::finishing:
        return tr("Finishing");
    case ProgressStep::carrying:
        return tr("Putting your uncommitted changes back");
    case ProgressStep::handingBack:
        return tr("Writing decisions into the files");
    case ProgressStep::undoing:
        return tr("Restoring everything");
    case ProgressStep::askingRemote:
        return tr("Asking %1 what it has now").arg(shown(progress.subject));
    case ProgressStep::remoteWorks:
        return shown(progress.subject);
    }
    ROPE_ASSERT(false, "every step has its words");
    return {};
}
}  // namespace

QString inWords(const Progress& progress)
{
    const QString step = stepInWords(progress);
    return progress.total == 0
               ? step
               : tr("%1 · %2 of %3").arg(step).arg(progress.done + 1).arg(progress.total);
}
}  // namespace rope
